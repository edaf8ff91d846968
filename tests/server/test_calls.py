"""Calls carried out in this process: what a child keeps, what it lacks, how errors come back; and where there are no forks."""

from __future__ import annotations

import pickle
from types import SimpleNamespace
from typing import Any
from unittest.mock import patch

import numpy as np
from django.test import SimpleTestCase

from hobrel.computing import asking
from hobrel.computing.asking import ask, ask_book
from hobrel.computing.calls import carry_out
from hobrel.computing.messages import Ask, Call, Subject
from hobrel.computing.shelf import Lacking, OpenBook, Shelf
from hobrel.core.containment import StrictWatch, Watch, look_over
from hobrel.core.document.lab_book import LabBook, Run, read_lab_book, write_lab_book
from hobrel.core.errors import CoreError
from hobrel.core.pipeline.computation import Computation
from hobrel.server.problems import Problem
from hobrel.server.serving import on_starting
from tests.fuzz.typing import demo_books

COUNTED: list[str] = []


def title_of(book: LabBook) -> str:
    COUNTED.append(book.title)
    return book.title


def runs_of(book: OpenBook) -> list[str]:
    return [run.id for run in book.document.runs]


def findings_of(computation: Computation) -> list[str]:
    return sorted(computation.findings)


def refuse(number: int) -> None:
    raise Problem(409, "taken", "Somebody has it.", {"theirs": str(number)})


def divide(a: float, b: float) -> float:
    return a / b


def no_book(number: int) -> int:
    return number


def call(function: Any, *given: Any, about: Subject | None = None, as_json: bool = False, contents: dict[str, Any] | None = None) -> Ask:
    return Ask(pickle.dumps(Call(function, given, about, as_json)), contents or {})


class Calls(SimpleTestCase):
    def setUp(self) -> None:
        look_over(Watch())
        self.shelf = Shelf()
        self.book = next(iter(demo_books().values()))
        self.document = write_lab_book(self.book)
        COUNTED.clear()

    def test_a_child_says_what_it_lacks_and_then_keeps_it(self) -> None:
        about = Subject("stamp1")
        lacking = carry_out(call(title_of, about=about), self.shelf)
        self.assertEqual((lacking.kind, lacking.content), ("lacks", ("book:stamp1",)))
        sent = carry_out(call(title_of, about=about, contents={"book:stamp1": self.document}), self.shelf)
        self.assertEqual((sent.kind, sent.content), ("result", self.book.title))
        self.assertEqual(carry_out(call(findings_of, about=about), self.shelf).content, ["E"])

    def test_columns_of_a_log_are_asked_for_apart(self) -> None:
        log = {"kept": "a" * 64, "rows": 2, "units": {"L": "m"}}
        document = {**self.document, "runs": [{"id": "r", "name": "logged", "settings": [], "log": log}]}
        first = carry_out(call(runs_of, about=Subject("s"), contents={"book:s": document}), self.shelf)
        self.assertEqual((first.kind, first.content), ("lacks", ("log:" + "a" * 64,)))
        self.shelf.put({"log:" + "a" * 64: {"L": ["0.1", "0.2"]}})
        opened = self.shelf.open(Subject("s"))
        self.assertEqual(opened.document.runs[0].log.columns, {"L": ("0.1", "0.2")})  # type: ignore[union-attr]

    def test_a_lab_book_is_seen_from_the_run_that_is_asked_for(self) -> None:
        two = write_lab_book(LabBook("t", runs=(Run("a", "A"), Run("b", "B"))))
        contents = {"book:s": two}
        for run, order in (("", ["a", "b"]), ("b", ["b", "a"]), ("nobody", ["a", "b"])):
            self.assertEqual(carry_out(call(runs_of, about=Subject("s", run), contents=contents), self.shelf).content, order)
        self.assertEqual([r.id for r in read_lab_book(two).seen_from("b").runs], ["b", "a"])

    def test_an_answer_in_json_is_written_once(self) -> None:
        asked = call(title_of, about=Subject("s"), as_json=True, contents={"book:s": self.document})
        answers = [carry_out(asked, self.shelf).content for _ in range(3)]
        self.assertEqual(answers, [f'"{self.book.title}"'.encode()] * 3)
        self.assertEqual(len(COUNTED), 1)

    def test_what_has_not_been_used_for_longest_is_dropped(self) -> None:
        with patch("hobrel.computing.shelf.MOST_BOOKS", 2):
            shelf = Shelf()
        for stamp in ("one", "two"):
            shelf.put({f"book:{stamp}": self.document})
        shelf.open(Subject("one"))
        shelf.put({"book:three": self.document})
        shelf.open(Subject("one"))
        with self.assertRaises(Lacking):
            shelf.open(Subject("two"))

    def test_errors_come_back_as_they_were_raised(self) -> None:
        problem = carry_out(call(refuse, 7), self.shelf)
        self.assertEqual((problem.kind, problem.content), ("problem", (409, "taken", "Somebody has it.", {"theirs": "7"})))
        self.assertEqual(carry_out(call(divide, 1.0, 0.0), self.shelf).content[0], "too_large")
        self.assertEqual(carry_out(call(divide, 1.0, "x"), self.shelf).content[0], "unforeseen")
        self.assertEqual(float(carry_out(call(divide, np.float64(1), np.float64(4)), self.shelf).content), 0.25)

    def test_a_function_that_takes_no_lab_book_first_is_a_fault_of_ours(self) -> None:
        look_over(StrictWatch())
        self.addCleanup(look_over, Watch())
        with self.assertRaises(TypeError):
            carry_out(call(no_book, about=Subject("s"), contents={"book:s": self.document}), self.shelf)


