"""Reading the fields of a job: numbers, lists with blanks, choices; a clear error where something does not fit."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Any

from hobrel.core.errors import CoreError
from hobrel.core.readings.parsing import parse_reading

Job = Mapping[str, Any]
Outputs = dict[str, Any]
LARGEST_LIST = 200_000
_PLACES = ("blocking", "indices", "rows")


def read_number(value: object, what: str) -> float:
    """A number, or the text of one.

    Raises
    ------
    CoreError
        ``bad_number``, ``too_large``.
    """
    if isinstance(value, bool) or not isinstance(value, int | float | str):
        raise CoreError("bad_number", "{what} must be a number.", what=what)
    try:
        number = float(parse_reading(value).value) if isinstance(value, str) else float(value)
    except OverflowError:
        raise CoreError("too_large", "{what} is too large to compute with.", what=what) from None
    if not math.isfinite(number):
        raise CoreError("bad_number", "{what} must be a finite number.", what=what)
    return number


def need(job: Job, field: str) -> Any:
    """A field that has to be there.

    Raises
    ------
    CoreError
        ``bad_job``.
    """
    if field not in job or job[field] is None:
        raise CoreError("bad_job", "The field {field} is missing.", field=field)
    return job[field]


def need_number(job: Job, field: str) -> float:
    """A number that has to be there."""
    return read_number(need(job, field), field)


def maybe_number(job: Job, field: str) -> float | None:
    """A number, or None where it is left out."""
    return None if job.get(field) is None else read_number(job[field], field)


def maybe_whole(job: Job, field: str) -> int | None:
    """A whole number, or None where it is left out.

    Raises
    ------
    CoreError
        ``bad_number``.
    """
    number = maybe_number(job, field)
    if number is not None and number != int(number):
        raise CoreError("bad_number", "{field} must be a whole number.", field=field)
    return None if number is None else int(number)


def need_text(job: Job, field: str) -> str:
    """A text that has to be there.

    Raises
    ------
    CoreError
        ``bad_job``.
    """
    text = need(job, field)
    if not isinstance(text, str):
        raise CoreError("bad_job", "{field} must be text.", field=field)
    return text


def read_flag(job: Job, field: str) -> bool:
    """True or false; false where it is left out.

    Raises
    ------
    CoreError
        ``bad_job``.
    """
    value = job.get(field, False)
    if not isinstance(value, bool):
        raise CoreError("bad_job", "{field} must be true or false.", field=field)
    return value


def read_choice(job: Job, field: str, allowed: tuple[str, ...], default: str) -> Any:
    """One of several words; `default` where it is left out.

    Raises
    ------
    CoreError
        ``bad_job``.
    """
    value = job.get(field, default)
    if value not in allowed:
        raise CoreError("bad_job", "{field} must be one of {allowed}.", field=field, allowed=", ".join(allowed))
    return value


def read_list(values: object, what: str) -> list[float | None]:
    """A list of numbers with None for “not measured”.

    Raises
    ------
    CoreError
        ``bad_job``, ``too_large``.
    """
    if not isinstance(values, list):
        raise CoreError("bad_job", "{what} must be a list of numbers.", what=what)
    if len(values) > LARGEST_LIST:
        raise CoreError("too_large", "{what} has more than {most} numbers.", what=what, most=LARGEST_LIST)
    return [None if v is None else read_number(v, f"{what}[{i}]") for i, v in enumerate(values)]


def read_names(job: Job, field: str) -> list[str]:
    """A list of texts that has to be there.

    Raises
    ------
    CoreError
        ``bad_job``.
    """
    names = need(job, field)
    if not isinstance(names, list) or not all(isinstance(n, str) for n in names):
        raise CoreError("bad_job", "{field} must be a list of texts.", field=field)
    return names


@dataclass(frozen=True)
class Columns:
    """Lists of one length after leaving out every row with a blank; `kept` are the places in the job's own lists."""

    lists: Mapping[str, list[float] | None]
    kept: tuple[int, ...]
    left_out: int

    def __getitem__(self, name: str) -> list[float]:
        values = self.lists[name]
        assert values is not None
        return values

    def maybe(self, name: str) -> list[float] | None:
        """A list, or None where it was left out."""
        return self.lists[name]

    @contextmanager
    def naming_places(self) -> Iterator[None]:
        """Errors that point to places point into the job's own lists.

        Raises
        ------
        CoreError
            What was raised inside, its places those of the job.
        """
        try:
            yield
        except CoreError as trouble:
            for field in _PLACES:
                places = trouble.fields.get(field)
                if isinstance(places, list):
                    trouble.fields[field] = [self.kept[i] for i in places]
            raise


def read_columns(job: Job, *optional: str) -> Columns:
    """x and y of a job with further lists, which may be one number for all or absent.

    Raises
    ------
    CoreError
        ``bad_job``.
    """
    lists: dict[str, list[float | None] | None] = {name: read_list(need(job, name), name) for name in ("x", "y")}
    length = len(lists["x"] or ())
    for name in optional:
        given = job.get(name)
        if given is not None and not isinstance(given, list):
            lists[name] = [read_number(given, name)] * length
        else:
            lists[name] = None if given is None else read_list(given, name)
    if any(column is not None and len(column) != length for column in lists.values()):
        raise CoreError("bad_job", "The lists must be of equal length.")
    kept = [i for i in range(length) if all(c is None or c[i] is not None for c in lists.values())]
    values = {n: None if c is None else [float(v) for i in kept if (v := c[i]) is not None] for n, c in lists.items()}
    return Columns(values, tuple(kept), length - len(kept))


def known_or_none(value: float) -> float | None:
    """A number, or None where it is not known (infinite inside)."""
    return value if math.isfinite(value) else None
