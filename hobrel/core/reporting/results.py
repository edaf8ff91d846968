"""Graphs, cards and findings as blocks."""

from __future__ import annotations

from collections.abc import Iterator

from hobrel.core.document.lab_book import Fit, Graph
from hobrel.core.formulas.typeset import plain_text
from hobrel.core.pipeline.computation import Computation
from hobrel.core.presentation.graphs import call_drawn_run
from hobrel.core.presentation.results import Analysis, FindingResult, FitResult, ShownValue, Trouble
from hobrel.core.presentation.side_by_side import SideBySide
from hobrel.core.reporting.tree import Block, Drawing, Equation, Inlines, Items, Maths, Paragraph, Words, rich_words, say_words, set_symbols
from hobrel.core.sentences import Sentences, told, with_capital

_ASKED = ("ask_offset", "ask_meaning")
"""What the desk asks a bench and a report does not."""


def shown(value: ShownValue) -> Inlines:
    """A value as mathematics."""
    return (Maths(value.tex),)


def note(trouble: Trouble) -> Block:
    """What stands in the place of a result."""
    return Paragraph(say_words(trouble.message), "note")


def write_graph(graph: Graph, computation: Computation, analysis: Analysis, key: str) -> tuple[Block, ...]:
    """A graph with everything on it, its residual strip below; `key` is what the drawing is called by."""
    result = next(g for g in analysis.graphs if g.graph == graph.id)
    if result.figure is None:
        return (note(result.trouble),) if result.trouble is not None else ()
    figure = result.figure
    y, x = ((axis.name or plain_text(axis.label)) for axis in (figure.y_axis, figure.x_axis))
    of_run = call_drawn_run(computation.series[graph.id]) if len(computation.book.runs) > 1 else ""
    title = graph.title or f"{y} against {x}{of_run}"
    # a symbol stays as it is: Θ is not θ
    sentences = [with_capital(title) if graph.title or figure.y_axis.name else title]
    if any(p.ux or p.uy for s in figure.series for p in s.points):
        sentences.append("Bars are the uncertainties")
    if figure.residual_axis is not None:
        sentences.append("The strip below shows how far each point lies from what is fitted")
    if any(p.set_aside for s in figure.series for p in s.points):
        sentences.append("A point set aside is crossed out")
    if any(line.kind == "halved" for line in figure.lines):
        sentences.append("The dotted line is the model with half its step")
    if figure.sketch is not None:
        sentences.append("The faint curve is what was expected")
    return (Drawing(key, set_symbols(". ".join(sentences) + "."), told(figure.summary), figure),)


def write_fit(fit: Fit, analysis: Analysis, slope_word: str, key: str) -> tuple[Block, ...]:
    """The card of a fit: what was fitted and how, its equation (called by `key`), its numbers, and how well it goes through the points."""
    card = next(f for f in analysis.fits if f.fit == fit.id)
    if card.trouble is not None:
        return (note(card.trouble),)
    named = {"line": "A line", "steps": "A model computed step by step"}
    what = named.get(card.shape) or with_capital(card.shape_words)
    items: list[Inlines] = list(_numbers(card, slope_word))
    if card.is_doubtful:
        why = "do not go with it as their bars say" if card.reduced_chi2 else "do not follow it"
        items.append(say_words(f"The points {why}, so that these ± are not to be taken at their word."))
    items.append(_sentence(card.within, "; "))
    if card.reduced_chi2:
        # as it is shown, with the class's mark
        value = card.reduced_chi2.replace(",", "{,}")
        head = (Maths(rf"\chi^2_\nu = {value}"), Words(f" for {card.dof} degrees of freedom. "))
        items.append((*head, *say_words(told(card.chi2_words))))
    if card.pattern is not None:
        items.append(say_words(told(card.pattern.words)))
    items += _further(card, slope_word)
    lead = say_words(f"{what} through {card.n} points, {told(card.method, '; ')}:")
    return (Paragraph(lead), Equation(key, card.equation_tex), Items(tuple(i for i in items if i)))


def _numbers(card: FitResult, slope_word: str) -> Iterator[Inlines]:
    if card.gradient is not None:
        yield (Words(f"{slope_word.capitalize()}: "), *shown(card.gradient), Words("."))
    if card.intercept is not None:
        words = told([s for s in card.intercept_words if s.code not in _ASKED])
        yield (Words("Intercept: "), *shown(card.intercept), Words("."), *say_words(f" {words}" if words else ""))
    for parameter in card.parameters:
        if parameter.value is not None:
            named = Maths(f"{parameter.tex} = {parameter.value.tex}")
            yield (named, Words(". "), *_sentence(parameter.words)) if parameter.words else (named, Words("."))
    if card.summit is not None:
        turn = "highest" if card.summit.is_highest else "lowest"
        yield (Words(f"It is {turn} at "), *shown(card.summit.place), Words(", where it is "), *shown(card.summit.value), Words("."))


