"""The shape of the tree: how much of the code is tests, and which modules are longer than 400 lines without saying why.

Usage: python -m tests.checks.shape
"""

from __future__ import annotations

import re
import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent.parent
CODE = {".py", ".ts", ".tsx", ".css", ".sh"}
LEAST, MOST, LONGEST = 0.25, 0.35, 400
REASON = "longer than 400 lines because"


def count_lines(path: Path) -> int:
    return sum(1 for row in path.read_text(encoding="utf-8", errors="replace").splitlines() if row.strip())


def main() -> int:
    listed = subprocess.run(["git", "ls-files", "-co", "--exclude-standard"], cwd=ROOT, capture_output=True, text=True, check=True)
    files = [ROOT / name for name in listed.stdout.splitlines()]
    code = {
        f: count_lines(f) for f in files if f.suffix in CODE and f.exists() and not f.name.endswith(".d.ts") and "migrations" not in f.parts
    }
    tests = sum(n for f, n in code.items() if "tests" in f.relative_to(ROOT).parts or ".test." in f.name)
    share = tests / sum(code.values())
    print(f"Tests are {share:.1%} of {sum(code.values())} code lines.")
    wrong = [] if LEAST <= share <= MOST else [f"Tests should be a quarter to a third of all code lines, not {share:.1%}."]
    for path, n in code.items():
        if n > LONGEST and REASON not in path.read_text(encoding="utf-8")[:1500]:
            wrong.append(f"{path.relative_to(ROOT)} has {n} lines: split it, or say at its top why not.")
    tried = [path for path in code if path.name.startswith("test_") and path.suffix == ".py"]
    loose = [path for path in tried if re.search(r"^(async )?def test_", path.read_text(encoding="utf-8"), re.MULTILINE)]
    wrong += [f"{path.relative_to(ROOT)} has a test outside a class, which the runner does not find." for path in loose]
    for sentence in wrong:
        print(sentence)
    return 1 if wrong else 0


if __name__ == "__main__":
    sys.exit(main())
