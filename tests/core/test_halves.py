"""Work in two halves at once: it is that of the whole, whatever becomes of the half that is done elsewhere."""

from __future__ import annotations

import os
import signal
import threading
import unittest
from unittest.mock import patch

from hobrel.core.errors import CoreError
from hobrel.core.scripting.halves import work_in_halves


def numbers(first: int, end: int) -> tuple[tuple[int, bool], ...]:
    """The numbers of a part, and whether they were worked out by the process that asked."""
    return tuple((n, is_here()) for n in range(first, end))


def is_here() -> bool:
    return os.getpid() == Halves.asks


@unittest.skipUnless(hasattr(os, "fork") and (os.cpu_count() or 1) > 1, "a machine with two processors")
class Halves(unittest.TestCase):
    asks = 0
    """The process that asks: not that which has read this file, for tests are tried in copies too."""

    def setUp(self) -> None:
        Halves.asks = os.getpid()
        # threads of other tests are not a script's
        count, others = threading.active_count, threading.active_count() - 1
        self.enterContext(patch("threading.active_count", lambda: count() - others))

    def test_the_second_is_done_elsewhere_and_comes_after_the_first(self) -> None:
        for count in (2, 5, 200):
            found = work_in_halves(numbers, count)
            self.assertEqual([n for n, _ in found], list(range(count)))
            self.assertEqual([here for _, here in found], [n < count // 2 for n in range(count)])
        # more than a pipe holds
        large = work_in_halves(lambda first, end: tuple("x" * 100_000 for _ in range(first, end)), 8)
        self.assertEqual([len(text) for text in large], [100_000] * 8)

    def test_what_is_too_little_to_share_is_done_here(self) -> None:
        for count in (0, 1):
            self.assertEqual(work_in_halves(numbers, count), numbers(0, count))

    def test_nothing_is_copied_beside_another_thread(self) -> None:
        over = threading.Event()
        other = threading.Thread(target=over.wait)
        other.start()
        try:
            self.assertTrue(all(here for _, here in work_in_halves(numbers, 6)))
        finally:
            over.set()
            other.join()

    def test_where_the_child_fails_or_ends_it_is_done_here(self) -> None:
        def fails(first: int, end: int) -> tuple[object, ...]:
            if not is_here():
                raise ValueError("elsewhere only")
            return numbers(first, end)

        def dies(first: int, end: int) -> tuple[object, ...]:
            if not is_here():
                os.kill(os.getpid(), signal.SIGKILL)
            return numbers(first, end)

        def cannot_be_told(first: int, end: int) -> tuple[object, ...]:
            return numbers(first, end) if is_here() else (lambda: None,)

        for work in (fails, dies, cannot_be_told):
            with self.subTest(work.__name__):
                self.assertEqual(work_in_halves(work, 6), numbers(0, 6))

    def test_what_is_wrong_with_the_work_itself_is_said_and_no_child_stays(self) -> None:
        def refuses(first: int, end: int) -> tuple[int, ...]:
            raise CoreError("too_large", "too many")

        children: list[int] = []
        fork = os.fork

        def note() -> int:
            children.append(fork())
            return children[-1]

        with patch("os.fork", note), self.assertRaises(CoreError):
            work_in_halves(refuses, 6)
        self.assertEqual(len(children), 1)
        with self.assertRaises(ChildProcessError):
            os.waitpid(children[0], os.WNOHANG)
