"""What was said, kept as text: one line for each thing that is said, so that a difference can be read."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

KEPT = Path(__file__).parent / "kept.json"


def write_kept(said: dict[str, Any]) -> None:
    """Keep what is said."""
    books = []
    for name, sections in said.items():
        lines = [
            f"  {json.dumps(key)}: {json.dumps(value, ensure_ascii=False, separators=(',', ':'))}" for key, value in _sections(sections)
        ]
        books.append(f"{json.dumps(name)}: {{\n" + ",\n".join(lines) + "\n}")
    KEPT.write_text("{\n" + ",\n".join(books) + "\n}\n", encoding="utf-8")


def _sections(said: Any) -> list[tuple[str, Any]]:
    if isinstance(said, dict):
        return list(said.items())
    return [(str(i), one) for i, one in enumerate(said)]


def read_kept() -> dict[str, Any]:
    """What was said when it was kept."""
    found: dict[str, Any] = json.loads(KEPT.read_text(encoding="utf-8"))
    return found
