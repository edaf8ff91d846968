"""“A bead in syrup”: how long beads take between two marks, timed by hand, and how thick the syrup is. With a rig."""

from __future__ import annotations

from hobrel.core.apparatus.timing_by_hand import GAUGE, STOPWATCH, TIMING_BY_HAND
from hobrel.core.document.lab_book import Convention, Finding, Fit, Graph, LabBook, Quantity, Run
from hobrel.core.document.plan_part import DryTruth, PlanPart, RigPart, Step, WantedSettings
from hobrel.core.document.plans import begin_plan
from hobrel.core.readings.instruments import Instrument


def write_draft() -> LabBook:
    """The plan, as its teacher writes it."""
    plan = LabBook(
        title="A bead in syrup",
        question="How viscous is the syrup, by beads that sink in it?",
        relation="t = 18*η*h/(r*g*d^2)",
        convention=Convention("standard_error", "larger", display_half=True),
        quantities=(
            Quantity("d", "changed", "diameter of the bead", "d", "mm", Instrument("gauge", "rectangular", "0.01")),
            Quantity("t", "measured", "time between the marks", "t", "s", Instrument("stopwatch", "display", "0.01"), repeats=5),
            Quantity("h", "constant", "between the marks", "h", "mm", value="200.0", u="0.2", source="ruler"),
            Quantity("r", "constant", "steel denser than syrup by", "r", "kg/m^3", value="6420", u="10", source="weighed"),
            Quantity("g", "constant", "gravity", "g", "m/s^2", value="9.81", u="0", source="table"),
            Quantity("id2", "derived", "inverse square of the diameter", "1/d^2", "1/mm^2", formula="1/d^2"),
        ),
        runs=(Run("run1", "Beads"),),
        graphs=(Graph("measured", "", "d", "t"), Graph("straight", "", "id2", "t")),
        fits=(Fit("power", "measured", shape="power", expected="-2"), Fit("line", "straight")),
        findings=(Finding("eta", "viscosity of the syrup", "η", "Pa s", "gradient*r*g/(18*h)", "line"),),
        plan=PlanPart(
            prompts={
                "ask": "A bead twice as thick: how much sooner is it at the lower mark?",
                "read": "Press as the bead passes each mark, eye level with it. Five times each. One that touches the glass is left out.",
                "average": "How much of the spread is your own hand?",
                "straighten": "What has to stand along x for a straight line?",
                "fit": "What would a line mean that does not go through the origin?",
            },
            steps={"read": (Step("glass", "No bead that touched the glass is counted."),)},
            kept_same=("the syrup and its warmth", "the marks", "who presses"),
            wanted={"d": WantedSettings(5, "2", "4")},
            rig=RigPart(TIMING_BY_HAND.key, writes={GAUGE: "d", STOPWATCH: "t"}),
            notes=(
                "The reaction is about the same at both marks and falls out; what is left of it, some hundredths of a second, is in the "
                "repeats. The same rig has a pendulum, a strip, a vessel and a cup to be timed."
            ),
            dry=DryTruth(truths={"η": "1.5 Pa s"}, seconds={"d": "10", "t": "15"}),
        ),
    )
    return begin_plan(plan)
