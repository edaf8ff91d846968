"""Headings of columns as people write them: “time t (s)”, “T / s”, “x in cm”, “±x”, “# mass”; and what a block of columns says together."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from statistics import median
from typing import Literal

from hobrel.core.errors import CoreError
from hobrel.core.formulas.reading import GREEK_LETTERS, canonical_name
from hobrel.core.formulas.tree import FUNCTIONS
from hobrel.core.readings.heading_units import LONGEST_HEADING as LONGEST_HEADING
from hobrel.core.readings.heading_units import split_heading
from hobrel.core.readings.parsing import parse_written
from hobrel.core.readings.units_behind import find_meant_unit
from hobrel.core.units.calculus import parse_unit, refuse_per_ms, same_dimension

_WORDS = re.compile(r"^(?P<name>.*\S)\s*(?:[(\[]\s*words\s*[)\]]|\s/\s*words|\sin\s+words)$", re.IGNORECASE)
_PLUS_MINUS = re.compile(r"^(?:±|\+/-|\+-)\s*(?P<of>.*)$")
_UNCERTAINTY = re.compile(
    r"^(?:u\s*\((?P<u>[^()]+)\)|(?:abs(?:olute|\.)?\s+)?(?:uncertainty|error)(?:\s+(?:of|in)\s+(?P<words>.+))?|(?P<before>\S.*?)\s*(?:±|\+/-))$",
    re.IGNORECASE,
)
_SYMBOL = re.compile(r"^(?:[A-Za-z]|" + "|".join(GREEK_LETTERS) + r")(?:_?[0-9]{1,2}|_[A-Za-z0-9]{1,8}|[₀-₉]{1,2})?$")
_NAME_OF_EXPRESSION = re.compile(r"^(?=.{1,8}$)[A-Za-z]+[0-9]*$")
_LIKE_NUMBER = re.compile(r"^[-+−–<>~≈(]?\s*[.,]?\d")
_NUMBERED = re.compile(r"^(?P<base>.*?\D)[\s_#]*(?P<number>[1-9]\d?)(?:st|nd|rd|th)?$")
_LABEL = re.compile(r"(?<=\S)\s+\(?(?:trial|run|reading|attempt|try|test|repeat|measurement|no\.?|number)$", re.IGNORECASE)
"""What stands between a quantity and the number of a repeat: “time trial 2”."""
_FUNCTION_OF = re.compile(r"(?:^|\s)(ln|log|log10|lg|sin|cos|tan|sqrt)\s+(\w+)$")
_DIFFERENCE = re.compile(r"^[^\W\d_](?:_?\w{1,2})?\s*[-–−]\s*[^\W\d_](?:_?\w{1,2})?$")
_INVERSE_OF = re.compile(r"^1\s*/\s*\[?(\w+)\]?$")
_CHANGE_OF = re.compile(r"^(?:[Δ∆]\s*|[Dd]elta[\s_]+)([A-Za-z]\w{0,7})$")
_POWERS_IN_BRACKETS = re.compile(r"[(\[]\s*(?P<unit>[^()\[\]]*[^\W\d_](?:\^?[-−]\d|⁻[¹²³])[^()\[\]]*)[)\]]\s*$")
_PER_MS = re.compile(r"(?<![^\W_])ms(?:\s?\^\s?\(?[-−]|\s?⁻|[-−])(?P<power>[\d¹²³])")
_PER = re.compile(r"(?<!\w)per\s+(?:\d+\s+)?\w+$", re.IGNORECASE)
_EXPRESSIONS = (_FUNCTION_OF, _DIFFERENCE, _INVERSE_OF, _CHANGE_OF, _PER)
"""What ends with a letter that is not by itself what stands in the column."""
_PLAIN_POWERS = str.maketrans("¹²³", "123")
_SUBSCRIPTS = str.maketrans("₀₁₂₃₄₅₆₇₈₉", "0123456789")
_RESERVED = {"pi", "gradient", "intercept", *FUNCTIONS}
_ALIKE = 0.3
"""Share by which readings of one thing differ at most in most rows."""

USUAL_SYMBOLS = {
    "absorbance": "A", "acceleration": "a", "angle": "theta", "area": "A", "charge": "Q", "concentration": "c", "current": "I",
    "density": "rho", "diameter": "d", "displacement": "s", "distance": "d", "energy": "E", "extension": "x", "force": "F",
    "frequency": "f", "height": "h", "length": "L", "load": "F", "mass": "m", "momentum": "p", "period": "T", "position": "x",
    "potential difference": "V", "power": "P", "pressure": "p", "radius": "r", "resistance": "R", "resistivity": "rho", "speed": "v",
    "temperature": "T", "thickness": "d", "time": "t", "velocity": "v", "voltage": "V", "volume": "V", "wavelength": "lambda",
    "width": "w", "work": "W",
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
    u : str
        What each reading is uncertain by, in the unit, where the heading says it of all: “x (cm) ± 0.1”; else empty.
    """

    name: str
    symbol: str
    unit: str
    of: str | None = None
    holds: Literal["numbers", "words"] = "numbers"
    u: str = ""

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
        whose = split_heading(of)
        return Heading(whose.name, "", whose.unit, of=whose.name)
    split = split_heading(plain)
    name, unit = split.name, split.unit
    if not any(c.isalpha() for c in name):
        raise CoreError("bad_heading", "A heading names a quantity, with its unit: time t (s), or t / s.")
    _check_unit_at_the_end(name)
    _check_per_ms(unit or name)
    name, symbol = _name_and_symbol(name, {canonical_name(t) for t in taken})
    unit = find_meant_unit(split.name, unit)
    return Heading(name or _usual_name(symbol, unit) or split.name, symbol, unit, u=split.u)


