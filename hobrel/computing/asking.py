"""The web side: asking for something to be worked out, and starting the computing process where it does not run."""

from __future__ import annotations

import logging
import os
import pickle
import socket
import subprocess
import sys
import tempfile
import threading
import time
from collections import Counter
from collections.abc import Callable, Mapping, Sequence
from contextlib import ExitStack
from dataclasses import replace
from hashlib import blake2b
from pathlib import Path
from typing import Any, TypeVar

from django.conf import settings
from django.db import connection

from hobrel.computing.calls import carry_out
from hobrel.computing.messages import Answer, Ask, Call, Note, Subject, Worked, name_child, receive, send
from hobrel.computing.notes import Notes
from hobrel.computing.shelf import Shelf
from hobrel.core.document.lab_book import Convention
from hobrel.core.errors import NOT_WORKED_OUT, CoreError
from hobrel.server.problems import Problem

T = TypeVar("T")
Supply = Callable[[str], Any]
CAN_FORK = hasattr(os, "fork") and hasattr(socket, "AF_UNIX") and Path("/proc/self/statm").exists()
PATIENCE = 20.0
HEAVY_PATIENCE = 60.0
"""Seconds that somebody waits for an answer."""
MOST_TRIES = 2
"""Times that one is asked whose answer was lost."""
NOTE_PATIENCE = 0.2
"""Seconds that a note may take to be handed over: a child that is busy for so long is told by the next one."""
START_SECONDS = 90.0
"""How long a start may take, which is seconds on a machine that has nothing else to do."""
ASKING_START_SECONDS = 10.0
"""How long one who asks waits for it: a server whose people all waited would answer nobody."""
MOST_STARTS = 5
"""Times that one which ends at once is started."""
REST_SECONDS = 5.0
"""After a wait that was in vain nobody waits for so long."""
_LONGEST_PATH = 90
_log = logging.getLogger(__name__)


def not_worked_out() -> CoreError:
    return CoreError(NOT_WORKED_OUT, "This is not worked out yet; your readings are kept. It comes by itself in a moment.")


def ask(function: Callable[..., T], *arguments: Any, deal: int = 0, heavy: bool = False) -> T:
    """Have a function of ours carried out where it can be ended.

    Parameters
    ----------
    function : callable, at the top of a module
    arguments : what it is given; anything that can be pickled
    deal : int
        Which child is asked: the same number, the same child.
    heavy : bool
        About a file: may take longer.

    Raises
    ------
    CoreError, Problem
        As the function; ``too_long``, ``too_large``, ``unforeseen``, ``ended``; ``not_worked_out`` while there is nobody to ask.
    """
    answer: T = _ask(Call(function, arguments), lambda name: None, deal, heavy)
    return answer


def ask_json(function: Callable[..., Any], *arguments: Any, deal: int = 0, convention: Convention | None = None) -> bytes:
    """The same, with what the function returns as JSON, in the words of a class's `convention`; carried out once for the same arguments."""
    written: bytes = _ask(Call(function, arguments, None, True, convention), lambda name: None, deal, False)
    return written


def ask_book(
    about: Subject,
    supply: Supply,
    deal: int,
    function: Callable[..., Any],
    *arguments: Any,
    as_json: bool = False,
    heavy: bool = False,
    have: str | None = None,
) -> Any:
    """The same about a lab book, which the function gets first.

    `supply` gives contents by the names that a child lacks. With `have` the answer is a `Since`: the whole, or what has changed since that
    tag.
    """
    return _ask(Call(function, arguments, about, as_json), supply, deal, heavy, have)


def ask_book_in_parts(
    about: Subject, supply: Supply, deal: int, function: Callable[..., Any], parts: Sequence[tuple[Any, ...]]
) -> list[Any]:
    """The same for each of `parts`, which the function gets after the lab book: side by side, by the children for what is heavy."""
    return _ask_all([Call(function, part, about) for part in parts], supply, deal, heavy=True)


def note_book(
    key: str,
    function: Callable[..., Any],
    subject: Subject,
    contents: dict[str, Any],
    deal: int,
    write: Callable[[list[Worked]], None],
    about: Any,
    supply: Callable[[str, Any], Any],
) -> None:
    """Have a function carried out on a lab book when nobody waits, and what it gives written down; see `Note`. It may get lost."""
    note = Note(key, Ask(pickle.dumps(Call(function, (), subject), protocol=5), contents), subject, write, about, supply)
    if not CAN_FORK:
        own = Notes(lambda ask: carry_out(ask, _own_shelf), pause=0.0, rest=0.0)
        own.take(note)
        while (rest := own.wait()) is not None:
            time.sleep(rest)
            own.work()
        return
    try:
        with socket.socket(socket.AF_UNIX, socket.SOCK_STREAM) as line:
            line.settimeout(NOTE_PATIENCE)
            line.connect(str(_folder() / name_child(deal, heavy=False)))
            send(line, note)
    except OSError:
        _log.info("a note was lost: %s", key)


def _ask(call: Call, supply: Supply, deal: int, heavy: bool, have: str | None = None) -> Any:
    (given,) = _ask_all([call], supply, deal, heavy, have)
    return given


