"""What goes to and fro between the web side and a computing child: one message each way, its length first."""

from __future__ import annotations

import pickle
import socket
import struct
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from hashlib import blake2b
from typing import Any, Literal

from hobrel.core.document.lab_book import Convention
from hobrel.core.errors import CoreError

_LENGTH = struct.Struct(">Q")
LARGEST = 1 << 30
CHILDREN = 2
"""Children that lab books are dealt to, on sockets `child-0`, `child-1` …; as many more take what is heavy, on `heavy-0`, `heavy-1` …"""


@dataclass(frozen=True)
class Subject:
    """The lab book that a call is about: by its stamp, which is another after every change, seen from one of its runs."""

    stamp: str
    run: str = ""


@dataclass(frozen=True)
class Call:
    """A function of ours to be carried out, with what it is given.

    Attributes
    ----------
    function : callable
        Found by its module and name, so it is the same in both processes.
    arguments : tuple
    about : Subject or None
        Where the function's first parameter is a lab book, its computation, or an `OpenBook`.
    as_json : bool
        Answer with the text of JSON, written from the function's declared result.
    convention : Convention or None
        Of those who read the answer, where it is about no lab book: that has its own.
    """

    function: Callable[..., Any]
    arguments: tuple[Any, ...] = ()
    about: Subject | None = None
    as_json: bool = False
    convention: Convention | None = None

    @property
    def name(self) -> str:
        return f"{self.function.__module__}.{self.function.__qualname__}"


@dataclass(frozen=True)
class Earlier:
    """Among a call's arguments: what an earlier call has given, by its tag; None where that is not on the shelf any more."""

    tag: str


@dataclass(frozen=True)
class Ask:
    """A call with the contents that the child said it lacks: documents by stamp, logs by digest.

    A `heavy` one may take longer; it goes to a child that nobody waits for who is writing. With `have`, the tag of an earlier
    answer, only what has changed since is wanted; empty for one who has nothing yet.
    """

    call: bytes
    contents: Mapping[str, Any] = field(default_factory=dict)
    heavy: bool = False
    have: str | None = None

    @property
    def digest(self) -> bytes:
        """The same for the same call about the same revision."""
        return blake2b(self.call, digest_size=16).digest()


@dataclass(frozen=True)
class Since:
    """What a call gives, for one who may have had an earlier answer: its tag, and the whole or else the changes, as JSON."""

    tag: str
    whole: bytes | None
    changes: bytes | None


@dataclass(frozen=True)
class Note:
    """A call whose result nobody waits for: it is worked out when nobody waits for anything, and written down by the child.

    Attributes
    ----------
    key : str
        A newer note takes the place of an older one of the same key.
    ask : Ask
    subject : Subject
        What the call is about.
    write : callable
        Given a list of `Worked`, in the child; what it raises is logged, and it is tried again a few times.
    about : Any
        Given back to `write` beside the result.
    supply : callable
        Called with a name and `about`, in the child: the contents that are lacking.
    """

    key: str
    ask: Ask
    subject: Subject
    write: Callable[[list[Worked]], None]
    about: Any
    supply: Callable[[str, Any], Any]


@dataclass(frozen=True)
class Worked:
    """What came of a note: what its function returned, or the error in its place."""

    about: Any
    result: Any
    trouble: CoreError | None


@dataclass(frozen=True)
class Answer:
    """What came of a call.

    Attributes
    ----------
    kind : {"result", "lacks", "trouble", "problem", "broken"}
        ``trouble`` is a `CoreError` and ``problem`` a `Problem`, by what they are made from; ``broken`` a fault of ours, in tests.
    content : what the function returned; or names of missing contents; or the parts of the error
    """

    kind: Literal["result", "lacks", "trouble", "problem", "broken"]
    content: Any


def name_child(deal: int, heavy: bool) -> str:
    """The socket of the child that a number is dealt to."""
    return f"{'heavy' if heavy else 'child'}-{deal % CHILDREN}"


def send(connection: socket.socket, message: Ask | Answer | Note) -> None:
    data = pickle.dumps(message, protocol=5)
    connection.sendall(_LENGTH.pack(len(data)) + data)


def receive(connection: socket.socket) -> Any:
    """The next message.

    Raises
    ------
    EOFError
        Where the other side ended before it was whole.
    """
    (length,) = _LENGTH.unpack(_read(connection, _LENGTH.size))
    if length > LARGEST:
        raise EOFError
    return pickle.loads(_read(connection, length))


def _read(connection: socket.socket, length: int) -> bytes:
    data = bytearray(length)
    view, filled = memoryview(data), 0
    while filled < length:
        count = connection.recv_into(view[filled:])
        if count == 0:
            raise EOFError
        filled += count
    return bytes(data)
