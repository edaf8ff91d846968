"""A sample of every family of cases, with fixed seeds: nothing uncaught, nothing without an end. Many more are in `./run fuzz`.

Each family is a class of its own, for classes are what processes share.
"""

from __future__ import annotations

import random
import warnings
from typing import ClassVar
from unittest import TestCase

from hobrel.core.containment import Watch, look_over
from tests.fuzz.families import FAMILIES, run_family

COUNTS = {
    "typing": 120,
    "questions": 100,
    "pools": 10,
    "handed": 10,
    "edits": 150,
    "plans": 30,
    "beginnings": 80,
    "documents": 100,
    "files": 150,
    "jobs": 200,
    "sittings": 60,
    "wholes": 12,
    "marks": 150,
}


class All(TestCase):
    def test_every_family_has_a_sample(self) -> None:
        self.assertEqual(set(COUNTS), set(FAMILIES))


class Family:
    name: ClassVar[str]

    def tearDown(self) -> None:
        look_over(Watch())

    def test_holds(self) -> None:
        assert isinstance(self, TestCase)
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            tally = run_family(self.name, random.Random(f"sample:{self.name}"), COUNTS[self.name])
        self.assertEqual(tally.failures, {}, tally.told())
        self.assertEqual(tally.count, COUNTS[self.name])


for _name in COUNTS:
    globals()[_name.title()] = type(_name.title(), (Family, TestCase), {"name": _name, "__module__": __name__})
