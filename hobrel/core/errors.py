"""Errors that the core raises on purpose: a stable code, a sentence for a student, and fields beside it."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Self

NOT_WORKED_OUT = "not_worked_out"
"""The code of what stands in the place of something that nobody has worked out yet."""


class CoreError(Exception):
    """Something in the input cannot be computed, and the message says what to do about it.

    Parameters
    ----------
    code : str
        Stable name of the kind of trouble (``bad_number``, ``too_few_points`` …).
    template : str
        One or two sentences that a student can read, with the names of fields in braces.
    **fields
        What is put in; and where the trouble is: positions, indices, names.
    """

    code: str
    message: str
    fields: dict[str, object]

    def __init__(self, code: str, template: str, /, **fields: object) -> None:
        self._tell(code, template.format(**fields), fields)

    @classmethod
    def told(cls, code: str, message: str, fields: Mapping[str, object]) -> Self:
        """An error as it was told elsewhere: its message is put together already."""
        trouble = cls.__new__(cls)
        trouble._tell(code, message, dict(fields))
        return trouble

    def kept(self) -> Self:
        """Itself, without the way it came: an error that is kept in the place of a result would keep all that was being worked out."""
        self.__traceback__ = self.__context__ = self.__cause__ = None
        return self

    def _tell(self, code: str, message: str, fields: dict[str, object]) -> None:
        super().__init__(message)
        self.code, self.message, self.fields = code, message, fields
