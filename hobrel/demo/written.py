"""What the benches of Tidewater College have written: every practical with its lab books. Nothing here needs a database."""

from __future__ import annotations

import random
from collections.abc import Mapping
from dataclasses import dataclass, replace

from hobrel.core.document.lab_book import LabBook
from hobrel.core.document.plans import freeze_plan, open_for_bench
from hobrel.core.questions.dry_run import draw_example
from hobrel.shelf import clamped_strip, draining_vessel, fan_on_a_supply, growth_in_a_flask, sound_through_felt, warm_bolt
from hobrel.shelf.clamped_strip import Story

SEED = 20260907


@dataclass(frozen=True)
class WrittenPractical:
    """A plan as its teacher writes it, how many days ago it was given out, and the lab book of each bench that has done it."""

    draft: LabBook
    days_ago: int
    books: Mapping[str, LabBook]


EXPECTATION = "The further the strip sticks out the slower it swings, more than in proportion."
METHOD = (
    "We clamped the strip flat side upright, set the overhang with the ruler and timed ten swings three times at each of "
    "{settings} overhangs."
)
SANDERLING = (
    ("expectation", "Longer means slower. We think the time grows faster than the overhang."),
    (
        "method",
        "The strip was clamped flat side upright so that it swings sideways and the load does not bend it down. We pulled the load "
        "3 cm aside, let two swings pass and timed ten, three times at each of {settings} overhangs.",
    ),
    (
        "discussion",
        "T² against L³ is straight within the bars, and the line meets the axis at {intercept}, which is near the zero that the "
        "relation says. Most of the uncertainty of E comes from the thickness, because it enters to the third power. One time was "
        "set aside because the strip touched the table leg.",
    ),
    ("conclusion", "The stiffness modulus of our strip is {E}. The workshop found {accepted}, so the two agree."),
)


def _overhangs(first: float, count: int = 8) -> tuple[float, ...]:
    """Overhangs in m, 5 cm apart."""
    return tuple(round(first + 0.05 * i, 3) for i in range(count))


def _stories() -> dict[str, Story]:
    expect = ("expectation", EXPECTATION)
    return {
        "Curlew": Story(_overhangs(0.300), 12.5e9, texts=(expect, ("method", METHOD))),
        "Dunlin": Story(_overhangs(0.305), 12.3e9, mistyped=(4, 1, "8.73"), texts=(expect,)),
        "Knot": Story(_overhangs(0.310, 7), 12.4e9, formula="t_10", texts=(expect,)),
        "Plover": Story(_overhangs(0.300), 12.6e9, texts=(("expectation", "A longer strip is softer, so it swings more slowly."),)),
        "Sanderling": Story(_overhangs(0.295), 12.2e9, set_aside=(6, 2, "11.62", "the strip touched the table leg"), texts=SANDERLING),
        "Turnstone": Story((0.300, 0.400), formula=""),
    }


def _write_drawn(draft: LabBook, texts: Mapping[str, str]) -> LabBook:
    """A bench's lab book with believable readings, of a plan whose apparatus the other benches find with theirs."""
    return replace(open_for_bench(freeze_plan(draft)), runs=draw_example(draft, SEED).runs, texts=texts)


def write_practicals() -> tuple[WrittenPractical, ...]:
    """All practicals, the running one first and those of the weeks before behind it. The numbers come from fixed seeds."""
    dice = random.Random(SEED)
    plan = clamped_strip.make_plan()
    strips = {name: clamped_strip.write_bench(plan, story, dice) for name, story in _stories().items()}
    vessel, felt = draining_vessel.make_plan(), sound_through_felt.make_plan()
    bolt, flask = warm_bolt.make_plan(), growth_in_a_flask.make_plan()
    dice = random.Random(SEED + 1)
    reason = "no jet any more: the water left in drops"
    return (
        WrittenPractical(clamped_strip.write_draft(), 0, strips),
        WrittenPractical(fan_on_a_supply.write_draft(), 4, {
            "Curlew": _write_drawn(fan_on_a_supply.write_draft(), {"expectation": "More than twice the power: the air is faster too."}),
        }),
        WrittenPractical(draining_vessel.write_draft(), 7, {
            "Curlew": draining_vessel.write_bench(vessel, dice, reason, {"expectation": "It falls ever more slowly."}),
            "Dunlin": draining_vessel.write_bench(vessel, dice),
        }),
        WrittenPractical(sound_through_felt.write_draft(), 14, {
            "Curlew": sound_through_felt.write_bench(felt, dice, {"expectation": "Each layer takes the same share of what is left."}),
            "Plover": sound_through_felt.write_bench(felt, dice),
        }),
        WrittenPractical(warm_bolt.write_draft(), 18, {
            "Curlew": warm_bolt.write_bench(bolt, dice, {"expectation": "The water takes what the bolt gives, less a little."}),
        }),
        WrittenPractical(growth_in_a_flask.write_draft(), 20, {
            "Curlew": growth_in_a_flask.write_bench(flask, dice, {"expectation": "First ever faster, then it stops."}),
        }),
    )  # fmt: skip
