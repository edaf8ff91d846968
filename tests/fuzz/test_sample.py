"""A sample of every family of cases, with fixed seeds: nothing uncaught, nothing without an end."""

from __future__ import annotations

import random
import warnings
from unittest import TestCase

from hobrel.core.containment import Watch, look_over
from tests.fuzz.families import FAMILIES, run_family

COUNTS = {
    "typing": 400,
    "questions": 300,
    "pools": 20,
    "handed": 20,
    "edits": 300,
    "plans": 60,
    "beginnings": 150,
    "documents": 200,
    "files": 300,
    "jobs": 400,
    "sittings": 120,
    "wholes": 25,
    "marks": 300,
}


class Sample(TestCase):
    def tearDown(self) -> None:
        look_over(Watch())

    def test_every_family(self) -> None:
        self.assertEqual(set(COUNTS), set(FAMILIES))
        for name, count in COUNTS.items():
            with self.subTest(name), warnings.catch_warnings():
                warnings.simplefilter("ignore")
                tally = run_family(name, random.Random(f"sample:{name}"), count)
                self.assertEqual(tally.failures, {}, tally.told())
                self.assertEqual(tally.count, count)
