"""Measuring on pictures and films: against the `uncertainties` package, closed forms, and films of known motions."""

from __future__ import annotations

import itertools
import math
import os
import random
from dataclasses import astuple, replace
from unittest import TestCase

import numpy as np
from scipy.integrate import solve_ivp
from uncertainties import ufloat
from uncertainties.umath import atan2, sqrt

from hobrel.core.apparatus.chance import Chance
from hobrel.core.apparatus.let_go import draw_film, fall_in_air
from hobrel.core.document.lab_book import Convention, Finding, Fit, Graph, LabBook, Quantity, Reading, Run, Setting
from hobrel.core.errors import CoreError
from hobrel.core.pipeline.computation import compute
from hobrel.core.pointing.figures import measure_drawn
from hobrel.core.pointing.marks import (
    FARTHEST,
    LONGEST_TEXT,
    Axes,
    Drawn,
    DrawnKind,
    KnownLength,
    Mark,
    Marks,
    Place,
    Thing,
    check_marks,
)
from hobrel.core.pointing.tracks import Pointing, find_pointing, find_scale, follow, step_of_times
from hobrel.core.questions.pointing import MarksView, measure_marks
from hobrel.core.readings.parsing import parse_written

U = 0.4
POINTING = Pointing(U, 0, 0)
KNOWN = KnownLength((Place(100, 50), Place(100, 550)), "1.000", "0.002", "m")
BALL = Thing("b", "ball")


def drawn(kind: DrawnKind, *places: tuple[float, float]) -> Drawn:
    return Drawn("d", kind, tuple(Place(*p) for p in places))


def marked(*places: tuple[int, float, float], turn: int = 0, thing: str = "b") -> tuple[Mark, ...]:
    return tuple(Mark(thing, frame, turn, Place(x, y)) for frame, x, y in places)


class Figures(TestCase):
    """Lengths, angles and areas, each coordinate uncertain by itself."""

    def check(self, kind: DrawnKind, places: list[tuple[float, float]], by_hand: object) -> None:
        found = measure_drawn(drawn(kind, *places))
        self.assertAlmostEqual(found.value, by_hand.n, places=9)  # type: ignore[attr-defined]
        self.assertAlmostEqual(found.steepness * U, by_hand.s, places=9)  # type: ignore[attr-defined]

    def test_lengths(self) -> None:
        places = [(10.0, 20.0), (310.5, 420.25), (500.0, 400.0)]
        p = [(ufloat(x, U), ufloat(y, U)) for x, y in places]
        steps = [sqrt((b[0] - a[0]) ** 2 + (b[1] - a[1]) ** 2) for a, b in itertools.pairwise(p)]
        self.check("length", places, sum(steps))
        self.check("length", places[:2], steps[0])
        self.assertAlmostEqual(measure_drawn(drawn("length", (0, 0), (3, 4))).steepness, math.sqrt(2), places=12)

    def test_angles(self) -> None:
        for places in (
            [(100.0, 0.0), (0.0, 0.0), (0.0, 80.0)],
            [(310.0, 40.0), (100.0, 100.0), (20.0, 410.0)],
            [(0, 0), (50, 1), (100, 0)],
        ):
            (ax, ay), (cx, cy), (bx, by) = [(ufloat(x, U), ufloat(y, U)) for x, y in places]
            turned = atan2(by - cy, bx - cx) - atan2(ay - cy, ax - cx)
            if abs(turned.n) > math.pi:
                turned = turned - math.copysign(2 * math.pi, turned.n)
            self.check("angle", list(places), turned if turned.n > 0 else -turned)

    def test_areas(self) -> None:
        for places in (
            [(0.0, 0.0), (100.0, 0.0), (100.0, 50.0), (0.0, 50.0)],
            [(10.0, 10.0), (200.0, 40.0), (150.0, 180.0), (80.0, 90.0), (20.0, 160.0)],
        ):
            p = [(ufloat(x, U), ufloat(y, U)) for x, y in places]
            doubled = sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(p, [*p[1:], p[0]], strict=True))
            self.check("area", places, doubled / 2 if doubled.n > 0 else -doubled / 2)
            self.check("area", places[::-1], doubled / 2 if doubled.n > 0 else -doubled / 2)

    def test_angles_with_arms_of_unlike_length_and_length_without_a_way(self) -> None:
        """The far end of a long arm turns it less; a stretch that is nothing brings no ±."""
        found = measure_drawn(drawn("angle", (1000, 0), (0, 0), (0, 10)))
        self.assertAlmostEqual(found.steepness, math.sqrt(1 / 1000**2 + (1 / 1000) ** 2 + 1 / 10**2 + 1 / 10**2), places=12)
        self.assertAlmostEqual(measure_drawn(drawn("length", (0, 0), (0, 0), (3, 4))).steepness, math.sqrt(2), places=12)

    def test_outlines(self) -> None:
        """Sides that cross are refused, whichever two of a pentagon they are; sides that meet, or only point at one another, not."""
        star = [(100 + 80 * math.cos(a), 100 + 80 * math.sin(a)) for a in (2 * math.pi * k / 5 for k in range(5))]
        self.assertGreater(measure_drawn(drawn("area", *star)).value, 0)
        for i, j in ((0, 1), (1, 2), (2, 3), (3, 4), (0, 4)):
            swapped = [*star]
            swapped[i], swapped[j] = swapped[j], swapped[i]
            with self.subTest(i=i, j=j), self.assertRaises(CoreError):
                measure_drawn(drawn("area", *swapped))
        arrow = [(100, 100), (300, 200), (100, 300), (150, 200)]
        self.assertAlmostEqual(measure_drawn(drawn("area", *arrow)).value, 15_000, places=6)
        self.assertAlmostEqual(measure_drawn(drawn("area", *[(x + 700, y + 40) for x, y in arrow])).value, 15_000, places=6)

    def test_what_has_no_size_is_said(self) -> None:
        for kind, places in (
            ("length", [(1, 1)]), ("length", [(1, 1), (1, 1)]), ("angle", [(0, 0), (1, 1)]), ("angle", [(1, 1), (1, 1), (5, 5)]),
            ("area", [(0, 0), (1, 1)]), ("area", [(0, 0), (10, 10), (10, 0), (0, 10)]), ("area", [(2, 2)] * 4),
        ):  # fmt: skip
            with self.subTest(kind=kind, places=places), self.assertRaises(CoreError):
                measure_drawn(drawn(kind, *places))  # type: ignore[arg-type]


