"""What is printed on."""

from __future__ import annotations

from hobrel.classes.queries import Paper

TYPST_NAMES: dict[Paper, str] = {"a4": "a4", "letter": "us-letter"}
SIZES: dict[Paper, tuple[float, float]] = {"a4": (21.0, 29.7), "letter": (21.59, 27.94)}
"""Width and height in cm (ISO 216; ANSI/ASME Y14.1, size A)."""
