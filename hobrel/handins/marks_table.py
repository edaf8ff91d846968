"""The marks of a practical as a table: a row for each student."""

from __future__ import annotations

from collections.abc import Iterator

from hobrel.classes.queries import local_now
from hobrel.handins.models import Mark
from hobrel.handins.queries import grid_of, queue_of
from hobrel.handins.schemas import GridRowOut, QueuedBench
from hobrel.interchange.flat import FlatCell, FlatColumn, FlatTable
from hobrel.plans.models import Practical


def list_marks(practical: Practical) -> FlatTable:
    """Bench and student, what was handed in last and what was said to it; then for each row of the grid its level, in words and as a number
    from 1, and the words. Marks are those of the last hand-in that has any.
    """
    grid = grid_of(practical)
    columns = [
        FlatColumn("bench"),
        FlatColumn("student"),
        FlatColumn("hand-in", "integer", "how often the bench has handed in"),
        FlatColumn("handed in", "dateTime"),
        FlatColumn("late", "boolean", "after the due date as it is now"),
        FlatColumn("answer", "string", "returned or accepted"),
        FlatColumn("said", "string", "what its teacher has written to it"),
        FlatColumn("marks of", "integer", "the hand-in that the marks are of"),
    ]
    for row in grid:
        levels = "; ".join(f"{i} {level}" for i, level in enumerate(row.levels, 1))
        columns += [
            FlatColumn(row.title, "string", levels),
            FlatColumn(f"{row.title}: level", "integer", levels),
            FlatColumn(f"{row.title}: words"),
        ]
    benches = sorted(queue_of(practical).benches, key=lambda b: b.bench)
    marks = {(m.hand_in_id, m.row): m for m in Mark.objects.filter(hand_in__book__practical=practical)}
    rows = [row for bench in benches for row in _rows_of(bench, grid, marks)]
    return FlatTable(f"{practical.title}: marks", tuple(columns), rows)


def _rows_of(bench: QueuedBench, grid: list[GridRowOut], marks: dict[tuple[int, str], Mark]) -> Iterator[list[FlatCell]]:
    last = bench.hand_ins[-1] if bench.hand_ins else None
    marked = next((h for h in reversed(bench.hand_ins) if any((h.id, row.id) in marks for row in grid)), None)
    about: list[FlatCell] = [None] * 5
    if last is not None:
        answer = last.answer
        at = last.at.astimezone(local_now().tzinfo)
        about = [last.number, at, last.late, answer.verdict if answer else None, answer.words if answer else None]
    given: list[FlatCell] = [marked.number if marked else None]
    for row in grid:
        mark = marks.get((marked.id, row.id)) if marked else None
        level = mark.level if mark is not None and mark.level is not None and mark.level < len(row.levels) else None
        given += [None if level is None else row.levels[level], None if level is None else level + 1, mark.words if mark else None]
    for name in bench.names or [""]:
        yield [bench.bench, name, *about, *given]