class Scales(TestCase):
    def test_its_share_is_of_the_length_and_of_both_ends(self) -> None:
        found = find_scale(KNOWN, POINTING)
        per = ufloat(1.0, 0.002) / (ufloat(550, U) - ufloat(50, U))
        self.assertAlmostEqual(found.per_pixel, per.n, places=12)
        self.assertAlmostEqual(found.u_share, per.s / per.n, places=12)

    def test_what_is_no_length_is_refused(self) -> None:
        same = (Place(5, 5), Place(5.2, 5))
        for known in (
            replace(KNOWN, length="0"), replace(KNOWN, length="-1"), replace(KNOWN, length="long"), replace(KNOWN, length=""),
            replace(KNOWN, u="-0.1"), replace(KNOWN, u="1"), replace(KNOWN, unit="s"), replace(KNOWN, unit=""),
            replace(KNOWN, unit="yonks"), replace(KNOWN, ends=same), replace(KNOWN, ends=(Place(0, 0), Place(1.1, 0))),
        ):  # fmt: skip
            with self.subTest(known=known), self.assertRaises(CoreError):
                find_scale(known, POINTING)

    def test_limits(self) -> None:
        """Just within and just beyond."""
        exact = find_scale(replace(KNOWN, u=""), Pointing(1e-9, 0, 0))
        self.assertAlmostEqual(exact.u_share, 0, places=9)
        self.assertAlmostEqual(find_scale(replace(KNOWN, u="0"), Pointing(1e-9, 0, 0)).u_share, 0, places=9)
        with self.assertRaises(CoreError):
            find_scale(replace(KNOWN, u="1.000"), POINTING)
        one = (Place(0, 0), Place(1, 0))
        self.assertAlmostEqual(find_scale(replace(KNOWN, ends=one), Pointing(0.1, 0, 0)).per_pixel, 1.0)
        with self.assertRaises(CoreError):
            find_scale(replace(KNOWN, ends=(Place(0, 0), Place(0.999, 0))), Pointing(0.1, 0, 0))
        # half of itself is the roughest scale: ± 0.5 of the length, with hardly any ± of pointing
        self.assertAlmostEqual(find_scale(replace(KNOWN, u="0.49"), POINTING).u_share, 0.49, places=2)
        with self.assertRaises(CoreError):
            find_scale(replace(KNOWN, u="0.51"), POINTING)
        self.assertEqual(find_pointing((), "1000").u, 1000)
        three = tuple(m for f in range(3) for m in marked((f, 10, 10)) + marked((f, 11, 10), turn=1))
        self.assertEqual(find_pointing(three, "9").dof, 6)
        self.assertAlmostEqual(find_pointing(three, "9").u, math.sqrt(3 * 0.5 / 6), places=12)