def _ask_all(calls: Sequence[Call], supply: Supply, deal: int, heavy: bool, have: str | None = None) -> list[Any]:
    """Several calls side by side: they are dealt to one child after another."""
    asks = {i: Ask(pickle.dumps(call, protocol=5), {}, heavy, have) for i, call in enumerate(calls)}
    answers: dict[int, Answer] = {}
    for _ in range(4):
        answers |= _ask_twice({i: ask for i, ask in asks.items() if i not in answers}, deal)
        lacking = {i: answers.pop(i).content for i in tuple(answers) if answers[i].kind == "lacks"}
        if not lacking:
            return [_open(answers[i]) for i in asks]
        for i, names in lacking.items():
            asks[i] = replace(asks[i], contents={name: supply(name) for name in names})
    raise not_worked_out()


def _open(answer: Answer) -> Any:
    match answer.kind:
        case "trouble":
            raise CoreError.told(*answer.content)
        case "problem":
            raise Problem(*answer.content)
        case "broken":
            raise RuntimeError(answer.content)
    return answer.content


def _ask_twice(asks: Mapping[int, Ask], deal: int) -> dict[int, Answer]:
    """Answers; those that were lost are asked for once more: calls change nothing, and one that ended its child is answered so."""
    if not CAN_FORK:
        return {i: carry_out(ask, _own_shelf) for i, ask in asks.items()}
    answers: dict[int, Answer] = {}
    tries, started = Counter[int](), False
    while waiting := [i for i in asks if i not in answers]:
        if any(tries[i] >= MOST_TRIES for i in waiting):
            raise not_worked_out()
        try:
            with ExitStack() as lines:
                for i, line in [(i, lines.enter_context(_put(asks[i], deal + i))) for i in waiting]:
                    try:
                        answers[i] = receive(line)
                    except (ConnectionError, EOFError):
                        tries[i] += 1
        except (FileNotFoundError, ConnectionRefusedError) as trouble:
            if started:
                raise not_worked_out() from trouble
            start_computing(ASKING_START_SECONDS)
            started = True
        except TimeoutError as trouble:
            raise not_worked_out() from trouble
        except OSError:
            tries.update(waiting)
    return answers


def _put(ask: Ask, deal: int) -> socket.socket:
    """The line on which an answer will come."""
    line = socket.socket(socket.AF_UNIX, socket.SOCK_STREAM)
    try:
        line.settimeout(HEAVY_PATIENCE if ask.heavy else PATIENCE)
        line.connect(str(_folder() / name_child(deal, ask.heavy)))
        send(line, ask)
    except OSError:
        line.close()
        raise
    return line


_own_shelf = Shelf()
_starting = threading.Lock()
_started: list[subprocess.Popen[bytes]] = []
_not_before = [0.0]


def _database() -> str:
    return str(connection.settings_dict["NAME"])


def _folder() -> Path:
    """Where the sockets are: beside the data, or elsewhere where that path is too long for a socket's name. Each database has its own,
    for the computing process writes in it.
    """
    folder = Path(settings.DATA) / f"computing-{Path(_database()).stem}"
    if len(str(folder)) > _LONGEST_PATH:
        name = blake2b(str(folder).encode(), digest_size=8).hexdigest()
        folder = Path(tempfile.gettempdir()) / f"hobrel-{os.getuid()}-{name}"
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    state = folder.stat()
    if state.st_uid != os.getuid() or state.st_mode & 0o077:
        raise PermissionError(f"{folder} is not ours alone")
    return folder


def begin_computing() -> None:
    """Set the computing process off, if nobody else has, without waiting for it: it takes seconds to load, beside whatever else has to be
    done first.
    """
    if CAN_FORK and _starting.acquire(blocking=False):
        try:
            if not _listens() and not _started:
                _started[:] = [_start_parent()]
        finally:
            _starting.release()


def start_computing(patience: float = START_SECONDS) -> None:
    """Start the computing process, if nobody else has, and wait until it listens, or for so many seconds."""
    if not CAN_FORK:
        _log.warning("This system has no forks or no Unix sockets: everything is worked out in the web process, without limits of time.")
        return
    until = time.monotonic() + patience
    if not _starting.acquire(timeout=patience):
        return
    try:
        if _listens() or time.monotonic() < _not_before[0]:
            return
        starts = 0
        while not _listens():
            ended = not _started or _started[0].poll() is not None
            if time.monotonic() > until or (ended and starts == MOST_STARTS):
                _not_before[0] = time.monotonic() + REST_SECONDS
                _log.error("the computing process does not start")
                return
            if ended:
                # either there was none, or it met one that was just ending
                _started[:] = [_start_parent()]
                starts += 1
            time.sleep(0.02)
    finally:
        _starting.release()


def _start_parent() -> subprocess.Popen[bytes]:
    """It ends when its standard input does, which is when this process has ended."""
    environment = {**os.environ, "OPENBLAS_NUM_THREADS": "1", "OMP_NUM_THREADS": "1", "HOBREL_DATABASE": _database()}
    command = [sys.executable, "-m", "hobrel.server.computing", str(_folder())]
    return subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.DEVNULL, cwd=settings.ROOT, env=environment)


def _listens() -> bool:
    try:
        with socket.socket(socket.AF_UNIX, socket.SOCK_STREAM) as line:
            line.settimeout(1)
            line.connect(str(_folder() / name_child(0, heavy=True)))
    except OSError:
        return False
    return True
