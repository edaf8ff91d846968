"""A computing child: takes one call after another from its socket, within its limits."""

from __future__ import annotations

import logging
import os
import resource
import select
import socket
import traceback
from collections.abc import Callable
from contextlib import suppress
from mmap import mmap

from hobrel.computing.calls import carry_out
from hobrel.computing.limits import TimedWatch, last_limit, limit_memory
from hobrel.computing.messages import Answer, Ask, Note, receive, send
from hobrel.computing.notes import Notes
from hobrel.computing.shelf import Shelf
from hobrel.computing.sweeping import REST, Sweeper
from hobrel.core.containment import look_over
from hobrel.core.errors import CoreError

DIGEST = 16
PATIENCE = 10.0
"""Seconds that a message may take to come or go once it has begun."""
STRICT = "HOBREL_STRICT"
"""Set in tests: what nobody foresaw fails the call."""
ENDED = ("ended", "This took so long that it was ended. Look for a mistyped number; it is tried again after the next change.", {})
_log = logging.getLogger(__name__)


def serve_calls(listening: socket.socket, reading: int, working_on: mmap, ended: frozenset[bytes]) -> None:
    """Serve until the parent ends. `working_on` tells the parent which call this is, should it be the last.

    Parameters
    ----------
    listening : socket
    reading : int
        A pipe that ends with the parent.
    working_on : shared memory of `DIGEST` bytes
    ended : digests of calls that have ended a child before
    """
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    limit_memory()
    watch = TimedWatch(strict=os.environ.get(STRICT) == "1")
    look_over(watch)
    shelf = Shelf()

    sweeper = Sweeper()

    def answer(ask: Ask) -> Answer:
        watch.begin_call(ask.heavy)
        given = _answer(ask, shelf, working_on, ended)
        sweeper.count()
        return given

    def answer_now(ask: Ask) -> Answer:
        given = answer(ask)
        notes.hurry(shelf.has_analysis)
        return given

    def take(note: Note) -> None:
        notes.take(note)
        with suppress(CoreError):
            # whoever asks what follows need not send it again; what is no lab book is answered so when it is worked out
            shelf.put(note.ask.contents)

    notes = Notes(answer)
    listening.setblocking(False)
    while True:
        wait = notes.wait()
        has_time = sweeper.is_due() and (wait is None or wait > REST)
        ready, _, _ = select.select([listening, reading], [], [], REST if has_time else wait)
        if reading in ready:
            return
        if has_time and not ready:
            sweeper.sweep()
            continue
        if listening not in ready or notes.is_overdue():
            notes.work()
        if listening in ready:
            _serve_one(listening, answer_now, take)


def _serve_one(listening: socket.socket, answer: Callable[[Ask], Answer], take: Callable[[Note], None]) -> None:
    """Answer the next one who asks, or take in what is only noted."""
    try:
        connection, _ = listening.accept()
    except BlockingIOError:
        return
    with connection:
        connection.settimeout(PATIENCE)
        try:
            message = receive(connection)
            if isinstance(message, Note):
                take(message)
            else:
                send(connection, answer(message))
        except (OSError, EOFError):
            # whoever asked has gone, or never said it all
            return


def _answer(ask: Ask, shelf: Shelf, working_on: mmap, ended: frozenset[bytes]) -> Answer:
    if ask.digest in ended:
        return Answer("trouble", ENDED)
    working_on[:] = ask.digest
    try:
        with last_limit(ask.heavy):
            return carry_out(ask, shelf)
    except Exception:  # noqa: BLE001  only in tests does anything come so far; the child goes on
        told = traceback.format_exc()
        _log.error("a call has failed\n%s", told)
        return Answer("broken", told)
    finally:
        working_on[:] = bytes(DIGEST)
