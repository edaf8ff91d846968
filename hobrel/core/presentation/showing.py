"""Write computed numbers for people: rounded with their uncertainty, with unit, as text, TeX and spoken words."""

from __future__ import annotations

import math
import re
from collections.abc import Collection, Iterable, Mapping
from decimal import Decimal
from functools import lru_cache

from hobrel.core.document.lab_book import Convention, Quantity
from hobrel.core.errors import CoreError
from hobrel.core.formulas.kelvins import stand_in_kelvins
from hobrel.core.formulas.tree import Node, symbols_in
from hobrel.core.formulas.ways import WayKind
from hobrel.core.presentation.figures import make_axis
from hobrel.core.presentation.results import LineMark, NumberLine, ShownValue, Trouble
from hobrel.core.readings.known import without_plus_minus
from hobrel.core.readings.parsing import spell_number
from hobrel.core.rounding import ANGLE_SIGNS, MINUS, RoundingRule, round_result, with_unit, write_place
from hobrel.core.sentences import Sentence, Sentences, say, scalar_fields
from hobrel.core.statistics.spread import MeanWithUncertainty, SpreadKind
from hobrel.core.uncertainty.traced import Traced, combine_quadrature
from hobrel.core.units.calculus import KELVIN, Unit, convert, convert_difference, parse_unit, tidy_unit, write_unit
from hobrel.core.units.constants import constant_symbols, find_constant

NATURAL_FIGURES = 6
SPREAD_WORDS: dict[SpreadKind, str] = {
    "half_range": "half the range of the repeats",
    "mean_abs_deviation": "the mean absolute deviation of the repeats",
    "largest_deviation": "the largest deviation from the mean",
    "sd": "the standard deviation of the repeats",
    "standard_error": "the standard error of the mean",
}


def show_number(number: Traced, rule: RoundingRule) -> ShownValue:
    """Show a single number with its uncertainty, by quadrature of what it comes from."""
    return show_value(float(number.value), float(combine_quadrature(number)) or None, number.unit, rule)


@lru_cache(maxsize=8192)
def show_value(value: float, u: float | None, unit: Unit | str, rule: RoundingRule) -> ShownValue:
    """Show a value with its uncertainty, or to four figures without noughts behind them where it has none.

    One edit leaves most numbers as they were, so what has been written is remembered.
    """
    name = tidy_unit(unit) if isinstance(unit, str) else write_unit(unit)
    tail = tex_unit(name)
    if u is None or not (u > 0 and math.isfinite(u)):
        text = write_place(value, 4)
        tex = power_tex(text) + tail
        shown = f"{text} {name}".strip()
        return ShownValue(
            value=value, u=None, value_text=text, u_text="", text=shown, tex=tex, spoken=shown.replace(MINUS, "minus "), value_tex=tex
        )
    rounded = round_result(clean(value), clean(u), rule, name)
    value_tex = rounded.value_text.replace(MINUS, "-") + (rf" \times 10^{{{rounded.power}}}" if rounded.power else "")
    return ShownValue(
        value=value,
        u=u,
        value_text=rounded.value_text,
        u_text=rounded.u_text,
        text=rounded.text,
        tex=rounded.tex.partition(r"\text{")[0].removesuffix(_THIN_GAP) + tail,
        spoken=rounded.spoken,
        value_tex=value_tex + tail,
    )


def show_typed(value: float, u: float, typed: tuple[str, str], unit: str, rule: RoundingRule) -> ShownValue:
    """Show a constant or an accepted value with the digits (of value and ±) it was given with; rounded where that was in another unit."""
    value_text, u_text = typed[0], without_plus_minus(typed[1])
    if are_plain((value_text, u_text)):
        return show_written(value, u, value_text, u_text, unit)
    return show_value(value, u or None, unit, rule)


