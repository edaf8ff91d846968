"""``python -m hobrel.core [jobs.json]``: run the jobs of a file, or of standard input, and print their results as JSON."""

from __future__ import annotations

import json
import sys
from pathlib import Path

from hobrel.core.scripting.jobs import run_jobs


def main(arguments: list[str]) -> int:
    """Answer the jobs of a file, or of standard input, as JSON on standard output."""
    text = Path(arguments[0]).read_text(encoding="utf-8") if arguments else sys.stdin.read()
    try:
        jobs = json.loads(text)
    except json.JSONDecodeError as trouble:
        print(f"The jobs are not JSON: {trouble}", file=sys.stderr)
        return 2
    json.dump(run_jobs(jobs), sys.stdout, allow_nan=False, ensure_ascii=False, indent=1)
    print()
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
