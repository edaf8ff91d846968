"""Typeset formulas and symbols: TeX for screens and documents, rich text for the axes of a figure."""

from __future__ import annotations

import re
from collections.abc import Collection, Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

from hobrel.core.errors import CoreError
from hobrel.core.formulas.reading import GREEK_LETTERS, canonical_name, read_formula
from hobrel.core.formulas.tree import (
    RATE_FUNCTIONS,
    Binary,
    Call,
    Lookup,
    Negate,
    Node,
    Number,
    Power,
    Rate,
    Symbol,
    spell,
    without_sign,
)

_TEX_FUNCTIONS = {"ln": r"\ln", "log10": r"\log_{10}", "exp": r"\exp", "sin": r"\sin", "cos": r"\cos", "tan": r"\tan",
                  "asin": r"\arcsin", "acos": r"\arccos", "atan": r"\arctan"}  # fmt: skip
_SUM, _PRODUCT, _POWER = 1, 2, 3
_ALONE = re.compile(r"[\w.\\{}]+")


@dataclass(frozen=True)
class RichRun:
    """A piece of text in one style; symbols are italic, numbers and units upright."""

    text: str
    style: Literal["plain", "italic", "sup", "sub", "bold"] = "plain"


RichText = tuple[RichRun, ...]


def symbol_tex(symbol: str) -> str:
    """TeX of a symbol such as ``t_10`` or ``theta``."""
    base, _, index = canonical_name(symbol).partition("_")
    if base == "Delta" and index[:1].isalpha():
        return rf"\Delta {symbol_tex(index)}"
    if base in ("gradient", "intercept"):
        return rf"\mathrm{{{base}}}"
    letters = "\\" + base if base in GREEK_LETTERS and base != "omicron" else base if len(base) == 1 else rf"\mathit{{{base}}}"
    if not index:
        return letters
    index = index.replace("_", ",")
    return rf"{letters}_{{{index}}}" if index.isdigit() or len(index) == 1 else rf"{letters}_{{\mathrm{{{index}}}}}"


def number_tex(text: str) -> str:
    """TeX of a number written as text, ``1.2e-05`` or ``−3``, with a real minus sign and power of ten."""
    mantissa, _, exponent = text.replace("−", "-").lower().partition("e")
    if not exponent:
        return mantissa
    return rf"{mantissa} \times 10^{{{int(exponent)}}}"


def formula_tex(node: Node, numbers: Mapping[str, str] | None = None) -> str:
    """TeX of a formula.

    Parameters
    ----------
    node : Node
    numbers : mapping of symbol to TeX, optional
        Put these in place of the symbols, and of Δ( ) and mid( ) as `spell` writes them, in brackets where something stands beside
        them (the “numbers put in” line of a working).
    """
    return _Typesetter(numbers or {}).tex(node)[0]


