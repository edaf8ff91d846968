"""Headings of columns as people write them: “time t (s)”, “T / s”, “x in cm”, “±x”, “# mass”; and what a block of columns says together."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

from hobrel.core.errors import CoreError
from hobrel.core.formulas.reading import GREEK_LETTERS, canonical_name
from hobrel.core.formulas.tree import FUNCTIONS
from hobrel.core.units.calculus import parse_unit, same_dimension

LONGEST_HEADING = 120
_BRACKETS = re.compile(r"^(?P<name>.*?)\s*[(\[]\s*(?P<unit>[^()\[\]]+?)\s*[)\]]\s*$")
_SOLIDUS = re.compile(r"^(?P<name>.*?)\s*/\s*(?P<unit>[^/]+(?:/[^/]+)?)$")
_IN = re.compile(r"^(?P<name>.+?)\s+in\s+(?P<unit>\S.*)$")
_WORDS = re.compile(r"^(?P<name>.*\S)\s*(?:[(\[]\s*words\s*[)\]]|\s/\s*words|\sin\s+words)$", re.IGNORECASE)
_PLUS_MINUS = re.compile(r"^(?:±|\+/-|\+-)\s*(?P<of>.*)$")
_UNCERTAINTY = re.compile(
    r"^(?:u\s*\((?P<u>[^()]+)\)|(?:uncertainty|error)\s+(?:of|in)\s+(?P<words>.+)|(?P<before>\S.*?)\s*(?:±|\+/-))$", re.IGNORECASE
)
_SYMBOL = re.compile(r"^(?:[A-Za-z]|" + "|".join(GREEK_LETTERS) + r")(?:_?[0-9]{1,2}|_[A-Za-z0-9]{1,8}|[₀-₉]{1,2})?$")
_NAME_OF_EXPRESSION = re.compile(r"^(?=.{1,8}$)[A-Za-z]+[0-9]*$")
_LIKE_NUMBER = re.compile(r"^[-+−–<>~≈(]?\s*[.,]?\d")
_NUMBERED = re.compile(r"^(?P<base>.*?\D)[\s_#]*(?P<number>[1-9]\d?)$")
_SUBSCRIPTS = str.maketrans("₀₁₂₃₄₅₆₇₈₉", "0123456789")
_RESERVED = {"pi", "gradient", "intercept", *FUNCTIONS}

USUAL_SYMBOLS = {
    "absorbance": "A", "acceleration": "a", "angle": "theta", "area": "A", "charge": "Q", "concentration": "c", "current": "I",
    "density": "rho", "diameter": "d", "displacement": "s", "distance": "d", "energy": "E", "extension": "x", "force": "F",
    "frequency": "f", "height": "h", "length": "L", "load": "F", "mass": "m", "momentum": "p", "period": "T", "position": "x",
    "potential difference": "V", "power": "P", "pressure": "p", "radius": "r", "resistance": "R", "speed": "v", "temperature": "T",
    "thickness": "d", "time": "t", "velocity": "v", "voltage": "V", "volume": "V", "wavelength": "lambda", "width": "w", "work": "W",
}  # fmt: skip
"""What quantities are usually called by (common practice of school books)."""
USUAL_NAMES = {
    ("t", "s"): "time", ("T", "s"): "period", ("T", "K"): "temperature", ("L", "m"): "length", ("l", "m"): "length", ("h", "m"): "height",
    ("m", "kg"): "mass", ("V", "V"): "voltage", ("V", "m^3"): "volume", ("I", "A"): "current", ("R", "ohm"): "resistance",
    ("F", "N"): "force", ("v", "m/s"): "speed", ("f", "Hz"): "frequency", ("p", "Pa"): "pressure", ("theta", "rad"): "angle",
    ("lambda", "m"): "wavelength",
    ("P", "W"): "power", ("E", "J"): "energy",
}  # fmt: skip
"""What a letter usually stands for, where its unit is of this dimension (common practice)."""


@dataclass(frozen=True)
class Heading:
    """What a heading says.

    Attributes
    ----------
    name, symbol, unit : str
        The symbol as formulas write it; the unit as it was written, empty for none.
    of : str or None
        The symbol or name of the quantity whose ± this column holds; empty for that of the column before. None for a column of readings.
    holds : {"numbers", "words"}
        What is written under it. Words need no symbol.
    """

    name: str
    symbol: str
    unit: str
    of: str | None = None
    holds: Literal["numbers", "words"] = "numbers"

    @property
    def is_count(self) -> bool:
        """Whether it says by itself that its numbers are counted: a “number of sheets” without a unit."""
        return self.holds == "numbers" and not self.unit and self.name.lower().startswith("number of ")


@dataclass(frozen=True)
class HeadedColumn:
    """A column of a block: which of the block's quantities it holds, which repeat of it, or with `is_u` its ±."""

    quantity: int
    repeat: int
    is_u: bool


