"""The practical “Sound through felt”: its plan, and believable readings for it.

A small loudspeaker sounds through layers of felt into a microphone. Each layer lets the same share through, N = N₀ e^(−µ n), so ln N
against the number of layers is straight. Small amplitudes have large bars after the logarithm, and count less.
"""

from __future__ import annotations

import math
import random
from dataclasses import replace

from hobrel.core.document.lab_book import Convention, Finding, Fit, Graph, LabBook, Quantity, Reading, Run, Setting
from hobrel.core.document.plan_part import DryTruth, PlanPart, StageName, WantedSettings
from hobrel.core.document.plans import begin_plan, open_for_bench
from hobrel.core.readings.instruments import Instrument

FIRST, PER_LAYER, LAYERS = 412.0, 0.342, 9
FLUTTER, NOISE = 0.012, 1.6
"""Scatter of a reading: a share of the amplitude, and the noise of the room in mV."""

PROMPTS: dict[StageName, str] = {
    "ask": "Does each further layer take away the same amount of sound, or the same share?",
    "read": "Read the amplitude three times for 0 to 9 layers. Press the layers together equally.",
    "average": "Look at the ± of ln N: why do the last settings have the largest?",
    "look": "Look at the plain graph first. Could it be an inverse law?",
    "straighten": "Compare ln N against n with 1/N against n.",
    "fit": "Read an unknown stack back from the line. What stands on the axis is ln N: type ln(92) for an amplitude of 92 mV.",
    "find": "How many layers halve the sound?",
}


def write_draft() -> LabBook:
    """The plan, as its teacher writes it."""
    plan = LabBook(
        title="Sound through felt",
        question="How does the sound behind a stack of felt depend on the number of layers?",
        plan=PlanPart(
            prompts=PROMPTS,
            notes=(
                "A tone of 800 Hz, the loudspeaker in a box, the room quiet. Press the layers equally. The last "
                "settings drown in the noise: let them see it."
            ),
            wanted={"n": WantedSettings(LAYERS + 1, "0", f"{LAYERS}")},
            dry=DryTruth(truths={"N_0": f"{FIRST} mV", "mu": f"{PER_LAYER}"}, scatter={"N": f"{NOISE}"}),
        ),
        relation="N = N_0 exp(-mu n)",
        convention=Convention("standard_error", "quadrature", display_half=True, rounding="one_or_two"),
        quantities=(
            Quantity("n", "changed", "number of layers", "n", "", Instrument("counted", "counted", "1")),
            Quantity("N", "measured", "amplitude behind the felt", "N", "mV", Instrument("sound meter", "display", "1"), repeats=3),
            Quantity("lnN", "derived", "logarithm of the amplitude", "ln(N)", "", formula="ln(N)"),
        ),
        runs=(Run("run1", "Grey felt"),),
        graphs=(Graph("measured", "", "n", "N"), Graph("straight", "", "n", "lnN")),
        fits=(Fit("line", "straight"),),
        findings=(Finding("half", "layers that halve the sound", "n_half", "", "-ln(2)/gradient", "line"),),
        bench_rounds=True,
    )  # fmt: skip
    return begin_plan(plan)


def make_plan() -> LabBook:
    """What a bench gets of it."""
    return open_for_bench(write_draft())


def write_bench(plan: LabBook, dice: random.Random, texts: dict[str, str] | None = None) -> LabBook:
    """A bench's lab book."""
    settings = []
    for n in range(LAYERS + 1):
        true = FIRST * math.exp(-PER_LAYER * n)
        heard = tuple(Reading(f"{max(1, round(true * (1 + dice.gauss(0, FLUTTER)) + dice.gauss(0, NOISE)))}") for _ in range(3))
        settings.append(Setting(f"s{n + 1}", {"n": (Reading(str(n)),), "N": heard}))
    return replace(plan, runs=(replace(plan.runs[0], settings=tuple(settings)),), texts=dict(texts or {}))
