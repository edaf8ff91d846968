"""One case of a fuzz run: something is done, and it ends in time with a result or a named error."""

from __future__ import annotations

import json
import math
import re
import signal
import time
import traceback
from collections.abc import Callable, Iterable, Iterator, Mapping
from contextlib import contextmanager
from dataclasses import dataclass, field
from types import FrameType
from typing import Any

import numpy as np

from hobrel.computing.warming import warm_up
from hobrel.core.containment import OutOfTime, StrictWatch, look_over

_NO_NUMBER = re.compile(r"\bNaN\b|Infinity")


@dataclass(frozen=True)
class Case:
    """Something to be done, under a name by which it is found again; what it returns must be free of NaN and infinity."""

    name: str
    work: Callable[[], Any]


@dataclass
class Tally:
    """How many cases there were, and those that failed: by cause, with the names of the cases."""

    count: int = 0
    slowest: float = 0.0
    slowest_name: str = ""
    failures: dict[str, list[str]] = field(default_factory=dict)

    def add(self, cause: str, name: str) -> None:
        self.failures.setdefault(cause, []).append(name)

    def told(self, most: int = 4) -> str:
        lines = [f"{self.count} cases, {sum(map(len, self.failures.values()))} failed; slowest {self.slowest:.2f} s ({self.slowest_name})"]
        for cause, names in sorted(self.failures.items(), key=lambda f: -len(f[1])):
            lines.append(f"{len(names):6d}  {cause}")
            lines += [f"        {name}" for name in names[:most]]
        return "\n".join(lines)


@contextmanager
def limited(seconds: float) -> Iterator[None]:
    """End what is inside after so many seconds of the processor (in the main thread)."""

    def ring(signum: int, frame: FrameType | None) -> None:
        raise OutOfTime

    before = signal.signal(signal.SIGPROF, ring)
    signal.setitimer(signal.ITIMER_PROF, seconds, 0.2)
    try:
        yield
    finally:
        signal.setitimer(signal.ITIMER_PROF, 0)
        signal.signal(signal.SIGPROF, before)


def try_cases(cases: Iterable[Case], tally: Tally | None = None, accepted: tuple[type[Exception], ...] = (), longest: float = 1.0) -> Tally:
    """Do all cases. What is `accepted` is an answer; anything else that is thrown, takes more than `longest` seconds of the processor, or
    holds NaN is a failure.
    """
    # as in a computing process: what is loaded at first use is loaded before anybody is timed
    warm_up()
    look_over(StrictWatch())
    tally = tally or Tally()
    for case in cases:
        tally.count += 1
        began = time.process_time()
        try:
            with limited(longest), np.errstate(all="ignore"):
                check_finite(case.work())
        except accepted as refusal:
            if trouble := _cannot_be_sent(refusal):
                tally.add(trouble, case.name)
        except OutOfTime as trouble:
            tally.add(f"too long: {_place(trouble)}", case.name)
        except Exception as trouble:  # noqa: BLE001  that is what is looked for
            tally.add(f"{type(trouble).__name__}: {str(trouble)[:80]} at {_place(trouble)}", case.name)
        took = time.process_time() - began
        if took > tally.slowest:
            tally.slowest, tally.slowest_name = took, case.name
    return tally


def _cannot_be_sent(refusal: Exception) -> str:
    """What of a refusal is no JSON: its fields are sent with it. Empty where all is."""
    try:
        json.dumps(getattr(refusal, "fields", {}))
    except TypeError as trouble:
        return f"{type(refusal).__name__} {getattr(refusal, 'code', '')}: {trouble}"
    return ""


def check_finite(value: Any, path: str = "") -> None:
    """Refuse NaN and infinity, as numbers and as words. `value` is plain data."""
    if isinstance(value, Mapping):
        for key, inner in value.items():
            check_finite(inner, f"{path}.{key}")
    elif isinstance(value, list | tuple):
        for inner in value:
            check_finite(inner, f"{path}[]")
    elif (isinstance(value, float) and not math.isfinite(value)) or (isinstance(value, str) and _NO_NUMBER.search(value)):
        raise ValueError(f"{value!r} in {path}")


def _place(trouble: BaseException) -> str:
    """The innermost line of ours."""
    frames = [f for f in traceback.extract_tb(trouble.__traceback__) if "/hobrel/" in f.filename]
    return f"{frames[-1].filename.split('/hobrel/', 1)[1]}:{frames[-1].lineno} {frames[-1].name}" if frames else "outside"
