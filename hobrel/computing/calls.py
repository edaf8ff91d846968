"""Carrying a call out: the same in a computing child and, where there can be none, in the web process."""

from __future__ import annotations

import inspect
import pickle
from collections.abc import Callable
from functools import cache
from typing import Any, get_type_hints

import numpy as np
from pydantic import TypeAdapter

from hobrel.computing.messages import Answer, Ask, Call
from hobrel.computing.shelf import Lacking, OpenBook, Shelf
from hobrel.core.containment import contain
from hobrel.core.document.lab_book import LabBook
from hobrel.core.errors import CoreError
from hobrel.core.pipeline.computation import Computation
from hobrel.server.problems import Problem


def carry_out(ask: Ask, shelf: Shelf) -> Answer:
    """Do what was asked; whatever is thrown is an answer too."""
    written = shelf.written.use(ask.digest)
    if written is not None:
        return Answer("result", written)
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
        given = () if call.about is None else (_wanted(call.function, shelf.open(call.about)),)
        with np.errstate(all="ignore"):
            result = call.function(*given, *call.arguments)
        if call.as_json:
            result = shelf.written.keep(ask.digest, writer_of(call.function).dump_json(result))
        return Answer("result", result)
    except Lacking as lacking:
        return Answer("lacks", lacking.names)
    except Problem as problem:
        return Answer("problem", (problem.status, problem.code, problem.message, problem.fields))


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
