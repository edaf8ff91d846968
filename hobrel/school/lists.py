"""Class lists as they are pasted: names, with benches where they stand beside them. Pure: nothing is asked of the database."""

from __future__ import annotations

import re
import unicodedata
from collections import Counter
from collections.abc import Collection, Set
from dataclasses import dataclass
from itertools import takewhile
from typing import Literal

from hobrel.core.sentences import Sentence, say

MOST_NAMES, LONGEST_NAME = 120, 80
Second = Literal["given", "family", "bench"]
_NUMBERED = re.compile(r"^\s*(?:\d{1,3}[.)]|[-*•–])\s+")
_BENCH = re.compile(r"^\s*(?:\d{1,3}|(?:bench|table|group|team|place)\b.*)\s*$", re.IGNORECASE)
_HEADINGS = {
    **dict.fromkeys(("name", "names", "student", "students", "student name", "pupil", "learner", "full name"), "name"),
    **dict.fromkeys(("family name", "family", "surname", "surnames", "last name", "last", "familyname"), "family"),
    **dict.fromkeys(("given name", "given", "first name", "first names", "first", "forename", "forenames", "givenname"), "given"),
    **dict.fromkeys(("bench", "group", "table", "team", "place"), "bench"),
}
_TITLE = re.compile(
    r"^\s*(?:class|form|year|register|list|teacher|date|term|room|course|subject|students?|pupils?|school|period|section|set)\b"
    r"(?!\s*[\t,;])\s*[:–-]?\s*\S.*[^:\s]\s*$",
    re.IGNORECASE,
)
"""A line above the names that says of which class they are; one that ends with a colon names a bench, and a word alone is a heading."""
_TOTAL = re.compile(r"^\s*(?:total|count|number of (?:students|pupils))\b.*\d\s*(?:students|pupils)?\s*$", re.IGNORECASE)
_ADDRESS = re.compile(r"\s*[<(\[]?\s*[^\s<>,;()\[\]]+@[^\s<>,;()\[\]]+\s*[>)\]]?")
_UNDER_BENCH = re.compile(r"^(?P<bench>[^:,;\t@]{1,40}):(?P<names>.*)$")
_SEVERAL = re.compile(r"[,;]|\s(?:and|&)\s")
_NUMBER_FIRST = re.compile(r"^(?P<number>\d{1,12})\s*,\s*(?=.*[^\W\d_])")


@dataclass(frozen=True)
class ListedName:
    """A name of a list, the bench beside it (empty for none), and its line, counted from 1."""

    name: str
    bench: str
    line: int


@dataclass(frozen=True)
class ReadList:
    """What a list says.

    Attributes
    ----------
    names : tuple of ListedName
    second : "given", "family", "bench" or None
        What was taken to stand second, behind a comma or a tab, where something stands there and no heading says what.
    troubles : tuple of Sentence
        What cannot be kept as it stands; with any, nothing is.
    left : tuple of str
        Lines about the list, above it or below, in which no name stands: “Class 10 B”, “Total: 24”.
    """

    names: tuple[ListedName, ...]
    second: Second | None
    troubles: tuple[Sentence, ...]
    left: tuple[str, ...] = ()


def read_list(text: str, second: Second | None = None, benches: Collection[str] = ()) -> ReadList:
    """Read a list: a name a line, or all in one; a tab or a comma parts it from its bench, or a given name from a family name; a bench may
    stand above its names too, as “Bench:”. “Family, Given” is turned round. Addresses, and numbers before the names, are left out.

    Parameters
    ----------
    text : str
    second : "given", "family" or "bench", optional
        What stands behind a comma or a tab, where somebody knows; else it is read off the list.
    benches : collection of str
        The names of benches that are known already.
    """
    lines = _written_in(text)
    left = _about_the_list(lines)
    rows = [(i, _cells(line)) for i, line in _lay_out([line for line in lines if line not in left])]
    names, meant = _read_rows(rows, second, benches)
    return _judged(names, meant, tuple(line.strip() for _, line in left))


