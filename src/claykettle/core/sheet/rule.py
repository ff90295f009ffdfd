"""The rule of a line as text that a pupil reads and a test computes: `(vessel + sample) − (vessel)`.

    rule    = term { ("+" | "−") term }
    term    = factor { ("×" | "/") factor }
    factor  = atom [ unit ]                     a unit multiplies: `100 %` is 1, `(16 + 2) g/mol` is 0.018 kg/mol
    atom    = number | label | "(" rule ")" | word label
    word    = "last of" | "mean of the last two of" | "lowest of" | "mean of" | "standard deviation of"

Labels are matched whole and longest first, so `(vessel + sample)` is the one reading of that label.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache

from claykettle.core.errors import WorksheetError
from claykettle.core.quantity import Number, nominal, unit

SERIES_WORDS: Mapping[str, Callable[[Sequence[Number]], Number]] = {
    "last of": lambda series: series[-1],
    "mean of the last two of": lambda series: (series[-2] + series[-1]) / 2,
    "lowest of": min,
    "mean of": lambda series: sum(series[1:], series[0]) / len(series),
    "standard deviation of": lambda series: _deviation(series),
}
_RULE_UNITS = ("J/(mol K)", "m/s2", "kPa", "K", "g/mol", "L/mol", "%", "mL", "g", "mol")
_NUMBER = re.compile(r"\d+(?:\.\d+)?")


def _deviation(series: Sequence[Number]) -> Number:
    """s = √(Σ(x − x̄)²/(n − 1)); zero, and no slope, for a single one and for equal ones."""
    mean = sum(series[1:], series[0]) / len(series)
    squares = [(one - mean) ** 2 for one in series]
    square = sum(squares[1:], squares[0]) / max(1, len(series) - 1)
    return square**0.5 if nominal(square) > 0 else mean * 0


@dataclass(frozen=True)
class Token:
    """One piece of a rule: its kind (label, number, unit, word, sign) and text."""

    kind: str
    text: str


@lru_cache(maxsize=8192)
def tokens(rule: str, labels: tuple[str, ...]) -> tuple[Token, ...]:
    """The pieces of `rule`. Raises WorksheetError naming the place that has no meaning."""
    ordered = sorted(labels, key=len, reverse=True)
    found: list[Token] = []
    at = 0
    while at < len(rule):
        if rule[at].isspace():
            at += 1
            continue
        token = _token(rule, at, ordered)
        if token is None:
            raise WorksheetError(f"rule '{rule}' has no meaning from '{rule[at:]}'")
        found.append(token)
        at += len(token.text)
    return tuple(found)


def _token(rule: str, at: int, labels: Sequence[str]) -> Token | None:
    for kind, texts in (("label", labels), ("word", tuple(SERIES_WORDS)), ("unit", _RULE_UNITS)):
        for text in texts:
            if rule.startswith(text, at) and not rule[at + len(text) : at + len(text) + 1].isalnum():
                return Token(kind, text)
    number = _NUMBER.match(rule, at)
    if number:
        return Token("number", number.group())
    return Token("sign", rule[at]) if rule[at] in "+−×/()" else None


def compute(rule: str, values: Mapping[str, Number]) -> Number:
    """The value of a rule in SI from the values of the labels, for the test that rules tell the truth."""
    reader = _Computer(list(tokens(rule, tuple(values))), values)
    result = reader.rule()
    if reader.rest:
        raise WorksheetError(f"rule '{rule}' goes on after its end: '{reader.rest[0].text}'")
    return result


class _Computer:
    def __init__(self, pieces: list[Token], values: Mapping[str, Number]):
        self.rest = pieces
        self.values = values

    def rule(self) -> Number:
        total = self.term()
        while sign := self.take("+", "−"):
            total = total + self.term() if sign == "+" else total - self.term()
        return total

    def term(self) -> Number:
        product = self.factor()
        while sign := self.take("×", "/"):
            product = product * self.factor() if sign == "×" else product / self.factor()
        return product

    def factor(self) -> Number:
        value = self.atom()
        if self.rest and self.rest[0].kind == "unit":
            return value * float(unit(self.rest.pop(0).text).factor)
        return value

    def atom(self) -> Number:
        if self.take("("):
            value = self.rule()
            if not self.take(")"):
                raise WorksheetError("a bracket is not closed in a rule")
            return value
        if not self.rest:
            raise WorksheetError("a rule ends too early")
        piece = self.rest.pop(0)
        if piece.kind == "number":
            return float(piece.text)
        if piece.kind == "label":
            return self.values[piece.text]
        if piece.kind == "word":
            return SERIES_WORDS[piece.text](self.atom())
        raise WorksheetError(f"'{piece.text}' stands in the wrong place in a rule")

    def take(self, *signs: str) -> str:
        if self.rest and self.rest[0].kind == "sign" and self.rest[0].text in signs:
            return self.rest.pop(0).text
        return ""


@dataclass(frozen=True)
class _Part:
    """One piece of a rule as it is written out: words that stand as they are, or the label that a figure takes the
    place of, `below` where it stands behind a fraction bar.
    """

    words: str
    label: str = ""
    below: bool = False


@dataclass(frozen=True)
class Written:
    """A rule taken apart, to be written out with the user's figures in place of its labels."""

    parts: tuple[_Part, ...]

    def put(self, shown: Mapping[str, str]) -> str:
        """The rule with figures and units: `32.861 g − 31.204 g`; the labels that it uses must be among `shown`."""
        pieces: list[str] = []
        for part in self.parts:
            pieces.append(part.words)
            if part.label:
                text = shown[part.label]
                # a unit such as g/mol below a fraction bar keeps its own bracket
                pieces.append(f"({text})" if part.below and "/" in text else text)
        return "".join(pieces)


@lru_cache(maxsize=8192)
def written(rule: str, labels: tuple[str, ...]) -> Written:
    """A rule taken apart; `labels` are all labels of the sheet. Raises WorksheetError as `tokens` does."""
    pieces = list(tokens(rule, labels))
    below = [_divides(pieces, index) for index in range(len(pieces))]
    dropped: set[int] = set()
    # a bracket round a single quantity only held its label together
    for index in range(len(pieces) - 2):
        if pieces[index].text == "(" and pieces[index + 1].kind == "label" and pieces[index + 2].text == ")":
            dropped |= {index, index + 2}
    parts: list[_Part] = []
    words, last = "", "("
    for index, piece in enumerate(pieces):
        if index in dropped:
            continue
        words += "" if last == "(" or piece.text == ")" else " "
        last = piece.text
        if piece.kind == "label":
            parts.append(_Part(words, piece.text, below[index]))
            words = ""
        else:
            words += piece.text
    return Written((*parts, _Part(words)))


def _divides(pieces: Sequence[Token], index: int) -> bool:
    before = index - 2 if index and pieces[index - 1].text == "(" else index - 1
    return before >= 0 and pieces[before].text == "/"
