"""Edits that change the quantities of a lab book. Formulas follow a new symbol, readings a new unit."""

from __future__ import annotations

from decimal import Decimal
from typing import Annotated, Any, Literal

from pydantic import Field

from hobrel.core.document.lab_book import DigitsCount, DigitsKind, Holds
from hobrel.core.document.limits import MOST_QUANTITIES, MOST_REPEATS
from hobrel.core.errors import CoreError
from hobrel.core.formulas.renaming import rename_symbol
from hobrel.core.formulas.typeset import write_symbol
from hobrel.core.readings.converting import convert_division, convert_reading, convert_written_u
from hobrel.core.readings.instruments import InstrumentKind
from hobrel.core.readings.parsing import parse_difference
from hobrel.labbooks.edits.changing import PartEdit, change_part
from hobrel.labbooks.edits.draft import Draft
from hobrel.labbooks.edits.parts import EditModel, FormulaText, Key, Name, ReadingText, Symbol, SymbolOrNone, UnitText
from hobrel.labbooks.edits.readings import own_setting
from hobrel.labbooks.edits.registry import kind
from hobrel.labbooks.places import Document, check_known, check_named_unit, check_symbol, count, find, has
from hobrel.server import policy
from hobrel.server.problems import Problem

_WITH_UNIT = r"^\d*\.?\d+( ?[A-Za-zµμ°Ω][^\s]*)?$"
QuantityName = Annotated[str, Field(min_length=1, max_length=80)]
Source = Annotated[str, Field(max_length=200)]


class InstrumentIn(EditModel):
    """An instrument as it is typed: its division and its scatter may have a unit of their own (1 mm, for a length in m)."""

    name: Annotated[str, Field(min_length=1, max_length=60)]
    kind: InstrumentKind
    division: Annotated[str, Field(max_length=20, pattern=_WITH_UNIT)] = "1"
    readings: Annotated[int, Field(ge=1, le=4)] = 1
    between_marks: bool = False
    percent: Annotated[str, Field(max_length=10, pattern=r"^\d*\.?\d+$")] = "0"
    digits: Annotated[str, Field(max_length=10, pattern=r"^\d*\.?\d+$")] = "0"
    scatter: Annotated[str, Field(max_length=20, pattern=_WITH_UNIT)] = "0"
    common: Annotated[str, Field(max_length=10, pattern=r"^(\d{1,2}(\.\d+)?|\.\d+)$")] = "0"


class AddQuantity(EditModel):
    """Add a quantity of the bench's own: measured, constant or derived."""

    type: Literal["add_quantity"] = "add_quantity"
    quantity: Key
    kind: Literal["measured", "constant", "derived"]
    name: QuantityName
    symbol: SymbolOrNone
    holds: Holds = "numbers"
    unit: UnitText = ""
    instrument: InstrumentIn | None = None
    repeats: Annotated[int, Field(ge=1, le=MOST_REPEATS)] = 1
    formula: FormulaText = ""
    value: ReadingText = ""
    u: ReadingText = ""
    source: Source = ""


@kind(policy.own_quantities)
def add_quantity(draft: Draft, edit: AddQuantity) -> str:
    quantities = draft["quantities"]
    if has(quantities, edit.quantity):
        raise Problem(409, "gone", "This quantity is in the lab book already.")
    if len(quantities) >= MOST_QUANTITIES:
        raise Problem(422, "too_large", f"A lab book holds at most {MOST_QUANTITIES} quantities.")
    _check_symbol(quantities, edit.symbol, edit.kind, edit.holds)
    if edit.holds == "words" and (edit.kind != "measured" or edit.repeats > 1):
        raise Problem(422, "holds_words", "Words are written down, once at each setting.")
    check_named_unit(edit.name, edit.unit)
    if edit.kind == "constant":
        check_known(edit.value, edit.u, edit.unit)
    instrument = store_instrument(edit.instrument.model_dump(), edit.unit) if edit.instrument and edit.kind == "measured" else None
    place = 1 + max((i for i, q in enumerate(quantities) if q["kind"] == edit.kind), default=len(quantities) - 1)
    draft.own("quantities").insert(place, {
        "id": edit.quantity, "kind": edit.kind, "name": edit.name, "symbol": edit.symbol, "unit": edit.unit, "instrument": instrument,
        "repeats": edit.repeats if edit.kind == "measured" else 1, "formula": edit.formula if edit.kind == "derived" else "",
        "value": edit.value if edit.kind == "constant" else "", "u": edit.u if edit.kind == "constant" else "",
        "source": edit.source if edit.kind == "constant" else "", "given": False, "holds": edit.holds,
    })  # fmt: skip
    return f"added {_say(draft.own('quantities', edit.quantity))}"