def show_written(value: float, u: float, value_text: str, u_text: str, unit: str) -> ShownValue:
    """Show a number with the digits that stand there. A ± of nought is not said."""
    written, written_u = (spell_number(text) or text.strip() for text in (value_text, u_text))
    known = written_u if any(digit in written_u for digit in "123456789") else ""
    (value_part, *power), (u_part, *u_power) = written.split(_POWER, 1), known.split(_POWER, 1)
    pair = f"{written} ± {known}" if known else written
    tex = rf"{power_tex(written)} \pm {power_tex(known)}" if known else power_tex(written)
    if known and power and power == u_power:
        # the power of ten that both have is said once
        pair = f"({value_part} ± {u_part}){_POWER}{power[0]}"
        tex = power_tex(pair).replace("±", r"\pm")
    tail = tex_unit(unit)
    spoken = pair.replace("±", "plus or minus").replace(MINUS, "minus ")
    return ShownValue(
        value=value,
        u=u or None,
        value_text=value_text.strip().replace("-", MINUS),
        u_text=u_text.strip(),
        text=with_unit(pair, unit),
        tex=(f"({tex})" if known and unit and tex[0] != "(" else tex) + tail,
        spoken=f"{spoken}, in {unit}" if unit else spoken,
        value_tex=power_tex(written) + tail,
    )


_POWER = " × 10"


def are_plain(texts: Iterable[str]) -> bool:
    """Whether texts are numbers without a unit of their own; what is not written at all is none."""
    return all(spell_number(text) is not None for text in texts if text.strip())


def write_constant(quantity: Quantity) -> str:
    """A constant as it was typed, before anything is computed with it: its digits, its ± and its unit."""
    value, u, unit = quantity.value.strip(), without_plus_minus(quantity.u), tidy_unit(quantity.unit)
    if are_plain((value, u)):
        return show_written(0.0, 0.0, value, u, unit).text
    # what has no unit of its own is in that of the quantity
    value, u = (with_unit(text, unit) if are_plain((text,)) and text else text for text in (value, u))
    return f"{value} ± {u}" if u else value


def numbers_put_in(node: Node, numbers: Mapping[str, str], behind: Mapping[str, Traced], rule: RoundingRule) -> dict[str, str]:
    """What stands in the place of a formula's symbols: their numbers, constants of nature among them.

    `behind` are the single numbers themselves: a temperature that stands for its kelvins is put in with these.
    """
    kelvins = {name: _in_kelvins(behind[name], rule) for name in stand_in_kelvins(node) & behind.keys() if _is_on_scale(behind[name])}
    put_in = {}
    for name in symbols_in(node):
        if name not in numbers and name in constant_symbols():
            constant = find_constant(name)
            put_in[name] = power_tex(write_place(constant.value, NATURAL_FIGURES)) + tex_unit(write_unit(parse_unit(constant.unit)))
    return {**put_in, **numbers, **kelvins}


def _is_on_scale(number: Traced) -> bool:
    return number.unit.is_offset and not number.temperatures.is_difference


def _in_kelvins(number: Traced, rule: RoundingRule) -> str:
    """TeX of a temperature's kelvins; without a ± to the hundredths that 273.15 has."""
    value, u = convert(float(number.value), number.unit, KELVIN), float(combine_quadrature(number))
    if u:
        return show_value(value, convert_difference(u, number.unit, KELVIN), KELVIN, rule).value_tex
    return f"{value:.2f}" + tex_unit("K")


def clean(number: float) -> Decimal:
    """A computed number as decimal text without the noise of binary arithmetic (0.0025 for 0.00249999999999999)."""
    return Decimal(f"{number:.12g}")


def power_tex(text: str) -> str:
    """TeX of a number that `write_number` wrote."""
    mantissa, mark, power = text.replace(MINUS, "-").partition(_POWER)
    return rf"{mantissa} \times 10^{{{power.translate(_FROM_SUPERSCRIPTS)}}}" if mark else mantissa


_FROM_SUPERSCRIPTS = str.maketrans("⁰¹²³⁴⁵⁶⁷⁸⁹⁻", "0123456789-")


_THIN_GAP = r"\ "


def tex_unit(name: str) -> str:
    """A unit after a number in TeX, upright, with its superscripts."""
    if not name:
        return ""
    special = {"°": r"^{\circ}", "%": r"\%", " ": r"\,", "Ω": r"\Omega ", "µ": r"\mu "}
    out = ""
    for piece in re.findall(r"√[A-Za-zµΩ°%]+|[A-Za-z]+|[⁰¹²³⁴⁵⁶⁷⁸⁹⁻]+|\^\([^)]*\)|.", name):
        if piece[0] == "√":
            out += rf"\sqrt{{{tex_unit(piece[1:]).removeprefix(_THIN_GAP)}}}"
        elif piece[0] == "^" and len(piece) > 1:
            out += f"^{{{piece[2:-1]}}}"
        elif piece[0] in "⁰¹²³⁴⁵⁶⁷⁸⁹⁻":
            out += f"^{{{piece.translate(_FROM_SUPERSCRIPTS)}}}"
        else:
            out += rf"\mathrm{{{piece}}}" if piece.isascii() and piece.isalpha() else special.get(piece, piece)
    return out if name in ANGLE_SIGNS else _THIN_GAP + out