class PointingTwice(TestCase):
    PAIRS = ((0, 10.0, 20.0, 10.6, 19.8), (1, 30.0, 45.0, 29.7, 45.5), (2, 55.0, 80.0, 55.1, 79.2), (3, 81.0, 126.0, 81.5, 126.4))

    def test_spread_of_pairs(self) -> None:
        """Σd²/2n over both coordinates, by hand."""
        first = marked(*((f, x, y) for f, x, y, _, _ in self.PAIRS))
        second = marked(*((f, x, y) for f, _, _, x, y in self.PAIRS), turn=1)
        squares = sum((a - c) ** 2 + (b - d) ** 2 for _, a, b, c, d in self.PAIRS)
        found = find_pointing(first + second, "1")
        self.assertAlmostEqual(found.u, math.sqrt(squares / (2 * 8)), places=12)
        self.assertEqual((found.dof, found.frames), (8, 4))
        track = follow(BALL, first + second, Axes(Place(0, 0)), found)
        np.testing.assert_allclose(track.u, found.u / math.sqrt(2))
        self.assertAlmostEqual(track.x[0], 10.3)

    def test_of_three_turns_against_numpy(self) -> None:
        rng = np.random.default_rng(1)
        places = rng.normal(100, 2, (5, 3, 2))
        marks = tuple(Mark("b", f, t, Place(*places[f, t])) for f in range(5) for t in range(3))
        expected = math.sqrt(np.mean([places[f, :, c].var(ddof=1) for f in range(5) for c in range(2)]))
        self.assertAlmostEqual(find_pointing(marks, "1").u, expected, places=12)

    def test_too_few_to_tell(self) -> None:
        first = marked(*((f, x, y) for f, x, y, _, _ in self.PAIRS))
        second = marked(*((f, x, y) for f, _, _, x, y in self.PAIRS[:2]), turn=1)
        self.assertEqual(find_pointing(first + second, "0.8"), Pointing(0.8, 0, 2))
        self.assertEqual(find_pointing(first + tuple(replace(m, turn=1) for m in first), "0.8"), Pointing(0.8, 0, 4))

    def test_what_is_judged_is_a_number(self) -> None:
        for within in ("0", "-1", "few", "1000.5"):
            with self.subTest(within), self.assertRaises(CoreError):
                find_pointing((), within)


class Positions(TestCase):
    MARKS = marked((0, 100.0, 300.0), (1, 150.0, 260.0), (4, 300.0, 200.0))

    def test_along_the_picture(self) -> None:
        track = follow(BALL, self.MARKS, Axes(Place(100, 400)), POINTING)
        np.testing.assert_allclose(track.x, [0, 50, 200])
        np.testing.assert_allclose(track.y, [100, 140, 200])
        down = follow(BALL, self.MARKS, Axes(Place(100, 400), y_down=True), POINTING)
        np.testing.assert_allclose(down.y, [-100, -140, -200])
        self.assertEqual(track.frames, (0, 1, 4))

    def test_turned_axes(self) -> None:
        """By complex numbers: (p − o)* e^{iφ} with y upwards."""
        axes = Axes(Place(80, 410), Place(80 + 30, 410 - 40))
        track = follow(BALL, self.MARKS, axes, POINTING)
        direction = complex(30, 40) / 50
        for (x, y), mark in zip(zip(track.x, track.y, strict=True), self.MARKS, strict=True):
            seen = complex(mark.place.x - 80, 410 - mark.place.y) / direction
            self.assertAlmostEqual(complex(x, y), seen, places=9)

    def test_angles_past_full_turns(self) -> None:
        pivot, turns = Place(200, 200), np.linspace(0.3, 0.3 + 5.5 * math.pi, 30)
        marks = marked(*((i, 200 + 100 * math.cos(a), 200 - 100 * math.sin(a)) for i, a in enumerate(turns)))
        track = follow(replace(BALL, pivot=pivot), marks, Axes(Place(0, 0)), POINTING)
        assert track.angle is not None and track.u_angle is not None
        np.testing.assert_allclose(track.angle, turns, atol=1e-9)
        np.testing.assert_allclose(track.u_angle, U * math.sqrt(2) / 100)
        self.assertEqual(track.leaps, ())
        down = follow(replace(BALL, pivot=pivot), marks, Axes(Place(0, 0), y_down=True), POINTING)
        assert down.angle is not None
        np.testing.assert_allclose(down.angle - down.angle[0], -(turns - turns[0]), atol=1e-9)

    def test_leaps_that_may_have_gone_the_other_way(self) -> None:
        turns = [0.0, 0.5, 0.5 + 0.8 * math.pi, 3.5]
        marks = marked(*((3 * i, 100 * math.cos(a), -100 * math.sin(a)) for i, a in enumerate(turns)))
        self.assertEqual(follow(replace(BALL, pivot=Place(0, 0)), marks, Axes(Place(0, 0)), POINTING).leaps, (6,))

    def test_no_direction(self) -> None:
        with self.assertRaises(CoreError):
            follow(BALL, self.MARKS, Axes(Place(5, 5), Place(5.5, 5)), POINTING)
        with self.assertRaises(CoreError):
            follow(replace(BALL, pivot=Place(100, 300)), self.MARKS, Axes(Place(5, 5)), POINTING)
        # a pixel away is a direction, and an arm of a pixel and a half an arm
        np.testing.assert_allclose(follow(BALL, self.MARKS, Axes(Place(100, 300), Place(101, 300)), POINTING).x, [0, 50, 200])
        near = follow(replace(BALL, pivot=Place(98.5, 300)), self.MARKS, Axes(Place(5, 5)), POINTING)
        assert near.angle is not None
        self.assertAlmostEqual(near.angle[0], 0)


