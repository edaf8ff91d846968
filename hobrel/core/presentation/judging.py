"""A result as somebody has rounded it, against the rule: a right one is told so, a wrong one where it departs from the rule."""

from __future__ import annotations

import re
from decimal import Decimal

from hobrel.core.errors import CoreError
from hobrel.core.presentation.results import JudgedRounding
from hobrel.core.presentation.showing import clean
from hobrel.core.readings.composed import spell_concise
from hobrel.core.readings.parsing import is_percent, parse_difference
from hobrel.core.rounding import RoundingRule, round_result
from hobrel.core.sentences import say
from hobrel.core.units.calculus import parse_unit

_PAIR = re.compile(
    r"^\(?\s*(?P<value>[+\-−]?[\d.,]+)\s*(?P<own>[^()±]*?)\s*(?:±|\+/-|\+-)\s*(?P<u>[^()±]+?)\s*\)?\s*(?P<tail>(?:[(×x*·]|e|E|[A-Za-zµ°Ω%]).*)?$"
)
_SYMBOL = re.compile(r"^[^=±]*=\s*")
_POWER = re.compile(r"^(?:[×x*·]\s*10\s*(?:\^\s*\(?(?P<caret>[+\-−]?\d+)\)?|(?P<sup>[⁰¹²³⁴⁵⁶⁷⁸⁹⁻]+))|[eE](?P<e>[+\-−]?\d+))\s*")
_SUPERSCRIPTS = str.maketrans("⁰¹²³⁴⁵⁶⁷⁸⁹⁻", "0123456789-")
_NUMBER = re.compile(r"^[+\-−]?\d*[.,]?\d+$")


def judge_rounding(text: str, value: float, u: float, unit: str, rule: RoundingRule) -> JudgedRounding:
    """Judge a rounded result as it was written.

    Parameters
    ----------
    text : str
        ``12.4 ± 0.3 GPa``, ``(1.24 ± 0.03) × 10^10``, ``12.4(3) GPa``; without a unit that of the result is meant.
    value, u : float
        The result and its uncertainty in full, in `unit`.
    unit : str
    rule : RoundingRule

    Raises
    ------
    CoreError
        ``bad_number`` for what is not a value ± an uncertainty; ``bad_unit`` for a unit that does not fit.
    """
    text = _SYMBOL.sub("", text.strip())
    match = _PAIR.match(spell_concise(text) or text)
    if match is None:
        raise CoreError("bad_number", "Write the value, ± and its uncertainty, as in 2.06 ± 0.05. For ± you may type +-.")
    own_tail, tail = _tail(match["own"]), _tail(match["tail"] or "")
    if tail[1] == "%" and not is_percent(parse_unit(unit)):
        refusal = "State the ± in {unit}, as the value; per cent of it are said beside."
        raise CoreError("bad_number", refusal, unit=unit or "numbers")
    power, own_unit = _of_both(own_tail, tail)
    written = [_number(match[part]) for part in ("value", "u")]
    scale = Decimal(1).scaleb(power)
    if own_unit:
        scale *= parse_difference(f"1 {own_unit}", unit)
    wanted = round_result(clean(value / float(scale)), clean(u / float(scale)), rule, power="none")
    v, s = (Decimal(w) for w in written)
    if s <= 0:
        return JudgedRounding(False, (say("rounding_u_not_positive", "An uncertainty is a number above zero."),))
    wanted_v, wanted_u = Decimal(wanted.value_text.replace("−", "-")), Decimal(wanted.u_text)
    places = [-int(Decimal(w).as_tuple().exponent) for w in written]
    figures = len(wanted_u.as_tuple().digits) if wanted_u < 1 or "." in wanted.u_text else len(wanted.u_text.rstrip("0")) or 1
    count = "one figure" if figures == 1 else f"{figures} figures"
    own = len(s.as_tuple().digits)
    # noughts behind the decimal sign are figures
    noughts = s == wanted_u and "." in written[1] and own != figures
    if s != wanted_u or noughts:
        if noughts or (abs(s - wanted_u) / wanted_u < Decimal("0.5") and own > figures):
            words = say(
                "rounding_u_figures",
                "The uncertainty has {own}; by the rule it has {figures} here.",
                own="one figure" if own == 1 else f"{own} figures",
                figures=count,
            )
        else:
            words = say(
                "rounding_u_wrong", "The uncertainty is not the computed one rounded to {figures}. Look at its first figures again.",
                figures=count,
            )  # fmt: skip
        return JudgedRounding(False, (words,))
    if places[0] != places[1]:
        words = say(
            "rounding_places", "The value has {more} decimals than its uncertainty; both end at the same place.",
            more="more" if places[0] > places[1] else "fewer",
        )  # fmt: skip
        return JudgedRounding(False, (words,))
    if v != wanted_v:
        words = say("rounding_value_wrong", "The uncertainty is right. The value is not the computed one rounded to the same place.")
        return JudgedRounding(False, (words,))
    return JudgedRounding(
        True, (say("rounding_right", "Right: the uncertainty to {figures}, and the value to the same place.", figures=count),)
    )


def _of_both(own: tuple[int, str], tail: tuple[int, str]) -> tuple[int, str]:
    """The power of ten and the unit behind the pair, or behind its value, or behind both.

    Raises
    ------
    CoreError
        ``bad_number`` where they are two.
    """
    if own == (0, ""):
        return tail
    power, unit = own if tail == (0, "") else (tail[0], tail[1] or own[1])
    if own[0] != power or own[1] not in ("", unit):
        raise CoreError("bad_number", "Value and ± have one power of ten and one unit, as in (1.24 ± 0.03) × 10^10 Pa.")
    return power, unit


def _tail(tail: str) -> tuple[int, str]:
    """A power of ten and a unit."""
    match = _POWER.match(tail)
    if match is None:
        return 0, tail.strip("() ")
    digits = match["caret"] or match["e"] or match["sup"].translate(_SUPERSCRIPTS)
    return int(digits.replace("−", "-")), tail[match.end() :].strip("() ")


def _number(text: str) -> str:
    if not _NUMBER.match(text.strip()):
        raise CoreError(
            "bad_number", "“{text}” is not a number. Write digits, with one decimal sign, as in 2.06 ± 0.05.", text=text.strip()
        )
    return text.strip().replace(",", ".").replace("−", "-")