def _usual_name(symbol: str, unit: str) -> str:
    found = (name for (letter, of), name in USUAL_NAMES.items() if letter == symbol and same_dimension(parse_unit(unit), parse_unit(of)))
    return next(found, "") if unit else ""


def uncertainty_of(plain: str) -> str | None:
    """Whose ± a column holds, with its unit, by a heading such as “±x”, “u(x)”, “error in x”; None for a column of readings."""
    if len(plain) > LONGEST_HEADING:
        return None
    if match := _PLUS_MINUS.match(plain):
        return match["of"].strip()
    split = split_heading(plain)
    name, unit = split.name, split.unit
    if match := _UNCERTAINTY.match(name):
        of = match["u"] or match["words"] or match["before"] or ""
        return f"{of.strip()} ({unit})" if of and unit else of.strip()
    return None


def _check_unit_at_the_end(name: str) -> None:
    """After a solidus that stands apart only a unit can have been meant; so in brackets where it is one that can be read in two ways.

    Raises
    ------
    CoreError
        ``bad_unit``.
    """
    before, solidus, unit = name.rpartition(" / ")
    if solidus and before.strip() not in ("", "1"):
        parse_unit(unit)
    elif match := _POWERS_IN_BRACKETS.search(name):
        try:
            parse_unit(match["unit"])
        except CoreError as trouble:
            if not {"over", "first", "meant"}.isdisjoint(trouble.fields):
                raise


def _check_per_ms(text: str) -> None:
    """In tables m/s is printed as ms⁻¹ too, and nobody who types it sees that it is one over milliseconds.

    Raises
    ------
    CoreError
        ``bad_unit``.
    """
    if match := _PER_MS.search(text):
        refuse_per_ms(match[0], Fraction(match["power"].translate(_PLAIN_POWERS)))


def _name_and_symbol(text: str, taken: set[str]) -> tuple[str, str]:
    """“time t”, “time, t”, “time”, “t”: what it is called (empty for a letter alone), and by which letter."""
    words = text.replace(",", " ").split()
    last = canonical_name(words[-1])
    # the R of “ln R” is not what stands in the column, nor the x0 of “x - x0”, the T of “1 / T” and “delta T”, the s of “counts per 10 s”
    if _SYMBOL.match(last) and last not in _RESERVED and not any(pattern.search(text) for pattern in _EXPRESSIONS):
        name = " ".join(words[:-1]).strip(" –-:=")
        # ten swings are no name
        return text if name.isdecimal() else name, last
    return text, _find_symbol(text, taken)


