"""Jobs about readings, averages, propagation, rounding, units and constants."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from hobrel.core.errors import CoreError
from hobrel.core.formulas.reading import canonical_name, read_formula
from hobrel.core.formulas.ways import DistributionKind, Input, propagate
from hobrel.core.readings.instruments import Instrument, reading_uncertainty
from hobrel.core.readings.parsing import parse_reading
from hobrel.core.rounding import round_result
from hobrel.core.scripting.fields import (
    Job,
    Outputs,
    maybe_number,
    need,
    need_number,
    need_text,
    read_choice,
    read_list,
    read_number,
)
from hobrel.core.sentences import told
from hobrel.core.statistics.spread import average
from hobrel.core.units.calculus import convert, convert_difference, parse_unit, short_form
from hobrel.core.units.constants import find_constant

_SPREADS = ("half_range", "mean_abs_deviation", "largest_deviation", "sd", "standard_error")


def summarise_values(job: Job) -> Outputs:
    """Jobs ``summary``.

    Raises
    ------
    CoreError
        ``bad_number``.
    """
    values = read_list(need(job, "values"), "values")
    kept = [v for v in values if v is not None]
    instrument_u = 0.0
    resolution = maybe_number(job, "resolution")
    if resolution is not None:
        kind = read_choice(job, "instrument", ("scale", "display", "rectangular"), "display")
        if resolution < 0:
            raise CoreError("bad_number", "A resolution cannot be negative.")
        instrument_u = reading_uncertainty(Instrument("", kind, repr(resolution)))
    spread = read_choice(job, "spread", _SPREADS, "half_range")
    combine = read_choice(job, "combine", ("larger", "quadrature"), "larger")
    result = average(kept, instrument_u, spread, combine, maybe_number(job, "coverage"))
    s = result.summary
    outputs: Outputs = {
        "n": s.n, "mean": s.mean, "min": s.min, "max": s.max, "median": s.median, "half_range": s.half_range,
        "mean_abs_deviation": s.mean_abs_deviation, "largest_deviation": s.largest_deviation, "sd": s.sd,
        "standard_error": s.standard_error, "u": result.u, "left_out": len(values) - len(kept),
    }  # fmt: skip
    if result.t is not None:
        outputs["t"] = result.t
    return outputs


def propagate_formula(job: Job) -> Outputs:
    """Jobs ``propagate``.

    Raises
    ------
    CoreError
        ``bad_job``.
    """
    given = need(job, "inputs")
    if not isinstance(given, Mapping):
        raise CoreError("bad_job", "inputs is an object of symbols.")
    inputs = {canonical_name(str(symbol)): _read_input(str(symbol), entry) for symbol, entry in given.items()}
    node = read_formula(need_text(job, "formula"), inputs, log_is_ln=True)
    way = read_choice(job, "way", ("quadrature", "sum", "extremes", "monte_carlo"), "quadrature")
    result = propagate(node, inputs, way, _read_correlations(job))
    outputs: Outputs = {
        "value": result.value, "u": result.u, "unit": short_form(result.unit), "warning": told(result.warning),
        "budget": [
            {"symbol": b.symbol, "sensitivity": b.sensitivity, "contribution": b.contribution, "share": b.share} for b in result.budget
        ],
    }  # fmt: skip
    if result.interval95 is not None:
        outputs["interval95"] = list(result.interval95)
    return outputs


def _read_input(symbol: str, entry: object) -> Input:
    if not isinstance(entry, Mapping):
        raise CoreError("bad_job", "{symbol} is an object with value and u.", symbol=symbol)
    unknown = sorted(set(entry) - {"value", "u", "unit", "distribution", "half_width"})
    if unknown:
        raise CoreError("bad_job", "An input has no field {unknown}.", unknown=unknown[0])
    half_width = maybe_number(entry, "half_width")
    default = "normal" if half_width is None else "rectangular"
    distribution: DistributionKind = read_choice(entry, "distribution", ("normal", "rectangular"), default)
    if half_width is not None:
        if distribution != "rectangular":
            raise CoreError("bad_job", "{symbol}: a half width belongs to a rectangular distribution.", symbol=symbol)
        u = half_width / 3**0.5
    else:
        u = maybe_number(entry, "u") or 0.0
    if u < 0:
        raise CoreError("bad_number", "{symbol}: an uncertainty cannot be negative.", symbol=symbol)
    return Input(need_number(entry, "value"), u, parse_unit(str(entry.get("unit") or "")), distribution)


def _read_correlations(job: Job) -> dict[tuple[str, str], float]:
    pairs = job.get("correlations") or []
    if not isinstance(pairs, list) or any(not isinstance(p, list) or len(p) != 3 for p in pairs):
        raise CoreError("bad_job", "correlations is a list of [symbol, symbol, r].")
    return {(canonical_name(str(a)), canonical_name(str(b))): read_number(r, "a correlation") for a, b, r in pairs}


def round_value(job: Job) -> Outputs:
    """Jobs ``round``."""
    rule = read_choice(job, "rule", ("one_or_two", "one", "two"), "one_or_two")
    power = read_choice(job, "power", ("auto", "none"), "auto")
    pair: list[Any] = []
    for field in ("value", "u"):
        given = need(job, field)
        read_number(given, field)
        pair.append(parse_reading(given).value if isinstance(given, str) else given)
    rounded = round_result(pair[0], pair[1], rule, str(job.get("unit") or ""), power)
    return {"text": rounded.text, "value_text": rounded.value_text, "u_text": rounded.u_text}


def count_figures(job: Job) -> Outputs:
    """Jobs ``figures``."""
    parsed = parse_reading(need_text(job, "text"))
    return {"value": float(parsed.value), "decimals": parsed.decimals, "significant_figures": parsed.significant_figures}


def convert_value(job: Job) -> Outputs:
    """Jobs ``convert``."""
    source, target = (parse_unit(need_text(job, f)) for f in ("from", "to"))
    outputs: Outputs = {"value": convert(need_number(job, "value"), source, target)}
    u = maybe_number(job, "u")
    if u is not None:
        outputs["u"] = convert_difference(u, source, target)
    return outputs


def look_up_constant(job: Job) -> Outputs:
    """Jobs ``constant``."""
    found = find_constant(canonical_name(need_text(job, "symbol")))
    return {"value": found.value, "u": found.u, "unit": found.unit, "name": found.name, "source": found.source}
