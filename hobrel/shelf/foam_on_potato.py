"""“Foam on potato”: an enzyme of the potato takes peroxide apart; the foam climbs faster the more there is, and then no faster."""

from __future__ import annotations

from hobrel.core.document.lab_book import Convention, Finding, Fit, Graph, LabBook, Quantity, Run
from hobrel.core.document.plan_part import DryTruth, PlanPart, Section, WantedSettings
from hobrel.core.document.plans import begin_plan
from hobrel.core.readings.instruments import Instrument


def write_draft() -> LabBook:
    """The plan, as its teacher writes it."""
    plan = LabBook(
        title="Foam on potato",
        question="How much peroxide can the enzyme of a potato take in hand at once?",
        relation="v = v_m c_p/(K + c_p)",
        convention=Convention("half_range", "larger", display_half=True, propagation="extremes"),
        quantities=(
            Quantity("c", "changed", "share of peroxide", "c_p", "%", Instrument("syringe", "scale", "0.1")),
            Quantity("h", "measured", "height of the foam after a minute", "h", "mm", Instrument("ruler", "scale", "1"), repeats=3),
            Quantity("t", "constant", "time", "t", "min", value="1.00", u="0.02"),
            Quantity("v", "derived", "pace of the foam", "v", "mm/min", formula="h/t"),
            Quantity("iv", "derived", "inverse of the pace", "1/v", "min/mm", formula="1/v"),
            Quantity("ic", "derived", "inverse of the share", "1/c_p", "1/%", formula="1/c_p"),
        ),
        runs=(Run("run1", "Fresh potato"),),
        graphs=(Graph("measured", "", "c", "v"), Graph("straight", "", "ic", "iv")),
        fits=(Fit("curve", "measured", shape="saturation"), Fit("line", "straight")),
        findings=(
            Finding("K", "share at half the pace, by the curve", "K", "%", "b", "curve", compare=("K_line",)),
            Finding("K_line", "the same by the line", "K_l", "%", "gradient/intercept", "line"),
        ),
        bench_judges=True,
        plan=PlanPart(
            prompts={
                "ask": "Twice the peroxide: twice the foam? Sketch how you think it goes on.",
                "read": "A new slice for each glass, the same size. Read the foam’s rim after one minute, three slices at each share.",
                "look": "Where does the curve bend? What has run short there?",
                "straighten": "Why may the inverse of the pace be straight against the inverse of the share?",
                "fit": "Fit the curve; then the line. Which lets the smallest foam count the most?",
                "find": "Two ways to one number: do they agree?",
            },
            safety="Peroxide of more than 3 % bleaches skin: gloves and goggles; the teacher thins it.",
            kept_same=("the potato", "the size of a slice", "the warmth of the room"),
            left_open=(),
            wanted={"c": WantedSettings(8, "0.5", "6.0")},
            sections=(Section("model", "What the model says", "What stands for the enzyme’s number, what for its appetite?", True, 50),),
            notes="Rinse the slices: juice on the outside works at once. Above 6 % the foam overflows a test tube.",
            dry=DryTruth(truths={"v_m": "62 mm/min", "K": "1.8 %"}, scatter={"h": "1.2"}, seconds={"c": "40", "h": "75"}),
        ),
    )
    return begin_plan(plan)
