"""What the shapes of edits are made of."""

from __future__ import annotations

from typing import Annotated, Self

from pydantic import AfterValidator, BaseModel, ConfigDict, Field

from hobrel.core.document.limits import LONGEST_WORDS, MOST_REPEATS
from hobrel.core.formulas.letters import spell_symbol
from hobrel.core.readings.typed_places import FARTHEST
from hobrel.core.units.calculus import keep_unit
from hobrel.server.problems import Problem

Key = Annotated[str, Field(min_length=1, max_length=40, pattern=r"^[A-Za-z0-9_-]+$")]
Name = Annotated[str, Field(min_length=1, max_length=80)]
Symbol = Annotated[str, Field(min_length=1, max_length=30), AfterValidator(spell_symbol)]
SymbolOrNone = Annotated[str, Field(max_length=30), AfterValidator(spell_symbol)]
UnitText = Annotated[str, Field(max_length=80), AfterValidator(keep_unit)]
FormText = Annotated[str, Field(max_length=12)]
ReadingText = Annotated[str, Field(max_length=60)]
WrittenText = Annotated[str, Field(max_length=LONGEST_WORDS)]
FormulaText = Annotated[str, Field(max_length=400)]
Reason = Annotated[str, Field(min_length=1, max_length=300)]
Finite = Annotated[float, Field(allow_inf_nan=False, ge=-FARTHEST, le=FARTHEST)]
End = Finite | None
Repeat = Annotated[int, Field(ge=0, lt=MOST_REPEATS)]


class EditModel(BaseModel):
    """A part of an edit, or one as a whole."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    def signed(self, author: str) -> Self:
        """The edit with the name of its author, where its kind keeps that."""
        return self

    @property
    def brought_log(self) -> str | None:
        """The key of the log that an edit brings in, if it brings one."""
        return None


class ReadingIn(EditModel):
    text: Annotated[str, Field(min_length=1, max_length=LONGEST_WORDS)]
    set_aside: Reason | None = None


class SettingIn(EditModel):
    """A setting that comes with its readings."""

    id: Key
    readings: Annotated[dict[Key, Annotated[list[ReadingIn | None], Field(max_length=MOST_REPEATS)]], Field(max_length=80)] = {}
    set_aside: Reason | None = None
    of_run: Annotated[str, Field(max_length=40, pattern=r"^[A-Za-z0-9_-]*$")] = ""


def check_range(low: float | None, high: float | None) -> None:
    """Refuse a range, or a stretch, that ends before it begins; where an end is open, there is none.

    Raises
    ------
    Problem
        422 ``bad_range``.
    """
    if low is not None and high is not None and not high > low:
        raise Problem(422, "bad_range", "The range ends before it begins. Write the smaller number first.")
