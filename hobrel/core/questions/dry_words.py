"""A dry run written for people."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from hobrel.core.document.lab_book import LabBook
from hobrel.core.formulas.typeset import RichText, rich_symbol
from hobrel.core.pipeline.columns import name_plot
from hobrel.core.presentation.results import ShownValue
from hobrel.core.presentation.showing import show_value
from hobrel.core.questions.dry_advice import BetterPlan, PlanFor, find_better_plans, plan_for
from hobrel.core.questions.dry_run import DryRun, FindingSpread, gather_tries
from hobrel.core.questions.dry_tries import TriedBook
from hobrel.core.sentences import NumberText, Sentence, Sentences, say

_OFTEN = 8
"""Of 100 benches: what is told less often is bad luck (as calibrated)."""
_OFF = 0.02
"""By what share of its ± a finding without uncertainty may miss what is believed, before that is said."""


@dataclass(frozen=True)
class ShownShare:
    """A part of a ±: its symbol, its share, and that in words."""

    symbol: RichText
    share: float
    text: NumberText


@dataclass(frozen=True)
class ShownSpread:
    """A finding of a dry run: what a bench would typically state, by how many per cent, what it would be told, and what makes the ±."""

    finding: str
    name: str
    symbol: RichText
    value: ShownValue | None
    percent: NumberText
    words: Sentences
    budget: tuple[ShownShare, ...]


@dataclass(frozen=True)
class ShownDryRun:
    """What comes of a plan, in words; `duration` is how long measuring takes."""

    classes: int
    findings: tuple[ShownSpread, ...]
    fits: Sentences
    duration: NumberText


@dataclass(frozen=True)
class ShownBetter:
    """A changed plan: what is changed, the ± that it gives as a share of the value, by how much that is less, and how long it takes."""

    words: Sentence
    percent: NumberText
    gain: NumberText
    duration: NumberText


@dataclass(frozen=True)
class ShownPlanFor:
    """What has to be done for a wanted ±, with the number of settings and repeats where that is the answer."""

    reached: bool
    words: Sentence
    percent: NumberText
    duration: NumberText
    settings: int | None
    repeats: int | None


def show_tries(book: LabBook, tries: Sequence[TriedBook]) -> ShownDryRun:
    """What comes of all parts of a dry run, in words.

    Raises
    ------
    CoreError
        As `gather_tries`.
    """
    return show_dry_run(book, gather_tries(book, tries))


def show_dry_run(book: LabBook, found: DryRun) -> ShownDryRun:
    """What comes of a plan, in words."""
    return ShownDryRun(
        classes=found.classes,
        findings=tuple(_show_spread(f, book, found.classes) for f in found.findings),
        fits=_say_fits(found, book),
        duration=_say_duration(found.seconds),
    )


def show_better_plans(book: LabBook, finding_id: str, seed: int) -> tuple[ShownBetter, ...]:
    """What would make a finding better, in words.

    Raises
    ------
    CoreError
        As `find_better_plans`.
    """
    return tuple(_show_better(better) for better in find_better_plans(book, finding_id, seed))


def show_plan_for(book: LabBook, finding_id: str, percent: float, seed: int) -> ShownPlanFor:
    """What has to be done for a ± of so many per cent, in words.

    Raises
    ------
    CoreError
        As `plan_for`.
    """
    found: PlanFor = plan_for(book, finding_id, percent / 100, seed)
    return ShownPlanFor(
        reached=found.reached,
        words=found.words,
        percent=_percent(found.relative) if found.relative is not None else "",
        duration=_say_duration(found.seconds) if found.seconds is not None else "",
        settings=found.settings,
        repeats=found.repeats,
    )


def _show_better(better: BetterPlan) -> ShownBetter:
    return ShownBetter(better.words, _percent(better.relative), f"{100 * better.gain:.0f} % less", _say_duration(better.seconds))


def _show_spread(found: FindingSpread, book: LabBook, classes: int) -> ShownSpread:
    middle = found.perfect if found.perfect is not None else found.mean
    shown = show_value(middle, found.u or None, found.unit, book.convention.rounding) if middle is not None else None
    return ShownSpread(
        finding=found.finding,
        name=found.name,
        symbol=rich_symbol(found.symbol),
        value=shown,
        percent=_percent(found.u / abs(middle)) if found.u and middle else "",
        words=tuple(_say_spread(found, book, classes)),
        budget=tuple(ShownShare(rich_symbol(b.symbol), b.share, _share(b.share)) for b in found.budget),
    )


def _say_spread(found: FindingSpread, book: LabBook, classes: int) -> list[Sentence]:
    words = []
    if found.failed:
        words.append(say("dry_failed", "In {n} of {classes} lab books it could not be worked out.", n=found.failed, classes=classes))
    if found.perfect is not None and found.believed is not None and found.u and _is_off(found.perfect, found.believed, found.u):
        perfect, believed = (
            show_value(value, None, found.unit, book.convention.rounding).text for value in (found.perfect, found.believed)
        )
        words.append(
            say(
                "dry_off",
                "Without any uncertainty it would come to {perfect}, not to {believed}. Look at its formula, or at the relation.",
                perfect=perfect,
                believed=believed,
            )
        )
    if found.count and any(found.verdicts.values()):
        differs, near = (round(100 * found.verdicts[name]) for name in ("differs", "near"))
        of = "the accepted value" if any(f.id == found.finding and f.accepted for f in book.findings) else "what it truly is"
        words.append(
            say(
                "dry_verdicts",
                "{differs} of 100 benches would be told that it differs from {of}; {near} that it is near.",
                differs=differs or "None",
                near=near or "none",
                of=of,
            )
        )
    if found.u and found.sd:
        ratio = found.sd / found.u
        if ratio > 1.5:
            words.append(
                say("dry_too_small", "Its ± is stated too small: benches would scatter {ratio} times as much.", ratio=f"{ratio:.1f}")
            )
        elif ratio < 0.5:
            words.append(
                say("dry_too_large", "Its ± is stated too large: benches would scatter by {percent} % of it.", percent=f"{100 * ratio:.0f}")
            )
    return words


def _is_off(perfect: float, believed: float, u: float) -> bool:
    return abs(perfect - believed) > max(_OFF * u, 1e-6 * abs(believed))


def _say_fits(found: DryRun, book: LabBook) -> Sentences:
    words = []
    for fit in found.fits:
        bends, more, zero = (round(100 * share) for share in (fit.bends["bends"], fit.scatter["more"], fit.zero_doubted or 0.0))
        plot = name_plot(book, next(f for f in book.fits if f.id == fit.fit))
        if fit.is_line and bends > _OFTEN:
            words.append(say("dry_bends", "{n} of 100 benches would be told that {plot} bends.", n=bends, plot=plot))
        if more > _OFTEN:
            words.append(say("dry_scatter", "{n} of 100 benches would be told that {plot} scatters more than its bars.", n=more, plot=plot))
        if zero > _OFTEN:
            words.append(say("dry_zero", "{n} of 100 benches would be told that the line of {plot} misses the origin.", n=zero, plot=plot))
    return tuple(words)


def _share(share: float) -> str:
    percent = 100 * share
    return f"{percent:.0f} %" if percent >= 1 else "under 1 %"


def _percent(share: float) -> str:
    return f"± {100 * share:#.2g} %".replace(". %", " %")


def _say_duration(seconds: float) -> str:
    minutes = max(1, round(seconds / 60))
    return f"about {minutes} min" if minutes < 90 else f"about {seconds / 3600:.1f} h"
