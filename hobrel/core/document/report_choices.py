"""What a bench has decided about its report, beside what it has written. See decision 42."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from hobrel.core.document.plan_part import Picture


@dataclass(frozen=True)
class OwnHeading:
    """A section that the bench has added to its report."""

    id: str
    title: str


@dataclass(frozen=True)
class ReportChoices:
    """The report's own part of a lab book.

    Attributes
    ----------
    order : tuple of str
        Keys of parts in the order in which they stand; a part that is not named stands after the one before it in the usual order.
    left_out : tuple of str
        Keys of parts that are not printed.
    sections : tuple of OwnHeading
    pictures : tuple of Picture
        Each a part of its own.
    typed : mapping of section to mapping of a number, as typed by hand, to the name of the live value that it was
    """

    order: tuple[str, ...] = ()
    left_out: tuple[str, ...] = ()
    sections: tuple[OwnHeading, ...] = ()
    pictures: tuple[Picture, ...] = ()
    typed: Mapping[str, Mapping[str, str]] = field(default_factory=dict)
