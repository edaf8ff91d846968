"""Headings as people write them. What they should say is common practice of school lab books; symbols and units of ISO 80000-1, 7.1.4."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from hobrel.core.errors import CoreError
from hobrel.core.formulas.reading import canonical_name, read_formula
from hobrel.core.formulas.tree import FUNCTIONS
from hobrel.core.readings.headings import LONGEST_HEADING, HeadedColumn, read_heading, read_headings, split_heading


@pytest.mark.parametrize(
    ("text", "name", "symbol", "unit"),
    [
        ("t / s", "time", "t", "s"),
        ("time t (s)", "time", "t", "s"),
        ("time, t / s", "time", "t", "s"),
        ("x in cm", "x", "x", "cm"),
        ("# time", "time", "t", ""),
        ("Temperature (°C)", "Temperature", "T", "°C"),
        ("T / K", "temperature", "T", "K"),
        ("T / s", "period", "T", "s"),
        ("λ [nm]", "wavelength", "lambda", "nm"),
        ("length of the strip (m)", "length of the strip", "L", "m"),
        ("speed v / m/s", "speed", "v", "m/s"),
        ("potential difference (V)", "potential difference", "V", "V"),
        ("t_10 (s)", "t_10", "t_10", "s"),
        ("ψ₁ / V", "ψ₁", "psi1", "V"),
        # what was worked out elsewhere is no longer what its letter stands for
        ("T²/s²", "T²", "T2", "s²"),
        ("1/T (1/K)", "1/T", "T_inv", "1/K"),
        ("ln(N)", "ln(N)", "lnN", ""),
        # m is a mass in kilograms only
        ("m / m", "m", "m", "m"),
        ("Number of turns", "Number of turns", "N", ""),
        ("log", "log", "l", ""),
    ],
)
def test_a_heading_is_read(text: str, name: str, symbol: str, unit: str) -> None:
    found = read_heading(text)
    assert (found.name, found.symbol, found.unit, found.of) == (name, symbol, unit, None)


@pytest.mark.parametrize(
    ("text", "of", "unit"),
    [
        ("±x", "x", ""),
        ("± x / cm", "x", "cm"),
        ("u(x) / mm", "x", "mm"),
        ("x ± (mm)", "x", "mm"),
        ("uncertainty of x (s)", "x", "s"),
        ("+/-", "", ""),
    ],
)
def test_a_column_of_uncertainties_says_whose(text: str, of: str, unit: str) -> None:
    found = read_heading(text)
    assert (found.of, found.unit) == (of, unit)


@pytest.mark.parametrize(
    ("text", "code"),
    [("", "bad_heading"), ("4", "bad_heading"), ("# ", "bad_heading"), ("x" * 200, "bad_heading"), ("t / wobbles", "bad_unit")],
)
def test_what_names_no_quantity_is_refused(text: str, code: str) -> None:
    with pytest.raises(CoreError) as trouble:
        read_heading(text)
    assert trouble.value.code == code


def test_a_symbol_that_is_taken_gets_a_number() -> None:
    assert read_heading("temperature (K)", ["T"]).symbol == "T_2"
    assert read_heading("temperature (K)", ["T", "T_2"]).symbol == "T_3"
    assert read_heading("t / s", ["t"]).symbol == "t", "one that was written is what was meant"


def test_numbered_columns_are_repeats_and_others_are_not() -> None:
    found = read_headings(["L (m)", "T1 (s)", "T2 (s)", "T3 (s)"])
    assert [(q.symbol, n) for q, n in zip(found.quantities, found.repeats, strict=True)] == [("L", 1), ("T", 3)]
    assert found.columns[3] == HeadedColumn(1, 2, is_u=False)
    assert read_headings(["T2 (s)", "T3 (s)"]).repeats == (1, 1), "they are not numbered from one on"
    assert read_headings(["T1 (s)", "T2 (m)"]).repeats == (1, 1), "of two units"
    assert read_headings(["A", "A"]).repeats == (2,)
    assert read_headings(["t1", "x", "t2"]).repeats == (2, 1)


def test_whose_uncertainty_a_column_is() -> None:
    found = read_headings(["x / cm", "±x", "y (cm)", "±"])
    assert [c.quantity for c in found.columns if c and c.is_u] == [0, 1]
    assert read_headings(["y", "x", "±y"]).columns[2] == HeadedColumn(0, 0, is_u=True)
    with pytest.raises(CoreError):
        read_headings(["x", "±z"])
    with pytest.raises(CoreError):
        read_headings(["±"])


def test_columns_without_a_heading_are_left_out() -> None:
    assert read_headings(["t", "", "#", "v"]).columns[1:3] == (None, None)


def test_a_pasted_heading_with_a_strange_unit_keeps_it_in_its_name() -> None:
    assert read_headings(["t / wobbles"]).quantities[0].name == "t / wobbles"


SIGNS = "tTxLmλθ_²₁ /()[]±+-#.,0123456789°%√·ÅΩµéß漢ע^*"


@given(st.text(SIGNS, max_size=30))
def test_whatever_is_typed_is_read_or_refused(text: str) -> None:
    try:
        found = read_heading(text)
    except CoreError:
        return
    if found.of is None:
        assert found.name.strip()
        # formulas can be written with it
        assert canonical_name(found.symbol) not in FUNCTIONS
        assert read_formula(f"2 {found.symbol}", [found.symbol])
        if found.unit:
            assert split_heading(f"x ({found.unit})") == ("x", found.unit)


@given(st.lists(st.text(SIGNS, max_size=14), max_size=9))
def test_whatever_is_pasted_is_read_or_refused(texts: list[str]) -> None:
    try:
        found = read_headings(texts)
    except CoreError as trouble:
        assert trouble.code == "bad_heading"
        return
    assert len(found.columns) == len(texts)
    symbols = [canonical_name(q.symbol) for q in found.quantities]
    assert len(set(symbols)) == len(symbols), "each has a symbol of its own"
    for quantity, count in enumerate(found.repeats):
        held = sorted(c.repeat for c in found.columns if c and c.quantity == quantity and not c.is_u)
        assert held == list(range(count))


def test_the_longest_heading_is_read() -> None:
    assert read_heading("x" + " y" * ((LONGEST_HEADING - 1) // 2)).symbol == "y"
