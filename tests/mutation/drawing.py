"""Which of the mutations that the tool makes are tried: those of signs, factors, limits and comparisons, drawn at random."""

from __future__ import annotations

import ast
import io
import random
import re
import tokenize
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

from tests.mutation.alike import ALIKE

_MADE = re.compile(r"^(?P<function>.+)__mutmut_(?P<number>\d+)$")
_SYMBOLS = {"+", "-", "*", "/", "//", "**", "%", "<", "<=", ">", ">=", "==", "!=", "@"}
_WORDS = {"and", "or", "not", "is", "in", "True", "False", "min", "max", "break", "continue"}


@dataclass(frozen=True)
class Mutation:
    """One changed line, by the name under which the tool knows it."""

    name: str
    was: str
    becomes: str


def draw_mutations(folder: Path, count: int, seed: int) -> list[Mutation]:
    """So many mutations of the modules in a folder that the tool has filled."""
    found = sorted(_mutations_in(folder), key=lambda m: m.name)
    return random.Random(seed).sample(found, min(count, len(found)))


def _mutations_in(folder: Path) -> Iterator[Mutation]:
    for path in sorted(folder.rglob("*.py")):
        text = path.read_text(encoding="utf-8")
        if "__mutmut_orig" not in text:
            continue
        lines = text.splitlines()
        functions = {n.name: lines[n.lineno - 1 : n.end_lineno] for n in ast.walk(ast.parse(text)) if isinstance(n, ast.FunctionDef)}
        module = ".".join(path.relative_to(folder.parent.parent).with_suffix("").parts)
        for name, source in functions.items():
            made = _MADE.match(name)
            original = functions.get(f"{made['function']}__mutmut_orig") if made else None
            if original is None:
                continue
            change = _changed_line(original, source)
            plain = f"{module.removeprefix('hobrel.core.')}.{made['function'].removeprefix('x_')}" if made else ""
            if change is not None and change[1] not in ALIKE.get(plain, {}):
                yield Mutation(f"{module}.{name}", *change)


def _changed_line(original: list[str], mutated: list[str]) -> tuple[str, str] | None:
    """The one line that is another, where a number or a sign has changed; words for people and defaults have tests of their own."""
    before, after = original[1:], mutated[1:]
    if len(before) != len(after):
        return None
    changed = [(a, b) for a, b in zip(before, after, strict=True) if a != b]
    if len(changed) != 1:
        return None
    if changed[0][0].strip().startswith("assert ") or changed[0][0].replace("strict=True", "strict=False") == changed[0][1]:
        # what is asserted holds by how it was made; to say so is for readers
        return None
    was, becomes = _tokens(changed[0][0]), _tokens(changed[0][1])
    if was is None or becomes is None:
        return None
    others = [t for t in {*was} ^ {*becomes} if not _is_number(t) and t not in _SYMBOLS | _WORDS]
    moved = [t for t in {*was, *becomes} if was.count(t) != becomes.count(t)]
    if others or not moved or any(not _is_number(t) and t not in _SYMBOLS | _WORDS for t in moved):
        return None
    return changed[0][0].strip(), changed[0][1].strip()


def _tokens(line: str) -> list[str] | None:
    try:
        return [t.string for t in tokenize.generate_tokens(io.StringIO(line.strip()).readline) if t.string.strip()]
    except (tokenize.TokenError, IndentationError):
        # part of a longer statement: split by what cannot be part of a name
        return re.findall(r"[\w.]+|\*\*|//|[<>=!]=|[^\w\s]", line)


def _is_number(token: str) -> bool:
    return token[:1].isdigit() or (token[:1] == "." and token[1:2].isdigit())
