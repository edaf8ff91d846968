"""What follows from marks on a picture or a film, written as readings are written. See decision 50."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from decimal import Decimal
from fractions import Fraction

import numpy as np

from hobrel.core.apparatus.chance import Chance
from hobrel.core.apparatus.let_go import DrawnFilm, draw_film
from hobrel.core.errors import CoreError
from hobrel.core.pointing.figures import measure_drawn
from hobrel.core.pointing.marks import Axes, Drawn, Marks, Place, Thing, check_marks
from hobrel.core.pointing.tracks import Pointing, Scale, Track, find_pointing, find_scale, follow, step_of_times
from hobrel.core.readings.instruments import Instrument
from hobrel.core.readings.parsing import parse_reading
from hobrel.core.rounding import round_result, with_unit, write_number, write_to_decimals
from hobrel.core.sentences import Sentence, Sentences, said_by, say
from hobrel.core.uncertainty.traced import Floats
from hobrel.core.units.calculus import Unit, convert_difference, parse_unit, raise_unit, same_dimension, write_unit


@dataclass(frozen=True)
class TrackRow:
    """One position as its readings are written: with its own ± by pointing; empty where it is not known."""

    frame: int
    t: str
    x: str
    y: str
    angle: str


@dataclass(frozen=True)
class TrackView:
    """Where a thing is, frame by frame; or what is in the way of that."""

    thing: str
    rows: tuple[TrackRow, ...]
    notes: Sentences


@dataclass(frozen=True)
class DrawnView:
    """A length, an angle or an area with all of its ±, the scale's too: as it is said, and as it is written down in `unit`; and into which
    of the columns that there are (by their units).
    """

    id: str
    text: str
    reading: str
    unit: str
    fits: tuple[str, ...] = ()
    trouble: Sentence | None = None


@dataclass(frozen=True)
class MarksView:
    """All that follows from what was pointed at.

    Attributes
    ----------
    scale : Sentence or None
        How large a pixel is, or what is in the way of that; None where no length is known yet.
    per_pixel : float or None
        The length of a pixel in `unit`, for what is drawn over the film; None as long as lengths cannot be written.
    pointing : Sentence
    tracks : tuple of TrackView
    drawn : tuple of DrawnView
    unit : str
        Of lengths.
    length, time, angle : Instrument or None
        What positions, times and angles are read from; None where there are none.
    into_length, into_time, into_angle : tuple of str
        Units of the columns that they could be written into.
    """

    scale: Sentence | None
    per_pixel: float | None
    pointing: Sentence
    tracks: tuple[TrackView, ...]
    drawn: tuple[DrawnView, ...]
    unit: str
    length: Instrument | None
    time: Instrument | None
    angle: Instrument | None
    into_length: tuple[str, ...]
    into_time: tuple[str, ...]
    into_angle: tuple[str, ...]


@dataclass(frozen=True)
class _Clock:
    """Times of the marked frames in the unit that is wanted, as texts, and what they are read from."""

    texts: dict[int, str]
    instrument: Instrument | None


def draw_own_film(seed: str, tells: bool) -> DrawnFilm:
    """The film of a bench; `tells`: whether who asks may know what is true on it."""
    film = draw_film(Chance(seed).named("let go"))
    return film if tells else replace(film, truth=())


def measure_marks(marks: Marks) -> MarksView:
    """Work out positions, angles, lengths and areas from what somebody has pointed at.

    Parameters
    ----------
    marks : Marks

    Raises
    ------
    CoreError
        As `check_marks`; ``bad_number`` and ``bad_unit`` for a time from frame to frame, a number of pixels or a unit that is none.
    """
    check_marks(marks)
    pointing = find_pointing(marks.marks, marks.within)
    scale, said = _find_scale(marks, pointing)
    unit = marks.length_unit or (marks.known.unit if marks.known else "")
    clock = _read_clock(marks)
    axes = marks.axes or Axes(Place(0.0, 0.0))
    turn = convert_difference(1.0, parse_unit("rad"), parse_unit(marks.angle_unit))
    tracks, views = [], []
    for thing in marks.things:
        try:
            track = follow(thing, marks.marks, axes, pointing)
        except CoreError as trouble:
            views.append(TrackView(thing.id, (), (said_by(trouble),)))
            continue
        tracks.append(track)
        views.append(_view_track(thing, track, _write_rows(track, scale, clock, turn), marks.axes is not None))
    u = [scale.per_pixel * float(np.median(t.u)) for t in tracks if len(t.u)] if scale else []
    turned = [turn * float(np.median(t.u_angle)) for t in tracks if t.u_angle is not None and len(t.u_angle)]
    return MarksView(
        scale=said,
        per_pixel=scale.per_pixel if scale else None,
        pointing=_say_pointing(pointing),
        tracks=tuple(views),
        drawn=tuple(_view_drawn(drawn, scale, pointing, unit, marks) for drawn in marks.drawn),
        unit=unit,
        length=_instrument(marks.source, u, scale.u_share if scale else 0.0),
        time=clock.instrument,
        angle=_instrument(f"{marks.source}, angle"[:60], turned, 0.0),
        into_length=_fitting(marks, parse_unit("m")),
        into_time=_fitting(marks, parse_unit("s")),
        into_angle=_fitting(marks, parse_unit("rad")),
    )


def _find_scale(marks: Marks, pointing: Pointing) -> tuple[Scale | None, Sentence | None]:
    if marks.known is None:
        return None, None
    try:
        scale = find_scale(marks.known, pointing)
        factor = convert_difference(1.0, parse_unit(marks.known.unit), parse_unit(marks.length_unit or marks.known.unit))
    except CoreError as trouble:
        return None, said_by(trouble)
    scale = replace(scale, per_pixel=scale.per_pixel * factor)
    unit = write_unit(parse_unit(marks.length_unit or marks.known.unit))
    size = with_unit(write_number(scale.per_pixel, 4), unit)
    return scale, say("pixel_is", "A pixel is {size}, known to {percent} %.", size=size, percent=write_number(100 * scale.u_share, 2))


def _say_pointing(pointing: Pointing) -> Sentence:
    within = write_number(pointing.u, 2)
    if pointing.dof:
        return say(
            "points_seen",
            "You point to within {within} pixels, by {frames} frames pointed at twice.",
            within=within,
            frames=pointing.frames,
        )
    if pointing.frames:
        return say("points_few", "Taken as ± {within} pixels: three frames pointed at twice would tell how well you point.", within=within)
    return say("points_judged", "Taken as ± {within} pixels. Point a second time at a few frames, and it is known.", within=within)


def _read_clock(marks: Marks) -> _Clock:
    """The times that rows are written with: those of the film, or counted from frame to frame; none for pictures without.

    Raises
    ------
    CoreError
        As `measure_marks`.
    """
    wanted = sorted({mark.frame for mark in marks.marks})
    unit = parse_unit(marks.time_unit)
    factor = convert_difference(1.0, parse_unit("s"), unit)
    if marks.every.strip():
        every = parse_reading(marks.every, "s")
        if not every.value > 0:
            raise CoreError("bad_number", "The time from one frame to the next is a number above zero.")
        decimals = _decimals(float(Decimal(1).scaleb(-every.decimals)) * factor)
        return _Clock({f: write_to_decimals((f - marks.start) * float(every.value) * factor, decimals) for f in wanted}, None)
    known = dict(zip(marks.frames, marks.times, strict=True))
    if marks.start not in known or any(frame not in known for frame in wanted):
        return _Clock({}, None)
    step = step_of_times(marks.times) * factor
    texts = {f: write_to_decimals((known[f] - known[marks.start]) * factor, _decimals(step)) for f in wanted}
    return _Clock(texts, Instrument(f"{marks.source}, clock"[:60], "rectangular", write_to_decimals(step, _decimals(step))))


def _decimals(step: float) -> int:
    return max(0, -math.floor(math.log10(step) + 1e-9))


def _write_rows(track: Track, scale: Scale | None, clock: _Clock, turn: float) -> tuple[TrackRow, ...]:
    blank = [""] * len(track.frames)
    x, y = (blank if scale is None else _write_all(values, track.u, scale.per_pixel) for values in (track.x, track.y))
    angle = blank if track.angle is None or track.u_angle is None else _write_all(track.angle, track.u_angle, turn)
    texts = (clock.texts.get(frame, "") for frame in track.frames)
    return tuple(TrackRow(*row) for row in zip(track.frames, texts, x, y, angle, strict=True))


def _write_all(values: Floats, us: Floats, factor: float) -> list[str]:
    return [_write(value * factor, u * factor) for value, u in zip(values.tolist(), us.tolist(), strict=True)]


def _view_track(thing: Thing, track: Track, rows: tuple[TrackRow, ...], has_axes: bool) -> TrackView:
    notes = []
    if track.leaps:
        frames = ", ".join(str(frame + 1) for frame in track.leaps[:5])
        notes.append(
            say(
                "may_have_turned_back",
                "{name} turns by nearly half a turn up to frame {frames}, so it may have gone the other way. Point at it in more frames.",
                name=thing.name, frames=frames,
            )
        )  # fmt: skip
    if not has_axes and rows:
        notes.append(say("counts_from_corner", "Positions count from the upper left corner until the axes are set."))
    return TrackView(thing.id, rows, tuple(notes))


def _write(value: float, u: float) -> str:
    """A reading with its own ±, to two figures of it."""
    rounded = round_result(value, u, "two", power="none")
    return f"{rounded.value_text} ± {rounded.u_text}"


def _view_drawn(drawn: Drawn, scale: Scale | None, pointing: Pointing, unit: str, marks: Marks) -> DrawnView:
    try:
        figure = measure_drawn(drawn)
        if figure.power and scale is None:
            raise CoreError("bad_job", "Set the scale first: a length that you know, from end to end.")
    except CoreError as trouble:
        return DrawnView(drawn.id, "", "", "", trouble=said_by(trouble))
    if scale is None or not figure.power:
        factor = convert_difference(1.0, parse_unit("rad"), parse_unit(marks.angle_unit))
        value, u, of = figure.value * factor, figure.steepness * pointing.u * factor, parse_unit(marks.angle_unit)
    else:
        factor = scale.per_pixel**figure.power
        of = parse_unit(unit) if figure.power == 1 else raise_unit(parse_unit(unit), Fraction(2))
        value = figure.value * factor
        u = math.hypot(figure.steepness * pointing.u * factor, figure.power * scale.u_share * value)
    rounded = round_result(value, u, "two", write_unit(of))
    return DrawnView(drawn.id, rounded.text, _write(value, u), write_unit(of), _fitting(marks, of))


def _fitting(marks: Marks, unit: Unit) -> tuple[str, ...]:
    """Units of those columns that something of such a unit goes into."""
    return tuple(column for column in marks.columns if _fits(column, unit))


def _fits(column: str, unit: Unit) -> bool:
    try:
        return same_dimension(parse_unit(column), unit) and bool(column) == bool(write_unit(unit))
    except CoreError:
        return False  # a column with a heading that is no unit takes nothing


def _instrument(name: str, u: Sequence[float], share: float) -> Instrument | None:
    """What positions are read from: as steady as one points, its scale known so well."""
    if not u:
        return None
    scatter = max(u)
    plain = format(Decimal(f"{scatter:.2g}"), "f")
    division = format(Decimal(1).scaleb(Decimal(f"{scatter:.2g}").adjusted() - 1), "f")
    common = format(Decimal(f"{100 * share:.2g}"), "f")
    return Instrument(name, "steady", division, scatter=plain, common=common)
