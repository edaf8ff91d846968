"""Changes that a lesson makes beside lab books."""

from __future__ import annotations

from collections.abc import Mapping

from hobrel.classes.models import Bench, SchoolClass
from hobrel.server.writing import writing


def arrange_room(school_class: SchoolClass, places: Mapping[str, tuple[int, int]]) -> None:
    """Keep where the benches of a class stand; places of benches that it does not have are left out."""
    own = {str(key) for key in Bench.objects.filter(school_class=school_class).values_list("pk", flat=True)}
    with writing():
        school_class.room = {bench: list(place) for bench, place in places.items() if bench in own}
        school_class.save(update_fields=["room"])
