"""What goes from where it was to where it belongs, by the same share in every second."""

from __future__ import annotations

import math


def settle(before: float, target: float, seconds: float, within: float) -> float:
    """Where something is so many seconds after it stood at `before`; `within` such a time 1/e of the way is left."""
    return target + (before - target) * math.exp(-seconds / within)
