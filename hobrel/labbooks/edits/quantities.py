"""Edits that change the quantities of a lab book. Formulas follow a new symbol, readings a new unit."""

from __future__ import annotations

from typing import Any

from hobrel.core.checks.confirmed import texts_of
from hobrel.core.document.lab_book import read_lab_book
from hobrel.core.document.limits import MOST_QUANTITIES
from hobrel.core.errors import CoreError
from hobrel.core.formulas.reading import canonical_name
from hobrel.core.formulas.renaming import rename_symbol
from hobrel.core.questions.board import BOARD_FORMS, formed
from hobrel.core.readings.converting import convert_division, convert_reading
from hobrel.core.readings.parsing import parse_reading
from hobrel.labbooks.edits.kinds import AddQuantity, AddTangent, ChangeQuantity, KeepPlot, MoveQuantity, RemoveQuantity
from hobrel.labbooks.edits.places import Document, check_symbol, check_unit, find, find_setting, freedoms_of, write_symbol
from hobrel.server.problems import Problem


def changed_value(document: Document, run: str, setting: str) -> float | None:
    """The changed quantity at a setting, as a number; None where it is blank or no number."""
    changed = next((q for q in document["quantities"] if q["kind"] == "changed"), None)
    readings = find_setting(document, run, setting)["readings"].get(changed["id"], []) if changed else []
    if not changed or not readings or readings[0] is None:
        return None
    try:
        return float(parse_reading(readings[0]["text"], changed["unit"]).value)
    except CoreError:
        return None


def texts_at(row: dict[str, Any], quantity: str, repeat: int | None) -> list[str]:
    """The texts that a slip at this place is about."""
    book = read_lab_book({"title": "", "runs": [{"id": "r", "name": "", "settings": [row]}]})
    return list(texts_of(book.runs[0].settings[0], quantity, repeat))


QuantityEdit = AddQuantity | ChangeQuantity | RemoveQuantity | MoveQuantity | KeepPlot | AddTangent


def change_quantities(document: Document, edit: QuantityEdit) -> str:
    """Apply the edit, and say it in words."""
    match edit:
        case AddQuantity():
            if not freedoms_of(document).own_quantities:
                raise Problem(403, "given", "The plan of this practical says which quantities there are.")
            return _add(document, edit)
        case ChangeQuantity():
            return _change(document, edit)
        case RemoveQuantity():
            return _remove(document, edit)
        case MoveQuantity():
            return _move(document, edit)
        case KeepPlot():
            return _keep_plot(document, edit)
        case AddTangent():
            return _add_tangent(document, edit)


def _drop_readings(document: Document, quantity: str) -> None:
    for run in document["runs"]:
        for row in run["settings"]:
            row["readings"].pop(quantity, None)


def _add(document: Document, edit: AddQuantity) -> str:
    quantities = document["quantities"]
    if any(q["id"] == edit.quantity for q in quantities):
        raise Problem(409, "gone", "This quantity is in the lab book already.")
    if len(quantities) >= MOST_QUANTITIES:
        raise Problem(422, "too_large", f"A lab book holds at most {MOST_QUANTITIES} quantities.")
    check_symbol(quantities, edit.symbol, edit.kind)
    check_unit(edit.unit)
    instrument = edit.instrument.model_dump() if edit.instrument and edit.kind == "measured" else None
    place = 1 + max((i for i, q in enumerate(quantities) if q["kind"] == edit.kind), default=len(quantities) - 1)
    quantities.insert(place, {
        "id": edit.quantity, "kind": edit.kind, "name": edit.name, "symbol": edit.symbol, "unit": edit.unit, "instrument": instrument,
        "repeats": edit.repeats if edit.kind == "measured" else 1, "formula": edit.formula if edit.kind == "derived" else "",
        "value": edit.value if edit.kind == "constant" else "", "u": edit.u if edit.kind == "constant" else "", "given": False,
    })  # fmt: skip
    return f"added {edit.name} ({write_symbol(edit.symbol)})"


def _own(document: Document, quantity_id: str) -> dict[str, Any]:
    quantity = find(document["quantities"], quantity_id, "quantity")
    if quantity["given"]:
        raise Problem(403, "given", f"{quantity['name']} is given by the plan.")
    return quantity


def _changeable(document: Document, edit: ChangeQuantity) -> dict[str, Any]:
    """The quantity, if it is the bench's own or the plan leaves free what the edit changes of it."""
    quantity = find(document["quantities"], edit.quantity, "quantity")
    if not quantity["given"]:
        return quantity
    free, given = freedoms_of(document), quantity["name"]
    instrument = edit.instrument.model_dump() if edit.instrument else None
    if any(getattr(edit, k) != quantity[k] for k in ("name", "symbol", "value", "u")):
        raise Problem(403, "given", f"{given} is given by the plan.")
    if edit.unit != quantity["unit"] and not free.units:
        raise Problem(403, "given", f"The plan gives the unit of {given}.")
    if quantity["kind"] in ("changed", "measured") and instrument != quantity["instrument"] and not free.instruments:
        raise Problem(403, "given", f"The plan says what {given} is read from.")
    return quantity


