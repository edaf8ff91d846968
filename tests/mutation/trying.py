"""Trying mutations, in a copy of the tree that holds them: ``python -m tests.mutation.trying`` reads which, and writes what was noticed.

Everything is imported once; each try is a fork of that, in which nothing has been computed yet, so that no cache can answer for what was
changed. It runs the tests that reach the changed function, the quickest first, until one fails.
"""

from __future__ import annotations

import json
import os
import resource
import sys
import time
import unittest
import warnings
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from typing import NoReturn

from mutmut.mutation import trampoline

WORKERS = os.cpu_count() or 2
PATIENCE, LONGER = 5.0, 4.0
"""A try is ended, and has been noticed, after so many seconds of the processor and so many times what its tests take by themselves."""


@dataclass(frozen=True)
class Reach:
    """A test, the functions that it calls, and how long it takes."""

    test: unittest.TestCase
    functions: frozenset[str]
    seconds: float


def main() -> int:
    """Try the mutations named on standard input, each by the tests that reach it."""
    wanted = json.load(sys.stdin)
    warnings.simplefilter("ignore")
    tests = list(_cases(unittest.defaultTestLoader.loadTestsFromNames(wanted["tests"])))
    reaches = _survey(tests)
    functions = {name: name.partition("__mutmut_")[0] for name in wanted["mutations"]}
    _check_nothing(reaches)
    found = dict(_try_all(wanted["mutations"], lambda name: [r for r in reaches if functions[name] in r.functions]))
    json.dump(found, sys.stdout)
    return 0


def _cases(suite: Iterable[unittest.TestCase | unittest.TestSuite]) -> Iterator[unittest.TestCase]:
    for one in suite:
        if isinstance(one, unittest.TestSuite):
            yield from _cases(one)
        elif not getattr(one, "reads_source", False):
            yield one


def _survey(tests: list[unittest.TestCase]) -> list[Reach]:
    """Which functions each test calls. In a fork for each, so that no test finds in a cache what another has computed."""
    reading, writing = os.pipe()
    found: list[Reach] = []
    for test in tests:
        began = time.monotonic()
        if (pid := os.fork()) == 0:
            os.close(reading)
            _call_noting(test, writing)
        said = b""
        while not said.endswith(b"\n"):
            said += os.read(reading, 1 << 20)
        _, status = os.waitpid(pid, 0)
        if status:
            raise SystemExit(f"{test.id()} fails before anything is changed")
        found.append(Reach(test, frozenset(json.loads(said)), time.monotonic() - began))
    return sorted(found, key=lambda reach: reach.seconds)


def _call_noting(test: unittest.TestCase, writing: int) -> NoReturn:
    hits: set[str] = set()

    def note(name: str, caller: str | None = None) -> None:
        hits.add(name)

    trampoline.record_trampoline_hit = note
    trampoline.set_mutant_under_test("stats")
    well = _run([test])
    os.write(writing, json.dumps(sorted(hits)).encode() + b"\n")
    os._exit(0 if well else 1)


def _run(tests: list[unittest.TestCase]) -> bool:
    """Whether all hold."""
    result = unittest.TestResult()
    result.failfast = True
    unittest.TestSuite(tests).run(result)
    return result.wasSuccessful()


def _check_nothing(reaches: list[Reach]) -> None:
    """Refuse to go on where a try in which nothing is changed is noticed: each test holds in whatever order they are done."""
    for name, noticed in _try_all(["nothing.x_changed__mutmut_1"], lambda name: reaches):
        if noticed:
            raise SystemExit(f"{name} is noticed, though it changes nothing")


def _try_all(names: list[str], reaching: Callable[[str], list[Reach]]) -> Iterator[tuple[str, bool]]:
    """Several at a time; what no test reaches is not noticed."""
    running: dict[int, str] = {}
    waiting = list(reversed(names))
    while waiting or running:
        while waiting and len(running) < WORKERS:
            name = waiting.pop()
            tests = reaching(name)
            if tests:
                running[_start(name, tests)] = name
            else:
                yield name, False
        if running:
            pid, status = os.wait()
            yield running.pop(pid), status != 0


def _start(name: str, reaches: list[Reach]) -> int:
    pid = os.fork()
    if pid:
        return pid
    limit = int(PATIENCE + LONGER * sum(r.seconds for r in reaches))
    resource.setrlimit(resource.RLIMIT_CPU, (limit, limit))
    trampoline.set_mutant_under_test(name)
    well = False
    try:
        well = _run([r.test for r in reaches])
    finally:
        os._exit(0 if well else 1)


if __name__ == "__main__":
    sys.exit(main())
