"""Formulas as people type them: `Na2B4O7.10H2O`, `CaSO4·½H2O`, `K4[Fe(CN)6]`, `SO4^2-`.

The reader is our own: the common libraries take `.7H2O` for a decimal or `2H2O` for deuterium.
It is a recursive descent over at most 200 characters, brackets at most ten deep, counts to 9999.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal
from fractions import Fraction
from functools import cached_property, lru_cache
from math import lcm

from claykettle.core.chemistry.elements import atomic_weight, is_element, similar_symbols
from claykettle.core.errors import Refusal, refuse

LONGEST = 200
DEEPEST = 10
LARGEST_COUNT = 9999

_DOTS = "·.•*⋅∙"
_BRACKETS = {"(": ")", "[": "]", "{": "}"}
_PLAIN = str.maketrans("₀₁₂₃₄₅₆₇₈₉⁰¹²³⁴⁵⁶⁷⁸⁹⁺⁻−–", "01234567890123456789+---")
_SUPERSCRIPTS = set("⁰¹²³⁴⁵⁶⁷⁸⁹⁺⁻")


@dataclass(frozen=True)
class Formula:
    """A formula: its text in our one spelling, its atoms, its charge.

    `text` has a raised dot before crystal water and `^` before a charge; two spellings of one formula are equal.
    `parts` are the pieces between the dots with their multipliers.
    """

    text: str
    parts: tuple[tuple[Fraction, str], ...]
    atoms: tuple[tuple[str, Fraction], ...]
    charge: int = 0

    def __str__(self) -> str:
        return self.text

    @cached_property
    def counts(self) -> Mapping[str, Fraction]:
        """How many atoms of each element, fractions for half hydrates."""
        return dict(self.atoms)

    @cached_property
    def matter(self) -> Mapping[str, Fraction]:
        """What a reaction keeps: the atoms of each element, and the charge where there is one."""
        return {**self.counts, "charge": Fraction(self.charge)} if self.charge else self.counts

    @cached_property
    def molar_mass_g(self) -> Decimal:
        """Molar mass in g/mol; the mass of electrons is left out. Raises Refusal `no-atomic-weight`."""
        return sum((_times(atomic_weight(symbol), count) for symbol, count in self.atoms), Decimal(0))

    @property
    def molar_mass(self) -> float:
        """Molar mass in kg/mol."""
        return float(self.molar_mass_g) / 1000

    @cached_property
    def mass_percent(self) -> Mapping[str, float]:
        """Percent by mass of each element, in the order of the formula."""
        whole = self.molar_mass_g
        return {symbol: float(100 * _times(atomic_weight(symbol), count) / whole) for symbol, count in self.atoms}

    @cached_property
    def molar_mass_rule(self) -> str:
        """The sum of atomic weights as a person writes it: `(65.38 + 32.06 + 4 × 15.999) g/mol`."""
        terms = [
            f"{atomic_weight(symbol)}" if count == 1 else f"{_number(count)} × {atomic_weight(symbol)}"
            for symbol, count in self.atoms
        ]
        return f"({' + '.join(terms)}) g/mol"

    @cached_property
    def water(self) -> Fraction:
        """How many H2O stand behind the dot, per formula as written."""
        return sum((count for count, part in self.parts[1:] if part == "H2O"), Fraction(0))

    @property
    def anhydrous(self) -> Formula:
        """The formula without what stands behind the dot as H2O, per one unit of the first part."""
        kept = [self.parts[0], *(row for row in self.parts[1:] if row[1] != "H2O")]
        return parse_formula(_spell([(count / kept[0][0], part) for count, part in kept], self.charge))

    @property
    def water_ratio(self) -> Fraction:
        """Mol of crystal water per mol of the first part: 1/2 for CaSO4·0.5H2O and for 2CaSO4·H2O."""
        return self.water / self.parts[0][0]

    @property
    def sum_of_indices(self) -> int:
        """Sum of the counts in the smallest whole-number formula: the measure of how simple it is."""
        scale = lcm(*(count.denominator for _, count in self.atoms))
        return int(sum(count * scale for _, count in self.atoms))

    def hydrate(self, ratio: Fraction) -> Formula:
        """This salt with `ratio` mol of crystal water; the salt itself for zero."""
        rows = [*self.parts, (ratio, "H2O")] if ratio else list(self.parts)
        return parse_formula(_spell(rows, self.charge))


def parse_formula(text: str) -> Formula:
    """Read a formula.

    Raises Refusal with code `formula` (the message shows the place with a caret), `unknown-element`,
    or `formula-too-large` (over 200 characters, brackets over ten deep, counts over 9999).
    """
    if len(text) > LONGEST:
        raise refuse("formula-too-large", f"A formula has at most {LONGEST} characters; this one has {len(text)}.")
    return _parse(text)


@lru_cache(maxsize=2048)
def _parse(text: str) -> Formula:
    return _Reader(text).read()


def _times(weight: Decimal, count: Fraction) -> Decimal:
    return weight * count.numerator / count.denominator


def _number(count: Fraction) -> str:
    if count.denominator == 1:
        return str(count.numerator)
    decimal = Decimal(count.numerator) / Decimal(count.denominator)
    return format(decimal.normalize(), "f") if len(str(decimal)) <= 8 else f"{count.numerator}/{count.denominator}"


def _spell(parts: list[tuple[Fraction, str]], charge: int) -> str:
    spelled = "·".join(part if count == 1 else _number(count) + part for count, part in parts)
    if not charge:
        return spelled
    size = "" if abs(charge) == 1 else str(abs(charge))
    return f"{spelled}^{size}{'+' if charge > 0 else '-'}"


class _Reader:
    """One pass over the text; positions count from 1 in messages."""

    def __init__(self, typed: str):
        self.typed = typed
        self.text = self._with_caret(typed).translate(_PLAIN)
        self.at = 0

    @staticmethod
    def _with_caret(typed: str) -> str:
        """A `^` before the first superscript, so that SO₄²⁻ reads as SO4^2-."""
        for index, character in enumerate(typed):
            if character in _SUPERSCRIPTS:
                return typed if "^" in typed[:index] else f"{typed[:index]}^{typed[index:]}"
        return typed

    def read(self) -> Formula:
        self._skip_spaces()
        if self.at == len(self.text):
            raise refuse("formula", "The formula is empty; type for example ZnSO4 or Na2B4O7.10H2O.")
        parts = [self._part(first=True)]
        while self._peek() and self._peek() in _DOTS:
            self.at += 1
            parts.append(self._part(first=False))
        charge = self._charge()
        self._skip_spaces()
        if self.at < len(self.text):
            raise self._error(f"'{self._peek()}' has no meaning here")
        if parts[0][0] != 1 and len(parts) == 1:
            self.at = 0
            raise self._error("a number in front belongs to an equation, not to the formula")
        atoms: Counter[str] = Counter()
        for count, _, group in parts:
            for symbol, number in group.items():
                atoms[symbol] += count * number  # type: ignore[assignment]  # fractions, for half hydrates
        spelled = [(count, text) for count, text, _ in parts]
        pairs = tuple((symbol, Fraction(number)) for symbol, number in atoms.items())
        return Formula(_spell(spelled, charge), tuple(spelled), pairs, charge)

    def _part(self, first: bool) -> tuple[Fraction, str, Counter[str]]:
        self._skip_spaces()
        count = self._multiplier()
        self._skip_spaces()
        start = self.at
        group = self._group(depth=0)
        if not group:
            what = "an element symbol is missing here" if first else "what stands behind the dot is missing"
            raise self._error(what)
        end = self.at
        self._skip_spaces()
        return count, self.text[start:end], group

    def _multiplier(self) -> Fraction:
        """A number before a part: 7, 0.5, 1/2 or ½."""
        if self._peek() == "½":
            self.at += 1
            return Fraction(1, 2)
        start = self.at
        while self._peek().isdecimal() or (
            self._peek() in (".", ",", "/") and self.text[self.at + 1 : self.at + 2].isdecimal()
        ):
            self.at += 1
        typed = self.text[start : self.at].replace(",", ".")
        if not typed:
            return Fraction(1)
        try:
            count = Fraction(typed)
        except (ValueError, ZeroDivisionError):
            self.at = start
            raise self._error(f"'{typed[:20]}' is not a number") from None
        if not 0 < count <= LARGEST_COUNT or count.denominator > LARGEST_COUNT:
            self.at = start
            raise self._error(f"a count must lie above 0 and up to {LARGEST_COUNT}", "formula-too-large")
        return count

    def _group(self, depth: int) -> Counter[str]:
        total: Counter[str] = Counter()
        while True:
            character = self._peek()
            if character in _BRACKETS:
                inner = self._bracket(depth)
            elif character.isascii() and character.isalpha():
                inner = Counter({self._element(): 1})
            else:
                return total
            count = self._count()
            for symbol, number in inner.items():
                total[symbol] += number * count

    def _bracket(self, depth: int) -> Counter[str]:
        opened = self.at
        if depth >= DEEPEST:
            raise self._error(f"brackets stand more than {DEEPEST} deep", "formula-too-large")
        closing = _BRACKETS[self._peek()]
        self.at += 1
        inner = self._group(depth + 1)
        if self._peek() != closing:
            if self._peek():
                raise self._error(f"'{self._peek()}' stands where '{closing}' would close the bracket")
            self.at = opened
            raise self._error("this bracket is never closed")
        self.at += 1
        if not inner:
            self.at = opened
            raise self._error("this bracket is empty")
        return inner

    def _element(self) -> str:
        two, one = self.text[self.at : self.at + 2], self.text[self.at]
        if len(two) == 2 and two[1].islower() and two[1].isascii():
            if is_element(two):
                self.at += 2
                return two
            raise self._unknown(two)
        if is_element(one):
            self.at += 1
            return one
        raise self._unknown(one)

    def _unknown(self, symbol: str) -> Refusal:
        if symbol[0].islower():
            reason = f"element symbols begin with a capital letter, '{symbol}' does not"
        else:
            reason = f"'{symbol}' is not an element"
        close = similar_symbols(symbol)
        hint = f"; did you mean {' or '.join(close)}?" if close else ""
        return self._error(reason + hint, "unknown-element")

    def _count(self) -> int:
        start = self.at
        while self._peek().isdecimal():
            self.at += 1
        if start == self.at:
            return 1
        count = int(self.text[start : self.at])
        if not 0 < count <= LARGEST_COUNT:
            self.at = start
            raise self._error(f"a count must lie between 1 and {LARGEST_COUNT}", "formula-too-large")
        return count

    def _charge(self) -> int:
        if self._peek() in ("+", "-") and self._peek():
            raise self._error("write a charge with a ^ before it, such as Fe^3+ or SO4^2-")
        if self._peek() != "^":
            return 0
        self.at += 1
        start = self.at
        size, sign = self._charge_size(), self._peek()
        if sign not in ("+", "-") or not sign:
            raise self._error("a charge ends with its sign, such as ^2- or ^3+")
        self.at += 1
        if not 0 < size <= 20:
            self.at = start
            raise self._error("no ion bears such a charge")
        return size if sign == "+" else -size

    def _charge_size(self) -> int:
        start = self.at
        while self._peek().isdecimal() and self.at - start < 4:
            self.at += 1
        return int(self.text[start : self.at] or "1")

    def _peek(self) -> str:
        return self.text[self.at : self.at + 1]

    def _skip_spaces(self) -> None:
        while self._peek().isspace():
            self.at += 1

    def _error(self, reason: str, code: str = "formula") -> Refusal:
        place = min(self.at, len(self.text))
        shown = self.text.replace("\n", " ")
        return refuse(code, f"{reason[0].upper()}{reason[1:]} (character {place + 1}): {shown[:place]}▸{shown[place:]}")
