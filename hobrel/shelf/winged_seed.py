"""“A winged seed”: fall time, turns and where it lands, by the length of the wing and the load. With a rig."""

from __future__ import annotations

from hobrel.core.apparatus.winged_seed import GATES, RULER, TAPE, TURNS, WINGED_SEED
from hobrel.core.document.lab_book import Convention, Finding, Fit, Graph, LabBook, Quantity, Run
from hobrel.core.document.plan_part import DryTruth, PlanPart, RigPart, Step, WantedSettings
from hobrel.core.document.plans import begin_plan
from hobrel.core.readings.instruments import Instrument


def write_draft() -> LabBook:
    """The plan, as its teacher writes it."""
    plan = LabBook(
        title="A winged seed",
        question="What decides how long a winged seed falls, how often it turns, and where it lands: its wing or its load?",
        convention=Convention("standard_error", "quadrature", display_half=True),
        quantities=(
            Quantity("L", "changed", "length of the wing", "L", "mm", Instrument("ruler", "scale", "1", between_marks=True)),
            Quantity("t", "measured", "time between the gates", "t", "s", Instrument("gates", "display", "0.01"), repeats=4),
            Quantity("N", "measured", "turns", "N", "", Instrument("counted on the film", "counted", "1"), repeats=4),
            Quantity("r", "measured", "distance from the mark", "r", "cm", Instrument("tape", "display", "1"), repeats=4),
            Quantity("h", "constant", "height between the gates", "h", "m", value="2.000", u="0.003", source="tape"),
            Quantity("iL", "derived", "one over the length of the wing", "1/L", "1/m", formula="1/L"),
        ),
        runs=(Run("run1", "One clip"),),
        graphs=(Graph("falls", "", "L", "t"), Graph("turns", "", "iL", "N"), Graph("lands", "", "L", "r")),
        fits=(Fit("falls", "falls", through_origin=True), Fit("turns", "turns", through_origin=True)),
        findings=(
            Finding("speed", "speed of the fall times the wing", "D", "m^2/s", "h/gradient", "falls"),
            Finding("ratio", "speed of the tip by that of the fall", "q", "", "2*pi*gradient/h", "turns"),
        ),
        plan=PlanPart(
            prompts={
                "ask": "A wing twice as long: how much longer does it fall? And with twice the load? What of the turns?",
                "read": "Read each wing with a level eye. Drop each seed four times. Then a run with two clips, and one with three.",
                "average": "Which of the three scatters most from drop to drop, and why?",
                "look": "Which graph shows a clear trend, and which would you not trust?",
                "fit": "Does the line through the origin hold? What would a seed without a wing do?",
                "find": "Compare the runs: which finding changes with the load, and which does not?",
            },
            steps={"read": (Step("aside", "A drop that tumbled is set aside, with the reason."),)},
            kept_same=("the paper", "the height of the gates", "how it is let go"),
            wanted={"L": WantedSettings(5, "40", "100")},
            rig=RigPart(WINGED_SEED.key, writes={RULER: "L", GATES: "t", TURNS: "N", TAPE: "r"}),
            notes=(
                "Speed goes with the root of the load over the length of the wing; turns with one over the length alone. Where it lands is "
                "mostly chance: with four drops no trend can be claimed."
            ),
            dry=DryTruth(
                formulas={"t": "0.0248*L", "N": "1200/L", "r": "12"},
                scatter={"t": "0.04", "N": "0.7", "r": "5"},
                seconds={"L": "60", "t": "20"},
            ),
        ),
    )
    return begin_plan(plan)
