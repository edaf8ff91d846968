"""“The straw balance”: a drinking straw that sticks out sags under clips; their mass is known, that of a coin is not."""

from __future__ import annotations

from hobrel.core.document.lab_book import Convention, Finding, Fit, Graph, Ingredient, LabBook, Quantity, Run, Unknown
from hobrel.core.document.plan_part import DryTruth, GridRow, PlanPart, Step, WantedSettings
from hobrel.core.document.plans import begin_plan
from hobrel.core.readings.instruments import Instrument


def write_draft() -> LabBook:
    """The plan, as its teacher writes it."""
    plan = LabBook(
        title="The straw balance",
        question="What is the mass of a coin, on a balance that you have made and calibrated yourself?",
        relation="s = s_0 + k m",
        convention=Convention("standard_error", "larger", display_half=True),
        quantities=(
            Quantity("m", "changed", "mass of the clips", "m", "g", Instrument("school balance", "display", "0.01")),
            Quantity(
                "s",
                "measured",
                "height of the tip on the scale",
                "s",
                "mm",
                Instrument("ruler", "scale", "1", between_marks=True),
                repeats=3,
            ),
        ),
        runs=(Run("run1", "Clips"),),
        graphs=(Graph("measured", "", "m", "s"),),
        fits=(Fit("line", "measured", unknowns=(Unknown("coin", "the coin", ()),)),),
        findings=(
            Finding("coin", "mass of the coin", "M", "g", "m_1", uses=(Ingredient("m_1", "unknown", "line", part="coin"),)),
            Finding("sense", "what a gram does", "k", "mm/g", "gradient", "line"),
        ),
        plan=PlanPart(
            prompts={
                "ask": "How far will the tip sink for one clip more? Always as far?",
                "read": "Hang clips on one by one. Read the tip on the ruler, to a tenth of a millimetre, with your eye at its height.",
                "fit": "Put the coin on, read it three times, write these under the line, and let it say the coin’s mass.",
                "find": "Would the ± of the coin be larger in the middle of the line or at its end? Why?",
                "report": "What would make your balance finer?",
            },
            steps={
                "read": (Step("tape", "Tape the straw down, so that it cannot creep."), Step("eye", "Eye level with the tip, each time."))
            },
            kept_same=("how far the straw sticks out", "where the clips hang"),
            wanted={"m": WantedSettings(7, "0.00", "3.00")},
            grid=(
                GridRow("calibration", "The line is used within its range", ("no", "partly", "yes")),
                GridRow("repeats", "The coin is read several times, and the ± says so", ("no", "read, not said", "both")),
            ),
            notes=("A coin of two to three grams lies well within the line. Straws of paper creep; of polypropylene hardly."),
            dry=DryTruth(
                truths={"s_0": "68.0 mm", "k": "-11.5 mm/g"}, scatter={"s": "0.4"}, seconds={"m": "25"}, unknowns={"coin": "2.30"}
            ),
        ),
    )
    return begin_plan(plan)
