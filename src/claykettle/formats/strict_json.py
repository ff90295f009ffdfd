"""JSON without its traps: duplicate keys, NaN, infinities, giant numbers, broken characters and depth are refused."""

from __future__ import annotations

import json
import math
from typing import Any

from claykettle.core.errors import refuse

LARGEST_FILE = 2 * 1024 * 1024


def loads(data: bytes) -> Any:
    """Parse UTF-8 JSON. Raises Refusal `too-large`, `not-text` or `json` with the line and column."""
    if len(data) > LARGEST_FILE:
        size = len(data) / 1024 / 1024
        raise refuse("too-large", f"The file has {size:.1f} MB; a run file has at most 2 MB.")
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise refuse("not-text", f"The file is not UTF-8 text (byte {error.start + 1}).") from None
    try:
        value = json.loads(
            text, object_pairs_hook=_object, parse_constant=_constant, parse_float=_float, parse_int=_int
        )
    except json.JSONDecodeError as error:
        message = f"This is not JSON: {error.msg} at line {error.lineno}, column {error.colno}."
        raise refuse("json", message) from None
    except RecursionError:
        raise refuse("json", "The file is nested too deeply to be a run file.") from None
    _refuse_surrogates(text, value)
    return value


def _object(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    found: dict[str, Any] = {}
    for key, value in pairs:
        if key in found:
            raise refuse("duplicate-key", f"The key '{key[:60]}' stands twice in one object; keep one.")
        found[key] = value
    return found


def _constant(name: str) -> Any:
    raise refuse("not-finite", f"{name} is not a figure that a run file may hold.")


def _float(text: str) -> float:
    value = float(text)
    if not math.isfinite(value):
        raise refuse("not-finite", f"{text[:40]} is beyond any figure that a run file may hold.")
    return value


def _int(text: str) -> int:
    if len(text) > 20:
        raise refuse("not-finite", f"{text[:20]}… is beyond any figure that a run file may hold.")
    return int(text)


def _refuse_surrogates(text: str, value: Any) -> None:
    if "\\u" not in text:
        return
    try:
        json.dumps(value, ensure_ascii=False).encode("utf-8")
    except UnicodeEncodeError:
        raise refuse("not-text", "The file holds half of a character pair (\\ud800 to \\udfff).") from None
