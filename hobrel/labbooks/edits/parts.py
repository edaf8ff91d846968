"""What the shapes of edits are made of."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

Key = Annotated[str, Field(min_length=1, max_length=40, pattern=r"^[A-Za-z0-9_-]+$")]
Name = Annotated[str, Field(min_length=1, max_length=80)]
Symbol = Annotated[str, Field(min_length=1, max_length=30)]
UnitText = Annotated[str, Field(max_length=80)]
FormText = Annotated[str, Field(max_length=12)]
Reason = Annotated[str, Field(min_length=1, max_length=300)]


class EditModel(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)
