"""How the core builds its results: by keywords, where there are more than five fields to keep apart.

Usage: python -m tests.checks.results
"""

from __future__ import annotations

import ast
import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent.parent
CORE = ROOT / "hobrel" / "core"
MOST = 5


def main() -> int:
    trees = {path: ast.parse(path.read_text(encoding="utf-8")) for path in sorted(CORE.rglob("*.py"))}
    results = {node.name for tree in trees.values() for node in ast.walk(tree) if isinstance(node, ast.ClassDef) and _is_dataclass(node)}
    wrong = [
        f"{path.relative_to(ROOT)}:{call.lineno}: {call.func.id} is built with more than {MOST} fields by place"
        for path, tree in trees.items()
        for call in ast.walk(tree)
        if isinstance(call, ast.Call) and isinstance(call.func, ast.Name) and call.func.id in results and len(call.args) > MOST
    ]
    for sentence in wrong:
        print(sentence)
    return 1 if wrong else 0


def _is_dataclass(node: ast.ClassDef) -> bool:
    return any("dataclass" in ast.unparse(decorator) for decorator in node.decorator_list)


if __name__ == "__main__":
    sys.exit(main())
