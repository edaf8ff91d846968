"""The card of unknowns: what was read of each, and what it comes to by the line of the standards."""

from __future__ import annotations

from hobrel.core.containment import contain
from hobrel.core.document.lab_book import Unknown
from hobrel.core.errors import CoreError
from hobrel.core.pipeline.ground import Ground
from hobrel.core.pipeline.ingredients import read_unknown
from hobrel.core.pipeline.lines import FittedLine
from hobrel.core.pipeline.points import axis_units
from hobrel.core.presentation.results import UnknownResult
from hobrel.core.presentation.showing import show_value
from hobrel.core.rounding import with_unit
from hobrel.core.sentences import said_by, say
from hobrel.core.uncertainty.traced import combine_quadrature
from hobrel.core.units.calculus import write_unit

MUCH_MORE = 1.5
"""Times the ± that is said that what judges must be, before it is told (common practice)."""


def present_unknown(ground: Ground, fit_id: str, unknown: Unknown) -> UnknownResult:
    """Write one unknown for people; what is wrong with it stands in its place."""
    found = contain(f"unknown {unknown.name}", _present, ground, fit_id, unknown)
    return (
        UnknownResult(unknown=unknown.id, name=unknown.name, mean="", value=None, words=(said_by(found),), extrapolated=False)
        if isinstance(found, CoreError)
        else found
    )


def _present(ground: Ground, fit_id: str, unknown: Unknown) -> UnknownResult:
    fitted, points, _ = ground.fitted(fit_id)
    found = read_unknown(ground, fit_id, unknown, f"unknown:{fit_id}:{unknown.id}")
    x_unit, y_unit = axis_units(points)
    rule = ground.book.convention.rounding
    u = float(combine_quadrature(found.traced))
    value = show_value(float(found.traced.value), u or None, x_unit, rule)
    scatter = isinstance(fitted, FittedLine) and fitted.line.method == "ols"
    readings = f"{found.n} reading{'' if found.n == 1 else 's'}"
    words = [
        say("unknown_by_scatter", "{readings}, uncertain as the points scatter about the line", readings=readings)
        if scatter
        else say("unknown_by_readings", "{readings}, with their own ±", readings=readings)
    ]
    judged = float(combine_quadrature(found.judged))
    if judged > MUCH_MORE * u > 0:
        rather = with_unit(show_value(float(found.traced.value), judged, x_unit, rule).u_text, write_unit(x_unit))
        words.append(
            say("unknown_scatters", "by how readings scatter here it would rather be ± {rather}: read it a few times more", rather=rather)
        )
    if found.extrapolated:
        words.append(say("outside_standards", "it lies outside the standards, where nobody has looked"))
    mean = show_value(found.mean, found.u_mean or None, y_unit, rule).text
    return UnknownResult(unknown=unknown.id, name=unknown.name, mean=mean, value=value, words=tuple(words), extrapolated=found.extrapolated)
