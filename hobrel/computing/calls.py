"""Carrying a call out: the same in a computing child and, where there can be none, in the web process."""

from __future__ import annotations

import inspect
import pickle
from collections.abc import Callable
from functools import cache
from typing import Any, get_type_hints

import numpy as np
from pydantic import TypeAdapter

from hobrel.computing.changes import find_changes, write_changes
from hobrel.computing.messages import Answer, Ask, Call, Earlier, Since
from hobrel.computing.shelf import Lacking, OpenBook, Shelf
from hobrel.core.containment import contain
from hobrel.core.document.lab_book import LabBook
from hobrel.core.errors import CoreError
from hobrel.core.pipeline.computation import Computation
from hobrel.core.presentation.wording import reword, reword_error, wording_of
from hobrel.server.problems import Problem


def carry_out(ask: Ask, shelf: Shelf) -> Answer:
    """Do what was asked; whatever is thrown is an answer too."""
    call: Call = pickle.loads(ask.call)
    if call.as_json:
        # made before anything is timed: what loads or builds itself must not be ended half way
        writer_of(call.function)
    found = contain(f"call of {call.name}", _carry_out, call, ask, shelf)
    if not isinstance(found, CoreError):
        return found
    return Answer("trouble", (found.code, found.message, found.fields))


def _carry_out(call: Call, ask: Ask, shelf: Shelf) -> Answer:
    try:
        shelf.put(ask.contents)
        if not call.as_json:
            return Answer("result", _work_out(call, shelf))
        tag = ask.digest.hex()
        result = shelf.results.use(tag)
        if result is None:
            result = shelf.results.keep(tag, _work_out(call, shelf))
        return Answer("result", _write(call, shelf, tag) if ask.have is None else _write_since(call, shelf, tag, ask.have))
    except Lacking as lacking:
        return Answer("lacks", lacking.names)
    except Problem as problem:
        return Answer("problem", (problem.status, problem.code, problem.message, problem.fields))


def _work_out(call: Call, shelf: Shelf) -> Any:
    arguments = (shelf.results.use(a.tag) if isinstance(a, Earlier) else a for a in call.arguments)
    with np.errstate(all="ignore"):
        if call.about is None:
            found = call.function(*arguments)
            return found if call.convention is None else reword(found, call.convention)
        book = shelf.open(call.about)
        convention = book.document.convention
        try:
            return reword(call.function(_wanted(call.function, book), *arguments), convention)
        except CoreError as trouble:
            if wording_of(convention) is None:
                raise
            raise reword_error(trouble, convention) from trouble


def _write(call: Call, shelf: Shelf, tag: str) -> bytes:
    """A result as JSON, written once."""
    written = shelf.written.use(tag)
    return written or shelf.written.keep(tag, writer_of(call.function).dump_json(shelf.results[tag]))


def _write_since(call: Call, shelf: Shelf, tag: str, have: str) -> Since:
    """What a result has that an earlier one has not; the whole for one whose earlier one is not here any more."""
    earlier = shelf.results.use(have)
    if earlier is None:
        return Since(tag, _write(call, shelf, tag), None)
    key = f"{have}>{tag}"
    written = shelf.written.use(key)
    return Since(tag, None, written or shelf.written.keep(key, write_changes(find_changes(earlier, shelf.results[tag]))))


@cache
def _first_kind(function: Callable[..., Any]) -> Any:
    first = next(iter(inspect.signature(function).parameters))
    return get_type_hints(function)[first]


def _wanted(function: Callable[..., Any], book: OpenBook) -> OpenBook | LabBook | Computation:
    """The lab book as the function's first parameter wants it."""
    kind = _first_kind(function)
    if kind is OpenBook:
        return book
    if kind is LabBook:
        return book.document
    if kind is Computation:
        return book.computation
    raise TypeError(f"{function.__qualname__} takes no lab book first")


@cache
def writer_of(function: Callable[..., Any]) -> TypeAdapter[Any]:
    """What writes a function's declared result as JSON."""
    return TypeAdapter(get_type_hints(function)["return"])