def _say(quantity: Document) -> str:
    return f"{quantity['name']} (words)" if quantity.get("holds") == "words" else f"{quantity['name']} ({write_symbol(quantity['symbol'])})"


def _check_symbol(others: list[dict[str, Any]], symbol: str, kind: str, holds: Holds) -> None:
    """As `check_symbol`; what holds words needs none.

    Raises
    ------
    Problem
        As `check_symbol`.
    """
    if symbol or holds == "numbers":
        check_symbol(others, symbol, kind)


class QuantityPart(EditModel):
    """Fields of a quantity that somebody may choose anew."""

    name: QuantityName = "this"
    symbol: SymbolOrNone = "q"
    holds: Holds = "numbers"
    unit: UnitText = ""
    instrument: InstrumentIn | None = None
    value: ReadingText = ""
    u: ReadingText = ""
    source: Source = ""


class ChangeQuantity(PartEdit):
    """Change a quantity of the bench's own; of one that the plan has given, only what the plan leaves free.

    A new symbol is followed by all formulas. A new unit either says that the readings were in it all along (``relabel``) or turns
    every reading into it with its figures kept (``convert``).
    """

    type: Literal["change_quantity"] = "change_quantity"
    quantity: Key
    readings: Literal["relabel", "convert"] = "relabel"
    was: QuantityPart
    becomes: QuantityPart


@kind(policy.quantity)
def change_quantity(draft: Draft, edit: ChangeQuantity) -> str:
    find(draft["quantities"], edit.quantity, "quantity")
    quantity = draft.own("quantities", edit.quantity)
    now = {name: quantity.get(name, default) for name, default in QuantityPart().model_dump().items()}
    wanted = {**now, **change_part(now, edit, "this quantity")}
    symbol, unit = wanted["symbol"], wanted["unit"]
    _check_symbol([q for q in draft["quantities"] if q["id"] != edit.quantity], symbol, quantity["kind"], wanted["holds"])
    if edit.becomes.model_fields_set & {"name", "unit"}:
        check_named_unit(wanted["name"], unit)
    if wanted["instrument"] != now["instrument"] and wanted["instrument"] is not None:
        wanted["instrument"] = store_instrument(wanted["instrument"], unit)
    words = [_say(wanted)]
    if wanted["holds"] != now["holds"]:
        words.append(f"what is written there is {wanted['holds']} from now on")
        check_holds(quantity, wanted["holds"])
    if unit != now["unit"] and edit.readings == "convert" and quantity["kind"] != "derived":
        wanted["instrument"] = _convert_all(draft, quantity, wanted["instrument"], unit)
        for name, convert in (("value", convert_reading), ("u", convert_written_u)):
            if wanted[name] == now[name]:
                wanted[name] = convert(wanted[name], now["unit"], unit)
        words.append(f"every reading converted from {now['unit'] or 'no unit'} to {unit or 'no unit'}")
    elif unit != now["unit"]:
        for run in draft["runs"]:
            if run.get("log") and edit.quantity in run["log"]["units"]:
                draft.own("runs", run["id"], "log", "units")[edit.quantity] = unit
        words.append(f"now in {unit or 'no unit'}, readings as they were written")
    quantity.update(name=wanted["name"], unit=unit, holds=wanted["holds"])
    if quantity["kind"] in ("measured", "changed"):
        quantity["instrument"] = wanted["instrument"]
    if quantity["kind"] == "constant":
        if any(wanted[name] != now[name] for name in ("value", "u", "unit")):
            check_known(wanted["value"], wanted["u"], unit)
        quantity.update(value=wanted["value"], u=wanted["u"], source=wanted["source"])
    if symbol != now["symbol"]:
        follow_symbol(draft, quantity, symbol)
    if symbol and now["symbol"] and symbol != now["symbol"]:
        words.append(f"{write_symbol(now['symbol'])} is now {write_symbol(symbol)}, in all formulas")
    return "changed " + "; ".join(words)


