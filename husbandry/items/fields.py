"""What can be edited of an item, and how it is asked for: read by every form and editor."""

from dataclasses import dataclass

from husbandry.quantity import Kind, PlausibleRange


@dataclass(frozen=True)
class ItemField:
    """One value of an item: where it stands in the item, what it is called, and what it may be."""

    path: str
    """Where it stands in the item's JSON: `power_w`, or `size_m/0`."""
    label: str
    quantity: Kind | None = None
    """The quantity that a number is of; None for a plain number, a choice or a yes and no."""
    plausible: str | PlausibleRange = ""
    """Where it lies in practice; empty: no question is asked about it."""
    required: bool = True
    choices: tuple[tuple[str, str], ...] = ()
    """Value and words, of what is chosen."""
    is_flag: bool = False
    """Whether it is yes or no."""
    limits: tuple[float, float] | None = None
    """Smallest and largest, of a plain number."""
    what: str = ""
    """What a question about the value calls it; empty: by its label."""


FROM_LEFT = ItemField("at_m/0", "From the left", Kind.LENGTH)
FROM_FRONT = ItemField("at_m/1", "From the front", Kind.LENGTH)
HEIGHT = ItemField("at_m/2", "Above the floor", Kind.LENGTH)
PLACE = (FROM_LEFT, FROM_FRONT, HEIGHT)
SIDES = (
    ItemField("size_m/0", "Length", Kind.LENGTH),
    ItemField("size_m/1", "Depth", Kind.LENGTH),
    ItemField("size_m/2", "Height", Kind.LENGTH),
)
THERMOSTAT = ItemField("thermostat", "Thermostat")
"""Set point, probe and way of working: asked for together."""
TIMER = (
    ItemField("on", "On", required=False),
    ItemField("off", "Off", required=False),
    ItemField("also_on", "Also on", required=False),
)
POWER = ItemField("power_w", "Power", Kind.POWER, plausible="power")
BEAM_FIELD = ItemField("beam_deg", "Beam angle, ° (data sheet)", limits=(5, 170), required=False)
HOURS_RUN = ItemField("hours_run", "Hours burned", Kind.HOURS, required=False)
