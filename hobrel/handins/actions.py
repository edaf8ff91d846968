"""Answering what has been handed in, and marking it: the only writers of answers and marks (decision 46)."""

from __future__ import annotations

from django.db.models import F
from django.utils import timezone

from hobrel.classes.models import Person
from hobrel.classes.queries import name_of
from hobrel.handins.models import Answer, Mark
from hobrel.handins.queries import grid_of
from hobrel.handins.schemas import AnswerWas, MarkWas, Verdict
from hobrel.labbooks.actions import tell_news
from hobrel.plans.models import Practical
from hobrel.reports.models import HandIn
from hobrel.server.problems import Problem
from hobrel.server.writing import writing


def answer_hand_in(handed: HandIn, person: Person, verdict: Verdict, words: str, was: AnswerWas | None) -> None:
    """Return a hand-in or accept it.

    Raises
    ------
    Problem
        409 ``clash`` where a colleague has answered otherwise meanwhile.
    """
    words = words.strip()
    with writing():
        known = Answer.objects.filter(hand_in=handed).select_related("by").first()
        stands = (known.verdict, known.words) if known else None
        if stands == (verdict, words):
            return
        if stands != ((was.verdict, was.words) if was else None):
            said = f"{known.verdict}: {known.words}".rstrip(": ") if known else "not answered any more"
            raise Problem(409, "clash", *_say_clash(known.by if known else None, said))
        Answer.objects.update_or_create(hand_in=handed, defaults={"verdict": verdict, "words": words, "by": person})
        tell_news(handed.book)


def mark_row(handed: HandIn, person: Person, row: str, *, level: int | None, words: str, was: MarkWas | None) -> None:
    """Mark a row of the grid; with neither level nor words its mark goes.

    Raises
    ------
    Problem
        409 ``clash`` where a colleague has marked it otherwise meanwhile; 422 ``no_such_row`` or ``no_such_level``.
    """
    words = words.strip()
    levels = next((r.levels for r in grid_of(handed.book.practical) if r.id == row), None)
    if levels is None:
        raise Problem(422, "no_such_row", "The marking grid of this practical has no such row any more. Load the page anew.")
    if level is not None and level >= len(levels):
        raise Problem(422, "no_such_level", "This row of the marking grid has no such level any more. Load the page anew.")
    with writing():
        known = Mark.objects.filter(hand_in=handed, row=row).select_related("by").first()
        stands = (known.level, known.words) if known else (None, "")
        if stands == (level, words):
            return
        if stands != ((was.level, was.words) if was else (None, "")):
            said = levels[known.level] if known and known.level is not None and known.level < len(levels) else "no level"
            theirs = f"{said}: {known.words}".rstrip(": ") if known else "no mark any more"
            raise Problem(409, "clash", *_say_clash(known.by if known else None, theirs))
        if level is None and not words:
            Mark.objects.filter(hand_in=handed, row=row).delete()
        else:
            Mark.objects.update_or_create(hand_in=handed, row=row, defaults={"level": level, "words": words, "by": person})
        if handed.book.practical.marks_are_back:
            tell_news(handed.book)


def _say_clash(by: Person | None, theirs: str) -> tuple[str, dict[str, str]]:
    name = name_of(by)
    return f"{name[:1].upper()}{name[1:]} has written here meanwhile: {theirs}. What you have put is not kept yet.", {"theirs": theirs}


def give_marks_back(practical: Practical, given_back: bool) -> None:
    """Let the benches of a practical see their marks from now on, or not any more."""
    with writing():
        practical.marks_back = timezone.now() if given_back else None
        practical.save(update_fields=["marks_back"])
        practical.books.update(news=F("news") + 1)