def store_instrument(instrument: dict[str, Any], unit: str) -> dict[str, Any]:
    """An instrument as it is kept: its division and its scatter are in the unit of the quantity.

    Raises
    ------
    Problem
        422 ``bad_unit``.
    """
    try:
        in_unit = {name: parse_difference(instrument[name], unit) for name in ("division", "scatter") if not _is_plain(instrument[name])}
    except CoreError as trouble:
        raise Problem(422, trouble.code, trouble.message) from trouble
    # a degree has no end in radians
    return {**instrument, **{name: f"{Decimal(f'{value:.12g}'):f}" for name, value in in_unit.items()}}


def _is_plain(text: str) -> bool:
    return not any(c.isalpha() or c == "°" for c in text)


def check_holds(quantity: Document, holds: Holds) -> None:
    """Refuse to turn numbers to words, or words to numbers, where a quantity is not written down, or has repeats.

    Raises
    ------
    Problem
        422 ``holds_words``, 409 ``repeats``.
    """
    if quantity["kind"] not in ("changed", "measured"):
        raise Problem(422, "holds_words", f"{quantity['name']} is worked out or given, so it is a number.")
    if holds == "words" and quantity["repeats"] > 1:
        message = f"{quantity['name']} has {quantity['repeats']} repeats; words are written once at a setting. Take the others away first."
        raise Problem(409, "repeats", message)


def _convert_all(draft: Draft, quantity: dict[str, Any], instrument: dict[str, Any] | None, unit: str) -> dict[str, Any] | None:
    old, key = quantity["unit"], quantity["id"]
    try:
        for run in draft["runs"]:
            for row in run["settings"]:
                written = row["readings"].get(key)
                if written:
                    converted = [r and {**r, "text": convert_reading(r["text"], old, unit)} for r in written]
                    own_setting(draft, run["id"], row["id"])["readings"][key] = converted
        before = quantity["instrument"]
        if instrument and before and instrument["division"] == before["division"]:
            instrument = instrument | {"division": convert_division(instrument["division"], old, unit)}
        # what was written before instruments had a scatter has none
        scatter = instrument.get("scatter", "0") if instrument else "0"
        if instrument and before and float(scatter) and scatter == before.get("scatter"):
            instrument = instrument | {"scatter": convert_division(scatter, old, unit)}
    except CoreError as trouble:
        raise Problem(422, trouble.code, trouble.message) from trouble
    return instrument


def follow_symbol(draft: Draft, quantity: dict[str, Any], symbol: str) -> None:
    """Write the new symbol wherever formulas use the old one; headings such as T² follow as well."""
    tables = [t["symbol"] for t in draft.get("plan", {}).get("tables", [])]
    known = [q["symbol"] for q in draft["quantities"]] + tables
    old = quantity["symbol"]
    quantity["symbol"] = symbol
    if not (old and symbol):
        return
    for other in draft["quantities"]:
        if other["kind"] == "derived":
            followed = {"formula": rename_symbol(other["formula"], old, symbol, known)}
            if other["id"] != quantity["id"]:
                followed["symbol"] = rename_symbol(other["symbol"], old, symbol, known)
            draft.own("quantities", other["id"]).update(followed)
    for finding in draft["findings"]:
        draft.own("findings", finding["id"])["formula"] = rename_symbol(finding["formula"], old, symbol, known)


class RemoveQuantity(EditModel):
    type: Literal["remove_quantity"] = "remove_quantity"
    quantity: Key