def _read_rows(
    rows: list[tuple[int, list[str]]], second: Second | None, benches: Collection[str]
) -> tuple[tuple[ListedName, ...], Second | None]:
    columns = _columns_of(rows[0][1]) if rows else None
    if columns is not None:
        named = [(i, _by_columns(cells, columns)) for i, cells in rows[1:]]
        return tuple(ListedName(name, bench, i) for i, (name, bench) in named), None
    rows = _without_numbers(rows)
    with_commas = [[_tidy(part) for part in cells[0].split(",")] for _, cells in rows if "," in cells[0]]
    parted = with_commas or [cells for _, cells in rows if len(cells) > 1 and cells[1]]
    if not parted:
        return tuple(ListedName(cells[0], _bench_in(cells[1:]), i) for i, cells in rows), None
    known = {same_name(bench) for bench in benches}
    if with_commas:
        meant = second or _meaning_of_commas(with_commas, known, any(len(cells) > 1 for _, cells in rows))
        rows = [
            (i, [*(_tidy(part) for part in cells[0].split(",")), *cells[1:]] if "," in cells[0] else [cells[0], "", *cells[1:]])
            for i, cells in rows
        ]
    else:
        # most pupils have a family name where some have one
        meant = second or (_meaning_of_tabs(parted, known) if 2 * len(parted) >= len(rows) else "bench")
    return tuple(ListedName(*_name_and_bench(cells, meant), i) for i, cells in rows), meant


def same_name(name: str) -> str:
    """What two ways of writing one name have in common."""
    return unicodedata.normalize("NFC", " ".join(name.split())).casefold()


def _written_in(text: str) -> list[tuple[int, str]]:
    """The lines in which something stands, with their number, without addresses."""
    lines = [(i, _ADDRESS.sub("", line).strip("\ufeff\u200b")) for i, line in enumerate(text.splitlines(), 1)]
    return [(i, line) for i, line in lines if line.strip(" \t,;\ufeff\u200b")]


def _about_the_list(lines: list[tuple[int, str]]) -> list[tuple[int, str]]:
    """The first lines and the last that are about the list, where there are more than those."""
    above = list(takewhile(lambda line: _TITLE.match(line[1]), lines))
    below = list(takewhile(lambda line: _TOTAL.match(line[1]), reversed(lines)))
    return [*above, *reversed(below)] if len(above) + len(below) < len(lines) - 1 else []


def _lay_out(lines: list[tuple[int, str]]) -> list[tuple[int, str]]:
    """A line a name, its bench behind a tab where it stands over it."""
    if len(lines) == 1 and not {"\t", ":"} & {*lines[0][1]}:
        return [(lines[0][0], part) for part in _part_line(lines[0][1])]
    if all(";" in line and not {",", "\t"} & {*line} for _, line in lines):
        lines = [(i, line.replace(";", ",")) for i, line in lines]
    return _with_benches(lines)


def _part_line(line: str) -> list[str]:
    """The names of a list that is one line."""
    for sign, least in ((";", 2), (",", 3)):
        parts = [part for part in line.split(sign) if part.strip()]
        if len(parts) >= least and (sign == ";" or all(" " in part.strip() for part in parts)):
            return parts
    return [line]


def _with_benches(lines: list[tuple[int, str]]) -> list[tuple[int, str]]:
    found: list[tuple[int, str]] = []
    bench = ""
    for i, line in lines:
        over = _UNDER_BENCH.match(line)
        names = [line]
        if over is not None and any(s.isalpha() for s in over["bench"]):
            bench = "" if over["bench"].strip().casefold() in _HEADINGS else over["bench"].strip()
            names = [name for name in _SEVERAL.split(over["names"]) if name.strip(" \t")]
        found += [(i, f"{name.strip()}\t\t{bench}" if bench and "\t" not in name else name) for name in names]
    return found


def _without_numbers(rows: list[tuple[int, list[str]]]) -> list[tuple[int, list[str]]]:
    """The rows without the numbers that stand before all names, in a column of their own; those that several share are benches."""
    parted = [(i, _part_number(cells)) for i, cells in rows]
    numbers = [part[0] for _, part in parted if part is not None]
    if len(numbers) < len(rows):
        return rows
    are_benches = len({*numbers}) < len(numbers)
    return [(i, [*part[1], part[0]] if are_benches and len(part[1]) == 1 else part[1]) for i, part in parted if part is not None]


def _part_number(cells: list[str]) -> tuple[str, list[str]] | None:
    if len(cells) > 1 and cells[0].isdecimal() and any(s.isalpha() for s in cells[1]):
        return cells[0], cells[1:]
    number = _NUMBER_FIRST.match(cells[0])
    return (number["number"], [cells[0][number.end() :], *cells[1:]]) if number else None


