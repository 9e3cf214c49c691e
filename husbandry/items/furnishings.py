"""What stands or lies on the substrate: stones, hides, branches, plants, dishes and pools."""

from collections.abc import Iterator
from typing import Annotated, Literal

from pydantic import Field, field_validator

from husbandry.enclosure.equipment import MATERIALS
from husbandry.enclosure.hides import ENTRANCES, Entrance
from husbandry.enclosure.plants import HARM_WORDS, PLANTS, Plant
from husbandry.errors import Problem
from husbandry.items.base import Furnishing, Surroundings, Watts
from husbandry.items.fields import ItemField
from husbandry.quantity import Kind, PlausibleRange

FILTER_FLOW_L_H = PlausibleRange((20, 5000), (0.1, 20_000))
"""What filters for such pools turn over in an hour (common practice) [l/h]."""
HELD_WATER_C = PlausibleRange((10, 32), (5, 40))
"""At what water of pools is held (common practice) [°C]."""
WATER_HEATERS = PlausibleRange((1, 3), (1, 4))
"""Heaters that share a pool (common practice)."""


class Slab(Furnishing):
    """A stone, slate or piece of wood to bask on."""

    kind: Literal["slab"] = "slab"
    material: Literal["stone", "slate", "softwood"] = "stone"
    supported: bool = False
    """Whether it stands on supports from the floor, so that nothing digs it away."""

    fields = (
        *Furnishing.fields,
        ItemField(
            "material",
            "Material",
            choices=tuple((m.name, m.label) for m in MATERIALS.values() if m.use == "slab"),
        ),
        ItemField("supported", "On supports from the floor", is_flag=True, required=False),
    )
    label = "basking stone"
    stem = "stone"
    usual_m = (0.3, 0.25, 0.03)

    @property
    def name(self) -> str:
        """What keepers call it: by what it is made of."""
        return "basking wood" if self.material == "softwood" else self.label


class Hide(Furnishing):
    """A place to hide in."""

    kind: Literal["hide"] = "hide"
    moist: bool = False
    """Whether it holds wet moss."""
    entrance: Entrance | None = None
    """What of it stands open; None: nobody said."""
    sheer: bool = False
    """Whether its sides let light through."""

    fields = (
        *Furnishing.fields,
        ItemField("moist", "Holds wet moss", is_flag=True, required=False),
        ItemField(
            "entrance", "Entrance", choices=(("", "not said"), *ENTRANCES.items()), required=False
        ),
        ItemField("sheer", "Light comes through its sides", is_flag=True, required=False),
    )
    label = "hide"
    stem = "hide"
    usual_m = (0.2, 0.16, 0.1)


BRANCH_FORMS = {
    "branch": "branch",
    "cork": "cork tube",
    "bamboo": "bamboo cane",
    "vine": "artificial vine",
    "twigs": "bundle of twigs",
}
"""What is climbed on, in words (common practice)."""


class Branch(Furnishing):
    """Something to climb and to rest on."""

    kind: Literal["branch"] = "branch"
    form: Literal["branch", "cork", "bamboo", "vine", "twigs"] = "branch"

    fields = (
        *Furnishing.fields,
        ItemField("form", "What it is", choices=tuple(BRANCH_FORMS.items())),
    )
    label = "branch"
    stem = "branch"
    usual_m = (0.4, 0.04, 0.04)

    @property
    def name(self) -> str:
        """What keepers call it: by what it is."""
        return BRANCH_FORMS[self.form]

    @property
    def is_yielding(self) -> bool:
        """Whether it bends under what climbs it, and carries light animals only."""
        return self.form in {"vine", "twigs"}

    @classmethod
    def base_m(cls, around: Surroundings, high_m: float) -> float:
        """Two fifths of the way up to the lid [m]."""
        return around.substrate_m + 0.4 * (around.height_m - around.substrate_m)


class PlantedItem(Furnishing):
    """A plant in the enclosure."""

    kind: Literal["plant"] = "plant"
    plant: str | None = None
    """Its species, by its name in `husbandry.enclosure.plants.PLANTS`; None: nobody said."""

    fields = (
        *Furnishing.fields,
        ItemField(
            "plant",
            "Plant",
            choices=(
                ("", "not said"),
                *(
                    (known.name, f"{known.label}{HARM_WORDS[known.harm]}")
                    for known in PLANTS.values()
                ),
            ),
            required=False,
        ),
    )
    label = "plant"
    stem = "plant"
    usual_m = (0.18, 0.18, 0.22)

    @property
    def species(self) -> Plant | None:
        """What is known of its species, when it was named."""
        return PLANTS[self.plant] if self.plant is not None else None

    @field_validator("plant")
    @classmethod
    def _known(cls, value: str | None) -> str | None:
        if value is not None and value not in PLANTS:
            raise ValueError(f"there is no plant “{value}”; there are {', '.join(PLANTS)}")
        return value


class Dish(Furnishing):
    """A dish of water that is lifted out."""

    kind: Literal["dish"] = "dish"

    label = "water dish"
    stem = "dish"
    usual_m = (0.14, 0.12, 0.03)
    holds_water = True


class Pool(Furnishing):
    """Water that is built in and bathed or lived in."""

    kind: Literal["pool"] = "pool"
    filter_l_h: Annotated[float, Field(gt=0, le=20_000)] | None = None
    """What its filter turns over [l/h]; None without one."""
    heater_w: Watts | None = None
    """Power of a heater in its water [W]; None without one."""
    heaters: Annotated[int, Field(ge=1, le=4)] | None = None
    """Heaters that share the power, each with its thermostat: one that sticks is weak; None: one."""
    held_c: Annotated[float, Field(ge=5, le=40)] | None = None
    """At which that heater's thermostat holds the water [°C]."""

    fields = (
        *Furnishing.fields,
        ItemField(
            "filter_l_h",
            "Filter flow, an hour",
            Kind.VOLUME,
            plausible=FILTER_FLOW_L_H,
            required=False,
            what="filter’s flow an hour",
        ),
        ItemField(
            "heater_w",
            "Heater in it",
            Kind.POWER,
            plausible="power",
            required=False,
            what="heater",
        ),
        ItemField(
            "heaters",
            "Heaters that share it",
            Kind.COUNT,
            plausible=WATER_HEATERS,
            required=False,
            what="number of heaters",
        ),
        ItemField(
            "held_c",
            "Water temperature held",
            Kind.TEMPERATURE,
            plausible=HELD_WATER_C,
            required=False,
        ),
    )
    label = "pool"
    stem = "pool"
    usual_m = (0.3, 0.25, 0.08)
    holds_water = True

    @classmethod
    def base_m(cls, around: Surroundings, high_m: float) -> float:
        """Let into the substrate, as far as that goes [m]."""
        return max(around.substrate_m - high_m, 0.0)

    def problems(self, at: str, around: Surroundings) -> Iterator[Problem]:
        """A heater in water has its thermostat, and the thermostat its heater."""
        yield from super().problems(at, around)
        if self.held_c is not None and self.heater_w is None:
            reason = "what holds the water at a temperature is a heater: write its power"
            yield Problem(f"{at}/heater_w", reason)
        elif self.heater_w is not None and self.held_c is None:
            reason = "a heater in water needs a thermostat: write at what it holds the water"
            yield Problem(f"{at}/held_c", reason)