class _Typesetter:
    def __init__(self, numbers: Mapping[str, str]) -> None:
        self.numbers = numbers

    def tex(self, node: Node) -> tuple[str, int]:
        match node:
            case Number(text, _):
                return number_tex(text), _POWER
            case Symbol(name, _):
                return self._put_in(name) if name in self.numbers else (symbol_tex(name), _POWER)
            case Negate(of, _):
                return "-" + self._wrapped(of, _PRODUCT), _SUM
            case Binary("+" | "-" as op, left, right, _):
                return f"{self.tex(left)[0]} {op} {self._term(right, _PRODUCT if op == '-' else _SUM)}", _SUM
            case Binary("*" | "/") if (bare := without_sign(node)) is not None:
                return "-" + self._wrapped(bare, _PRODUCT), _SUM
            case Binary("/", left, right, _):
                return rf"\frac{{{self.tex(left)[0]}}}{{{self.tex(right)[0]}}}", _PRODUCT
            case Binary(_, left, right, _):
                between = r" \times " if self._needs_times(right) else r"\,"
                return self._wrapped(left, _PRODUCT) + between + self._wrapped(right, _PRODUCT), _PRODUCT
            case Power(base, exponent, _):
                return rf"{self._wrapped(base, _POWER)}^{{{self.tex(exponent)[0]}}}", _POWER
            case Call("sqrt", of, _):
                return rf"\sqrt{{{self.tex(of)[0]}}}", _POWER
            case Call("abs", of, _):
                return rf"\left|{self.tex(of)[0]}\right|", _POWER
            case Call("Delta" | "mid", _, _) if spell(node) in self.numbers:
                return self._put_in(spell(node))
            case Lookup() if spell(node) in self.numbers:
                return self._put_in(spell(node))
            case Lookup(table, of, _):
                return rf"{symbol_tex(table.symbol)}\left({self.tex(of)[0]}\right)", _POWER
            case Rate() if spell(node) in self.numbers:
                return self._put_in(spell(node))
            case Rate(function, of, by, _):
                top, bottom = (rf"\mathrm{{d}} {self._wrapped(part, _POWER)}" for part in (of, by))
                slope = rf"\frac{{{top}}}{{{bottom}}}"
                smoothed = RATE_FUNCTIONS[function] == "smoothed"
                return (rf"\left({slope}\right)_{{\mathrm{{smoothed}}}}", _POWER) if smoothed else (slope, _PRODUCT)
            case Call("Delta", of, _):
                return rf"\Delta {self._wrapped(of, _POWER)}", _PRODUCT
            case Call("mid", of, _):
                inner = self._wrapped(of, _POWER)
                return rf"\tfrac12\left({{{inner}}}_{{\mathrm{{before}}}} + {inner}\right)", _PRODUCT
            case Call(function, of, _):
                inner, _ = self.tex(of)
                plain = isinstance(of, Symbol) and not self.numbers
                return f"{_TEX_FUNCTIONS[function]} {inner}" if plain else rf"{_TEX_FUNCTIONS[function]}\left({inner}\right)", _PRODUCT
        raise AssertionError(node)

    def _put_in(self, name: str) -> tuple[str, int]:
        """A number in the place of a symbol: one with a sign or a unit is held together by brackets beside a factor or a power."""
        number = self.numbers[name]
        return number, _POWER if _ALONE.fullmatch(number) else _SUM

    def _term(self, node: Node, level: int) -> str:
        """The right side of a sum: a single number needs brackets for its sign only."""
        if isinstance(node, Symbol | Lookup | Rate) and spell(node) in self.numbers:
            number = self.numbers[spell(node)]
            return rf"\left({number}\right)" if number.startswith("-") else number
        return self._wrapped(node, level)

    def _wrapped(self, node: Node, level: int) -> str:
        text, own = self.tex(node)
        return rf"\left({text}\right)" if own < level else text

    def _needs_times(self, node: Node) -> bool:
        """A product whose right side begins with a digit needs a sign between."""
        match node:
            case Number():
                return True
            case Symbol(name, _):
                return name in self.numbers
            case Lookup() | Rate():
                return spell(node) in self.numbers
            case Power(base, _, _):
                return self._needs_times(base)
            case Binary("*", left, _, _):
                return self._needs_times(left)
            case _:
                return False


def relation_tex(text: str, known: Collection[str]) -> str:
    """TeX of an expected relation “left = right”; empty where there is none or it cannot be read."""
    sides = text.split("=")
    if len(sides) != 2:
        return ""
    try:
        return " = ".join(formula_tex(read_formula(side, known)) for side in sides)
    except CoreError:
        return ""


_PIECE = re.compile(
    r"(?P<rate>rate|smooth_rate)\((?P<y>[A-Za-z]\w*), *(?P<x>[A-Za-z]\w*)\)"
    r"|(?P<neighbour>Delta|mid)\((?P<of>[A-Za-z]\w*)\)|\^\((?P<long>[^)]+)\)|\^(?P<sup>[-−]?\d+)"
    r"|_(?P<sub>[A-Za-z0-9]+)|(?P<number>\d+)|(?P<name>log10|[A-Za-z]+)|(?P<other>.)"
)


_CHANGE = re.compile(r"(?<![A-Za-z0-9])Delta_(?=[A-Za-z])")


@lru_cache(maxsize=2048)
def rich_symbol(text: str) -> RichText:
    """A symbol or short expression (``T^2``, ``t_10``, ``ln(N)``, ``1/theta``) as runs of styled text."""
    runs: list[RichRun] = []
    # a change of something is no Δ of its own with an index
    for piece in _PIECE.finditer(_CHANGE.sub("Δ", canonical_name(text))):
        if piece["neighbour"]:
            inner = rich_symbol(piece["of"])
            if piece["neighbour"] == "Delta":
                runs += [RichRun("Δ"), *inner]
            else:
                runs += inner
                _lower(runs, "mid")
            continue
        if piece["rate"]:
            slope = [RichRun("d"), *rich_symbol(piece["y"]), RichRun("/"), RichRun("d"), *rich_symbol(piece["x"])]
            smoothed = RATE_FUNCTIONS[piece["rate"]] == "smoothed"
            runs += [RichRun("("), *slope, RichRun(")"), RichRun("smoothed", "sub")] if smoothed else slope
            continue
        raised = piece["long"] or piece["sup"]
        if raised:
            runs.append(RichRun(raised.replace("-", "−").replace("/", "⁄"), "sup"))
        elif piece["sub"]:
            _lower(runs, piece["sub"])
        elif piece["name"] in _TEX_FUNCTIONS or piece["name"] == "sqrt":
            runs.append(RichRun({"sqrt": "√", "log10": "log₁₀"}.get(piece["name"], piece["name"])))
        elif piece["name"]:
            runs.append(RichRun(GREEK_LETTERS.get(piece["name"], piece["name"]), "italic"))
        else:
            runs.append(RichRun((piece["number"] or piece["other"]).replace("-", "−").replace("*", "·")))
    return tuple(runs)


