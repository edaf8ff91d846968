"""What is not as it should be before a report is handed in."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

from hobrel.core.document.lab_book import LabBook
from hobrel.core.presentation.results import Analysis
from hobrel.core.reporting.tree import Missing, Part, Stale
from hobrel.core.sentences import say


def list_missing(
    book: LabBook, analysis: Analysis, parts: Sequence[Part], unknown: Mapping[str, Sequence[str]], stale: Sequence[Stale]
) -> tuple[Missing, ...]:
    """Empty sections and those with too few words, names in braces that are none, numbers that have become others, slips that nobody has
    answered, findings that are not stated.

    Parameters
    ----------
    book : LabBook
    analysis : Analysis
    parts : sequence of Part
    unknown : mapping of part to what stands there in braces and is no name
    stale : sequence of Stale
    """
    return (
        *_of_sections(parts),
        *_of_braces(unknown),
        *(
            Missing(
                f"text:{s.section}",
                say("typed_was", "{typed} was {name} when it was written, which is now {now}.", typed=s.typed, name=s.name, now=s.now),
            )
            for s in stale
        ),
        *_of_results(book, analysis),
    )


def _of_sections(parts: Sequence[Part]) -> Iterator[Missing]:
    for part in parts:
        section = part.section
        if section is None or part.left_out or not section.wanted:
            continue
        if section.words == 0:
            yield Missing(part.key, say("section_empty", "{title}: nothing is written here yet.", title=part.title))
        elif section.words < section.fewest_words:
            words = say(
                "section_short", "{title}: {words} words; {fewest} or more are wanted.",
                title=part.title, words=section.words, fewest=section.fewest_words,
            )  # fmt: skip
            yield Missing(part.key, words)


def _of_braces(unknown: Mapping[str, Sequence[str]]) -> Iterator[Missing]:
    for part, names in unknown.items():
        for name in names:
            yield Missing(part, say("no_such_value", "{name} stands for nothing in this lab book.", name=name))


def _of_results(book: LabBook, analysis: Analysis) -> Iterator[Missing]:
    if analysis.slips:
        words = say(
            "slips_open", "{slips} {noun} that nobody has answered.",
            slips=len(analysis.slips), noun="possible slip" if len(analysis.slips) == 1 else "possible slips",
        )  # fmt: skip
        yield Missing("", words)
    for found in analysis.findings:
        if found.value is None:
            yield Missing(f"finding:{found.finding}", say("finding_missing", "{name} has no value yet.", name=found.name))
        elif not found.said:
            yield Missing(
                f"finding:{found.finding}", say("finding_not_stated", "{name} is not stated as a rounded value yet.", name=found.name)
            )
    if not book.findings and not book.fits:
        yield Missing("", say("nothing_found", "There is no fit and no finding yet."))
