"""``python -m tests.core.said --write``: keep what is said now. The difference in `kept.json` shows what has changed for whom."""

from __future__ import annotations

import json
import sys
from typing import Any

from hobrel.shelf.clamped_strip import write_draft
from tests.core.said.books import write_books
from tests.core.said.keeping import KEPT, read_kept, write_kept
from tests.core.said.saying import say_all, say_plan, say_pool
from tests.core.said.tables import notice_all


def say_now() -> dict[str, Any]:
    """What is said of all lab books now."""
    books = dict(write_books())
    said = {name: say_all(book) for name, book in books.items()}
    strips = {name: book for name, book in books.items() if name.startswith("The clamped strip")}
    return {**said, "the class": say_pool(strips), "tables": notice_all(), "a plan": say_plan(write_draft(), "E")}


if __name__ == "__main__":
    if sys.argv[1:] == ["--write"]:
        write_kept(say_now())
        print(f"{KEPT.name}: {KEPT.stat().st_size // 1000} kB")
    else:
        print(json.dumps(read_kept() == say_now()))