class Times(TestCase):
    def test_kept_to_a_thousandth_or_finer(self) -> None:
        self.assertEqual(step_of_times([0.0, 0.033, 0.067, 0.1]), 0.001)
        self.assertEqual(step_of_times([0.0, 1 / 30, 2 / 30]), 0.0001)
        self.assertEqual(step_of_times([0.0, 0.04, 86_000.08]), 0.001)


class Written(TestCase):
    """As a table of readings."""

    MARKS = Marks(
        frames=(0, 1, 2, 3), times=(0.5, 0.533, 0.567, 0.6), start=1, known=KNOWN, axes=Axes(Place(100, 550)), things=(BALL,),
        marks=marked((1, 200.0, 500.0), (3, 250.0, 400.0)), within="0.5",
    )  # fmt: skip

    def test_rows(self) -> None:
        view = measure_marks(self.MARKS)
        (track,) = view.tracks
        self.assertEqual([(r.frame, r.t, r.x, r.y) for r in track.rows], [
            (1, "0.000", "0.2000 ± 0.0010", "0.1000 ± 0.0010"), (3, "0.067", "0.3000 ± 0.0010", "0.3000 ± 0.0010"),
        ])  # fmt: skip
        assert view.length is not None and view.time is not None
        # 0.2 % of the length, and √2 · 0.5 pixels of 500
        self.assertEqual((view.length.common, view.length.scatter), ("0.24", "0.001"))
        self.assertEqual((view.time.kind, view.time.division), ("rectangular", "0.001"))
        self.assertEqual(view.unit, "m")

    def test_in_other_units(self) -> None:
        view = measure_marks(replace(self.MARKS, length_unit="cm", time_unit="ms", marks=self.MARKS.marks))
        self.assertEqual((view.tracks[0].rows[1].t, view.tracks[0].rows[1].x), ("67", "30.00 ± 0.10"))

    def test_counted_from_frame_to_frame(self) -> None:
        view = measure_marks(replace(self.MARKS, every="0.25", frames=(), times=()))
        self.assertEqual([r.t for r in view.tracks[0].rows], ["0.00", "0.50"])
        self.assertIsNone(view.time)
        self.assertEqual([r.t for r in measure_marks(replace(self.MARKS, frames=(), times=())).tracks[0].rows], ["", ""])

    def test_without_a_scale_there_are_no_lengths(self) -> None:
        view = measure_marks(
            replace(self.MARKS, known=None, drawn=(drawn("length", (0, 0), (3, 4)), drawn("angle", (9, 0), (0, 0), (0, 9))))
        )
        self.assertIsNone(view.per_pixel)
        self.assertEqual(view.tracks[0].rows[0].x, "")
        self.assertIsNotNone(view.drawn[0].trouble)
        self.assertEqual((view.drawn[1].text[:7], view.drawn[1].text[-2:]), ("(90.0 ±", ")°"))

    def test_on_a_still(self) -> None:
        """With all of their ±: pointing, and the scale once for a length and twice for an area."""
        view = measure_marks(
            replace(self.MARKS, drawn=(drawn("length", (0, 0), (250, 0)), drawn("area", (0, 0), (250, 0), (250, 500), (0, 500))))
        )
        scale = 1 / ufloat(500, 0.5 * math.sqrt(2)) * ufloat(1, 0.002)
        length = ufloat(250, 0.5 * math.sqrt(2)) * scale
        self.assertAlmostEqual(float(parse_written(view.drawn[0].reading).u or 0), length.s, delta=0.03 * length.s)
        self.assertEqual((view.drawn[0].unit, view.drawn[1].unit), ("m", "m²"))
        area = measure_drawn(drawn("area", (0, 0), (250, 0), (250, 500), (0, 500)))
        u = (ufloat(area.value, area.steepness * 0.5) * scale**2).s
        written = parse_written(view.drawn[1].reading)
        self.assertAlmostEqual(float(written.value), 0.5, places=2)
        self.assertAlmostEqual(float(written.u or 0), u, delta=0.05 * u)

    def test_only_what_fits_is_offered(self) -> None:
        shapes = (drawn("length", (0, 0), (250, 0)), drawn("angle", (9, 0), (0, 0), (0, 9)), drawn("area", (0, 0), (9, 0), (9, 9)))
        view = measure_marks(replace(self.MARKS, drawn=shapes, columns=("cm", "s", "", "rad", "mm^2", "yonks", "kg")))
        self.assertEqual([d.fits for d in view.drawn], [("cm",), ("rad",), ("mm^2",)])
        self.assertEqual((view.into_length, view.into_time, view.into_angle), (("cm",), ("s",), ("rad",)))

    def test_too_much_and_nowhere(self) -> None:
        for marks in (
            replace(self.MARKS, marks=self.MARKS.marks * 2), replace(self.MARKS, marks=marked((0, math.nan, 1.0))),
            replace(self.MARKS, marks=marked((0, 1e9, 1.0))), replace(self.MARKS, times=(0.0, 1.0)),
            replace(self.MARKS, times=(math.inf,) * 4), replace(self.MARKS, things=(BALL,) * 13),
            replace(self.MARKS, marks=marked(*((i, 1.0, 1.0) for i in range(5000)))),
            replace(self.MARKS, drawn=(drawn("area", *((1.0, 2.0),) * 70),)),
        ):  # fmt: skip
            with self.assertRaises(CoreError):
                check_marks(marks)

    def test_what_is_on_no_picture_is_refused_wherever_it_is(self) -> None:
        edge, beyond = Place(FARTHEST, 0), Place(0, FARTHEST + 1)

        def placed(at: Place) -> list[Marks]:
            far = replace(self.MARKS, axes=Axes(at)), replace(self.MARKS, axes=Axes(Place(0, 0), at))
            thing = replace(self.MARKS, things=(replace(BALL, pivot=at),))
            known = replace(self.MARKS, known=replace(KNOWN, ends=(Place(1, 1), at)))
            return [*far, thing, known, replace(self.MARKS, drawn=(Drawn("d", "length", (Place(1, 1), at)),))]

        for within, outside in zip(placed(edge), placed(beyond), strict=True):
            check_marks(within)
            with self.assertRaises(CoreError):
                check_marks(outside)
        check_marks(replace(self.MARKS, source="x" * LONGEST_TEXT, axes=None, known=None))
        with self.assertRaises(CoreError):
            check_marks(replace(self.MARKS, source="x" * (LONGEST_TEXT + 1)))

    def test_every_hostile_word_is_an_answer_or_a_named_error(self) -> None:
        words = ["", "0", "-1", "1e9", "nan", "∞", "1,5", "1 m", "½", "x" * 60, "1 ± 2", "0.0000001"]
        dice = random.Random(5)
        for _ in range(400):
            known = KnownLength(
                (Place(dice.choice([0, 5]), 0), Place(dice.choice([0, 5, 500]), 0)),
                dice.choice(words),
                dice.choice(words),
                dice.choice(["m", "cm", "", "s", "°C", "m/s"]),
            )
            marks = replace(
                self.MARKS, known=known, within=dice.choice(words), every=dice.choice(words), start=dice.choice([0, 1, 900]),
                length_unit=dice.choice(["", "m", "s", "km"]), time_unit=dice.choice(["s", "min", "m", ""]),
                angle_unit=dice.choice(["deg", "rad", "m", ""]),
            )  # fmt: skip
            try:
                measure_marks(marks)
            except CoreError:
                continue