def _further(card: FitResult, slope_word: str) -> Iterator[Inlines]:
    """Other ways of saying how uncertain it is, lines by eye, and unknowns read back."""
    if len(card.uncertainties) > 1:
        yield say_words(f"The {slope_word}'s ± by other ways: " + "; ".join(f"{u.name} {u.text}" for u in card.uncertainties) + ".")
    elif card.extremes is not None and card.extremes.gradient is not None:
        yield (Words("By the steepest and the shallowest line: "), *shown(card.extremes.gradient), Words("."))
    if card.by_eye is not None:
        yield say_words(f"Drawn by eye: {slope_word} {card.by_eye.gradient}, intercept {card.by_eye.intercept}. {told(card.by_eye.words)}")
    if card.steps is not None:
        yield from ((Words("Given: "), *rich_words(given), Words(".")) for given in card.steps.given)
        yield say_words(f"In steps of {card.steps.step}, {told(card.steps.way)}. {told(card.steps.check)}")
    for unknown in card.unknowns:
        if unknown.value is not None:
            yield (
                Words(f"{unknown.name}, read as {unknown.mean}: "),
                *shown(unknown.value),
                *say_words(f" ({told(unknown.words, '; ')})." if unknown.words else "."),
            )
        else:
            yield say_words(f"{unknown.name}: {told(unknown.words)}")


def write_finding(found: FindingResult, from_runs: SideBySide | None) -> tuple[Block, ...]:
    """A finding: its chain with numbers put in, what it rests on, what makes its ±; the same from every run."""
    others = tuple(_from_every_run(found, from_runs)) if from_runs is not None else ()
    if found.value is None:
        return (*((note(found.trouble),) if found.trouble is not None else ()), *others)
    key = f"finding-{found.finding}"
    blocks: list[Block] = [Equation(f"{key}-formula", found.formula_tex)]
    used = tuple((*rich_words(u.symbol), *set_symbols(f" = {u.value.text}, {u.words}")) for u in found.used)
    if not found.said:
        blocks.append(Equation(key, found.numbers_tex))
        blocks += [Items(used)] if used else []
        return (*blocks, Paragraph(say_words("The bench has not stated its rounded value yet."), "note"))
    blocks.append(Equation(key, f"{found.numbers_tex} = {found.value.value_tex}"))
    blocks += [Items(used)] if used else []
    said = (*rich_words(found.symbol), Words(f" = {found.value.text}", "bold"), Words(f". {told(found.rounding_words)}"))
    blocks.append(Paragraph(said))
    if found.budget:
        shares: list[Words] = []
        for bar in (b for b in found.budget if b.share):
            shares += [
                Words(", " if shares else "Where the uncertainty comes from: "),
                *rich_words(bar.symbol),
                Words(f" {bar.share_text}"),
            ]
        blocks.append(Paragraph((*shares, Words("."))))
    if found.needed:
        blocks.append(Paragraph(say_words(f"What would have to be seen to say that it agrees, written before: {found.needed}")))
    if found.awaits_needed:
        words = "The bench has not written yet what it would need to see before it says that this agrees."
        return (*blocks, Paragraph(say_words(words), "note"))
    if found.accepted is not None:
        source = f" ({found.accepted_source})" if found.accepted_source else ""
        blocks.append(Paragraph(say_words(f"Accepted value: {found.accepted.text}{source}. {told(found.comparison)}")))
    blocks += [Paragraph(_sentence(c.words)) for c in found.compared if c.words]
    if found.number_line is not None:
        marks = ", ".join(m.name for m in found.number_line.marks)
        caption = say_words(f"{with_capital(found.name)} on a number line: {marks}. Bars are the uncertainties.")
        blocks.append(Drawing(f"{key}-line", caption, f"{found.statement}. {told(found.comparison)}", line=found.number_line))
    return (*blocks, *others)


def _from_every_run(found: FindingResult, beside: SideBySide) -> Iterator[Block]:
    yield Paragraph(say_words(f"{with_capital(found.name)} from every run:"))
    said = ((row.name, f"{row.value.text}. " if row.value is not None else "", told(row.words)) for row in beside.rows)
    yield Items(tuple(say_words(f"{name}: {value}{words}".rstrip()) for name, value, words in said))
    if beside.number_line is not None:
        rows = [(row.name, row.value.text) for row in beside.rows if row.value is not None]
        names = ", ".join(name for name, _ in rows)
        caption = say_words(f"{with_capital(found.name)} from every run: {names}. Bars are the uncertainties.")
        described = "; ".join(f"{name}: {text}" for name, text in rows)
        yield Drawing(f"finding-{found.finding}-runs", caption, f"{described}.", line=beside.number_line)


def _sentence(words: Sentences, between: str = " ") -> Inlines:
    text = told(words, between)
    return say_words(text if not text or text.endswith(".") else f"{text}.")