def _change(document: Document, edit: ChangeQuantity) -> str:
    quantity = _changeable(document, edit)
    check_symbol([q for q in document["quantities"] if q is not quantity], edit.symbol, quantity["kind"])
    check_unit(edit.unit)
    words = [f"{edit.name} ({write_symbol(edit.symbol)})"]
    old_unit, old_symbol = quantity["unit"], quantity["symbol"]
    instrument = edit.instrument.model_dump() if edit.instrument else None
    value, u = edit.value, edit.u
    if edit.unit != old_unit and edit.readings == "convert" and quantity["kind"] != "derived":
        instrument = _convert_all(document, quantity, instrument, edit.unit)
        value, u = (convert_reading(t, old_unit, edit.unit) if t == quantity[k] else t for t, k in ((edit.value, "value"), (edit.u, "u")))
        words.append(f"every reading converted from {old_unit or 'no unit'} to {edit.unit or 'no unit'}")
    elif edit.unit != old_unit:
        for run in document["runs"]:
            if run.get("log") and quantity["id"] in run["log"]["units"]:
                run["log"]["units"][quantity["id"]] = edit.unit
        words.append(f"now in {edit.unit or 'no unit'}, readings as they were written")
    quantity.update(name=edit.name, unit=edit.unit)
    if quantity["kind"] in ("measured", "changed"):
        quantity["instrument"] = instrument
    if quantity["kind"] == "constant":
        quantity.update(value=value, u=u)
    if edit.symbol != old_symbol:
        _follow_symbol(document, quantity, edit.symbol)
        words.append(f"{write_symbol(old_symbol)} is now {write_symbol(edit.symbol)}, in all formulas")
    return "changed " + "; ".join(words)


def _convert_all(document: Document, quantity: dict[str, Any], instrument: dict[str, Any] | None, unit: str) -> dict[str, Any] | None:
    old = quantity["unit"]
    try:
        for run in document["runs"]:
            for row in run["settings"]:
                for reading in row["readings"].get(quantity["id"], []):
                    if reading is not None:
                        reading["text"] = convert_reading(reading["text"], old, unit)
        if instrument and quantity["instrument"] and instrument["division"] == quantity["instrument"]["division"]:
            instrument = instrument | {"division": convert_division(instrument["division"], old, unit)}
    except CoreError as trouble:
        raise Problem(422, trouble.code, trouble.message) from trouble
    return instrument


def _follow_symbol(document: Document, quantity: dict[str, Any], symbol: str) -> None:
    """Write the new symbol wherever formulas use the old one; headings such as T² follow as well."""
    known = [q["symbol"] for q in document["quantities"]]
    old = quantity["symbol"]
    quantity["symbol"] = symbol
    for other in document["quantities"]:
        if other["kind"] == "derived":
            other["formula"] = rename_symbol(other["formula"], old, symbol, known)
            if other is not quantity:
                other["symbol"] = rename_symbol(other["symbol"], old, symbol, known)
    for finding in document["findings"]:
        finding["formula"] = rename_symbol(finding["formula"], old, symbol, known)


def _remove(document: Document, edit: RemoveQuantity) -> str:
    quantity = _own(document, edit.quantity)
    if quantity["kind"] == "changed":
        raise Problem(409, "last", "The changed quantity cannot be removed: every setting is a value of it.")
    if any(quantity["id"] in (g["x"], g["y"], *g.get("also", ())) for g in document["graphs"]):
        raise Problem(409, "in_use", f"{quantity['name']} is on a graph. Put another quantity on its axis first.")
    used = next((f for f in document["findings"] for i in f.get("uses", ()) if i["kind"] == "mean" and i["of"] == quantity["id"]), None)
    if used:
        raise Problem(409, "in_use", f"The finding {used['name']} uses {quantity['name']}. Change or remove that first.")
    document["quantities"].remove(quantity)
    _drop_readings(document, quantity["id"])
    return f"removed {quantity['name']} ({write_symbol(quantity['symbol'])}) with its readings"


def _move(document: Document, edit: MoveQuantity) -> str:
    quantities = document["quantities"]
    quantity = find(quantities, edit.quantity, "quantity")
    if quantity["kind"] == "changed" or edit.to == 0:
        raise Problem(409, "first", "The changed quantity stays first.")
    quantities.remove(quantity)
    quantities.insert(min(edit.to, len(quantities)), quantity)
    return f"moved {quantity['name']}"


def _add_tangent(document: Document, edit: AddTangent) -> str:
    find(document["fits"], edit.fit, "fit")
    _add(document, AddQuantity(quantity=edit.quantity, kind="derived", name=edit.name, symbol=edit.symbol))
    find(document["quantities"], edit.quantity, "quantity")["tangent_of"] = edit.fit
    return f"added the slope of a fit at every setting ({write_symbol(edit.symbol)})"


def _keep_plot(document: Document, edit: KeepPlot) -> str:
    graph = find(document["graphs"], edit.graph, "graph")
    if not {edit.x_form, edit.y_form} <= set(BOARD_FORMS):
        raise Problem(422, "bad_form", "This form is not on the board.")
    axes = {}
    for axis, quantity_id, form, new in (("x", edit.x, edit.x_form, edit.x_new), ("y", edit.y, edit.y_form, edit.y_new)):
        base = find(document["quantities"], quantity_id, "quantity")
        symbol, formula, name = formed(base["symbol"], base["name"], form)
        there = next((q for q in document["quantities"] if canonical_name(q["symbol"]) == canonical_name(symbol)), None)
        if there is None:
            _add(document, AddQuantity(quantity=new, kind="derived", name=name[:80], symbol=symbol, formula=formula))
        axes[axis] = there["id"] if there else new
    # ranges and further quantities were those of the axes before
    graph.update(axes, also=[], hidden=[], x_low=None, x_high=None, y_low=None, y_high=None)
    x, y = (find(document["quantities"], axes[a], "quantity")["symbol"] for a in ("x", "y"))
    return f"kept from the board: {write_symbol(y)} against {write_symbol(x)}"
