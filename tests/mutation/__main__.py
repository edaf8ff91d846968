"""``python -m tests.mutation [--count N] [--seed N] [--quick]``: draw mutations, try them, and fail where too few are noticed."""

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

from tests.mutation.drawing import draw_mutations

ROOT = Path(__file__).resolve().parent.parent.parent
LEAST = 0.90
MODULES = 8
"""Modules that are drawn for a run: to make all mutations of the whole core would take longer than to try some."""
QUICK = {
    "hobrel/core/rounding.py": ["tests/core/test_rounding.py", "tests/core/test_digits.py"],
    "hobrel/core/statistics/*": [
        *("tests/core/test_typical.py", "tests/core/test_pool.py", "tests/core/test_groups.py"),
        *("tests/core/test_conventions.py", "tests/core/test_references.py", "tests/core/test_comparison.py", "tests/core/test_spread.py"),
    ],
    "hobrel/core/readings/*": ["tests/core/test_readings.py", "tests/core/test_rewriting.py", "tests/core/test_judging.py"],
    "hobrel/core/units/*": ["tests/core/test_units.py", "tests/core/test_temperatures.py"],
}
"""What is tried in a few moments, by tests that are quick."""
NOTICED = {1, 3, 24, 36, 152, 255, -24}
"""How a try ends in which a test fails or never ends."""


def main() -> int:
    words = argparse.ArgumentParser(prog="./run mutate")
    words.add_argument("--count", type=int, default=100)
    words.add_argument("--seed", type=int, default=1)
    words.add_argument("--quick", action="store_true")
    given = words.parse_args()
    modules = list(QUICK) if given.quick else _draw_modules(given.seed)
    tests = sorted({t for found in QUICK.values() for t in found}) if given.quick else ["tests/core"]
    with tempfile.TemporaryDirectory() as folder:
        work = Path(folder) / "hobrel"
        _copy(work)
        _configure(work, modules, tests)
        # the tool makes all mutations and notes which tests reach them, with none to try yet
        _mutmut(work, "nothing.at.all")
        chosen = draw_mutations(work / "mutants" / "hobrel" / "core", given.count, given.seed)
        _mutmut(work, *(m.name for m in chosen))
        codes = _exit_codes(work)
    missed = [m for m in chosen if codes.get(m.name) not in NOTICED]
    for mutation in missed:
        print(f"not noticed ({codes.get(mutation.name)}): {mutation.name}\n    {mutation.was}\n    {mutation.becomes}")
    share = 1 - len(missed) / len(chosen) if chosen else 0.0
    print(f"{len(chosen) - len(missed)} of {len(chosen)} mutations noticed: {100 * share:.0f} % (at least {100 * LEAST:.0f} %)")
    return 0 if share >= LEAST else 1


def _draw_modules(seed: int) -> list[str]:
    """Modules that compute; what only passes on or describes has nothing to change."""
    found = [
        p
        for p in sorted((ROOT / "hobrel" / "core").rglob("*.py"))
        if p.name != "__init__.py" and p.parent.name not in ("document", "scripting")
    ]
    return [str(p.relative_to(ROOT)) for p in random.Random(seed).sample(found, MODULES)]


def _copy(work: Path) -> None:
    listed = subprocess.run(["git", "ls-files", "-z"], cwd=ROOT, check=True, capture_output=True).stdout.decode().split("\0")
    for name in filter(None, listed):
        if not name.startswith(("web/", "docs/screenshots/")) and (ROOT / name).is_file():
            (work / name).parent.mkdir(parents=True, exist_ok=True)
            shutil.copy(ROOT / name, work / name)


def _configure(work: Path, modules: list[str], tests: list[str]) -> None:
    """The tool reads what to do from the project's file. A fork of what has run the tests would not be a fresh start for all of them."""
    lines = {
        "source_paths": ["hobrel/core"],
        "only_mutate": modules,
        "also_copy": ["hobrel", "tests", "docs", "manage.py"],
        "process_isolation": "forkserver",
        "pytest_add_cli_args": ["-p", "no:cacheprovider", "-q"],
        "pytest_add_cli_args_test_selection": tests,
    }
    with open(work / "pyproject.toml", "a", encoding="utf-8") as file:
        file.write("\n[tool.mutmut]\n" + "".join(f"{key} = {json.dumps(value)}\n" for key, value in lines.items()))


def _mutmut(work: Path, *names: str) -> None:
    environment = os.environ | {"PYTHONDONTWRITEBYTECODE": "1", "PYTHONWARNINGS": "ignore"}
    command = [sys.executable, "-m", "mutmut", "run", "--max-children", str(os.cpu_count() or 2), *names]
    done = subprocess.run(command, cwd=work, env=environment, capture_output=True, text=True)
    if not (work / "mutants" / "mutmut-stats.json").exists():
        raise SystemExit(f"the tool failed:\n{done.stdout[-3000:]}\n{done.stderr[-3000:]}")


def _exit_codes(work: Path) -> dict[str, int | None]:
    found: dict[str, int | None] = {}
    for path in (work / "mutants").rglob("*.meta"):
        found.update(json.loads(path.read_text(encoding="utf-8")).get("exit_code_by_key", {}))
    return found


if __name__ == "__main__":
    sys.exit(main())
