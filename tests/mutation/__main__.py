"""Draw mutations and try them; fails where too few are noticed.

``python -m tests.mutation [--count N] [--seed N] [--whole [--only NAMES] | --sample]``
"""

from __future__ import annotations

import argparse
import json
import os
import random
import shutil
import subprocess
import sys
import tempfile
from pathlib import Path

from mutmut.mutation.file_mutation import mutate_file_contents

from tests.mutation.drawing import draw_mutations

ROOT = Path(__file__).resolve().parent.parent.parent
LEAST = 0.90
MODULES = 8
"""Modules that are drawn where the whole core is meant: to try each would take a day."""
QUICK = {
    "hobrel/core/rounding.py": ("test_rounding", "test_digits"),
    "hobrel/core/statistics/*.py": (
        *("test_typical", "test_pool", "test_groups", "test_conventions", "test_references", "test_comparison", "test_spread"),
    ),
    "hobrel/core/readings/*.py": ("test_readings", "test_composed", "test_known", "test_rewriting", "test_judging", "test_logs"),
    "hobrel/core/units/*.py": ("test_units", "test_temperatures"),
    "hobrel/core/pointing/*.py": ("test_pointing",),
    "hobrel/core/fitting/least_distance.py": ("test_least_distance",),
}
"""Modules that have quick tests of their own, and these."""
SAMPLE = {
    "hobrel/core/rounding.py": ("test_rounding",),
    "hobrel/core/statistics/comparison.py": ("test_comparison",),
    "hobrel/core/statistics/typical.py": ("test_typical",),
    "hobrel/core/statistics/factors.py": ("test_pool",),
    "hobrel/core/readings/parsing.py": ("test_readings", "test_composed", "test_known"),
}
"""Those of every `./run test`."""


def main() -> int:
    words = argparse.ArgumentParser(prog="./run mutate")
    words.add_argument("--count", type=int, default=100)
    words.add_argument("--seed", type=int, default=1)
    words.add_argument("--whole", action="store_true", help="modules drawn from the whole core, by all of its tests")
    words.add_argument("--only", default="", help="of the whole core these modules alone: fitting.line,presentation.figures")
    words.add_argument("--sample", action="store_true", help="few modules, by their own tests: what is tried each time")
    given = words.parse_args()
    if given.whole:
        modules = _named(given.only) or _draw_modules(given.seed)
        tests = sorted(p.stem for p in (ROOT / "tests" / "core").glob("test_*.py"))
    else:
        tried = SAMPLE if given.sample else QUICK
        modules = [p for pattern in tried for p in sorted(ROOT.glob(pattern)) if p.name != "__init__.py"]
        tests = sorted({t for found in tried.values() for t in found})
    with tempfile.TemporaryDirectory() as folder:
        work = Path(folder) / "hobrel"
        _copy(work)
        for module in modules:
            copy = work / module.relative_to(ROOT)
            copy.write_text(mutate_file_contents(str(copy), copy.read_text(encoding="utf-8")).code, encoding="utf-8")
        chosen = draw_mutations(work / "hobrel" / "core", given.count, given.seed)
        noticed = _try(work, [f"tests.core.{t}" for t in tests], [m.name for m in chosen])
    missed = [m for m in chosen if not noticed[m.name]]
    for mutation in missed:
        print(f"not noticed: {mutation.name}\n    {mutation.was}\n    {mutation.becomes}")
    share = 1 - len(missed) / len(chosen)
    print(f"{len(chosen) - len(missed)} of {len(chosen)} mutations noticed: {100 * share:.0f} % (at least {100 * LEAST:.0f} %)")
    return 0 if share >= LEAST else 1


def _named(modules: str) -> list[Path]:
    return [ROOT / "hobrel" / "core" / f"{name.strip().replace('.', '/')}.py" for name in modules.split(",") if name.strip()]


def _draw_modules(seed: int) -> list[Path]:
    """Modules that compute; what only passes on or describes has nothing to change."""
    found = [
        p
        for p in sorted((ROOT / "hobrel" / "core").rglob("*.py"))
        if p.name != "__init__.py" and p.parent.name not in ("document", "scripting", "core")
    ]
    return random.Random(seed).sample(found, MODULES)


def _copy(work: Path) -> None:
    listed = (
        subprocess.run(["git", "ls-files", "-zco", "--exclude-standard"], cwd=ROOT, check=True, capture_output=True)
        .stdout.decode()
        .split("\0")
    )
    for name in filter(None, listed):
        if not name.startswith(("web/", "docs/screenshots/")) and (ROOT / name).is_file():
            (work / name).parent.mkdir(parents=True, exist_ok=True)
            shutil.copy(ROOT / name, work / name)


def _try(work: Path, tests: list[str], mutations: list[str]) -> dict[str, bool]:
    environment = os.environ | {"PYTHONDONTWRITEBYTECODE": "1", "OPENBLAS_NUM_THREADS": "1", "PYTHONPATH": str(work)}
    wanted = json.dumps({"tests": tests, "mutations": mutations})
    done = subprocess.run(
        [sys.executable, "-m", "tests.mutation.trying"], cwd=work, env=environment, input=wanted, capture_output=True, text=True
    )
    if done.returncode:
        raise SystemExit(f"the mutations could not be tried:\n{done.stdout[-3000:]}\n{done.stderr[-3000:]}")
    found: dict[str, bool] = json.loads(done.stdout.splitlines()[-1])
    return found


if __name__ == "__main__":
    sys.exit(main())
