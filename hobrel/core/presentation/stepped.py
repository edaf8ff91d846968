"""A step-by-step model written for people: its equations, how it is stepped, how far its steps can be trusted."""

from __future__ import annotations

import numpy as np

from hobrel.core.document.choices import StepModel
from hobrel.core.formulas.one_line import write_on_one_line
from hobrel.core.formulas.tree import Node
from hobrel.core.formulas.typeset import RichRun, RichText, formula_tex, rich_symbol, symbol_expression_tex, write_symbol
from hobrel.core.pipeline.curves import FittedCurve
from hobrel.core.presentation.results import StepsResult
from hobrel.core.rounding import MINUS, with_unit, write_number, write_place
from hobrel.core.sentences import Sentence, Sentences, say
from hobrel.core.stepping.conditions import Condition
from hobrel.core.stepping.loops import Equations, StepWay
from hobrel.core.stepping.shape import StepCheck
from hobrel.core.units.calculus import Unit, parse_unit, write_unit

WAYS: dict[StepWay, Sentence] = {
    "simple": say("steps_simple", "by simple steps"),
    "half": say("steps_half", "by the rate half-way along each step"),
    "fourth": say("steps_fourth", "in fourth order"),
}
SMALL = 1 / 3
"""Share of a bar beyond which the error of the steps is said to matter."""
UNSEEN = 1e-5
"""Share of what y covers up to which nobody sees it."""
SEEN = 0.003
"""Share of what y covers from which on half the step is drawn beside the model."""
_SIGNS = {"<": "<", "<=": "≤", ">": ">", ">=": "≥"}
_SIGNS_TEX = {"<": "<", "<=": r"\le", ">": ">", ">=": r"\ge"}


def write_rates_tex(equations: Equations) -> str:
    """All equations of a model, one after the other."""
    along = symbol_expression_tex(equations.along)
    written = []
    for state, stages in zip(equations.states, equations.rates, strict=True):
        parts = [_stage_tex(condition, node, bool(stages[1:])) for condition, node in stages]
        written.append(rf"\frac{{\mathrm{{d}}{symbol_expression_tex(state)}}}{{\mathrm{{d}}{along}}} = " + r",\; ".join(parts))
    return r",\quad ".join(written)


def _stage_tex(condition: Condition | None, node: Node, several: bool) -> str:
    if condition is None:
        return formula_tex(node) + (r"\ \text{otherwise}" if several else "")
    sides = f"{formula_tex(condition.left)} {_SIGNS_TEX[condition.sign]} {formula_tex(condition.right)}"
    return rf"{formula_tex(node)}\ \text{{while}}\ {sides}"


def write_rates(equations: Equations) -> RichText:
    """The same on one line, for a graph and for plain text."""
    runs: list[RichRun] = []
    for state, stages in zip(equations.states, equations.rates, strict=True):
        runs += [
            RichRun(", " if runs else ""),
            RichRun("d"),
            *rich_symbol(state),
            RichRun("/d"),
            *rich_symbol(equations.along),
            RichRun(" = "),
        ]
        for place, (condition, node) in enumerate(stages):
            runs += [RichRun("; " if place else ""), *write_on_one_line(node, {}, {})]
            if condition is not None:
                left, right = (write_on_one_line(side, {}, {}) for side in (condition.left, condition.right))
                runs += [RichRun(" while "), *left, RichRun(f" {_SIGNS[condition.sign]} "), *right]
            elif place:
                runs.append(RichRun(" otherwise"))
    return tuple(run for run in runs if run.text)


def present_steps(fitted: FittedCurve, check: StepCheck, model: StepModel, x_unit: Unit, y_unit: Unit) -> StepsResult:
    """How a model is stepped, and what its steps cost."""
    shape = check.shape
    step = with_unit(write_place(shape.step), write_unit(x_unit))
    chosen = () if shape.system.step else (say("step_chosen", "The step is chosen so that about two hundred reach all points."),)
    return StepsResult(
        step=step,
        way=(WAYS[shape.way],),
        chosen=chosen,
        check=_say_check(fitted, check, write_unit(y_unit)),
        given=_write_given(model, write_symbol(shape.system.equations.along), x_unit),
    )


def _write_given(model: StepModel, along: str, x_unit: Unit) -> tuple[RichText, ...]:
    """What was written and not found from the points, as it was written."""
    begins = f"{along} = {with_unit(model.begins, write_unit(x_unit))}"
    starts = [(s.symbol, s.start, s.unit, f" at {begins}") for s in model.states if not s.fitted]
    numbers = [(n.symbol, n.value, n.unit, "") for n in model.numbers if not n.fitted]
    return tuple(
        (*rich_symbol(symbol), RichRun(f" = {with_unit(value.replace('-', MINUS), write_unit(parse_unit(unit)))}{where}"))
        for symbol, value, unit, where in (*starts, *numbers)
    )


def _say_check(fitted: FittedCurve, check: StepCheck, unit: str) -> Sentences:
    worst = check.by_halving if check.from_closely is None else check.from_closely
    if max(worst, check.by_halving) <= UNSEEN * check.covers:
        return (say("steps_fine", "The steps are short enough: half of one changes nothing that can be seen."),)

    def size(value: float) -> str:
        return with_unit(write_number(value, 1), unit)

    said = [say("step_halved", "Half the step moves the model by {by} at most.", by=size(check.by_halving))]
    if check.from_closely is None:
        said.append(say("step_not_solved", "The solver that chooses its own steps has given up, so that is all that is known of them."))
    else:
        said.append(say("step_solved", "From a solver that chooses its own steps it is {by} away at most.", by=size(check.from_closely)))
    bars = fitted.residuals.sigmas
    bar = float(np.median(bars)) if bars.size else 0.0
    if worst > SMALL * bar > 0:
        said.append(say("step_matters", "Beside bars of {bar} that matters: take a shorter step.", bar=size(bar)))
    return tuple(said)
