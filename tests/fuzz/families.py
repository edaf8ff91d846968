"""The families of cases, and which errors are answers in each."""

from __future__ import annotations

import random
from collections.abc import Callable, Iterator

from pydantic import ValidationError

from hobrel.core.errors import CoreError
from hobrel.server.problems import Problem
from tests.fuzz import asking, beginning, handling, planning, pointing, sending, typing, wholes
from tests.fuzz.cases import Case, Tally, try_cases

FAMILIES: dict[str, tuple[Callable[[random.Random, int], Iterator[Case]], tuple[type[Exception], ...]]] = {
    "typing": (typing.some, ()),
    "questions": (asking.cases, (CoreError,)),
    "pools": (asking.pools, ()),
    "handed": (asking.handed, ()),
    "edits": (sending.edits, (Problem, CoreError, ValidationError)),
    "beginnings": (beginning.beginnings, ()),
    "plans": (planning.plans, (CoreError,)),
    "documents": (sending.documents, (CoreError,)),
    "files": (sending.files, (Problem, CoreError)),
    "jobs": (sending.jobs, ()),
    "sittings": (handling.sittings, (CoreError,)),
    "wholes": (wholes.wholes, (CoreError,)),
    "marks": (pointing.marks, (CoreError,)),
}


def run_family(name: str, dice: random.Random, count: int, tally: Tally | None = None) -> Tally:
    make, answers = FAMILIES[name]
    # scripts may ask for fits that no lab book is given the time for
    return try_cases(make(dice, count), tally, answers, 20.0 if name == "jobs" else 1.0)
