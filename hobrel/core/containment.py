"""Every item of an analysis is a result or a named error, whatever is thrown inside it and however long it takes.

An item is a column, a graph, a fit, a finding, the slips of a run, the writing of each of these. `contain` works one out. What is thrown on
purpose (`CoreError`) is its answer; numbers beyond what can be computed with, and what nobody foresaw, become named errors too. How long an
item may take, and where the unforeseen is written down, is up to the process that computes: it says so once, with `look_over`.
"""

from __future__ import annotations

import hashlib
import logging
import traceback
from collections.abc import Callable
from contextlib import AbstractContextManager, nullcontext
from typing import ParamSpec, TypeVar

import numpy as np

from hobrel.core.errors import CoreError

P = ParamSpec("P")
T = TypeVar("T")
_log = logging.getLogger(__name__)


class OutOfTime(BaseException):
    """The item that is being worked out has taken as long as it may.

    Not an `Exception`, so that nothing inside takes it for a trouble of its own and goes on.
    """


class Watch:
    """How items are looked over: this one gives each as long as it takes."""

    def timed(self) -> AbstractContextManager[None]:
        """Around the working out of an item; raises `OutOfTime` in it."""
        return nullcontext()

    def name_unforeseen(self, item: str, trouble: Exception) -> CoreError:
        """Write down what nobody foresaw, and name it by a reference under which it is found again."""
        told = "".join(traceback.format_exception(trouble))
        reference = hashlib.blake2b(told.encode(errors="replace"), digest_size=4).hexdigest()
        _log.error("unforeseen %s in %s\n%s", reference, item, told)
        return CoreError(
            "unforeseen",
            "This could not be worked out, and the mistake is ours. What you wrote is kept. Reference {reference}.",
            reference=reference,
        )


class StrictWatch(Watch):
    """For tests: what nobody foresaw is a failure."""

    def name_unforeseen(self, item: str, trouble: Exception) -> CoreError:
        """The error that stands in the place of an item after something nobody foresaw."""
        raise trouble


_watch = Watch()


def look_over(watch: Watch) -> None:
    """Say how the items of this process are looked over. Called once, before anything is computed."""
    global _watch
    _watch = watch


def contain(item: str, work: Callable[P, T], *args: P.args, **kwargs: P.kwargs) -> T | CoreError:
    """Work an item out.

    Parameters
    ----------
    item : str
        What it is, for the log: ``column T``.
    work : callable
        Called with what follows.

    Returns
    -------
    What `work` returns, or the error that stands in its place: what it raised itself, ``too_large``, ``too_long``, or ``unforeseen`` with
    a reference.
    """
    try:
        with _watch.timed():
            return work(*args, **kwargs)
    except CoreError as trouble:
        return trouble.kept()
    except OutOfTime:
        return CoreError("too_long", "This takes too long to work out with these numbers. Look for a mistyped one; all is kept.")
    except (ArithmeticError, np.linalg.LinAlgError, MemoryError):
        return CoreError("too_large", "The numbers are too large, too small or too alike to compute with. Look for a mistyped one.")
    except Exception as trouble:  # noqa: BLE001  whatever it is, it stays in this item
        return _watch.name_unforeseen(item, trouble)
