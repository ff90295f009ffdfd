"""Names and titles as people type them: what a reader could not see is refused before it is kept."""

from __future__ import annotations

import unicodedata
from collections.abc import Sequence

from claykettle.core.errors import Fault

_BREAKS = "\n\t"


def unseen(text: str, breaks: bool = False) -> str:
    """What is wrong with a text that a person typed, empty where nothing is: signs that control a printer or terminal
    (line breaks where there may be none), halves of a character pair; or nothing in it that can be seen.
    """
    odd = next((sign for sign in text if _controls(sign) and not (breaks and sign in _BREAKS)), None)
    if odd is not None:
        return f"A sign in it cannot be shown (U+{ord(odd):04X}); type it anew."
    if text.strip() and not any(_is_seen(sign) for sign in text):
        return "Nothing in it can be seen; type it anew."
    return ""


def fault_in_name(text: str, path: str, empty: str) -> Fault | None:
    """The fault in a name or title that must be there: `empty` is what is said where nothing was typed."""
    if not text.strip():
        return Fault("empty", path, empty)
    said = unseen(text)
    return Fault("not-shown", path, said) if said else None


def _controls(sign: str) -> bool:
    return unicodedata.category(sign) in ("Cc", "Cs")


def _is_seen(sign: str) -> bool:
    return unicodedata.category(sign)[0] not in "ZC"


MOST_NAMED = 4


def listed(labels: Sequence[str]) -> str:
    """Some things in a sentence, such as `a, b and c`; of many the first, and how many more there are."""
    rows = list(labels)
    if len(rows) > MOST_NAMED:
        rows = [*rows[:MOST_NAMED], f"{len(rows) - MOST_NAMED} more"]
    return rows[0] if len(rows) == 1 else f"{', '.join(rows[:-1])} and {rows[-1]}"
