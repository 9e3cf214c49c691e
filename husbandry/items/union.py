"""The union of all kinds of item, and how one is read."""

from typing import Annotated, Any, get_args

from pydantic import Field, TypeAdapter

from husbandry.items.containers import DigBox, FoodDish
from husbandry.items.dividers import Divider
from husbandry.items.drippers import Dripper
from husbandry.items.fans import Fan
from husbandry.items.foggers import Fogger
from husbandry.items.furnishings import Branch, Dish, Hide, PlantedItem, Pool, Slab
from husbandry.items.heaters import HeatLamp, HeatMat, LedBar, Probe, TubeHeater
from husbandry.items.instruments import Thermometer
from husbandry.items.screens import GuardScreen
from husbandry.items.uv_lamps import UvCompact, UvFlood, UvTube

Item = Annotated[
    HeatLamp
    | HeatMat
    | TubeHeater
    | UvTube
    | UvCompact
    | UvFlood
    | LedBar
    | Slab
    | Hide
    | Branch
    | PlantedItem
    | Dish
    | FoodDish
    | DigBox
    | Divider
    | GuardScreen
    | Pool
    | Fogger
    | Dripper
    | Fan
    | Thermometer
    | Probe,
    Field(discriminator="kind"),
]
"""Anything in, on or above an enclosure. `kind` says which class an item is of."""

ITEM_CLASSES = get_args(get_args(Item)[0])
"""Every class of item."""
CLASS_OF = {
    kind: cls for cls in ITEM_CLASSES for kind in get_args(cls.model_fields["kind"].annotation)
}
"""The class of each kind."""
KINDS: frozenset[str] = frozenset(CLASS_OF)
"""Every value of `kind`."""
_ADAPTER: TypeAdapter[Item] = TypeAdapter(Item)


def read_item(data: Any) -> Item:
    """Read one item from parsed JSON. Raises pydantic's `ValidationError`."""
    return _ADAPTER.validate_python(data)