def show_trouble(error: CoreError) -> Trouble:
    """An error as people read it, with its place in a formula where it has one."""
    at = error.fields.get("at")
    return Trouble(error.code, error.message, at if isinstance(at, int) else None, scalar_fields(error))


ROUNDING_WORDS: dict[RoundingRule, Sentence] = {
    "one": say("rounded_to_one", "The uncertainty is rounded to one figure, and the value to the same place."),
    "two": say("rounded_to_two", "The uncertainty is rounded to two figures, and the value to the same place."),
    "one_or_two": say(
        "rounded_to_one_or_two", "The uncertainty is rounded to one figure (two if it begins with a 1), and the value to the same place."
    ),
}


def say_mean_rule(mean: MeanWithUncertainty, convention: Convention) -> Sentence:
    """What the ± of the mean of a stretch's values is made of."""
    spread = SPREAD_WORDS[convention.spread].replace("of the repeats", "of these values")
    carried = "what they carry themselves (√Σu²/n)"
    alone = mean.summary.n < 2 or mean.spread_u is None
    if not alone and mean.made_by == "both":
        return say("mean_u_is_both", "its ± is {spread} and {carried}, in quadrature", spread=spread, carried=carried)
    if alone or not (mean.spread_u and mean.instrument_u):
        return say("mean_u_is", "its ± is {source}", source=carried if alone or not mean.spread_u else spread)
    larger, other = (spread, carried) if mean.made_by == "spread" else (carried, spread)
    return say("mean_u_is_larger", "its ± is {source}, which is larger than {other}", source=larger, other=other)


def say_spread(convention: Convention) -> str:
    """The spread that a convention takes, as it stands in a sentence."""
    words = SPREAD_WORDS[convention.spread]
    if convention.coverage is not None and convention.spread == "standard_error":
        words += f", widened by Student’s t to hold {100 * convention.coverage:g} %"
    return f"{words} (the one typical of its column)" if convention.bars == "typical" else words


CARRIED_WORDS: dict[WayKind, str] = {
    "quadrature": "carried through in quadrature",
    "sum": "carried through and added up",
    "extremes": "put in at both its ends, and half the largest difference taken",
    "monte_carlo": "drawn at random many times, and the standard deviation of what comes out taken",
}
"""What is done with each uncertainty that goes into a formula."""
_CONVENTION_WORDS: dict[WayKind, str] = {
    "quadrature": "it is carried through formulas in quadrature",
    "sum": "what each ± brings to a formula is added up",
    "extremes": "a formula’s ± is half the difference between its extremes",
    "monte_carlo": "a formula’s ± is that of many random draws",
}


def convention_words(convention: Convention) -> Sentences:
    """The convention in one line."""
    combined = "or the instrument’s ±, whichever is larger" if convention.combine == "larger" else "and the instrument’s ± in quadrature"
    words = [
        say(
            "convention", "± is {spread}, {combined}; {propagation}.",
            spread=say_spread(convention), combined=combined, propagation=_CONVENTION_WORDS[convention.propagation],
        )
    ]  # fmt: skip
    fits = {"larger": "", "bars": "the bars", "scatter": "how the points scatter about it"}[convention.fit_uncertainty]
    if fits:
        words.append(say("convention_of_fits", "A fit takes its ± from {source}.", source=fits))
    if convention.verdict == "plain":
        words.append(say("convention_of_verdicts", "Two results agree that are at most one combined ± apart, or two at a pinch."))
    return tuple(words)


def draw_number_line(marks: tuple[LineMark, ...], unit: str, far: Collection[str] = ()) -> NumberLine:
    """A number line that holds all marks with their bars; those whose names are in `far` may lie beyond it, if any others are left."""
    near = [m for m in marks if m.name not in far] or marks
    low = min(m.value - m.u for m in near)
    high = max(m.value + m.u for m in near)
    axis = make_axis((), low, high, wanted=6)
    power = "".join(r.text for r in axis.label).strip()
    shown = with_unit(power, tidy_unit(unit))
    return NumberLine(axis.low, axis.high, axis.ticks, marks, shown)
