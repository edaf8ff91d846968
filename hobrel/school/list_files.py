"""Class lists from files: a table with names, or the pair of tables that school information systems write (OneRoster CSV).

A file becomes the text that could have been pasted, so that all is looked over, compared and kept in one way.
"""

from __future__ import annotations

import io
import zipfile
from collections.abc import Sequence

from hobrel.interchange.tables import MOST_BYTES, Sheet, read_tables
from hobrel.server.problems import Problem

MOST_PACKED = 40


def read_list_files(files: Sequence[tuple[str, bytes]]) -> str:
    """The text of a list, from one table, from OneRoster's ``users.csv`` with or without ``enrollments.csv``, or from an archive of these.

    Raises
    ------
    Problem
        422 ``not_a_list`` with a sentence; also as `hobrel.interchange.tables.read_tables`.
    """
    tables = {name.lower().rpartition("/")[2]: content for name, content in _unpacked(files)}
    users = next((read_tables(c, n).sheets[0] for n, c in tables.items() if n == "users.csv"), None)
    if users is not None:
        enrolled = next((read_tables(c, n).sheets[0] for n, c in tables.items() if n == "enrollments.csv"), None)
        return _from_roster(users, enrolled)
    if not tables:
        raise _no_list()
    name, content = next(iter(tables.items()))
    rows = read_tables(content, name).sheets[0].rows
    return "\n".join("\t".join(cell.replace("\t", " ").strip() for cell in row).rstrip() for row in rows if any(row))


def _unpacked(files: Sequence[tuple[str, bytes]]) -> list[tuple[str, bytes]]:
    """Archives of tables by what is in them; spreadsheets are archives too, but of another kind."""
    found: list[tuple[str, bytes]] = []
    for name, content in files:
        if not name.lower().endswith(".zip"):
            found.append((name, content))
            continue
        try:
            with zipfile.ZipFile(io.BytesIO(content)) as packed:
                inside = [e for e in packed.infolist() if e.filename.lower().endswith(".csv")]
                if len(inside) > MOST_PACKED or sum(e.file_size for e in inside) > MOST_BYTES:
                    raise Problem(422, "too_large", "This archive holds far more than the lists of a school.", {"field": "text"})
                found += [(e.filename, packed.read(e)) for e in inside]
        except (zipfile.BadZipFile, EOFError, NotImplementedError, RuntimeError, ValueError, OSError) as trouble:
            raise Problem(422, "damaged", "This archive is damaged and cannot be opened.", {"field": "text"}) from trouble
    return found


def _from_roster(users: Sheet, enrolled: Sheet | None) -> str:
    people = [p for p in _records(users) if "student" in (p.get("role") or p.get("roles") or "student").lower()]
    if enrolled is not None:
        seats = [e for e in _records(enrolled) if e.get("role", "student").lower() == "student"]
        classes = {e.get("classsourcedid", "") for e in seats}
        if len(classes) > 1:
            words = f"These files are of {len(classes)} classes. Take out the lines of the one that you want, or paste its names."
            raise Problem(422, "many_classes", words, {"field": "text"})
        listed = {e.get("usersourcedid") for e in seats}
        people = [p for p in people if p.get("sourcedid") in listed]
    people = [p for p in people if p.get("enableduser", "true").lower() != "false"]
    lines = [f"{p.get('givenname', '')} {p.get('familyname', '')}".strip() for p in people]
    if not any(lines):
        raise _no_list()
    return "\n".join(line for line in lines if line)


def _records(sheet: Sheet) -> list[dict[str, str]]:
    heads = [cell.strip().lower() for cell in sheet.rows[0]]
    return [dict(zip(heads, row, strict=False)) for row in sheet.rows[1:]]


def _no_list() -> Problem:
    return Problem(422, "not_a_list", "There are no names of students in this file.", {"field": "text"})
