"""“Waves in a tray”: a hump of water runs to and fro in a flat tray; the deeper the water, the faster it is."""

from __future__ import annotations

from hobrel.core.document.lab_book import Accepted, Convention, Finding, Fit, Graph, LabBook, Quantity, Run
from hobrel.core.document.plan_part import DryTruth, PlanPart, WantedSettings
from hobrel.core.document.plans import begin_plan
from hobrel.core.readings.instruments import Instrument


def write_draft() -> LabBook:
    """The plan, as its teacher writes it."""
    plan = LabBook(
        title="Waves in a tray",
        question="How does the speed of a wave depend on the depth of the water, and what pulls it along?",
        relation="v = sqrt(g h)",
        convention=Convention("half_range", "larger", display_half=False, rounding="one_or_two"),
        quantities=(
            Quantity("h", "changed", "depth of the water", "h", "mm", Instrument("ruler", "scale", "1", between_marks=True)),
            Quantity(
                "t4", "measured", "time for four lengths of the tray", "t_4", "s", Instrument("stopwatch", "display", "0.01"), repeats=4
            ),
            Quantity("b", "constant", "length of the tray", "b", "m", value="0.600", u="0.002"),
            Quantity("v", "derived", "speed of the wave", "v", "m/s", formula="4 b/t_4", given=False),
            Quantity("v2", "derived", "speed squared", "v^2", "m^2/s^2", formula="v^2"),
        ),
        runs=(Run("run1", "Tap water"),),
        graphs=(Graph("measured", "", "h", "v"), Graph("straight", "", "h", "v2")),
        fits=(Fit("line", "straight"),),
        findings=(
            Finding(
                "g",
                "acceleration of free fall",
                "g",
                "m/s^2",
                "gradient",
                "line",
                Accepted("9.81", "0.01", "CODATA 2018: standard gravity is 9.80665 m/s²; places differ by less than 0.03"),
            ),
        ),
        plan=PlanPart(
            prompts={
                "ask": "Is a wave quicker in deep water or in shallow? How much, if it is twice as deep?",
                "read": "Lift one end by a centimetre and set it down. Time four lengths, four times at each depth.",
                "average": "You timed four lengths. Write the speed.",
                "look": "Line or curve?",
                "straighten": "Which power of v is straight against h?",
                "fit": "Through the origin? What would an intercept mean?",
                "find": "Your line knows how strongly the earth pulls. How well?",
            },
            kept_same=("the tray", "how far it is lifted"),
            ask_first=True,
            relation_shown="after_expectation",
            accepted_shown="after_own",
            left_open=("v",),
            wanted={"h": WantedSettings(8, "6", "30")},
            notes="Below 5 mm friction at the bottom slows the wave; above a tenth of the tray’s length it is no shallow wave any more.",
            dry=DryTruth(scatter={"t4": "0.08"}, seconds={"h": "45"}),
        ),
    )
    return begin_plan(plan)
