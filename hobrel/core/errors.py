"""Errors that the core raises on purpose: a stable code, a sentence for a student, and fields that say where."""

from __future__ import annotations

from collections.abc import Mapping


class CoreError(Exception):
    """Something in the input cannot be computed, and the message says what to do about it.

    Parameters
    ----------
    code : str
        Stable name of the kind of trouble (``bad_number``, ``too_few_points`` …).
    message : str
        One or two sentences that a student can read.
    fields : mapping, optional
        Where the trouble is: positions, indices, names.
    """

    def __init__(self, code: str, message: str, fields: Mapping[str, object] | None = None) -> None:
        super().__init__(message)
        self.code = code
        self.message = message
        self.fields: dict[str, object] = dict(fields or {})