@kind(policy.own_quantity)
def remove_quantity(draft: Draft, edit: RemoveQuantity) -> str:
    quantity = find(draft["quantities"], edit.quantity, "quantity")
    if quantity["kind"] == "changed" and not draft.get("freedoms", {}).get("plan"):
        raise Problem(409, "last", "The changed quantity cannot be removed: every setting is a value of it.")
    if any(edit.quantity in (g["x"], g["y"], *g.get("also", ())) for g in draft["graphs"]):
        raise Problem(409, "in_use", f"{quantity['name']} is on a graph. Put another quantity on its axis first.")
    used = next(
        (f for f in draft["findings"] for i in f.get("uses", ()) if i["kind"] == "mean" and edit.quantity in (i["of"], i.get("part"))), None
    )
    if used:
        raise Problem(409, "in_use", f"The finding {used['name']} uses {quantity['name']}. Change or remove that first.")
    result = next((q for q in draft["quantities"] if (q.get("result_of") or {}).get("of") == edit.quantity), None)
    if result:
        raise Problem(409, "in_use", f"{result['name']} is the mean of {quantity['name']} in every run. Remove that quantity first.")
    draft.own("quantities").remove(quantity)
    if any(moment["of"] == edit.quantity for moment in draft.get("moments", ())):
        draft["moments"] = [moment for moment in draft["moments"] if moment["of"] != edit.quantity]
    for run in draft["runs"]:
        if edit.quantity in (run.get("headings") or ()):
            draft.own("runs", run["id"])["headings"].remove(edit.quantity)
        for row in run["settings"]:
            if edit.quantity in row["readings"]:
                own_setting(draft, run["id"], row["id"])["readings"].pop(edit.quantity)
    if quantity["kind"] == "changed" and not any(q["kind"] == "changed" for q in draft["quantities"]):
        # what stands next is what is set from now on
        following = next((q for q in draft["quantities"] if q["kind"] == "measured"), None)
        if following is not None and following["repeats"] > 1:
            raise Problem(409, "repeats", f"{following['name']} would be the first column, but has repeats. Swap another one there first.")
        if following is not None:
            draft.own("quantities", following["id"])["kind"] = "changed"
    return f"removed {_say(quantity)} with its readings"


class MoveQuantity(EditModel):
    """Move a quantity to another place in the table (0 is first; the changed quantity stays first)."""

    type: Literal["move_quantity"] = "move_quantity"
    quantity: Key
    to: Annotated[int, Field(ge=0, le=60)]


@kind(policy.left_to_the_bench)
def move_quantity(draft: Draft, edit: MoveQuantity) -> str:
    quantity = find(draft["quantities"], edit.quantity, "quantity")
    if quantity["kind"] == "changed" or edit.to == 0:
        raise Problem(409, "first", "The changed quantity stays first.")
    quantities = draft.own("quantities")
    quantities.remove(quantity)
    quantities.insert(min(edit.to, len(quantities)), quantity)
    return f"moved {quantity['name']}"


class DefineFormula(EditModel):
    """Write the formula of a derived quantity that the plan leaves to the bench. `was` is what it replaces; none: whatever stands there."""

    type: Literal["define_formula"] = "define_formula"
    quantity: Key
    formula: FormulaText
    was: FormulaText | None = None


@kind(policy.own_formula, in_batch=True)
def define_formula(draft: Draft, edit: DefineFormula) -> str:
    current = find(draft["quantities"], edit.quantity, "quantity").get("formula", "")
    if edit.was is not None and current not in (edit.was, edit.formula):
        raise Problem(409, "clash", "Somebody else has changed this formula meanwhile.", {"theirs": current})
    quantity = draft.own("quantities", edit.quantity)
    quantity["formula"] = edit.formula
    return f"{write_symbol(quantity['symbol'])} = {edit.formula or '(nothing)'}"


class ChooseDigits(EditModel):
    """Choose how the values of a derived quantity are written."""

    type: Literal["choose_digits"] = "choose_digits"
    quantity: Key
    kind: DigitsKind
    count: DigitsCount = 3


@kind(policy.digits, in_batch=True)
def choose_digits(draft: Draft, edit: ChooseDigits) -> str:
    quantity = draft.own("quantities", edit.quantity)
    quantity["digits"] = {"kind": edit.kind, "count": edit.count}
    chosen = {
        "automatic": "with the digits that its ± asks for",
        "decimals": f"to {count(edit.count, 'decimal')}",
        "figures": f"to {count(edit.count, 'significant figure')}",
        "scientific": f"to {count(edit.count, 'significant figure')}, as a power of ten",
    }[edit.kind]
    return f"{write_symbol(quantity['symbol'])} is written {chosen}"


class AddTangent(EditModel):
    """Add the slope of a fitted curve at every setting as a derived quantity."""

    type: Literal["add_tangent"] = "add_tangent"
    quantity: Key
    fit: Key
    name: Name
    symbol: Symbol


@kind(policy.left_to_the_bench)
def add_tangent(draft: Draft, edit: AddTangent) -> str:
    find(draft["fits"], edit.fit, "fit")
    add_quantity(draft, AddQuantity(quantity=edit.quantity, kind="derived", name=edit.name, symbol=edit.symbol))
    draft.own("quantities", edit.quantity)["tangent_of"] = edit.fit
    return f"added the slope of a fit at every setting ({write_symbol(edit.symbol)})"
