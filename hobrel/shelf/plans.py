"""The shelf: the plans that ship with the product, in the order in which they are offered."""

from __future__ import annotations

from collections.abc import Callable

from hobrel.core.document.lab_book import LabBook
from hobrel.shelf import (
    bead_in_syrup,
    behind_sheets_of_lead,
    bubbles_in_light,
    clamped_strip,
    cooling_cups,
    draining_vessel,
    elastic_band,
    falling_drops,
    fan_on_a_supply,
    foam_on_potato,
    growth_in_a_flask,
    iron_in_tea,
    ring_on_a_turntable,
    salt_in_rock_pools,
    singing_bottle,
    sound_through_felt,
    straw_balance,
    warm_bolt,
    waves_in_a_tray,
    winged_seed,
)

SHELF: dict[str, tuple[str, Callable[[], LabBook]]] = {
    "clamped-strip": ("physics", clamped_strip.write_draft),
    "draining-vessel": ("physics", draining_vessel.write_draft),
    "sound-through-felt": ("physics", sound_through_felt.write_draft),
    "singing-bottle": ("physics", singing_bottle.write_draft),
    "waves-in-a-tray": ("physics", waves_in_a_tray.write_draft),
    "straw-balance": ("physics", straw_balance.write_draft),
    "warm-bolt": ("physics", warm_bolt.write_draft),
    "cooling-cups": ("physics", cooling_cups.write_draft),
    "ring-on-a-turntable": ("physics", ring_on_a_turntable.write_draft),
    "winged-seed": ("physics", winged_seed.write_draft),
    "fan-on-a-supply": ("physics", fan_on_a_supply.write_draft),
    "bead-in-syrup": ("physics", bead_in_syrup.write_draft),
    "behind-sheets-of-lead": ("physics", behind_sheets_of_lead.write_draft),
    "elastic-band": ("physics", elastic_band.write_draft),
    "falling-drops": ("chemistry", falling_drops.write_draft),
    "iron-in-tea": ("chemistry", iron_in_tea.write_draft),
    "foam-on-potato": ("chemistry", foam_on_potato.write_draft),
    "salt-in-rock-pools": ("chemistry", salt_in_rock_pools.write_draft),
    "growth-in-a-flask": ("biology", growth_in_a_flask.write_draft),
    "bubbles-in-light": ("biology", bubbles_in_light.write_draft),
}
"""Each plan by its key: of which subject it is, and what writes it."""