class WithoutForks(SimpleTestCase):
    """Where there are no forks or no Unix sockets, calls are carried out in the web process."""

    def setUp(self) -> None:
        look_over(Watch())
        self.enterContext(patch.object(asking, "CAN_FORK", False))
        self.enterContext(patch.object(asking, "_own_shelf", Shelf()))

    def test_everything_is_asked_and_answered_the_same(self) -> None:
        document = write_lab_book(next(iter(demo_books().values())))
        supplied: list[str] = []

        def supply(name: str) -> Any:
            supplied.append(name)
            return document

        for _ in range(2):
            self.assertEqual(ask_book(Subject("w"), supply, 1, title_of), document["title"])
        self.assertEqual(supplied, ["book:w"])
        self.assertEqual(ask(divide, 1.0, 4.0), 0.25)
        with self.assertRaises(Problem):
            ask(refuse, 1)
        with self.assertRaises(CoreError) as caught:
            ask(divide, 1.0, 0.0)
        self.assertEqual(caught.exception.code, "too_large")

    def test_the_start_says_so(self) -> None:
        with self.assertLogs("hobrel.computing.asking", "WARNING") as log:
            asking.start_computing()
        self.assertIn("worked out in the web process", log.output[0])


class Starting(SimpleTestCase):
    """The computing process is started by whoever needs it; one who asks does not wait for it as long as a command does."""

    def setUp(self) -> None:
        self.now, self.started = 0.0, 0
        listens = iter([False] * 10_000)
        for name, value in (
            ("_listens", lambda: next(listens)), ("_started", []), ("_not_before", [0.0]), ("_start_parent", self.start),
        ):  # fmt: skip
            self.enterContext(patch.object(asking, name, value))
        self.enterContext(patch("hobrel.computing.asking.time.monotonic", lambda: self.now))
        self.enterContext(patch("hobrel.computing.asking.time.sleep", self.sleep))
        self.ended: int | None = None

    def start(self) -> Any:
        self.started += 1
        return SimpleNamespace(poll=lambda: self.ended)

    def sleep(self, seconds: float) -> None:
        self.now += seconds

    def test_one_who_asks_waits_for_seconds_and_a_command_for_a_slow_machine(self) -> None:
        for patience in (10.0, 90.0):
            self.now, asking._not_before[0] = 0.0, 0.0
            with self.subTest(patience), self.assertLogs("hobrel.computing.asking", "ERROR"):
                asking.start_computing(patience)
                self.assertAlmostEqual(self.now, patience, delta=0.1)
        self.assertEqual(self.started, 1)
        with self.subTest("and after that nobody waits for a while"):
            asking.start_computing(10.0)
            self.assertAlmostEqual(self.now, 90.0, delta=0.1)

    def test_a_server_sets_it_off_once_and_goes_on_and_waits_for_that_one(self) -> None:
        asking.begin_computing()
        asking.begin_computing()
        self.assertEqual((self.started, self.now), (1, 0.0))
        with self.assertLogs("hobrel.computing.asking", "ERROR"):
            asking.start_computing(10.0)
        self.assertEqual(self.started, 1)

    def test_one_that_ends_at_once_is_not_started_for_ever(self) -> None:
        self.ended = 1
        with self.assertLogs("hobrel.computing.asking", "ERROR"):
            asking.start_computing()
        self.assertEqual(self.started, 5)
        self.assertLess(self.now, 1.0)

    def test_a_server_loads_it_beside_all_else_and_has_it_before_anybody_asks(self) -> None:
        done: list[str] = []
        for where, name in (
            ("hobrel.computing.asking.begin_computing", "set off"), ("hobrel.computing.asking.start_computing", "waited for"),
            ("django.core.management.call_command", "database"), ("hobrel.computing.sweeping.keep_loaded", "kept"),
        ):  # fmt: skip
            self.enterContext(patch(where, lambda *_, name=name: done.append(name)))
        self.enterContext(patch("django.db.connections.close_all"))
        on_starting(None)
        self.assertEqual(done, ["set off", "database", "waited for", "kept"])
