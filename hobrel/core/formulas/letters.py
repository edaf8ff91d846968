"""Symbols as keyboards and papers have them, in the letters that formulas read: T₁, V_{rms}, Δt, µ as the sign of a millionth, t½."""

from __future__ import annotations

import re
import unicodedata

LOWERED = "₀₁₂₃₄₅₆₇₈₉ₐₑₒₓₕₖₗₘₙₚₛₜᵢⱼᵣᵤᵥ"
RAISE_AGAIN = str.maketrans(LOWERED, "0123456789aeoxhklmnpstijruv")
_LOOKS_LIKE = str.maketrans("\u00b5\u2126∆ℓ", "μΩΔl")
"""Signs that look like a letter and are another: of a millionth, of ohms, of an increment; and a written l."""
_LOWER = re.compile(f"_?([{LOWERED}]+)")
_BRACES = re.compile(r"_\{\s*([A-Za-z0-9]+)\s*\}")
_HALF = re.compile(r"(?<=[^\W\d_])_?(?:½|\{\s*(?:½|1/2)\s*\})")
_CHANGE = re.compile(r"Δ(?=[^\W\d_])")
_SLANTED = re.compile("[\U0001d400-\U0001d7ff]")


def spell_symbol(text: str) -> str:
    """A symbol, or an expression of some, in the spelling that formulas read; what has none stays as it is."""
    text = _BRACES.sub(r"_\1", _HALF.sub("_half", in_plain_letters(text.strip())))
    return _CHANGE.sub("Δ_", _LOWER.sub(lambda m: f"_{m[1].translate(RAISE_AGAIN)}", text))


def in_plain_letters(text: str) -> str:
    """The same text, sign for sign, with letters for the signs that look like them."""
    return _SLANTED.sub(lambda m: unicodedata.normalize("NFKC", m[0]), text.translate(_LOOKS_LIKE))
