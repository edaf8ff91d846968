"""Lab books whose reports are judged: a line with bars both ways, a curve that is read off, a log before and after, a model."""

from __future__ import annotations

import math
import random
from dataclasses import replace

from hobrel.core.document.choices import ModelNumber, RateStage, StateQuantity, StepModel
from hobrel.core.document.lab_book import (
    AsideRows,
    Finding,
    Fit,
    Graph,
    Ingredient,
    LabBook,
    Log,
    Moment,
    Note,
    Quantity,
    Reading,
    Run,
    Setting,
)
from hobrel.core.document.report_choices import OwnHeading, ReportChoices
from hobrel.core.readings.instruments import Instrument
from hobrel.shelf.clamped_strip import Story, make_plan, write_bench

LINE_WORDS = {
    "expectation": "Longer means slower. We think the time grows faster than the overhang.",
    "method": "We timed *ten* swings at each of {settings} overhangs, and\n\n- let two pass first\n- counted aloud\n\n{= T = t_10/10}",
    "discussion": "As {see:graph-straight} shows, the points lie on a line; {E:compared} Most of the ± comes from the thickness <d>.",
    "conclusion": "# In short\nThe stiffness modulus is {E}; {E, relative} of it is unsure. See {see:finding-E}.",
}


def write_line() -> LabBook:
    """A loaded strip: repeats, one set aside, a straightened plot with bars in x and y, a finding."""
    story = Story(tuple(round(0.3 + 0.05 * i, 3) for i in range(8)), formula="t_10/10", texts=tuple(LINE_WORDS.items()))
    story = replace(story, set_aside=(6, 2, "11.62", "the strip touched the table leg"))
    return write_bench(make_plan(), story, random.Random(3))


def write_curve() -> LabBook:
    """A discharge: one reading a row, an exponential that is read off, a finding from the read-off."""
    dice = random.Random(5)
    quantities = (
        Quantity("t", "changed", "time", "t", "s", Instrument("stopwatch", "display", "1")),
        Quantity("U", "measured", "voltage", "U", "V", Instrument("meter", "scale", "0.05", between_marks=True)),
    )
    settings = tuple(
        Setting(f"s{i}", {"t": (Reading(str(10 * i)),), "U": (Reading(f"{6 * math.exp(-i / 4) + dice.gauss(0, 0.03):.2f}"),)})
        for i in range(10)
    )
    return LabBook(
        title="A store runs empty",
        question="After what time is half of the voltage gone?",
        quantities=quantities,
        runs=(Run("run1", "Run 1", settings),),
        graphs=(Graph("g", "", "t", "U", notes=(Note("n", "switched over", "point", "s3"),)),),
        fits=(Fit("f", "g", shape="exponential", show_equation=True),),
        findings=(Finding("half", "time to half", "t_half", "s", "t_h", uses=(Ingredient("t_h", "read_back", "f", at="3.00"),)),),
        texts={"conclusion": "Half of it is gone after {t_half}."},
        report=ReportChoices(order=("finding:half",), sections=(OwnHeading("errors", "What could be wrong"),), left_out=("history",)),
    )


def write_log() -> LabBook:
    """A logger's two runs, before and after a lid was shut: a moment, rows set aside, a line over a stretch of each."""
    dice = random.Random(9)

    def run(key: str, name: str, rate: float, aside: tuple[AsideRows, ...]) -> Run:
        seconds = [0.5 * i for i in range(240)]
        texts = tuple(f"{62 - (rate * max(0.0, s - 30)) + dice.gauss(0, 0.05):.2f}" for s in seconds)
        return Run(key, name, (), Log(240, {"t": tuple(f"{s:.1f}" for s in seconds), "T": texts}, {"t": "s", "T": "°C"}, aside))

    spoilt = (AsideRows(200, 239, "the probe slipped out"),)
    probe = Instrument("thermometer", "display", "0.1")
    slower = (Ingredient("a", "fit", "fo", "gradient"), Ingredient("b", "fit", "fs", "gradient"))
    return LabBook(
        title="A lid on a cup",
        question="How much slower does a cup cool with its lid on?",
        quantities=(Quantity("t", "changed", "time", "t", "s"), Quantity("T", "measured", "temperature", "T", "°C", probe)),
        runs=(run("open", "Without the lid", 0.08, ()), run("shut", "With the lid", 0.03, spoilt)),
        graphs=(Graph("g", "Both cups", "t", "T", runs=("shut",)),),
        fits=(Fit("fo", "g", low=35.0, high=95.0), Fit("fs", "g", run="shut", low=35.0, high=95.0)),
        moments=(Moment("m", "poured", "t", 30.0),),
        findings=(Finding("ratio", "how much slower", "n", "", "a/b", uses=slower),),
        texts={"conclusion": "It cools {n} times slower."},
    )


def write_model() -> LabBook:
    """A ball let fall through syrup: a step-by-step model with a stage, fitted to the points beside a line through the last of them."""
    dice, drag = random.Random(7), 9.0
    quantities = (
        Quantity("t", "changed", "time", "t", "s", Instrument("frames", "display", "0.001")),
        Quantity("x", "measured", "depth", "x", "m", Instrument("ruler", "scale", "0.01", between_marks=True)),
        Quantity("g", "constant", "free fall", "g", "m/s^2", value="9.81", u="0.01"),
    )
    times = [0.05 * i for i in range(16)]
    depth = [9.81 / drag * (t - (1 - math.exp(-drag * t)) / drag) + dice.gauss(0, 0.003) for t in times]
    settings = tuple(
        Setting(f"s{i}", {"t": (Reading(f"{t:.3f}"),), "x": (Reading(f"{x:.3f}"),)})
        for i, (t, x) in enumerate(zip(times, depth, strict=True))
    )
    states = (
        StateQuantity("sx", "x", "m", "0", "v"),
        StateQuantity("sv", "v", "m/s", "0", "0", (RateStage("on", "t >= 0", "g - k v"),)),
    )
    model = StepModel(states, (ModelNumber("nk", "k", "1/s", "5", True), ModelNumber("nb", "b", "m", "0.5")), step="0.08", way="half")
    return LabBook(
        title="A ball in syrup",
        question="How soon does it fall as fast as it ever will?",
        quantities=quantities,
        runs=(Run("run1", "Run 1", settings),),
        graphs=(Graph("g1", "", "t", "x"),),
        fits=(Fit("m", "g1", shape="steps", steps=model, show_equation=True), Fit("l", "g1", low=0.4)),
        findings=(Finding("end", "final speed", "v_end", "m/s", "g/k", fit="m"),),
        texts={"conclusion": "It ends with {v_end}."},
    )


JUDGED = {"line": write_line, "curve": write_curve, "log": write_log, "model": write_model}
