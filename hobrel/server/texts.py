"""Texts that cannot be kept: signs that are no characters, which databases, documents and pages refuse or change."""

from __future__ import annotations

import re
from collections.abc import Mapping

from hobrel.server.problems import Problem

_NO_CHARACTER = re.compile("[\x00\ufffe\uffff\ud800-\udfff]")


def is_plain(text: str) -> bool:
    """Whether a text holds characters only."""
    return _NO_CHARACTER.search(text) is None


def refuse_no_text(value: object) -> None:
    """Look through what was parsed from JSON, names and texts alike.

    Raises
    ------
    Problem
        422 ``bad_text`` where one of them holds what is no character.
    """
    if isinstance(value, str):
        if not is_plain(value):
            raise Problem(422, "bad_text", "This text holds signs that are no characters, and cannot be kept. Write it by hand.")
    elif isinstance(value, Mapping):
        for key, inner in value.items():
            refuse_no_text(key)
            refuse_no_text(inner)
    elif isinstance(value, list | tuple):
        for inner in value:
            refuse_no_text(inner)
