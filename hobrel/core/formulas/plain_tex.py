"""Mathematics as plain text, for whoever hears it and wherever it cannot be set: TeX of our own making, and no other."""

from __future__ import annotations

import re

from hobrel.core.formulas.reading import GREEK_LETTERS

_WORDS = {
    "times": " × ", "pm": " ± ", "le": " ≤ ", "ge": " ≥ ", "sum": "Σ", "circ": "°", "nu": "ν", "bar": "mean ", "ln": "ln ", "exp": "exp ",
    "sin": "sin ", "cos": "cos ", "tan": "tan ", "log": "log ", "arcsin": "arcsin ", "arccos": "arccos ", "arctan": "arctan ",
    "max": "max", "min": "min", "quad": " ",
}  # fmt: skip
_SPACES = {"\\,", "\\;", "\\ ", "\\:", " "}
_RAISED = str.maketrans("0123456789+-−n", "⁰¹²³⁴⁵⁶⁷⁸⁹⁺⁻⁻ⁿ")
_LOWERED = str.maketrans("0123456789", "₀₁₂₃₄₅₆₇₈₉")
_PIECE = re.compile(r"\\[A-Za-z]+|\\.|\s+|.")


def write_plainly(tex: str) -> str:
    """What a formula in TeX says, on one line: ``E = (16 π² m)/(b d³)``."""
    text = _Plainly(_PIECE.findall(tex)).write()
    text = re.sub(r"\s+", " ", text)
    return re.sub(r"(?<=\() | (?=\))", "", text).strip()


class _Plainly:
    """Pieces of TeX, taken from the front."""

    def __init__(self, pieces: list[str]) -> None:
        self._rest = pieces

    def write(self) -> str:
        """All that is left, to the brace that closes it."""
        out = ""
        while self._rest and self._rest[0] != "}":
            out += self._next()
        if self._rest:
            self._rest.pop(0)
        return out

    def _next(self) -> str:
        """The text of the next piece, with what it takes up behind it."""
        while self._rest and self._rest[0].isspace():
            self._rest.pop(0)
        if not self._rest:
            return ""
        piece = self._rest.pop(0)
        match piece:
            case "{":
                return self.write()
            case "^":
                return _raise(self._next().strip())
            case "_":
                lowered = self._next().strip()
                return lowered.translate(_LOWERED) if lowered.isdigit() else f"_{lowered}"
            case "\\frac" | "\\tfrac":
                top = self._next()
                return f"{_bracket(top)}/{_bracket(self._next())}"
            case "\\underbrace":
                within = self._next()
                if self._rest[:1] == ["_"]:  # what the brace is named
                    self._rest.pop(0)
                    self._next()
                return within
            case "\\sqrt":
                return f"√{_bracket(self._next())}"
            case "=" | "+":
                return f" {piece} "
            case "-":
                return "−"
        if piece in _SPACES:
            return " "
        if piece.startswith("\\"):
            name = piece[1:]
            # what only says how something is set says nothing here
            return GREEK_LETTERS.get(name) or _WORDS.get(name, "" if name.isalpha() else name)
        return piece


def _raise(inner: str) -> str:
    if inner == "°":
        return inner
    return inner.translate(_RAISED) if inner and set(inner) <= set("0123456789+-−n") else f"^{_bracket(inner)}"


def _bracket(text: str) -> str:
    """Something above or below a line, in brackets where it is more than one thing."""
    text = text.strip()
    return text if re.fullmatch(r"[\w.⁰¹²³⁴-⁹⁻ⁿ₀-₉]+", text) or re.fullmatch(r"\([^()]*\)", text) else f"({text})"