@dataclass(frozen=True)
class HeadedBlock:
    """The quantities of a block of columns, how often each is there, and what each column is; None for a column without a heading."""

    quantities: tuple[Heading, ...]
    repeats: tuple[int, ...]
    columns: tuple[HeadedColumn | None, ...]


def split_heading(text: str) -> tuple[str, str]:
    """Name and unit of a heading such as “t (s)”, “T / s”, “length [cm]”; what is no unit is part of the name."""
    for pattern in (_BRACKETS, _SOLIDUS, _IN):
        match = pattern.match(text.strip())
        # ln(N) is no ln in newtons, and the 1 of 1/T no name
        if match and match["name"] and match["name"] not in ("1", *FUNCTIONS) and _is_unit(match["unit"].strip("()")):
            return match["name"].rstrip("/ ").strip(), match["unit"].strip("()")
    return text.strip(), ""


def _is_unit(text: str) -> bool:
    try:
        parse_unit(text)
    except CoreError:
        return False
    return True


def read_heading(text: str, taken: Sequence[str] = ()) -> Heading:
    """What a heading says.

    Parameters
    ----------
    taken : sequence of str
        Symbols that stand for something else: where the heading names no symbol of its own, the one found for it is none of them.

    Raises
    ------
    CoreError
        ``bad_heading`` for one without a name, or too long; ``bad_unit`` for a unit that is none.
    """
    plain = text.strip().lstrip("#").strip()
    if len(plain) > LONGEST_HEADING:
        raise CoreError("bad_heading", "A heading has at most {most} signs.", most=LONGEST_HEADING)
    if match := _WORDS.match(plain):
        return Heading(match["name"], "", "", holds="words")
    of = uncertainty_of(plain)
    if of is not None:
        name, unit = split_heading(of)
        return Heading(name, "", unit, of=name)
    name, unit = split_heading(plain)
    if not any(c.isalpha() for c in name):
        raise CoreError("bad_heading", "A heading names a quantity, with its unit: time t (s), or t / s.")
    _check_unit_at_the_end(name)
    name, symbol = _name_and_symbol(name, {canonical_name(t) for t in taken})
    return Heading(name or _usual_name(symbol, unit) or split_heading(plain)[0], symbol, unit)


def _usual_name(symbol: str, unit: str) -> str:
    found = (name for (letter, of), name in USUAL_NAMES.items() if letter == symbol and same_dimension(parse_unit(unit), parse_unit(of)))
    return next(found, "") if unit else ""


def uncertainty_of(plain: str) -> str | None:
    """Whose ± a column holds, with its unit, by a heading such as “±x”, “u(x)”, “error in x”; None for a column of readings."""
    if match := _PLUS_MINUS.match(plain):
        return match["of"].strip()
    name, unit = split_heading(plain)
    if match := _UNCERTAINTY.match(name):
        of = match["u"] or match["words"] or match["before"]
        return f"{of.strip()} ({unit})" if unit else of.strip()
    return None


def _check_unit_at_the_end(name: str) -> None:
    """After a solidus that stands apart only a unit can have been meant."""
    before, solidus, unit = name.rpartition(" / ")
    if solidus and before.strip():
        parse_unit(unit)


def _name_and_symbol(text: str, taken: set[str]) -> tuple[str, str]:
    """“time t”, “time, t”, “time”, “t”: what it is called (empty for a letter alone), and by which letter."""
    words = text.replace(",", " ").split()
    last = canonical_name(words[-1].translate(_SUBSCRIPTS))
    if _SYMBOL.match(last) and last not in _RESERVED:
        return " ".join(words[:-1]).strip(" –-:="), last
    return text, _find_symbol(text, taken)


def _find_symbol(name: str, taken: set[str]) -> str:
    words = name.lower().split()
    known = next((USUAL_SYMBOLS[w] for w in (" ".join(words), *words[-1:], *words) if w in USUAL_SYMBOLS), "")
    first = known or _symbol_of_expression(name) or next((c for c in name if c.isalpha() and c.isascii()), "q")
    return next(s for s in (first, *(f"{first}_{n}" for n in range(2, 100))) if s not in taken)


