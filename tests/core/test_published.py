"""Every published case of the scripting contract, values and uncertainties to the digits given."""

from __future__ import annotations

import json
import unittest
from pathlib import Path
from typing import Any

from hobrel.core.scripting.jobs import run_jobs

CASES = json.loads((Path(__file__).parent.parent / "reference" / "cases.json").read_text(encoding="utf-8"))
UNCERTAIN = {"u", "residual_sd", "u_gradient", "u_intercept", "u_internal", "u_external", "sd", "standard_error"}


def differences(case: dict[str, Any], got: Any, expected: Any, name: str = "") -> list[str]:
    """Where a result differs from the published one by more than the case allows."""
    if isinstance(expected, dict):
        return [d for key, value in expected.items() for d in differences(case, got.get(key), value, key)]
    if isinstance(expected, list):
        if len(got) != len(expected):
            return [f"{name}: {len(got)} values for {len(expected)}"]
        return [d for g, e in zip(got, expected, strict=True) for d in differences(case, g, e, name)]
    if isinstance(expected, int | float):
        relative = case["rel_u"] if name in UNCERTAIN else case["rel"]
        if got is None or abs(got - expected) > max(relative * abs(expected), case["abs"]):
            return [f"{name}: {got} for {expected}"]
        return []
    return [] if got == expected else [f"{name}: {got} for {expected}"]


class PublishedCases(unittest.TestCase):
    def test_every_case(self) -> None:
        self.assertGreaterEqual(len(CASES), 113)
        for case in CASES:
            with self.subTest(case["id"], source=case["source"]):
                result = run_jobs([case["job"]])[0]
                self.assertTrue(result["ok"], result.get("error"))
                self.assertEqual(differences(case, result, case["expect"]), [])
