"""What a bench is told while the answers are its own to find: how it works, not what comes of it.

Every verdict belongs to one of the two; a test holds them against those that the program gives.
"""

from __future__ import annotations

AT_THE_BENCH = frozenset({
    "acid-lasts", "acid-low", "acid-short", "addition-fast", "addition-short", "assumed-uncertainty", "catalyst-large",
    "constant-mass", "crystals-enough", "crystals-few", "failed", "gives-off", "missing-reading", "next-heating",
    "no-heating-between", "not-taken", "off-scale", "out-of-order", "out-of-range", "outside-window", "over-saturation",
    "papers-few", "papers-weighed", "passed", "provisional", "sea-level", "sea-level-figure", "soluble-gas",
    "step-missed", "still-gaining", "still-losing", "suspect-unit", "tolerance-below-balance", "undissolved",
    "unwashed", "weighed-warm",
})  # fmt: skip
"""How it is done: readings, instruments, constancy, order, what was passed over, what was seen."""

OF_THE_ANSWER = frozenset({
    "accurate-not-precise", "agrees", "alike", "circular", "claim-above-sample", "fair-test", "formula-match",
    "formula-none", "formula-undecided", "leftover-contradicts", "limiting-contradicted", "limiting-seen",
    "limiting-undecided", "loss-too-large", "melting-high", "melting-low", "melting-sharp", "metal-balance", "mixture",
    "neither-precise-nor-accurate", "not-alike", "odd-trial", "off-accepted", "plateau", "precise-and-accurate",
    "precise-not-accurate", "replicates-agree", "replicates-disagree", "shares-off", "sizes-differ",
    "sizes-undecided", "sizes-unusual", "tell-apart", "transposition", "trend", "unbalanced-charge", "unfair-test",
    "unfinished", "unphysical", "within-class", "yield-good", "yield-over-100", "yield-short",
})  # fmt: skip
"""What the result is, or is held against: theirs to find first."""

ASKED_WHOLE = frozenset({
    "digits", "wrong-sign", "magnitude", "transposition", "lid-mismatch", "suspect-unit", "sea-level-figure",
})  # fmt: skip
"""Questions about a figure whose reason is the figure itself, the instrument, the plan or the course so far."""

REASON_TELLS = frozenset({"unexpected", "off-others"})
"""Questions whose reason is what is to be expected of the answer, or what the other trials gave."""

ASKED_AGAIN = "This is not what is to be expected here. Read it again, digit by digit: is it the right line and unit?"
"""Said in place of a reason that would tell the answer."""


def is_told(code: str) -> bool:
    """Whether a bench is told this verdict before its own figures."""
    return code not in OF_THE_ANSWER


def is_asked_whole(code: str) -> bool:
    """Whether a bench is asked with the reason before its own figures; a verdict that is asked is told as verdicts are.

    What is neither, such as a reading that would be set aside, is no matter of chemistry and is told.
    """
    return code in ASKED_WHOLE or (code not in REASON_TELLS and is_told(code))
