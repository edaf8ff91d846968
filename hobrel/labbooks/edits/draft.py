"""A document that is being changed: what is changed is copied first, with the path that leads to it, and nothing else."""

from __future__ import annotations

from typing import Any

from hobrel.labbooks.places import Document, place_of_item


class Draft(dict[str, Any]):
    """Begins as the document, sharing all its parts. `own` gives a part that may be changed; everything else is only to be looked at."""

    def __init__(self, document: Document) -> None:
        super().__init__(document)
        self._own: dict[int, Any] = {id(self): self}

    def own(self, *path: str | int) -> Any:
        """The part at a path of names, ids of items and places in lists, for changing.

        Raises
        ------
        Problem
            409 ``gone`` where an item is no longer there.
        """
        part: Any = self
        for step in path:
            at = place_of_item(part, step) if isinstance(part, list) and isinstance(step, str) else step
            inner = part[at]
            if id(inner) not in self._own:
                inner = part[at] = list(inner) if isinstance(inner, list) else dict(inner)
                self._own[id(inner)] = inner
            part = inner
        return part
