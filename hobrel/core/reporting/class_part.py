"""What the class found, and this bench in it: once the pool is open to the benches."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from hobrel.core.document.lab_book import Finding
from hobrel.core.document.plan_part import Condition
from hobrel.core.presentation.pool import PoolResult, present_pools
from hobrel.core.presentation.results import LineMark, ShownValue
from hobrel.core.presentation.shares import BenchShare
from hobrel.core.presentation.showing import draw_number_line
from hobrel.core.reporting.tree import Block, Drawing, Paragraph, Words, rich_words, say_words
from hobrel.core.sentences import told, with_capital


@dataclass(frozen=True)
class ClassShares:
    """What all benches bring to the pool of their practical, and which of them this is.

    Attributes
    ----------
    findings : tuple of Finding
        As the practical has them, with as much of accepted values as the bench may see.
    shares : tuple of BenchShare
    bench : str
        The name of this bench among them.
    conditions : tuple of Condition
        Of the practical.
    """

    findings: tuple[Finding, ...]
    shares: tuple[BenchShare, ...]
    bench: str
    conditions: tuple[Condition, ...] = ()


def write_class(of: ClassShares | None) -> tuple[Block, ...]:
    """For each finding the class's value, and where this bench lies; nothing as long as the pool is closed. Others are not named."""
    if of is None:
        return ()
    pools = present_pools(of.findings, of.shares, of.conditions, {of.bench})
    return tuple(block for pool in pools for block in _write_pool(pool, of.bench))


def _write_pool(pool: PoolResult, bench: str) -> Iterator[Block]:
    chosen = next((value for value in pool.values if value.recommended), None)
    if chosen is None:
        return
    name = f"{pool.name}, {pool.condition}" if pool.condition else pool.name
    own = next((row.value for row in pool.rows if row.bench == bench), None)
    yield Paragraph(
        (
            *say_words(f"{with_capital(name)}: the class found "),
            *rich_words(pool.symbol),
            Words(f" = {chosen.value.text}", "bold"),
            *say_words(f" ({told(chosen.words, '; ')}){', ' if pool.counted else ''}{told(pool.counted, '; ')}."),
            *say_words(f" This bench has {own.text}." if own is not None else " This bench has none."),
        )
    )
    marks = [("this bench", own), ("the class", chosen.value), ("accepted", pool.accepted)]
    shown = tuple(LineMark(name, value.value, value.u or 0.0) for name, value in marks if isinstance(value, ShownValue))
    if len(shown) > 1:
        line = draw_number_line(shown, pool.unit)
        caption = say_words(f"{with_capital(name)} in the class: {', '.join(m.name for m in shown)}. Bars are the uncertainties.")
        said = "; ".join(f"{name} {value.text}" for name, value in marks if value is not None)
        yield Drawing(_key_of(pool), caption, f"Number line: {said}.", line=line)


def _key_of(pool: PoolResult) -> str:
    """The key of its drawing, which becomes a part of addresses."""
    condition = "".join(c if c.isascii() and c.isalnum() else "-" for c in pool.condition.casefold())
    return f"class-{pool.finding}-{condition}" if condition else f"class-{pool.finding}"
