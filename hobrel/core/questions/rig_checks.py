"""What is not right yet about the rig of a plan."""

from __future__ import annotations

from collections.abc import Iterator

from hobrel.core.apparatus.rigs import find_rig
from hobrel.core.containment import contain
from hobrel.core.document.lab_book import LabBook
from hobrel.core.errors import CoreError
from hobrel.core.questions.plan_notes import PlanNote
from hobrel.core.sentences import said_by, say
from hobrel.core.units.calculus import parse_unit


def check_rig(book: LabBook) -> Iterator[PlanNote]:
    """That something is read from the rig, and in the unit that it shows."""
    part = book.plan.rig
    if not part.key:
        return
    rig = contain("rig", find_rig, part.key)
    if isinstance(rig, CoreError):
        yield PlanNote("read", said_by(rig))
        return
    read = {q.id: q for q in book.quantities if q.kind in ("changed", "measured")}
    if not read.keys() & set(part.writes.values()):
        yield PlanNote("read", say("nothing_read_from_rig", "Say what is read from which instrument of “{title}”.", title=rig.title))
    for face in rig.faces:
        quantity = read.get(part.writes.get(face.id, ""))
        if quantity is None:
            continue
        unit = contain("unit", parse_unit, quantity.unit)
        if not isinstance(unit, CoreError) and unit != parse_unit(face.unit):
            words = say(
                "rig_unit",
                "The {instrument} shows {unit}, and {name} is written {other}.",
                instrument=face.name,
                unit=face.unit,
                name=quantity.name,
                other=f"in {quantity.unit}" if quantity.unit else "without a unit",
            )
            yield PlanNote("read", words)
