"""“Bubbles in the light”: a waterweed gives off bubbles; they are counted at several distances of the lamp."""

from __future__ import annotations

from hobrel.core.document.lab_book import Accepted, Convention, Finding, Fit, Graph, LabBook, Quantity, Reading, Run, Setting
from hobrel.core.document.plan_part import DryTruth, PlanPart, WantedSettings
from hobrel.core.document.plans import begin_plan
from hobrel.core.readings.instruments import Instrument

LAST_YEAR = ((10, 118, 124), (15, 57, 50), (20, 28, 33), (25, 21, 17), (30, 13, 15), (35, 9, 11), (40, 8, 6))
"""Distances in cm, and two counts at each, of a shoot that had less of everything."""


def _last_year() -> Run:
    rows = [
        Setting(f"l{i}", {"d": (Reading(f"{d}.0"),), "N": tuple(Reading(str(n)) for n in counts)})
        for i, (d, *counts) in enumerate(LAST_YEAR, 1)
    ]
    return Run("last", "Last year’s shoot", tuple(rows))


def write_draft() -> LabBook:
    """The plan, as its teacher writes it."""
    plan = LabBook(
        title="Bubbles in the light",
        question="Does a waterweed breathe out in proportion to the light that falls on it?",
        relation="N = B/d^2",
        convention=Convention("standard_error", "larger", display_half=True),
        quantities=(
            Quantity("d", "changed", "distance of the lamp", "d", "cm", Instrument("ruler", "scale", "0.5")),
            Quantity("N", "measured", "bubbles in three minutes", "N", "", Instrument("counted", "counted_at_random", "1"), repeats=2),
            Quantity("id2", "derived", "inverse square of the distance", "1/d^2", "1/m^2", formula="1/d^2"),
        ),
        runs=(Run("run1", "One shoot"), _last_year()),
        graphs=(Graph("measured", "", "d", "N"), Graph("straight", "", "id2", "N")),
        fits=(Fit("power", "measured", shape="power", expected="-2"), Fit("line", "straight")),
        findings=(
            Finding(
                "p",
                "exponent",
                "p",
                "",
                "n",
                "power",
                Accepted("-2", "0", "light thins out with the square of the distance, if all of it is used"),
            ),
        ),
        plan=PlanPart(
            prompts={
                "ask": "The lamp twice as far away: half as many bubbles? Say why.",
                "read": "Wait three minutes at each distance before you count. Count for three minutes, twice.",
                "average": "Bubbles come at random. What is the ± of a count?",
                "look": "Why are the bars at small counts shorter, and yet worth more of their point?",
                "straighten": "Which power of d makes the plot straight? For last year’s shoot too?",
                "fit": "Is the exponent minus two? And if it is not: what else than light could run short close to the lamp?",
            },
            safety="The lamp is hot and stands beside water: nobody moves it with wet hands.",
            kept_same=("the shoot", "the water with its soda", "the lamp"),
            relation_shown="after_expectation",
            given_runs=("last",),
            wanted={"d": WantedSettings(7, "10", "40")},
            notes=(
                "A glass of water between lamp and weed keeps the heat away. Close to the lamp the weed has enough "
                "of light: a bend there is a find."
            ),
            dry=DryTruth(truths={"B": "16000 cm^2"}, seconds={"d": "180", "N": "180"}),
        ),
    )
    return begin_plan(plan)