class FilmOfAKnownMotion(TestCase):
    """The film that Hobrel draws: g by the bead, pointed at by somebody who is off by a third of a pixel each time."""

    OFF = 0.33
    QUANTITIES = (Quantity("t", "changed", "time", "t", "s"), Quantity("y", "measured", "fallen", "y", "m"))

    def measured(self, seed: str) -> tuple[MarksView, float]:
        film, dice = draw_film(Chance(seed)), Chance(f"{seed} hand")
        bead = film.bodies[0]

        def point(x: float, y: float, *name: str | int) -> Place:
            return Place(round(x + self.OFF * dice.normal("x", *name), 1), round(y + self.OFF * dice.normal("y", *name), 1))

        falls = [i for i in range(len(film.times)) if bead.y[0] + 8 < bead.y[i] < max(bead.y) - 1]
        x0, y0, x1, y1 = astuple(film.rule)
        marks = Marks(
            source="film", frames=tuple(range(len(film.times))), times=film.times, start=falls[0], things=(BALL,),
            known=KnownLength((point(x0, y0, "upper"), point(x1, y1, "lower")), film.rule_length, film.rule_u, "m"),
            # x along the rule, downwards
            axes=Axes(Place(bead.x[0], bead.y[0]), Place(bead.x[0] + x1 - x0, bead.y[0] + y1 - y0)),
            marks=tuple(Mark("b", i, turn, point(bead.x[i], bead.y[i], i, turn)) for i in falls for turn in (0, 1)),
        )  # fmt: skip
        return measure_marks(marks), float(film.truth[0].text.split()[0])

    def find_gravity(self, seed: str) -> tuple[float, float, float]:
        view, gravity = self.measured(seed)
        rows = view.tracks[0].rows
        settings = tuple(Setting(f"s{r.frame}", {"t": (Reading(r.t),), "y": (Reading(r.x),)}) for r in rows)
        t, y = self.QUANTITIES
        book = LabBook(
            "Film", quantities=(replace(t, instrument=view.time), replace(y, instrument=view.length)), runs=(Run("r", "Run", settings),),
            graphs=(Graph("g", "", "t", "y"),), fits=(Fit("f", "g", shape="quadratic"),),
            findings=(Finding("G", "gravity", "g", "m/s^2", "2 a", "f"),), convention=Convention("standard_error", "quadrature"),
        )  # fmt: skip
        found = compute(book).finding("G")
        return found.value, found.u, gravity

    def test_the_finding_is_as_good_as_it_says(self) -> None:
        tried = 200 if os.environ.get("HOBREL_LONG") else 40
        off = np.array([(value - gravity) / u for value, u, gravity in (self.find_gravity(f"film {i}") for i in range(tried))])
        within = [float(np.mean(np.abs(off) <= k)) for k in (1, 2)]
        # 68 and 95 %, to three standard deviations of so many tries
        self.assertAlmostEqual(within[0], 0.683, delta=3 * math.sqrt(0.683 * 0.317 / tried))
        self.assertGreater(within[1], 0.954 - 3 * math.sqrt(0.954 * 0.046 / tried))

    def test_falls_as_the_law_says(self) -> None:
        """Against SciPy's solver: dv/dt = g − g v²/w²."""
        for limit in (1.4, 75.0):
            solved = solve_ivp(lambda _, s, w=limit: [s[1], 9.8 * (1 - (s[1] / w) ** 2)], (0, 1.2), [0, 0], rtol=1e-11, atol=1e-12)
            self.assertAlmostEqual(fall_in_air(1.2, 9.8, limit), solved.y[0, -1], places=9)
        self.assertEqual(fall_in_air(-1, 9.8, 1.0), 0.0)
        self.assertAlmostEqual(fall_in_air(1e6, 9.8, 1.4), 1.4e6, delta=2)

    def test_nothing_leaves_the_picture(self) -> None:
        for seed in range(60):
            film = draw_film(Chance(str(seed)))
            for body in film.bodies:
                self.assertTrue(all(body.radius < x < film.width - body.radius for x in body.x))
                self.assertTrue(all(body.radius < y < film.height - body.radius for y in body.y))
            self.assertTrue(all(0 < c < film.height for c in (*astuple(film.rule), *astuple(film.floor))))
            self.assertTrue(all(b > a for a, b in itertools.pairwise(film.times)))
