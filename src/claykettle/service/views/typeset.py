"""Rules of the calculation page typeset as MathML: symbols for quantities, fractions for divisions."""

from __future__ import annotations

import html
import re
from collections.abc import Callable, Mapping
from functools import lru_cache

from latex2mathml.converter import convert

from claykettle.core.sheet import Token, tokens

_LETTERS = {
    "mass": "m",
    "amount": "n",
    "molar_mass": "M",
    "volume": "V",
    "pressure": "p",
    "temperature": "T",
    "molar_volume": "V",
    "density": r"\rho",
    "concentration": "c",
}
"""The letter of each kind of quantity, after IUPAC's *Quantities, Units and Symbols* (green book), from memory."""
_OWN = {
    "gas constant R": "R",
    "ratio x": "x",
    "gravity": "g",
    "standard temperature": "T_0",
    "standard pressure": "p_0",
}
_LEADING = re.compile(
    r"^(molar mass|molar volume|mass|amount|concentration|density|pressure|vapour pressure|volume) (of |at )?(the )?"
)
_SPECIAL = r"%&<>#_{}\^~$"
"""Signs that mean something in LaTeX or in a page."""
_KEPT = {ord(sign): chr(0xE000 + number) for number, sign in enumerate(_SPECIAL)}
_BACK = {0xE000 + number: html.escape(sign) for number, sign in enumerate(_SPECIAL)}


def symbol(label: str, dimension: str) -> str:
    """The symbol of a quantity as LaTeX: `mass of sample` is m with *sample* below; a share keeps its words."""
    if label in _OWN:
        return _OWN[label]
    letter = _LETTERS.get(dimension)
    if letter is None:
        return words(label)
    rest = _LEADING.sub("", label, count=1)
    return f"{letter}_{{{words(rest or label)}}}"


def words(text: str) -> str:
    """Words within a formula, as LaTeX; signs that mean something there or to a page come back in `mathml`."""
    return rf"\text{{{text.translate(_KEPT)}}}"


def figure(text: str) -> str:
    """A figure with its unit, as LaTeX: the unit upright behind a thin space."""
    number, _, unit = text.partition(" ")
    number = number.replace("−", "-")
    return rf"{number}\,{words(unit)}" if unit else number


def typeset(rule: str, labels: tuple[str, ...], leaf: Callable[[str], str]) -> str:
    """A rule as LaTeX, each label as `leaf` gives it. Raises WorksheetError where the rule has no meaning."""
    return _Setter(list(tokens(rule, labels)), leaf).rule()


@lru_cache(maxsize=4096)
def mathml(latex: str) -> str:
    """LaTeX as MathML, every sign in its words escaped."""
    return str(convert(latex, display="block")).translate(_BACK)


def line_of(symbols: Mapping[str, str], label: str, rule: str, labels: tuple[str, ...]) -> str:
    """A line in symbols, `m = m − m`, as LaTeX; what has no symbol stands beside it in words already."""
    left = "" if symbols[label] == words(label) else symbols[label]
    return f"{left} = {typeset(rule, labels, lambda one: symbols[one])}"


class _Setter:
    """Follows the grammar of `claykettle.core.sheet.rule`; what is divided stands above a bar."""

    def __init__(self, pieces: list[Token], leaf: Callable[[str], str]):
        self.rest = pieces
        self.leaf = leaf

    def rule(self) -> str:
        text = self.term()
        while sign := self.take("+", "−"):
            text = f"{text} {'+' if sign == '+' else '-'} {self.term()}"
        return text

    def term(self) -> str:
        text, bare = self.factor()
        while sign := self.take("×", "/"):
            other, other_bare = self.factor()
            if sign == "/":
                # brackets that only kept a bar's two sides together are not needed above and below it
                text, bare = rf"\frac{{{bare}}}{{{other_bare}}}", ""
                bare = text
            else:
                text = rf"{text} \times {other}"
                bare = text
        return text

    def factor(self) -> tuple[str, str]:
        text, bare = self.atom()
        if self.rest and self.rest[0].kind == "unit":
            unit = words(self.rest.pop(0).text)
            return rf"{text}\,{unit}", rf"{text}\,{unit}"
        return text, bare

    def atom(self) -> tuple[str, str]:
        if self.take("("):
            single = self.rest[0].kind in ("label", "number") and self.rest[1].text == ")"
            inner = self.rule()
            self.take(")")
            return (inner, inner) if single else (rf"\left({inner}\right)", inner)
        piece = self.rest.pop(0)
        if piece.kind == "number":
            return piece.text, piece.text
        if piece.kind == "word":
            of, _ = self.atom()
            text = rf"{words(piece.text)}\ {of}"
            return text, text
        text = self.leaf(piece.text)
        return text, text

    def take(self, *signs: str) -> str:
        if self.rest and self.rest[0].kind == "sign" and self.rest[0].text in signs:
            return self.rest.pop(0).text
        return ""
