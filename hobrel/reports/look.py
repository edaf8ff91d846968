"""What graphs look like on paper and on screen: `graph_look.json`, which the front end takes its measures from as well."""

from __future__ import annotations

import json
from pathlib import Path
from types import SimpleNamespace
from typing import Any


def _named(pairs: list[tuple[str, Any]]) -> SimpleNamespace:
    return SimpleNamespace(**dict(pairs))


LOOK: Any = json.loads((Path(__file__).parent / "graph_look.json").read_text("utf-8"), object_pairs_hook=_named)
"""Lengths in pixels; colours by their names on paper. A name that is not in the file is an error where it is asked for."""
PAPER: Any = LOOK.paper
