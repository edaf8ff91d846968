"""The edits that a lab book is changed by: what each may look like."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field, TypeAdapter

from hobrel.core.document.lab_book import DigitsCount, DigitsKind
from hobrel.core.document.limits import MOST_LOGGED, MOST_REPEATS, MOST_SETTINGS
from hobrel.core.presentation.stages import REPORT_SECTIONS
from hobrel.core.readings.instruments import InstrumentKind
from hobrel.labbooks.edits.chosen_kinds import (
    AddFit,
    AddGraph,
    DrawSketch,
    PlaceFit,
    PlaceGraph,
    PutFinding,
    RemoveFinding,
    RemoveFit,
    RemoveGraph,
    WriteRounding,
)
from hobrel.labbooks.edits.parts import EditModel, FormText, Key, Name, Reason, Symbol, UnitText


class SetReading(EditModel):
    """Write a reading. `was` is the text it replaces (empty for a blank); an empty `text` makes it blank."""

    type: Literal["set_reading"] = "set_reading"
    run: Key
    setting: Key
    quantity: Key
    repeat: Annotated[int, Field(ge=0, lt=MOST_REPEATS)]
    text: Annotated[str, Field(max_length=60)]
    was: Annotated[str, Field(max_length=60)] = ""
    set_aside: Reason | None = None


class AddSetting(EditModel):
    """Add a row; `at` is its place (at the end without one). `content` brings one back from the past with its readings."""

    type: Literal["add_setting"] = "add_setting"
    run: Key
    setting: Key
    at: Annotated[int, Field(ge=0)] | None = None
    content: dict[str, Any] | None = None


class RemoveSetting(EditModel):
    type: Literal["remove_setting"] = "remove_setting"
    run: Key
    setting: Key


class SetRepeats(EditModel):
    """How many repeats a measured quantity has."""

    type: Literal["set_repeats"] = "set_repeats"
    quantity: Key
    repeats: Annotated[int, Field(ge=1, le=MOST_REPEATS)]


class SetAside(EditModel):
    """Leave a reading (with `quantity` and `repeat`) or a whole setting out, with a reason; no reason brings it back."""

    type: Literal["set_aside"] = "set_aside"
    run: Key
    setting: Key
    quantity: Key | None = None
    repeat: Annotated[int, Field(ge=0, lt=MOST_REPEATS)] | None = None
    reason: Reason | None


class DefineFormula(EditModel):
    """Write the formula of a derived quantity that the plan leaves to the bench."""

    type: Literal["define_formula"] = "define_formula"
    quantity: Key
    formula: Annotated[str, Field(max_length=400)]


class ChooseDigits(EditModel):
    """Choose how the values of a derived quantity are written."""

    type: Literal["choose_digits"] = "choose_digits"
    quantity: Key
    kind: DigitsKind
    count: DigitsCount = 3


class WriteText(EditModel):
    """Write one of the bench's paragraphs. `was` is what it replaces."""

    type: Literal["write_text"] = "write_text"
    section: Literal["expectation", "method", "discussion", "conclusion", "choice"]
    text: Annotated[str, Field(max_length=20_000)]
    was: Annotated[str, Field(max_length=20_000)] = ""


class SetAsideFrom(EditModel):
    """Leave out every setting whose changed quantity is at or beyond that of this one, with a reason."""

    type: Literal["set_aside_from"] = "set_aside_from"
    run: Key
    setting: Key
    reason: Reason


class ConfirmSlip(EditModel):
    """Say that what looks like a slip is right, or take that back. It holds for the text that stands there now."""

    type: Literal["confirm_slip"] = "confirm_slip"
    kind: Annotated[str, Field(max_length=30, pattern=r"^[a-z_]+$")]
    run: Key
    setting: Key
    quantity: Key
    repeat: Annotated[int, Field(ge=0, lt=MOST_REPEATS)] | None = None
    right: bool = True
    by: Annotated[str, Field(max_length=120)] = ""


class AsideRowsIn(EditModel):
    first: Annotated[int, Field(ge=0, lt=MOST_LOGGED)]
    last: Annotated[int, Field(ge=0, lt=MOST_LOGGED)]
    reason: Reason


class LogIn(EditModel):
    """A log of this lab book, by the key that it is kept under."""

    kept: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]
    rows: Annotated[int, Field(ge=1, le=MOST_LOGGED)]
    units: dict[Key, UnitText]
    aside: Annotated[list[AsideRowsIn], Field(max_length=200)] = []


class AddRun(EditModel):
    """Add a run; `settings` bring one back, or bring readings in; `log` those of a logger."""

    type: Literal["add_run"] = "add_run"
    run: Key
    name: Name
    at: Annotated[int, Field(ge=0)] | None = None
    settings: Annotated[list[dict[str, Any]], Field(max_length=MOST_SETTINGS)] | None = None
    log: LogIn | None = None


class RemoveRun(EditModel):
    type: Literal["remove_run"] = "remove_run"
    run: Key


class RenameRun(EditModel):
    type: Literal["rename_run"] = "rename_run"
    run: Key
    name: Name


