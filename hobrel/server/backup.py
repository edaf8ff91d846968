"""``python -m hobrel.server.backup save FILE | restore FILE``: one consistent copy of the database, while people type. See decision 20.

Beside `sqlite` the one module that knows which database it is.
"""

from __future__ import annotations

import os
import sqlite3
import sys
from contextlib import closing
from datetime import datetime
from pathlib import Path

NEEDED = {"person", "book", "edit", "django_migrations"}


class Refused(Exception):
    """Why nothing was done, for whoever typed the command."""


def save_backup(database: Path, target: Path) -> None:
    """Copy the database as it is at one moment.

    Raises
    ------
    Refused
        Where there is no database, or the copy could not be written or is not whole; what stood at `target` is still there.
    """
    if not database.exists():
        raise Refused(f"There is no database at {database} yet.")
    beside = target.with_name(target.name + ".part")
    try:
        beside.unlink(missing_ok=True)
        os.close(os.open(beside, os.O_CREAT | os.O_WRONLY, 0o600))
        with closing(sqlite3.connect(database)) as source, closing(sqlite3.connect(beside)) as copy:
            source.backup(copy)
            # a copy is one file: nothing is left beside it, whoever looks into it
            copy.execute("PRAGMA journal_mode=DELETE")
        _check(beside)
        beside.replace(target)
    except (OSError, sqlite3.Error) as trouble:
        beside.unlink(missing_ok=True)
        raise Refused(f"The copy could not be written: {trouble}. Nothing was changed.") from trouble


def restore_backup(source: Path, database: Path, known: set[tuple[str, str]]) -> Path | None:
    """Put a copy in the place of the database, as one transaction.

    Parameters
    ----------
    source, database : Path
    known : set of (app, migration)
        What this version of Hobrel knows; a copy made by a later one is refused.

    Returns
    -------
    Path or None
        Where the database that was there is kept; None where there was none.

    Raises
    ------
    Refused
        For what cannot be restored; the database is as it was.
    """
    if not source.is_file():
        raise Refused(f"There is no file {source}.")
    later = _check(source) - known
    if later:
        raise Refused("This copy was made by a later version of Hobrel. Bring the server up to that version first.")
    kept = None
    try:
        if database.exists():
            kept = database.with_name(f"{database.stem}.before-restore-{datetime.now():%Y-%m-%d-%H%M%S}.sqlite3")
            save_backup(database, kept)
        else:
            os.close(os.open(database, os.O_CREAT | os.O_WRONLY, 0o600))
        with (
            closing(sqlite3.connect(f"{source.absolute().as_uri()}?mode=ro", uri=True)) as copy,
            closing(sqlite3.connect(database)) as target,
        ):
            copy.backup(target)
    except (OSError, sqlite3.Error) as trouble:
        raise Refused(f"The copy could not be put in place: {trouble}. The database is as it was.") from trouble
    return kept


def _check(path: Path) -> set[tuple[str, str]]:
    """The migrations of a database that is whole and ours."""
    try:
        with closing(sqlite3.connect(f"{path.absolute().as_uri()}?mode=ro", uri=True)) as looked_at:
            whole = looked_at.execute("PRAGMA integrity_check").fetchone()[0]
            tables = {name for (name,) in looked_at.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
            if whole != "ok":
                raise Refused(f"{path.name} is damaged: {whole[:200]}. Nothing was changed.")
            if not tables >= NEEDED:
                raise Refused(f"{path.name} is not a copy of a Hobrel database. Nothing was changed.")
            return set(looked_at.execute("SELECT app, name FROM django_migrations"))
    except sqlite3.DatabaseError as trouble:
        raise Refused(f"{path.name} is not a database, or is damaged: {trouble}. Nothing was changed.") from trouble


def _call_back_invitations() -> int:
    from hobrel.classes.queries import open_invitations

    return open_invitations().delete()[0]


def main(words: list[str]) -> int:
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "hobrel.server.settings")
    import django
    from django.conf import settings
    from django.core.management import call_command
    from django.db.migrations.loader import MigrationLoader

    django.setup()
    if len(words) != 2 or words[0] not in ("save", "restore"):
        print("usage: ./run backup FILE | ./run restore FILE", file=sys.stderr)
        return 2
    database, file = Path(settings.DATABASES["default"]["NAME"]), Path(words[1])
    try:
        if words[0] == "save":
            save_backup(database, file)
            print(f"Kept in {file}.")
            return 0
        kept = restore_backup(file, database, set(MigrationLoader(None, ignore_no_migrations=True).disk_migrations))
        call_command("migrate", verbosity=0)
        print(f"Restored from {file}." + (f" What was there is in {kept}." if kept else ""))
        if dead := _call_back_invitations():
            print(f"{dead} open invitation{'s are' if dead > 1 else ' is'} called back: a key used since would be good again.")
    except Refused as trouble:
        print(trouble, file=sys.stderr)
        return 1
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
