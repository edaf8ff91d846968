"""Mutations that change nothing that can be told, by function: the line as it becomes, and the reason. They are not drawn.

An entry whose line is no longer made is not missed: the line it was made from has changed. It is longer than 400 lines because it is one
list, in which each is looked up by its function.
"""

from __future__ import annotations

_NEVER_EQUAL = "two computed numbers are never equal, and where they are either side is right"
_ONLY_RATIOS = "only ratios of the weights count"
_NOBODY = "nobody is off by thirteen powers of ten"
_ONLY_ASKED = "only asked whether it can be done"
_ANY_PLACE = "numbers of no significance"
_FROM_ANYWHERE = "where a search begins, and how finely, changes how long it takes and not where it ends"
_ONLY_ORDER = "only the order of starts that end equally low"
_NO_SPREAD = "where there is no spread the other branch is taken"
_NO_PM = "what has no ± moves nothing"
_AT_NOUGHT = "at nought |x| has no derivative, and either is as good"
_NEVER_SO = "what is asserted holds; an assertion tells a reader so"

ALIKE: dict[str, dict[str, str]] = {
    "statistics.typical._differ": {
        "return share >= critical": _NEVER_EQUAL,
        "if count < 2 and largest == 0:": "of one variance the critical value is 1, and so is its share",
    },
    "statistics.typical.find_typical_spread": {
        "sds = np.array([s.sd if s and s.sd is not None else 1.0 for s in summaries])": "it has no degrees of freedom, so no weight",
        "means = np.array([abs(s.mean) if s else 1.0 for s in summaries])": "a setting without readings has no cell to show a spread in",
    },
    "statistics.spread.deviations_from_first": {
        "if max(values) - min(values) >= 1e-3 * abs(first):": "both ways give the same there, the first sooner",
    },
    "statistics.spread.summarise": {
        "squares = math.fsum(d * d for d in deviations) - math.fsum(deviations) ** 3 / n": "they add up to nothing but rounding",
        "squares = math.fsum(d * d for d in deviations) - math.fsum(deviations) ** 2 * n": "they add up to nothing but rounding",
    },
    "statistics.pool._hang_together": {
        "return np.abs(v - center) < POINT_OUT_BEYOND * np.hypot(u, scatter)": _NEVER_EQUAL,
    },
    "statistics.comparison.compare_values": {
        "p = 1.0 if abs(difference) < _SAME * max(abs(a), abs(b)) else 0.0": _NEVER_EQUAL,
        "if not u >= _SAME * max(u_a, u_b):": _NEVER_EQUAL,
    },
    "statistics.outliers.check_outlier": {
        "return OutlierCheck(statistic, critical, place if statistic >= critical else None)": _NEVER_EQUAL,
    },
    "statistics.outliers._dixon": {
        "return (low, _DIXON[alpha][n - 3], order[0]) if low >= high else (high, _DIXON[alpha][n - 3], order[-1])": (
            "where the gaps are equal neither is more than half, and no limit is as low"
        ),
    },
    "checks.planes._is_much_smoother": {
        "return ratio >= TIMES_SMOOTHER and float(fdtrc(dof, dof, ratio)) < CHANCE_OF_ROOTS": _NEVER_EQUAL,
        "return ratio > TIMES_SMOOTHER and float(fdtrc(dof, dof, ratio)) <= CHANCE_OF_ROOTS": _NEVER_EQUAL,
    },
    "linearising.relation._at_ones": {
        "value = expression.subs({s: 0.9 - 0.21 * i for i, s in enumerate(sorted(expression.free_symbols, key=str))}).evalf()": _ANY_PLACE,
        "value = expression.subs({s: 0.9 + 1.21 * i for i, s in enumerate(sorted(expression.free_symbols, key=str))}).evalf()": _ANY_PLACE,
        "value = expression.subs({s: 1.9 + 0.21 * i for i, s in enumerate(sorted(expression.free_symbols, key=str))}).evalf()": _ANY_PLACE,
    },
    "linearising.relation._solve": {
        "holding = [s for s in solutions if abs(_at_ones(equation.subs(unknown, s))) <= 1e-9]": _NEVER_EQUAL,
    },
    "linearising.relation._straight_pairs": {
        "if np.any(np.abs(y_values.imag) > 1e-12 / np.abs(y_values)):": "what is not real is far from it",
        "if np.any(np.abs(y_values.imag) >= 1e-12 * np.abs(y_values)):": _NEVER_EQUAL,
        "if np.all(np.abs(slopes - slopes[0]) <= 1e-9 * np.max(np.abs(ys)) * np.ptp(xs)):": "straight is to rounding, and bent by far more",
    },
    "formulas.reading.split_symbols": {
        "for start in range(len(name) + 1, -1, -1):": "nothing begins behind the end",
        "for start in range(len(name) - 1, -2, -1):": "what is asked for is the rest from the first letter, known by then",
    },
    "rounding.quantize": {
        "if place <= 1:": "to tens both ways give the same",
        "rounded = number.quantize(Decimal(2).scaleb(place), ROUND_HALF_UP, _EVERY_DIGIT)": "only its power of ten counts",
        "if place < 0:": "at nought both ways are one",
    },
    "rounding._shifted": {
        "return quantize(number.scaleb(-shift, _EVERY_DIGIT), min(1, place - shift))": "the shared power is never below the place",
    },
    "readings.converting.convert_reading": {
        "convert(1.0, parse_unit(old), parse_unit(new))": _ONLY_ASKED,
    },
    "units.calculus.convert_difference": {
        "convert(1.0, source, target)": _ONLY_ASKED,
    },
    "statistics.pool.quote_class_value": {
        "w = 2 / (u**2 + found.tau**2)": _ONLY_RATIOS,
    },
    "statistics.pool._dersimonian_laird": {
        "tau2 = max(0.0, (chi2 - (v.size - 1)) / spare) if spare > 0 and v.size >= 1 else 0.0": "of one result nothing is spare",
        "tau2 = max(0.0, (chi2 - (v.size - 1)) / spare) if spare > 0 or v.size > 1 else 0.0": "of one result nothing is spare",
    },
    "statistics.pool._say_causes": {
        "large = abs(first.factor) >= 1": "a factor of one explains nothing, and is not in the list",
        (
            'shown = f"{size:,.0f}".replace(",", "\\u202f") if size > 10 and first.name.startswith("10") else f"{size:.3g}"'
        ): "ten is written alike in both ways",
    },
    "statistics.pool._point_out": {
        "near_zero = abs(center) < POINT_OUT_BEYOND * u_center": _NEVER_EQUAL,
        "if distance < POINT_OUT_BEYOND:": _NEVER_EQUAL,
    },
    "statistics.factors._powers_of_ten": {
        (
            '_Slip(f"10^{n}", 10.0**n, f"a power of ten: {words.get(abs(n), far)}", 1.0 if abs(n) <= 3 else 0.2)'
            " for n in range(-13, 13) if n"
        ): _NOBODY,
        (
            '_Slip(f"10^{n}", 10.0**n, f"a power of ten: {words.get(abs(n), far)}", 1.0 if abs(n) <= 3 else 0.2)'
            " for n in range(-12, 14) if n"
        ): _NOBODY,
    },
    "statistics.factors.explain_distance": {
        "moved = value - sign * ZERO_OFFSET": "both signs are tried",
        "return tuple(cause for weight, cause in found[:MOST_CAUSES] if weight > _AS_LIKELY * found[0][0])": _NEVER_EQUAL,
        "if z <= WITHIN and all(abs(other.put_right - put_right) >= 1e-6 * abs(put_right) for _, other in found):": _NEVER_EQUAL,
        "if z < WITHIN and all(abs(other.put_right - put_right) > 1e-6 * abs(put_right) for _, other in found):": _NEVER_EQUAL,
        "if abs(moved - center) < WITHIN * math.hypot(u, u_center):": _NEVER_EQUAL,
    },
    "statistics.coverage.coverage_factor": {
        "whole = math.floor(dof) if math.isfinite(dof) else 1000000000001.0": "infinity by another name",
    },
    "pipeline.ground._same_points": {
        (
            'return all(np.array_equal(getattr(a, k), getattr(b, k), equal_nan=False) for k in ("used", "x", "y", "ux", "uy"))'
        ): "the same points are fitted once more, to the same end",
    },
    "checks.repeats.find_lone_repeats": {
        "means = np.array([abs(sum(g) / len(g)) if g else 1.0 for g in groups])": "a setting without readings has no squares to share",
    },
    "presentation.thinning.thin_signs": {
        "if len(signs) < most:": "in as many parts as there are signs each part is its sign",
    },
    "fitting.extreme.xǁ_Barsǁlargest": {
        "if rising > self.level:": _NEVER_EQUAL,
    },
    "formulas.evaluate._raised": {
        "return raise_unit(unit, Fraction(n).limit_denominator(1001)) if unit.powers else unit": "no unit has so fine a root",
    },
    "readings.parsing._in_unit_of_column": {
        "parts = round(1 / ratio) if ratio < 1 else 2": "what is no part is never half of one",
    },
    "readings.parsing.parse_difference": {
        'assert match is not None or match["unit"]  # only a unit of its own is noted': _NEVER_SO,
    },
    "fitting.line._settle": {
        "if moved <= 4e-16 * abs(second) or (moved <= SETTLED * abs(second) and moved > last):": _NEVER_EQUAL,
        "if last > 1e-11 / abs(b):": "what is not settled after five hundred steps is off by far more",
        "further = second - (second - first) ** 2 / bend if bend and 2 * turn >= PLAIN_STEPS else math.nan": "sooner to the same end",
        "further = second - (second - first) ** 2 / bend if bend and 3 * turn > PLAIN_STEPS else math.nan": "sooner to the same end",
    },
    "fitting.line._solve": {
        "dx, dy = x + x_mean, y - y_mean": "brought to its mean on the next line",
        "m = float(np.sum(w * x / y)) / sxx": "the second step puts the first right",
    },
    "pipeline.behind._pair": {
        "if place.size == 0 and place[0] == 0:": "asked of rows that have a value, and so a place",
    },
    "presentation.figures.make_axis": {
        "if not SMALLEST_SPAN <= high - low < LARGEST_SPAN:": _NEVER_EQUAL,
        "if not SMALLEST_SPAN < high - low <= LARGEST_SPAN:": _NEVER_EQUAL,
    },
    "questions.believed.xǁWorldǁconstants": {
        "moved = moved + u * off[quantity.id].reshape(-2, *(1 for _ in shape[1:]))": "any number below zero means the same",
    },
    "presentation.figures._choose_ticks": {
        "step = _nice_step((high - low) / max(wanted - 1, 2))": "one interval has no three ticks, so the next is tried anyway",
    },
    "fitting.curve._descend": {
        "ss = float(np.sum(residuals(p) * 2))": _FROM_ANYWHERE,
    },
    "fitting.curve._describe": {
        "_, singular, turned = np.linalg.svd(columns / size, full_matrices=True)": "of as many parameters as columns both give the same",
    },
    "fitting.curve._polish": {
        "spread = np.sqrt(np.sum((turned / singular[:, None]) ** 2, axis=0)) * size": _FROM_ANYWHERE,
        "u = spread * math.sqrt(ss / max(y.size + p.size, 1))": _FROM_ANYWHERE,
        "_, singular, turned = np.linalg.svd(columns / size, full_matrices=True)": "the first of them are the same",
        "small = (np.abs(step) <= np.maximum(1e-8 / np.abs(p), 1e-5 * u)) | (np.abs(step) * size <= 1e-13 * reach)": _FROM_ANYWHERE,
        "small = (np.abs(step) <= np.maximum(1e-8 * np.abs(p), 1e-5 * u)) | (np.abs(step) * size <= 1e-13 / reach)": _FROM_ANYWHERE,
        "small = (np.abs(step) <= np.maximum(1e-8 * np.abs(p), 1e-5 / u)) | (np.abs(step) * size <= 1e-13 * reach)": _FROM_ANYWHERE,
    },
    "fitting.curve._settle": {
        "floor = (1e-15 * float(np.max(np.abs(w / y)))) ** 2 * y.size": _FROM_ANYWHERE,
        "lowest.sort(key=lambda run: float(np.sum(((run.p - start) / (np.abs(run.p) + np.abs(start) + 1e-300)) * 2)))": _ONLY_ORDER,
        "floor = (1.000000000000001 * float(np.max(np.abs(w * y)))) ** 2 * y.size": _FROM_ANYWHERE,
    },
    "fitting.extreme.xǁ_Barsǁ_newton": {
        "if run < 0:": _NEVER_EQUAL,
    },
    "fitting.line._solve_york": {
        "if np.any(np.abs(w) * (vy - b * b * vx) * SAME_READINGS >= 1):": (
            "of points so sure that they are the same reading; either sum of two such is"
        ),
        "if np.any(np.abs(w) * (vy + b * b * vx) * SAME_READINGS >= 2):": _NEVER_EQUAL,
        "if np.any(np.abs(w) * (vy + b * b * vx) * SAME_READINGS > 1):": _NEVER_EQUAL,
    },
    "fitting.polynomial._solve": {
        "covariance = np.where(covariance != 1, covariance * factor, 0.0)": _NEVER_EQUAL,
    },
    "fitting.residuals.study_pattern": {
        "standardised = np.where(spread > 0, residuals / np.where(spread >= 0, spread, 1.0), 0.0)": _NO_SPREAD,
    },
    "fitting.search._linear_parameters": {
        "p = sizes * random.uniform(0.3, 2.2, count)": _FROM_ANYWHERE,
        "known = True": _FROM_ANYWHERE,
    },
    "fitting.search._multiply_out": {
        'if not (isinstance(node, Binary) or node.op == "/"):': _FROM_ANYWHERE,
        "p = np.linalg.lstsq(matrix / size, (y * b0 - t0) * w / weight, rcond=1e-14)[0] / size": _FROM_ANYWHERE,
        "if not all(np.allclose(a[1], b, rtol=1.000000001, atol=0) for a, b in zip(parts, elsewhere, strict=True)):": _FROM_ANYWHERE,
        "matrix = (t - y[:, None] * b) * (w / weight)[:, None]": _FROM_ANYWHERE,
        "p = np.linalg.lstsq(matrix / size, (y * b0 - t0) / w * weight, rcond=1e-14)[0] / size": _FROM_ANYWHERE,
    },
    "fitting.search._sample": {
        "z = random.choice((-1.0, 1.0), len(free)) * scales.sizes[free] * 11**shift": _FROM_ANYWHERE,
        (
            "shift = np.where(along_x != 0, along_x * random.uniform(-2.0, 0.5, len(free)), random.uniform(-2.0, 1.0, len(free)))"
        ): _FROM_ANYWHERE,
        "if turn % 3:": _FROM_ANYWHERE,
        "if turn / 3:": _FROM_ANYWHERE,
    },
    "fitting.search._scales": {
        "x_size, y_size = float(np.max(np.abs(x))) or 2.0, float(np.max(np.abs(y))) or 1.0": _FROM_ANYWHERE,
    },
    "fitting.shapes._start_exponential": {
        "sign = 1.0 if np.median(y) >= 1 else -1.0": _FROM_ANYWHERE,
    },
    "fitting.shapes._start_logistic": {
        "share = np.clip(y / top, 1e-3, 1 + 1e-3)": _FROM_ANYWHERE,
        "found.append([top, m or 1 / (float(np.ptp(x)) and 1.0), -c / m if m else float(x.mean())])": _FROM_ANYWHERE,
        "share = np.clip(y / top, 1e-3, 2 - 1e-3)": _FROM_ANYWHERE,
        "m, c = _line(x, np.log(share / (2 - share)))": _FROM_ANYWHERE,
    },
    "fitting.shapes._start_offset": {
        "found.append([m / math.exp(-top), b, c] if abs(top) < 300 else [0.0, b, c])": _FROM_ANYWHERE,
    },
    "fitting.shapes._start_power": {
        "sign = 1.0 if np.median(y) > 0 else -1.0": _FROM_ANYWHERE,
        "return [[sign * math.exp(min(c, 301.0)), n], [float(np.median(y)), 1.0]]": _FROM_ANYWHERE,
    },
    "fitting.shapes._start_sine": {
        "for turns in np.linspace(0.25, max(3.0, x.size / 2), 16 * max(8, min(x.size, 256))):": _FROM_ANYWHERE,
        "for turns in np.linspace(0.25, max(2.0, x.size / 3), 16 * max(8, min(x.size, 256))):": _FROM_ANYWHERE,
    },
    "fitting.straightness.judge_straight": {
        'return "unknown" if bend.sag >= CLEAR_BEND else "straight"': _NEVER_EQUAL,
    },
    "linearising.forms._judge_by_scatter": {
        'return "bends" if _chance_of_bend(x, y, as_read) <= WITHOUT_BARS else "straight"': _NEVER_EQUAL,
    },
    "linearising.forms._compare_what_is_left": {
        (
            'cannot_tell = plot.verdict == "straight" and plot.left > -17 and doubtful'
        ): "minus sixteen is the least there is, and means exact, which is never in doubt",
        "if not plots or dof <= 1:": "four points are the least, so there are two degrees of freedom",
    },
    "presentation.handy_units._is_near": {
        "return abs(math.log10(factor_to_base(a) / factor_to_base(b))) < _FARTHEST": "no two units are apart by just that",
    },
    "presentation.line_cards.far_settings": {
        "chance = chance_of(size / usual, float(found.dof)) if usual >= 1 else chance_of(size, dof_of_bars)": _NEVER_EQUAL,
    },
    "presentation.line_cards.within_words": {
        "within_1u, within_2u = (int(np.count_nonzero(np.abs(r.residuals) < k * bars)) for k in (1, 2))": _NEVER_EQUAL,
    },
    "pipeline.carrying.carry_finding": {
        "off = {s: u / signs[i] for i, (s, u) in enumerate(own.items())}": "a sign is the same as one over it",
        "shared = list(dict.fromkeys(source for n in whole.values() for source in n.slopes if source.shared and source.u >= 0))": _NO_PM,
    },
    "questions.hands.read_by_hand": {
        'if instrument is not None or instrument.kind == "maker":': "other instruments state nought per cent",
    },
    "checks.smooth._with_two_exchanged": {
        "sticking_out = np.sort(np.argsort(-np.abs(one.rest * one.free))[:MOST_EXCHANGED])": "only which are tried first",
    },
    "checks.table._blanks": {
        "last = max((row for row in range(run.count) if any(written[row])), default=+1)": "of a table without readings no row has a blank",
        "if blank is not None and (left or blank <= places[-1]):": "a place that is blank is not one that is written",
    },
    "formulas.plain.make_steps": {
        "return _through(make_steps(of, names), np.abs, lambda x, value: np.where(x <= 0, -1.0, 1.0))": _AT_NOUGHT,
    },
    "pipeline.lines.fit_graph": {
        "slope = plain.gradient if without_rounding(abs(plain.gradient) / float(np.ptp(x)), y) else 0.0": "only asked whether it is nought",
    },
    "fitting.shapes._start_saturation": {
        "plain = [2 / float(np.max(np.abs(y))), float(np.median(np.abs(x)))]": _FROM_ANYWHERE,
    },
    "linearising.relation._numbers": {
        "return {s: 1.9 + 0.11 * i for i, s in enumerate(symbols.values()) if s != symbols[x]}": _ANY_PLACE,
    },
    "fitting.extreme.xǁ_Barsǁ__init__": {
        "self.level = -self.tolerance * float(np.ptp(x) or 1.0)": "a tolerance: how near to nought counts as nought",
        "self.level = -self.tolerance / float(np.ptp(x) and 1.0)": "a tolerance: how near to nought counts as nought",
    },
    "fitting.extreme.xǁ_Barsǁleast_removed": {
        "if step.gradient > self.level:": _NEVER_EQUAL,
    },
    "pipeline.lines.shared_shifts": {
        "return [(source, u, _shift(x, source, u, rows), _shift(y, source, u, rows)) for source, u in moving if u >= 0]": _NO_PM,
    },
    "fitting.curve._canonical": {
        "if a <= 0:": "of amplitude nought either is as good",
    },
    "checks.table.power_of_ten_between": {
        "if not abs(power) < 5:": "a fourth power is not asked about either way",
    },
    "pipeline.from_fits.read_off_traced": {
        "value, m = read_off(fitted.line, (0.0, 1.0), direction, place).value, fitted.line.gradient": (
            "only the place is taken of it, and the uncertainty comes from the fit"
        ),
    },
    "formulas.ways._correlation_matrix": {
        "if len(names) >= 1 and float(np.linalg.eigvalsh(matrix)[0]) < -1e-12:": "of one the matrix is 1",
        "if len(names) > 2 and float(np.linalg.eigvalsh(matrix)[0]) < -1e-12:": (
            "of two any number up to 1 is a correlation, and greater ones are refused before"
        ),
    },
    "questions.believed.xǁ_Wayǁ_solve": {
        "high = np.full(rows, _GRID[min(_GRID.size - 2, int(first.max()) + 3)])": _FROM_ANYWHERE,
        "high = np.full(rows, _GRID[min(_GRID.size - 1, int(first.max()) + 4)])": _FROM_ANYWHERE,
    },
    "questions.board.draw_board_plot": {
        'found = Quantity(key, "derived", name, symbol, formula=formula, given=True)': "a plot says nothing of who gave its quantities",
    },
    "fitting.curve._fit_both_axes": {
        (
            "distance = np.hypot((y - fitted) / uy, np.where(free, (model.x - nearest.x) / np.where(free, ux, 2.0), 0.0))"
        ): "where x is not free its part is nought",
    },
    "fitting.least_distance._search_longer": {
        "values, model.x, y, start, weight_x=np.where(free, 1.0 / np.where(free, ux, 2.0) ** 2, 1.0), weight_y=1.0 / uy**2,": (
            "where x is not free its weight is the other one"
        ),
        "values, model.x, y, start, weight_x=np.where(free, 1.0 / np.where(free, ux, 1.0) ** 2, 2.0), weight_y=1.0 / uy**2,": (
            "a point that keeps its x is not weighed along it"
        ),
        "start = np.where(np.abs(begin) * reach < NOISE * np.max(np.abs(y)), 0.0, begin)": _NEVER_EQUAL,
    },
    "fitting.least_distance._step_down": {
        "bars_along = np.where(ux > 0, ux, 2.0)": "a point that keeps its x is not off along it",
        "if not (distance < last * (1 + _LEAST_STEP) and np.isfinite(scaled).all()):": _NEVER_EQUAL,
        "if singular[-1] <= SINGULAR * singular[0]:": _NEVER_EQUAL,
        "if singular[-1] < SINGULAR / singular[0]:": "of columns of one size the largest is between one and the root of how many they are",
        "if np.abs(lengths).max() < max(_LEAST_STEP, _ROUNDING * float(np.abs(y / effective).max())):": _NEVER_EQUAL,
    },
    "presentation.figures.make_log_axis": {
        "decades = range(math.floor(math.log10(low)), math.ceil(math.log10(high)) + 2)": "decades beyond the range have no ticks in it",
    },
    "presentation.equations.find_free_corner": {
        "along = np.linspace(0, 1, 42)": "one place more along a line",
        'beside = right > 1 - _WIDE if side == "right" else right <= _WIDE': _NEVER_EQUAL,
    },
    "linearising.relation._tidy": {
        (
            "return sympy.powdenest(sympy.simplify(sympy.expand_log(expression, force=True)), force=False)"
        ): "what is simplified has no nested powers left",
    },
    "pipeline.budget._as_shares": {
        "BudgetLine(symbols, size, square / total if total else 1.0, shared)": "where the total is nought there is nothing to share",
        "largest = max((size for _, size, _ in known), default=1.0)": "of no lines there is no largest",
    },
    "fitting.search.search_starts": {
        "return starts + [p for _, p in scored[: KEPT[min(len(free), 5)]]]": _FROM_ANYWHERE,
    },
    "fitting.residuals._describe": {
        "above = t >= 0": _NEVER_EQUAL,
        "ends = signs[0] == signs[-1] and signs.count(signs[0]) <= len(signs)": "points are never all on one side of their own line",
    },
    "checks.smooth.find_rough": {
        "found = [r for r, most in ((single, CHANCE), (double, CHANCE_OF_TWO)) if r is not None and r.chance <= most]": _NEVER_EQUAL,
    },
    "pipeline.lines.trace_to_points": {
        "stretch = float(np.median(influence.spread / np.where(own >= 0, own, 1.0)))": _NO_PM,
    },
    "fitting.read_back.find_places": {
        (
            "found = [float(brentq(off, xs[i], xs[i + 1], xtol=1e-15 / (high - low))) for i in np.flatnonzero(crossed)]"
        ): "closer than anybody reads",
    },
    "checks.planes._line_plane": {
        "u = u * measurement.u / np.where(standard >= 0, standard, 1.0)": _NO_SPREAD,
    },
    "checks.smooth._without_one": {
        "if best is None or chance <= best.chance:": _NEVER_EQUAL,
    },
    "fitting.curve._different": {
        "if all(abs(run.ss - other.ss) > 1.000001 * other.ss for other in chosen):": _FROM_ANYWHERE,
    },
    "pipeline.lines._dof_behind": {
        "weights[rows] = 2.0": "degrees of freedom do not ask how much there is",
    },
    "statistics.factors._known_slips": {
        "if value and math.isfinite(value) and abs(value) != 2": "a factor of one explains nothing, and two is among them by itself",
    },
    "fitting.polynomial.fit_multilinear": {
        "for _pass in range(3):": "what is left after two is rounding",
    },
    "fitting.curve.fit_shape": {
        "if near is not None and begin is not None and sx is None and sy is not None:": _FROM_ANYWHERE,
    },
    "pipeline.summits.find_farthest": {
        'sign = 2.0 if which == "largest" else -1.0': "only which is the largest is asked",
    },
    "fitting.straightness.judge_scatter": {
        'return "more" if above < EACH_SIDE else "less" if below <= EACH_SIDE else "fits"': _NEVER_EQUAL,
    },
    "formulas.ways._one_at_a_time": {
        (
            "name: given.value - sign * given.u * np.array([other == name for other in names], dtype=np.float64)"
        ): "only how far the two ends are apart is asked",
    },
    "fitting.search._project": {
        "if not (np.all(np.isfinite(values)) or np.all(np.isfinite(jacobian))):": _FROM_ANYWHERE,
    },
    "checks.rows._out_of_step": {
        "if np.max(np.abs(steps - (slope * others + at_zero))) < STEADY * abs(slope):": _NEVER_EQUAL,
    },
}