class FillRun(EditModel):
    """Put settings in the place of all that a run holds (readings that were brought in)."""

    type: Literal["fill_run"] = "fill_run"
    run: Key
    settings: Annotated[list[dict[str, Any]], Field(max_length=MOST_SETTINGS)]
    log: LogIn | None = None
    words: Annotated[str, Field(max_length=200)] = ""


class SetAsideRows(EditModel):
    """Leave rows of a log out, from `first` to `last`, with a reason; no reason brings them back."""

    type: Literal["set_aside_rows"] = "set_aside_rows"
    run: Key
    first: Annotated[int, Field(ge=0, lt=MOST_LOGGED)]
    last: Annotated[int, Field(ge=0, lt=MOST_LOGGED)]
    reason: Reason | None


class InstrumentIn(EditModel):
    name: Annotated[str, Field(min_length=1, max_length=60)]
    kind: InstrumentKind
    division: Annotated[str, Field(max_length=20, pattern=r"^\d*\.?\d+$")] = "1"
    readings: Annotated[int, Field(ge=1, le=4)] = 1
    between_marks: bool = False
    percent: Annotated[str, Field(max_length=10, pattern=r"^\d*\.?\d+$")] = "0"
    digits: Annotated[str, Field(max_length=10, pattern=r"^\d*\.?\d+$")] = "0"


class AddQuantity(EditModel):
    """Add a quantity of the bench's own: measured, constant or derived."""

    type: Literal["add_quantity"] = "add_quantity"
    quantity: Key
    kind: Literal["measured", "constant", "derived"]
    name: Annotated[str, Field(min_length=1, max_length=80)]
    symbol: Symbol
    unit: UnitText = ""
    instrument: InstrumentIn | None = None
    repeats: Annotated[int, Field(ge=1, le=MOST_REPEATS)] = 1
    formula: Annotated[str, Field(max_length=400)] = ""
    value: Annotated[str, Field(max_length=60)] = ""
    u: Annotated[str, Field(max_length=60)] = ""


class ChangeQuantity(EditModel):
    """Change a quantity of the bench's own; of one that the plan has given, only what the plan leaves free.

    A new symbol is followed by all formulas. A new unit either says that the readings were in it all along (``relabel``) or turns
    every reading into it with its figures kept (``convert``).
    """

    type: Literal["change_quantity"] = "change_quantity"
    quantity: Key
    name: Annotated[str, Field(min_length=1, max_length=80)]
    symbol: Symbol
    unit: UnitText = ""
    readings: Literal["relabel", "convert"] = "relabel"
    instrument: InstrumentIn | None = None
    value: Annotated[str, Field(max_length=60)] = ""
    u: Annotated[str, Field(max_length=60)] = ""


class RemoveQuantity(EditModel):
    type: Literal["remove_quantity"] = "remove_quantity"
    quantity: Key


class MoveQuantity(EditModel):
    """Move a quantity to another place in the table (0 is first; the changed quantity stays first)."""

    type: Literal["move_quantity"] = "move_quantity"
    quantity: Key
    to: Annotated[int, Field(ge=0, le=60)]


class KeepPlot(EditModel):
    """Put two quantities of a plot of the board on the axes of a graph, each in its form; what is not in the lab book yet is added."""

    type: Literal["keep_plot"] = "keep_plot"
    graph: Key
    x: Key
    y: Key
    x_form: FormText
    y_form: FormText
    x_new: Key
    y_new: Key


class AddTangent(EditModel):
    """Add the slope of a fitted curve at every setting as a derived quantity."""

    type: Literal["add_tangent"] = "add_tangent"
    quantity: Key
    fit: Key
    name: Name
    symbol: Symbol


SingleEdit = Annotated[
    SetReading | AddSetting | RemoveSetting | SetRepeats | SetAside | DefineFormula | ChooseDigits | PlaceGraph | PlaceFit | WriteText,
    Field(discriminator="type"),
]


class Batch(EditModel):
    """Several edits that belong together, as a pasted block; all or none."""

    type: Literal["batch"] = "batch"
    words: Annotated[str, Field(max_length=200)]
    edits: Annotated[list[SingleEdit], Field(min_length=1, max_length=MOST_SETTINGS * 4)]


StructureEdit = (
    AddRun
    | RemoveRun
    | RenameRun
    | FillRun
    | SetAsideRows
    | AddQuantity
    | ChangeQuantity
    | RemoveQuantity
    | MoveQuantity
    | KeepPlot
    | AddTangent
    | AddGraph
    | RemoveGraph
    | AddFit
    | RemoveFit
    | PutFinding
    | RemoveFinding
    | WriteRounding
    | DrawSketch
)
Edit = Annotated[
    SetReading | AddSetting | RemoveSetting | SetRepeats | SetAside | SetAsideFrom | ConfirmSlip | DefineFormula | ChooseDigits | PlaceGraph
    | PlaceFit | WriteText | Batch | StructureEdit,
    Field(discriminator="type"),
]  # fmt: skip
edit_adapter: TypeAdapter[Edit] = TypeAdapter(Edit)
assert set(WriteText.model_fields["section"].annotation.__args__) == {*REPORT_SECTIONS, "choice"}  # type: ignore[union-attr]