def _symbol_of_expression(name: str) -> str:
    """A name for what was worked out elsewhere: T² is T2, 1/T is T_inv, ln(N) is lnN."""
    if match := re.match(r"^1\s*/\s*(\w+)$", name):
        return f"{canonical_name(match[1])}_inv"
    if not re.search(r"[²³^(*]", name):
        return ""
    plain = "".join(c for c in unicodedata.normalize("NFKD", canonical_name(name)) if c.isalnum() and c.isascii())
    return plain if _NAME_OF_EXPRESSION.match(plain) and plain not in _RESERVED else ""


def read_headings(texts: Sequence[str], taken: Sequence[str] = ()) -> HeadedBlock:
    """What the headings of a block say together: those that differ by a number alone are repeats of one quantity, “±x” is that of x.

    A unit that is none is part of the name here, for a pasted heading was not written for us.

    Raises
    ------
    CoreError
        ``bad_heading`` where a column holds the ± of none of the others.
    """
    quantities: list[Heading] = []
    repeats: list[int] = []
    columns: list[HeadedColumn | None] = []
    keys: list[tuple[str, str]] = []
    bases = _repeated_bases(texts)
    for text in texts:
        if not text.strip().strip("#"):
            columns.append(None)
            continue
        base = bases.get(text, text)
        heading = _read_pasted(base, [*taken, *(q.symbol for q in quantities)])
        if heading.of is not None:
            columns.append(HeadedColumn(_find_of(heading.of, quantities, columns), 0, True))
            continue
        key = (heading.name.lower(), heading.unit) if base != text else (text, "")
        if key in keys:
            place = keys.index(key)
            columns.append(HeadedColumn(place, repeats[place], False))
            repeats[place] += 1
            continue
        if heading.symbol and heading.symbol in {canonical_name(q.symbol) for q in quantities}:
            heading = replace(heading, symbol=_find_symbol(heading.symbol, {*taken, *(q.symbol for q in quantities)}))
        keys.append(key)
        columns.append(HeadedColumn(len(quantities), 0, False))
        quantities.append(heading)
        repeats.append(1)
    return HeadedBlock(tuple(quantities), tuple(repeats), tuple(columns))


def are_words(cells: Sequence[str]) -> bool:
    """Whether the cells of a column are words: there are some, and none begins like a number."""
    written = [cell.strip() for cell in cells if cell.strip()]
    return any(cell[0].isalpha() for cell in written) and not any(_LIKE_NUMBER.match(cell) for cell in written)


def _read_pasted(text: str, taken: Sequence[str]) -> Heading:
    try:
        return read_heading(text[:LONGEST_HEADING], taken)
    except CoreError:
        name = text.strip()[:80]
        return Heading(name, _find_symbol(name, set(taken)), "")


def _repeated_bases(texts: Sequence[str]) -> dict[str, str]:
    """By heading what it is without its number, for those that are numbered from 1 on: t 1, t 2, t 3; trial 1 (s), trial 2 (s)."""
    numbered: dict[str, list[tuple[str, int]]] = {}
    for text in texts:
        name, unit = split_heading(text)
        if match := _NUMBERED.match(name.translate(_SUBSCRIPTS)):
            base = match["base"].strip(" _#") + (f" ({unit})" if unit else "")
            numbered.setdefault(base, []).append((text, int(match["number"])))
    runs = {base: found for base, found in numbered.items() if len(found) > 1 and [n for _, n in found] == list(range(1, len(found) + 1))}
    return {text: base for base, found in runs.items() for text, _ in found}


def _find_of(of: str, quantities: Sequence[Heading], columns: Sequence[HeadedColumn | None]) -> int:
    """The quantity whose ± a column holds: the one that it names, or else that of the column before.

    Raises
    ------
    CoreError
        ``bad_heading`` where there is none.
    """
    wanted = canonical_name(of).lower()
    for i, quantity in enumerate(quantities):
        names = (canonical_name(quantity.symbol), quantity.name, f"{quantity.name} {quantity.symbol}")
        if wanted and wanted in {name.lower() for name in names}:
            return i
    before = next((c for c in reversed(columns) if c is not None), None)
    if before is None or wanted:
        raise CoreError("bad_heading", "“±{of}” is the ± of no column of this table.", of=of)
    return before.quantity
