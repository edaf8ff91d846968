"""All kinds of edits: the modules that register them, and the shape of what may be sent."""

from __future__ import annotations

import importlib
import pkgutil
from pathlib import Path
from typing import Annotated, Any

from pydantic import Field, TypeAdapter

from hobrel.labbooks.edits.registry import union_of

# several edits together are made of the others
_LAST = "batches"
_modules = sorted((m.name for m in pkgutil.iter_modules([str(Path(__file__).parent)])), key=lambda name: (name == _LAST, name))
for _name in _modules:
    if f"{__package__}.{_name}" != __name__:
        importlib.import_module(f"{__package__}.{_name}")

Edit = Annotated[union_of(), Field(discriminator="type")]
edit_adapter: TypeAdapter[Any] = TypeAdapter(Edit)
