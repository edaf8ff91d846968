"""The parent of the computing children: loads everything once, forks them, and forks another where one has been ended."""

from __future__ import annotations

import fcntl
import logging
import mmap
import os
import select
import signal
import socket
import sys
import time
from collections import deque
from contextlib import suppress
from itertools import product
from pathlib import Path
from typing import NoReturn

from hobrel.computing.child import DIGEST, serve_calls
from hobrel.computing.messages import CHILDREN, name_child

MOST_REMEMBERED = 500
_NICER = 5
"""How far those who work on what is heavy stand back for those that somebody waits for who is writing."""
LEAST_LIFE = 0.5
"""A child that lives for less is not forked again at once, or a fault of ours would keep the machine busy."""
_log = logging.getLogger(__name__)


class _Seat:
    """A child's place: its socket, which the parent holds open, and what it is working on."""

    def __init__(self, path: Path, heavy: bool) -> None:
        with suppress(FileNotFoundError):
            path.unlink()
        self.socket = socket.socket(socket.AF_UNIX, socket.SOCK_STREAM)
        self.socket.bind(str(path))
        self.socket.listen(128)
        self.working_on = mmap.mmap(-1, DIGEST)
        self.heavy = heavy
        self.born = 0.0


def run_parent(folder: Path) -> None:
    """Serve until standard input ends, which is when whoever started this has ended. One parent serves a folder; others leave at once."""
    lock = (folder / "lock").open("w")
    try:
        fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except BlockingIOError:
        return
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    woken, wake = socket.socketpair()
    wake.setblocking(False)
    signal.set_wakeup_fd(wake.fileno(), warn_on_full_buffer=False)
    signal.signal(signal.SIGCHLD, lambda *_: None)
    # children read from it, and nobody else can write: it ends when this process does
    pipe = os.pipe()
    ended: deque[bytes] = deque(maxlen=MOST_REMEMBERED)
    seats: dict[int, _Seat] = {}
    for heavy, deal in product((False, True), range(CHILDREN)):
        _fork(_Seat(folder / name_child(deal, heavy), heavy), seats, (*pipe, lock.fileno()), ended)
    while True:
        ready, _, _ = select.select([sys.stdin, woken], [], [])
        if sys.stdin in ready:
            return
        woken.recv(64)
        while (pid := _dead_child()) is not None:
            seat = seats.pop(pid)
            digest = bytes(seat.working_on[:])
            if any(digest):
                ended.append(digest)
                _log.error("a computing child was ended in a call; it is not tried again until the next edit")
            if time.monotonic() - seat.born < LEAST_LIFE:
                time.sleep(LEAST_LIFE)
            _fork(seat, seats, (*pipe, lock.fileno()), ended)


def _dead_child() -> int | None:
    try:
        pid, _ = os.waitpid(-1, os.WNOHANG)
    except ChildProcessError:
        return None
    return pid or None


def _fork(seat: _Seat, seats: dict[int, _Seat], held: tuple[int, int, int], ended: deque[bytes]) -> None:
    """`held` are what a child reads the parent's end from, and the writing end and the lock, which are the parent's alone."""
    seat.working_on[:] = bytes(DIGEST)
    seat.born = time.monotonic()
    pid = os.fork()
    if pid == 0:
        reading, *others = held
        for number in others:
            os.close(number)
        _become_child(seat, reading, frozenset(ended))
    seats[pid] = seat


def _become_child(seat: _Seat, reading: int, ended: frozenset[bytes]) -> NoReturn:
    signal.set_wakeup_fd(-1)
    signal.signal(signal.SIGCHLD, signal.SIG_DFL)
    if seat.heavy:
        os.nice(_NICER)
    status = 1
    try:
        serve_calls(seat.socket, reading, seat.working_on, ended)
        status = 0
    except Exception:  # noqa: BLE001  a child must never go on as a second parent
        _log.exception("a computing child has failed")
    finally:
        os._exit(status)
