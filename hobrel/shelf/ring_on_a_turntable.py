"""“A ring on a turntable”: what turns before a ring lands on it, and what turns after. With a rig that logs."""

from __future__ import annotations

from dataclasses import replace

from hobrel.core.apparatus.recording import CLOCK
from hobrel.core.apparatus.ring_on_turntable import ENCODER, RING_ON_TURNTABLE
from hobrel.core.document.choices import Ingredient, Moment
from hobrel.core.document.lab_book import Convention, Finding, Fit, Graph, LabBook, Quantity, Run
from hobrel.core.document.plan_part import DryTruth, PlanPart, RigPart, Step, WantedSettings
from hobrel.core.document.plans import begin_plan
from hobrel.core.readings.instruments import Instrument

BEFORE, AFTER = Ingredient("w_b", "tangent", "before", at="0"), Ingredient("w_a", "tangent", "after", at="0.06")


def write_draft() -> LabBook:
    """The plan, as its teacher writes it."""
    plan = LabBook(
        title="A ring on a turntable",
        question="A ring lands on a table that turns. What stays the same, and what does not?",
        convention=Convention("standard_error", "larger", display_half=True),
        quantities=(
            Quantity("t", "changed", "time from the landing", "t", "s", Instrument("logger’s clock", "rectangular", "0.0001")),
            Quantity("a", "measured", "angle", "θ", "rad", Instrument("encoder", "steady", "0.001", scatter="0.0012")),
            Quantity("M", "constant", "mass of the table", "M", "kg", value="1.500", u="0.002", source="marked on it"),
            Quantity("R", "constant", "radius of the table", "R", "mm", value="150.0", u="0.3", source="marked on it"),
            Quantity("m", "constant", "mass of the ring", "m", "g", source="the hook balance"),
            Quantity("o", "constant", "diameter of the ring, outside", "D_o", "mm", source="the ruler"),
            Quantity("i", "constant", "diameter of the ring, inside", "D_i", "mm", source="the ruler"),
        ),
        runs=(Run("run1", "First drop"),),
        graphs=(Graph("motion", "", "t", "a"),),
        fits=(Fit("before", "motion", shape="quadratic"), Fit("after", "motion", shape="quadratic")),
        findings=(
            Finding("drop", "moment of inertia of the ring, by the drop", "I_d", "g m^2", "M*R^2/2*(w_b/w_a - 1)", uses=(BEFORE, AFTER)),
            Finding("made", "moment of inertia of the ring, by how it is made", "I_m", "g m^2", "m*(D_o^2 + D_i^2)/8", compare=("drop",)),
            Finding("kept", "share of the energy that stays", "k", "", "w_a/w_b", uses=(BEFORE, AFTER)),
        ),
        moments=(Moment("landing", "the ring lands", "t", 0.0),),
        plan=PlanPart(
            prompts={
                "ask": "Which of these is the same before and after: the speed, ½ I ω², I ω? Why?",
                "read": "Start the logger, spin the table, drop the ring, stop. Keep it. Weigh the ring, read its edges on the ruler.",
                "look": "Where is the curve straight, and where does it bend? What bends it?",
                "fit": "One curve for a second and a half before the landing, one for as long after it. Why not for longer?",
                "find": "½ I ω² has become less. Where is the rest?",
            },
            steps={
                "read": (
                    Step("made", "Mass and both diameters of the ring stand among the quantities, each with its ±."),
                    Step("again", "The ring was dropped twice, each time at another speed."),
                )
            },
            kept_same=("the table", "the ring"),
            own_values=("m", "o", "i"),
            wanted={"t": WantedSettings(21, "-1", "1")},
            rig=RigPart(RING_ON_TURNTABLE.key, writes={CLOCK: "t", ENCODER: "a"}),
            notes=(
                "The curve before the landing is fitted up to 0 s, that after it from 0.06 s on: so long the ring slips. What the logger "
                "writes is 0.001 rad off from row to row. A ring that lands beside the axle has more inertia about it, which the drop sees "
                "and the ruler does not."
            ),
            # 5.6981 rad/s before the landing, 3.6 rad/s after it: as the ring's and the table's inertia have it
            dry=DryTruth(truths={"m": "1120 g", "D_o": "205 mm", "D_i": "168 mm"}, formulas={"a": "4.64905*t - 1.04905*abs(t)"}),
        ),
    )
    draft = begin_plan(plan)
    # in the plan's own dry run each curve has its side of the landing, as a bench will choose it
    stretches: dict[str, tuple[float | None, float | None]] = {"before": (None, 0.0), "after": (0.06, None)}
    return replace(draft, fits=tuple(replace(f, low=stretches[f.id][0], high=stretches[f.id][1]) for f in draft.fits))
