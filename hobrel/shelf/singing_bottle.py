"""“The singing bottle”: a bottle that one blows over sings lower the more air is in it.

The air in the neck swings on the air in the belly: f = c/(2π) √(A/(V l)), so f² against 1/V is straight and its gradient gives c. The neck
counts as longer than it is, by 0.6 of its radius at the open end and as much inside (common practice), which is in `l`.
"""

from __future__ import annotations

from hobrel.core.document.lab_book import Accepted, Convention, Finding, Fit, Graph, LabBook, Quantity, Run
from hobrel.core.document.plan_part import DryTruth, PlanPart, Section, Step, WantedSettings
from hobrel.core.document.plans import begin_plan
from hobrel.core.readings.instruments import Instrument


def write_draft() -> LabBook:
    """The plan, as its teacher writes it."""
    plan = LabBook(
        title="The singing bottle",
        question="How does the pitch of a bottle depend on the air in it, and how fast is sound?",
        relation="f = c_s/(2 pi) sqrt(A/(V l))",
        convention=Convention("half_range", "larger", display_half=True),
        quantities=(
            Quantity("V", "changed", "volume of air in the bottle", "V", "mL", Instrument("measuring cylinder", "scale", "5")),
            Quantity("f", "measured", "frequency of the tone", "f", "Hz", Instrument("tuner", "display", "1"), repeats=3),
            Quantity("A", "constant", "cross-section of the neck", "A", "cm^2", value="2.84", u="0.04"),
            Quantity("l", "constant", "effective length of the neck", "l", "cm", value="8.1", u="0.2"),
            Quantity("f2", "derived", "frequency squared", "f^2", "Hz^2", formula="f^2"),
            Quantity("iV", "derived", "inverse of the volume", "1/V", "1/L", formula="1/V"),
        ),
        runs=(Run("run1", "Water poured out step by step"),),
        graphs=(Graph("measured", "", "V", "f"), Graph("straight", "", "iV", "f2")),
        fits=(Fit("line", "straight"),),
        findings=(
            Finding(
                "c",
                "speed of sound",
                "c_s",
                "m/s",
                "2 pi sqrt(gradient l/A)",
                "line",
                Accepted("343.2", "0.6", "ISO 9613-1:1993, dry air at 20 °C; the ± is one kelvin"),
            ),
        ),
        bench_rounds=True,
        plan=PlanPart(
            prompts={
                "ask": "Does a fuller bottle sing higher or lower? By how much if the air is halved?",
                "read": "Pour the water out in steps, from 100 mL of air to 750 mL. Blow until the tuner stands still, three times each.",
                "look": "Is the curve an inverse one? How would you find out?",
                "straighten": "Which power of f goes with which power of V?",
                "fit": "Should this line meet the origin? Does it?",
                "find": "The neck’s length makes most of the ±. How would you measure it better?",
            },
            steps={
                "read": (
                    Step("dry", "Dry the outside, so that the cylinder’s marks can be read."),
                    Step("ears", "Agree on who blows: one person for all."),
                )
            },
            kept_same=("the bottle", "who blows, and how", "the warmth of the room"),
            relation_shown="after_expectation",
            accepted_shown="after_own",
            wanted={"V": WantedSettings(8, "100", "750")},
            sections=(
                Section("method", "Method", "How did you know the volume of air?", True, 40),
                Section("discussion", "Discussion", "Why does the neck count as longer than it is?", True, 60),
            ),
            notes="A litre bottle with a long neck sings most purely. The tuner of a telephone does; so does a microphone and a logger.",
            dry=DryTruth(scatter={"f": "1.5", "V": "2"}, seconds={"V": "60", "f": "10"}),
        ),
    )
    return begin_plan(plan)