def _find_symbol(name: str, taken: set[str]) -> str:
    # what is no unit is part of the name, and not of the letter
    name = re.split(r"\s+[(\[]", name)[0] or name
    words = name.lower().split()
    known = next((USUAL_SYMBOLS[w] for w in (" ".join(words), *words[-1:], *words) if w in USUAL_SYMBOLS), "")
    first = known or _symbol_of_expression(name) or next((c for c in name if c.isalpha() and c.isascii()), "q")
    return next(s for s in (first, *(f"{first}_{n}" for n in range(2, 100))) if s not in taken)


def _symbol_of_expression(name: str) -> str:
    """A name for what was worked out elsewhere: T² is T2, 1/T is T_inv, ln(N) and ln N are lnN, ΔT is Delta_T; and for pH."""
    if match := _INVERSE_OF.match(name):
        return f"{unicodedata.normalize('NFKC', canonical_name(match[1]))}_inv"
    if match := _CHANGE_OF.match(name):
        return f"Delta_{canonical_name(match[1])}"
    if re.match(r"^[a-z][A-Z][A-Za-z]?$", name):
        return name
    if not re.search(r"[²³^(*√]", name) and not _FUNCTION_OF.search(name):
        return ""
    plain = "".join(c for c in unicodedata.normalize("NFKD", canonical_name(name.replace("√", "sqrt"))) if c.isalnum() and c.isascii())
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
    texts = [text.strip()[:LONGEST_HEADING] for text in texts]
    bases = _repeated_bases(texts)
    for text, base in zip(texts, bases, strict=True):
        if not text.strip().strip("#"):
            columns.append(None)
            continue
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


def may_repeat(first: Sequence[str], second: Sequence[str]) -> bool:
    """Whether two columns of cells can be readings of one thing: in most rows that have both they differ by less than 30 %."""
    apart = []
    for one, other in zip(first, second, strict=True):
        try:
            a, b = (float(parse_written(cell).value) for cell in (one, other))
        except CoreError:
            continue
        apart.append(abs(a - b) / max(abs(a), abs(b)) if a or b else 0.0)
    return bool(apart) and median(apart) <= _ALIKE


def _read_pasted(text: str, taken: Sequence[str]) -> Heading:
    try:
        return read_heading(text, taken)
    except CoreError:
        name = text.strip()[:80]
        return Heading(name, _find_symbol(name, set(taken)), "")


def _repeated_bases(texts: Sequence[str]) -> list[str]:
    """Each heading without its number, for those that are numbered from 1 on: t 1, t 2, t 3; time (s) trial 1, trial 2; bubbles 1, 2, 3."""
    numbered: dict[str, list[tuple[int, int]]] = {}
    before = ("", 0)
    for i, text in enumerate(texts):
        name, unit = (split := split_heading(text)).name, split.unit
        if match := _NUMBERED.match(name.translate(_SUBSCRIPTS)):
            base = _LABEL.sub("", match["base"].strip(" _#:,–-")) + (f" ({unit})" if unit else "")
            before = (base, int(match["number"]))
        elif text.strip().isdecimal() and int(text) == before[1] + 1:
            # a number alone, beside the one before it
            before = (before[0], before[1] + 1)
        else:
            before = ("", 0)
        if before[0]:
            numbered.setdefault(before[0], []).append((i, before[1]))
    bases = list(texts)
    for base, found in numbered.items():
        if len(found) > 1 and [n for _, n in found] == list(range(1, len(found) + 1)):
            for i, _ in found:
                bases[i] = base
    return bases


def _find_of(of: str, quantities: Sequence[Heading], columns: Sequence[HeadedColumn | None]) -> int:
    """The quantity whose ± a column holds: the one that it names, or else that of the column before.

    Raises
    ------
    CoreError
        ``bad_heading`` where there is none.
    """
    wanted = canonical_name(of).lower()
    called = [{n.lower() for n in (canonical_name(q.symbol), q.name, f"{q.name} {q.symbol}")} for q in quantities]
    exact = next((i for i, names in enumerate(called) if wanted and wanted in names), None)
    if exact is not None:
        return exact
    # “uncertainty in volume” beside “volume of gas”: of the one column that is called so among other words
    among = [i for i, names in enumerate(called) if wanted and any(wanted in re.split(r"\W+", name) for name in names)]
    if len(among) == 1:
        return among[0]
    before = next((c for c in reversed(columns) if c is not None), None)
    if before is None or wanted:
        raise CoreError("bad_heading", "“±{of}” is the ± of no column of this table.", of=of)
    return before.quantity
