"""What a plan can learn from how it went: what many benches stumbled over, how long stations took, what the class found."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from statistics import median

from hobrel.core.document.plan_part import StageName
from hobrel.core.presentation.pool import PoolResult
from hobrel.core.sentences import Sentence, say

MANY = 0.25
"""Share of benches from which a slip says something of the plan (common practice)."""
LEAST_BENCHES = 2
LONG = 0.5
"""Share of the time that one station takes, from which it is said."""


@dataclass(frozen=True)
class SeenSlip:
    """A kind of slip about a quantity (by its symbol), and at how many benches it was seen."""

    kind: str
    of: str
    benches: int


@dataclass(frozen=True)
class StationMinutes:
    """How long a station took: the middle of the benches that worked there, in minutes."""

    stage: StageName
    minutes: float
    benches: int


@dataclass(frozen=True)
class Advice:
    """What could be changed in the plan, and at which station."""

    stage: StageName
    words: Sentence


_ADVICE: dict[str, Advice] = {
    "wrong_decimals": Advice("read", say("advise_decimals", "Say at Read how many decimals a reading has, and why.")),
    "lone_repeat": Advice("read", say("advise_lone", "Let the first repeats be compared before the next setting is begun.")),
    "off_trend": Advice("look", say("advise_trend", "Ask for the graph while the apparatus stands: a setting can be measured again.")),
    "factor": Advice("read", say("advise_factor", "Show one reading as an example, with its unit.")),
    "duplicate_setting": Advice("read", say("advise_duplicate", "Say which settings are wanted, from where to where.")),
    "swapped": Advice("read", say("advise_swapped", "Let one person read and another write and read it back.")),
    "direction": Advice("read", say("advise_direction", "Say in which direction the table is filled.")),
    "exchanged": Advice("read", say("advise_exchanged", "Let settings be written in the order in which they are measured.")),
    "squared": Advice("average", say("advise_squared", "Give squares a symbol of their own, or have them worked out.")),
    "not_a_number": Advice("read", say("advise_number", "Offer a quantity of words for what is no number.")),
}  # fmt: skip


def gather_minutes(benches: Sequence[Mapping[StageName, float]]) -> tuple[StationMinutes, ...]:
    """How long each station took, longest first.

    Parameters
    ----------
    benches : sequence of mappings of station to minutes
        Of each bench that has written something.
    """
    stages = {stage for bench in benches for stage in bench}
    found = []
    for stage in stages:
        minutes = [bench[stage] for bench in benches if stage in bench]
        found.append(StationMinutes(stage, float(median(minutes)), len(minutes)))
    return tuple(sorted(found, key=lambda one: (-one.minutes, one.stage)))


def advise(slips: Sequence[SeenSlip], benches: int, minutes: Sequence[StationMinutes], pools: Sequence[PoolResult]) -> tuple[Advice, ...]:
    """What could be changed in a plan after it has been worked on.

    Parameters
    ----------
    slips : sequence of SeenSlip
    benches : int
        That have written something.
    minutes : sequence of StationMinutes
        Longest first.
    pools : sequence of PoolResult
    """
    often = sorted((s for s in slips if s.benches >= max(LEAST_BENCHES, MANY * benches)), key=lambda s: -s.benches)
    found = [_ADVICE[slip.kind] for slip in often if slip.kind in _ADVICE]
    for pool in pools:
        quoted = next((v.value for v in pool.values if v.recommended), None)
        accepted = pool.accepted
        if quoted is None or accepted is None or not quoted.u:
            continue
        apart = abs(quoted.value - accepted.value) / (quoted.u**2 + (accepted.u or 0.0) ** 2) ** 0.5
        if apart > 2:
            words = say(
                "advise_value",
                "The class found {found} for {name}, {apart} combined uncertainties from the accepted {accepted}: what do all share?",
                found=quoted.text,
                name=pool.name,
                apart=f"{apart:.1f}",
                accepted=accepted.text,
            )
            found.append(Advice("find", words))
    whole = sum(one.minutes for one in minutes)
    if minutes and whole > 0 and minutes[0].minutes > LONG * whole and len(minutes) > 1:
        words = say(
            "advise_long", "More than half of the time went here: {minutes} of {whole} min. Is there something to take away or to lay out?",
            minutes=round(minutes[0].minutes), whole=round(whole),
        )  # fmt: skip
        found.append(Advice(minutes[0].stage, words))
    return tuple(dict.fromkeys(found))