def _lower(runs: list[RichRun], text: str) -> None:
    """Put a subscript behind what is there; a second one stands beside the first, as in a formula."""
    before = f"{runs.pop().text}," if runs and runs[-1].style == "sub" else ""
    runs.append(RichRun(before + text, "sub"))


_RAISED = str.maketrans("0123456789-−", "⁰¹²³⁴⁵⁶⁷⁸⁹⁻⁻")
_LOWERED = str.maketrans("0123456789", "₀₁₂₃₄₅₆₇₈₉")


@lru_cache(maxsize=4096)
def plain_text(rich: RichText) -> str:
    """Rich text without styles, for screen readers and file names."""
    return "".join(
        r.text.translate(_RAISED) if r.style == "sup" else r.text.translate(_LOWERED) if r.style == "sub" and r.text.isdigit()
        else f"_{r.text.replace(',', '_')}" if r.style == "sub" else r.text
        for r in rich
    )  # fmt: skip


def write_symbol(symbol: str) -> str:
    """A symbol or short expression as a sentence says it: t₁₀, T², μ."""
    return plain_text(rich_symbol(symbol))


_INDEXED = re.compile(r"(?<!\w)([^\W\d_])_([^\W\d_][^\W_]{0,7})(?!\w)")


def rich_sentence(text: str) -> RichText:
    """A sentence of ours, a title or a name, in which symbols stand as they do everywhere: θ with its r lowered, never θ_r."""
    found: list[RichRun] = []
    end = 0
    for symbol in _INDEXED.finditer(text):
        found += [RichRun(text[end : symbol.start()] + symbol[1]), RichRun(symbol[2], "sub")]
        end = symbol.end()
    return (*found, RichRun(text[end:])) if text[end:] else tuple(found)


_UPRIGHT = {**{name: f"{tex} " for name, tex in _TEX_FUNCTIONS.items()}, "log₁₀": r"\log_{10} ", "Δ": r"\Delta ", "d": r"\mathrm{d}"}


def symbol_expression_tex(text: str) -> str:
    """TeX of a heading symbol, which may be an expression such as ``T^2``."""
    out: list[str] = []
    for run in rich_symbol(text):
        match run.style:
            case "sup":
                out.append(f"^{{{run.text.replace('−', '-')}}}")
            case "sub":
                out.append(f"_{{{run.text}}}" if run.text.isdigit() or len(run.text) == 1 else rf"_{{\mathrm{{{run.text}}}}}")
            case "italic":
                out.append(symbol_tex(run.text))
            case _:
                # what stays is harmless in TeX whatever a plan's author writes: letters, digits, signs
                kept = re.sub(r"[^A-Za-z0-9 +\-*/().,'′·√]", "", run.text.replace("−", "-"))
                out.append(_UPRIGHT.get(run.text, kept))
    return _draw_roots(out)


def _draw_roots(pieces: list[str]) -> str:
    """Join pieces of TeX, each root sign drawn over the bracket, or else the piece, behind it.

    A bare sign is read by others as a root that waits for what stands under it.
    """
    out: list[str] = []
    i = 0
    while i < len(pieces):
        if pieces[i] != "√":
            out.append(pieces[i])
            i += 1
            continue
        end = _end_of_bracket(pieces, i + 1)
        under = pieces[i + 2 : end - 1] if end > i + 2 else pieces[i + 1 : end]
        out.append(rf"\sqrt{{{_draw_roots(under)}}}")
        i = end
    return "".join(out)


def _end_of_bracket(pieces: list[str], start: int) -> int:
    """Behind the bracket that opens at `start`; behind that piece where none does, or where it is never closed."""
    depth = 0
    for i in range(start, len(pieces)):
        depth += {"(": 1, ")": -1}.get(pieces[i], 0)
        if depth <= 0:
            return i + 1
    return min(start + 1, len(pieces))
