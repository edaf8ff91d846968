"""The API description in web/openapi.json, the front end's types made from it, and the lab book's JSON Schema must be those of the code.

Usage: python -m tests.checks.openapi [--write]
"""

from __future__ import annotations

import json
import os
import subprocess
import sys
import tempfile
from pathlib import Path

from hobrel.core.document.lab_book import lab_book_schema

ROOT = Path(__file__).resolve().parent.parent.parent
DESCRIPTION = ROOT / "web" / "openapi.json"
TYPES = ROOT / "web" / "src" / "shared" / "api" / "schema.d.ts"
LAB_BOOK = ROOT / "docs" / "lab-book.schema.json"


def describe() -> str:
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "hobrel.server.settings")
    import django

    django.setup()
    from hobrel.server.api import api

    return json.dumps(api.get_openapi_schema(path_prefix="/api/"), indent=1, sort_keys=True, ensure_ascii=False, default=str) + "\n"


def describe_lab_book() -> str:
    return json.dumps(lab_book_schema(), indent=1, sort_keys=True, ensure_ascii=False) + "\n"


def make_types(description: Path) -> str:
    command = ["npx", "--no-install", "openapi-typescript", str(description)]
    return subprocess.run(command, cwd=ROOT / "web", capture_output=True, text=True, check=True).stdout


def main() -> int:
    description = describe()
    if "--write" in sys.argv:
        DESCRIPTION.write_text(description, encoding="utf-8")
        TYPES.write_text(make_types(DESCRIPTION), encoding="utf-8")
        LAB_BOOK.write_text(describe_lab_book(), encoding="utf-8")
        return 0
    stale = []
    if not LAB_BOOK.exists() or LAB_BOOK.read_text(encoding="utf-8") != describe_lab_book():
        stale.append(LAB_BOOK.name)
    if not DESCRIPTION.exists() or DESCRIPTION.read_text(encoding="utf-8") != description:
        stale.append(DESCRIPTION.name)
    with tempfile.NamedTemporaryFile("w", suffix=".json", encoding="utf-8") as fresh:
        fresh.write(description)
        fresh.flush()
        if not TYPES.exists() or TYPES.read_text(encoding="utf-8") != make_types(Path(fresh.name)):
            stale.append(TYPES.name)
    if stale:
        print(f"Out of date: {', '.join(stale)}. Run ./run types")
    return 1 if stale else 0


if __name__ == "__main__":
    sys.exit(main())
