"""“Three cups of tea”: how long a cup keeps warm: bare, with a lid, wrapped in wool. A practical of three conditions."""

from __future__ import annotations

from hobrel.core.document.lab_book import Convention, Finding, Fit, Graph, LabBook, Quantity, Run
from hobrel.core.document.plan_part import Condition, DryTruth, PlanPart, Section, WantedSettings
from hobrel.core.document.plans import begin_plan
from hobrel.core.readings.instruments import Instrument


def write_draft() -> LabBook:
    """The plan, as its teacher writes it."""
    plan = LabBook(
        title="Three cups of tea",
        question="What keeps tea warm for longer: a lid or a coat of wool?",
        relation="D = D_0 exp(-t/tau)",
        convention=Convention("sd", "quadrature", display_half=True, bars="own"),
        quantities=(
            Quantity("t", "changed", "time", "t", "min", Instrument("clock", "display", "0.1")),
            Quantity(
                "T", "measured", "temperature of the tea", "theta", "°C", Instrument("thermometer", "scale", "0.5", between_marks=True)
            ),
            Quantity("T0", "constant", "temperature of the room", "theta_r", "°C", value="21.0", u="0.3"),
            Quantity("D", "derived", "lead over the room", "D", "K", formula="theta - theta_r"),
            Quantity("lnD", "derived", "logarithm of the lead", "ln(D)", "", formula="ln(D)"),
            Quantity("c", "derived", "how fast it cools", "c", "K/min", formula="-Delta(theta)/Delta(t)"),
            Quantity("Dm", "derived", "lead meanwhile", "D_m", "K", formula="mid(D)"),
        ),
        runs=(Run("run1", "Bare"),),
        graphs=(Graph("measured", "", "t", "T"), Graph("straight", "", "t", "lnD"), Graph("rate", "", "Dm", "c")),
        fits=(Fit("line", "straight"),),
        findings=(Finding("half", "time in which the lead halves", "t_h", "min", "-ln(2)/gradient", "line"),),
        bench_judges=True,
        plan=PlanPart(
            prompts={
                "ask": "Which of the two saves more: the lid or the wool? Sketch the three curves on one pair of axes.",
                "read": "Pour at 85 °C, wait until the thermometer stands. Read every four minutes for forty.",
                "average": "Why is the room’s temperature taken off before the logarithm?",
                "straighten": "Mark the squares that you think straight before you look.",
                "look": "The third graph sets how fast it cools against its lead. Which law would make it a line through the origin?",
                "fit": "Is the first point above the line? What goes on in a cup in its first minutes?",
                "pool": "Is the difference between lid and wool more than the benches scatter?",
            },
            safety="Hot water: carry the jug empty, fill at the table.",
            kept_same=("the cup", "how much tea", "where it stands"),
            own_values=("T0",),
            wanted={"t": WantedSettings(10, "0", "40")},
            conditions=(
                Condition("bare", "Bare", "an open cup", 3),
                Condition("lid", "With a lid", "a saucer on top", 3),
                Condition("wool", "In wool", "a sock round it, no lid", 3),
            ),
            sections=(Section("why", "Where does the heat go?", "Which way out does a lid shut, and which the wool?", True, 50),),
            notes=(
                "Evaporation counts for more than half above 60 °C: the lid wins by far. The bare cup bends at first "
                "on the board; let them argue."
            ),
            dry=DryTruth(truths={"D_0": "62 K", "tau": "47 min", "theta_r": "21.0 °C"}, scatter={"T": "0.2"}, seconds={"t": "240"}),
        ),
    )
    return begin_plan(plan)
