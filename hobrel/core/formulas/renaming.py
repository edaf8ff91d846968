"""Give a symbol a new name wherever formulas use it."""

from __future__ import annotations

import re
from collections.abc import Collection

from hobrel.core.formulas.reading import canonical_name, split_symbols
from hobrel.core.formulas.tree import FUNCTIONS

_NAME = re.compile(r"[A-Za-z\u0370-\u03ff]+[0-9]*(?:_[A-Za-z0-9]+)*")


def rename_symbol(text: str, old: str, new: str, known: Collection[str]) -> str:
    """A formula's text with one symbol renamed; works on formulas that are only half written too.

    Parameters
    ----------
    text : str
    old, new : str
    known : collection of str
        All symbols, with `old` among them. Letters written together are taken apart where `old` is one of them: with x renamed to s,
        ``kx`` becomes ``k s``.
    """
    names = frozenset(canonical_name(k) for k in known)
    wanted = canonical_name(old)

    def swap(match: re.Match[str]) -> str:
        name = canonical_name(match[0])
        if name == wanted:
            return new
        if name in names or name in FUNCTIONS:
            return match[0]
        pieces = split_symbols(name, names) or []
        return " ".join(new if p == wanted else p for p in pieces) if wanted in pieces else match[0]

    return _NAME.sub(swap, text)