def _cells(line: str) -> list[str]:
    return [_tidy(cell) for cell in _NUMBERED.sub("", line).split("\t")]


def _tidy(text: str) -> str:
    kept = "".join(s for s in unicodedata.normalize("NFC", text) if unicodedata.category(s) not in ("Cc", "Cf") or s in "\u200c\u200d")
    return " ".join(kept.strip(" ;\"'").split())


def _columns_of(cells: list[str]) -> list[str] | None:
    """What the columns are, where the first line says so."""
    parts = cells if len(cells) > 1 else [_tidy(part) for part in re.split(r"[,;]", cells[0])]
    known = [_HEADINGS.get(part.casefold(), "") for part in parts]
    return known if {"name", "family", "given"} & {*known} else None


def _by_columns(cells: list[str], columns: list[str]) -> tuple[str, str]:
    parts = cells if len(cells) > 1 else [_tidy(part) for part in re.split(r"[,;]", cells[0])]
    of = dict(zip(columns, parts, strict=False))
    name = of.get("name") or " ".join(part for part in (of.get("given", ""), of.get("family", "")) if part)
    return name, of.get("bench", "")


def _meaning_of_commas(parted: list[list[str]], known: Set[str], has_tabs: bool) -> Second:
    three = has_tabs or any(len(parts) > 2 for parts in parted)
    return "given" if three or not _are_benches(parted, known) else "bench"


def _meaning_of_tabs(parted: list[list[str]], known: Set[str]) -> Second:
    """Two columns of names are as a name is spoken; whoever has them the other way round is asked."""
    are_names = all(any(s.isalpha() for s in cells[0]) for cells in parted)
    three = any(len(cells) > 2 and cells[2] for cells in parted)
    return "family" if are_names and (three or not _are_benches(parted, known)) else "bench"


def _are_benches(parted: list[list[str]], known: Set[str]) -> bool:
    """Benches are known, named alike, or shared by several; given names are not."""
    seconds = [same_name(parts[1]) for parts in parted]
    if all(_BENCH.match(second) or second in known for second in seconds):
        return True
    if sum(" " in parts[0] for parts in parted) * 2 > len(parted):
        # whole names already
        return True
    are_names = len({same_name(parts[0]) for parts in parted}) == len(parted)
    return are_names and len({*seconds}) * 2 <= len(seconds)


def _bench_in(cells: list[str]) -> str:
    return next((cell for cell in cells if cell), "")


def _name_and_bench(cells: list[str], second: Second) -> tuple[str, str]:
    first, behind, *rest = [*cells, "", ""]
    if second == "bench":
        return first, _bench_in([*rest, behind])
    parts = (behind, first) if second == "given" else (first, behind)
    return " ".join(part for part in parts if part), _bench_in(rest)


def _judged(names: tuple[ListedName, ...], second: Second | None, left: tuple[str, ...]) -> ReadList:
    troubles = []
    if not names:
        troubles.append(say("empty_list", "There is no name here yet. Paste the list, a name a line."))
    if len(names) > MOST_NAMES:
        count, most = len(names), MOST_NAMES
        told = say(
            "long_list", "This list has {count} names, and a class at most {most}. Is it of several classes?", count=count, most=most
        )
        return ReadList((), second, (told,), left)
    for one in names:
        if not any(s.isalpha() for s in one.name):
            troubles.append(say("no_name", "Line {line} is no name: “{text}”.", line=one.line, text=one.name[:40]))
        elif len(one.name) > LONGEST_NAME or len(one.bench) > LONGEST_NAME:
            troubles.append(say("long_name", "Line {line} is longer than a name: “{text}…”.", line=one.line, text=one.name[:40]))
    lines: dict[str, list[int]] = {}
    for one in names:
        lines.setdefault(same_name(one.name), []).append(one.line)
    for key, count in Counter(same_name(one.name) for one in names).items():
        if count > 1 and key:
            name = next(one.name for one in names if same_name(one.name) == key)
            at = " and ".join(str(n) for n in lines[key])
            troubles.append(
                say("name_twice", "{name} stands in lines {at}. Two of a name need something beside it, as in {name} B.", name=name, at=at)
            )
    return ReadList(names, second, tuple(troubles), left)
