"""The rigs that there are, in the order in which they are offered."""

from __future__ import annotations

from typing import Any

from hobrel.core.apparatus.count_rate import COUNT_RATE
from hobrel.core.apparatus.elastic_band import ELASTIC_BAND
from hobrel.core.apparatus.fan_on_supply import FAN_ON_SUPPLY
from hobrel.core.apparatus.iron_in_tea import IRON_IN_TEA
from hobrel.core.apparatus.rig import Rig
from hobrel.core.apparatus.ring_on_turntable import RING_ON_TURNTABLE
from hobrel.core.apparatus.salt_in_pools import SALT_IN_POOLS
from hobrel.core.apparatus.timing_by_hand import TIMING_BY_HAND
from hobrel.core.apparatus.winged_seed import WINGED_SEED
from hobrel.core.errors import CoreError

_IN_ORDER: tuple[Rig[Any, Any], ...] = (
    SALT_IN_POOLS,
    RING_ON_TURNTABLE,
    WINGED_SEED,
    IRON_IN_TEA,
    FAN_ON_SUPPLY,
    TIMING_BY_HAND,
    COUNT_RATE,
    ELASTIC_BAND,
)
RIGS = {rig.key: rig for rig in _IN_ORDER}


def find_rig(key: str) -> Rig[Any, Any]:
    """A rig by its key.

    Raises
    ------
    CoreError
        ``bad_job`` for one that there is not.
    """
    if key not in RIGS:
        raise CoreError("bad_job", "There is no rig {key}.", key=key or "here")
    return RIGS[key]
