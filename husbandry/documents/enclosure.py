"""The enclosure of a request: its sides, lid, substrate, vents, and how it is kept damp."""

import datetime as dt
from typing import Annotated, Literal

from pydantic import Field, field_validator

from husbandry.derivation import Document
from husbandry.enclosure.substrate_layers import LOOSE_MATERIALS
from husbandry.items.timers import ClockTime
from husbandry.species.approaches import problem_with


class InsideMeasures(Document):
    """Inside measures of the enclosure [m]."""

    length: Annotated[float, Field(ge=0.1, le=10)]
    depth: Annotated[float, Field(ge=0.1, le=10)]
    height: Annotated[float, Field(ge=0.1, le=5)]


PanelMaterial = Literal["glass", "acrylic", "polycarbonate_twin", "pvc_board", "wood"]
SideMaterial = PanelMaterial | Literal["mesh"]
"""Sides may be of mesh; a floor and the solid part of a lid may not."""


class PanelMaterials(Document):
    """What each side is made of."""

    front: SideMaterial = "glass"
    back: SideMaterial = "wood"
    left: SideMaterial = "wood"
    right: SideMaterial = "wood"
    bottom: PanelMaterial = "wood"


class Lid(Document):
    """The top: solid, or mesh over a share of it."""

    material: PanelMaterial = "wood"
    mesh: Literal["insect", "fly_screen", "medium", "quarter_inch", "half_inch"] | None = None
    mesh_share: Annotated[float, Field(ge=0, le=1)] = 0.0
    mesh_passes: Annotated[float, Field(gt=0.05, le=1)] | None = None
    """Share of what shines straight down that was measured to pass it; None: by its wire and pitch
    [1].
    """


class SubstrateLayerSpec(Document):
    """One layer of the substrate, settled, from below."""

    depth_m: Annotated[float, Field(gt=0, le=1.5)]
    parts: Annotated[
        dict[str, Annotated[float, Field(ge=0, le=100)]], Field(min_length=1, max_length=6)
    ]
    """Parts of each material, by its name in `husbandry.enclosure.substrate_layers.LOOSE`."""

    @field_validator("parts")
    @classmethod
    def _known(cls, value: dict[str, float]) -> dict[str, float]:
        unknown = [name for name in value if name not in LOOSE_MATERIALS]
        if unknown:
            raise ValueError(
                f"there is no substrate “{unknown[0]}”; there are {', '.join(LOOSE_MATERIALS)}"
            )
        if not any(value.values()):
            raise ValueError("a mix needs at least one part of something")
        return {name: part for name, part in value.items() if part}


class Slope(Document):
    """Substrate that rises evenly from one side of the enclosure to the other."""

    deep_at: Literal["left", "right", "back"]
    rise_m: Annotated[float, Field(gt=0, le=0.6)]
    """By which the deep side lies above the mean, and the other below it [m]."""


class Substrate(Document):
    """What the animal walks on."""

    material: Literal["soil", "sand", "paper", "tile"] = "soil"
    depth_m: Annotated[float, Field(ge=0, le=1.5)] = 0.05
    layers: Annotated[tuple[SubstrateLayerSpec, ...], Field(max_length=5)] = ()
    """Of which it is built, when somebody said so; together as deep as it is."""
    slope: Slope | None = None
    """`depth_m` is then the mean."""
    crew: bool = False
    """Springtails and isopods live in it and eat what is left."""

    @property
    def is_loose(self) -> bool:
        """Whether it is poured, not laid."""
        return self.material in {"soil", "sand"} and self.depth_m > 0.005

    @property
    def is_drained(self) -> bool:
        """Whether its lowest layer is there for water to run into."""
        return any(set(layer.parts) <= {"expanded_clay", "gravel"} for layer in self.layers[:1])

    @property
    def deepest_m(self) -> float:
        """At the deep end [m]."""
        return self.depth_m + (self.slope.rise_m if self.slope else 0.0)

    def depth_at(self, x_share: float, y_share: float) -> float:
        """Depth at a place, by its shares of the length from the left and of the depth from the
        front [m].
        """
        if self.slope is None:
            return self.depth_m
        along = {"left": 1 - 2 * x_share, "right": 2 * x_share - 1, "back": 2 * y_share - 1}[
            self.slope.deep_at
        ]
        return self.depth_m + self.slope.rise_m * along


class Misting(Document):
    """Water sprayed at a time of the day, by hand or by a pump."""

    at: ClockTime
    ml: Annotated[float, Field(gt=0, le=5000)]


class HumidityLogFactors(Document):
    """What a hygrometer's log told of an enclosure: factors on what the model believes, with the
    standard deviations of their logarithms.
    """

    air: Annotated[float, Field(gt=0.02, lt=50)]
    """On its air exchange."""
    air_ln_sd: Annotated[float, Field(ge=0, le=2)]
    substrate: Annotated[float, Field(gt=0.01, lt=50)]
    """On what its substrate gives off."""
    substrate_ln_sd: Annotated[float, Field(ge=0, le=2)]
    buffer: Annotated[float, Field(ge=0.2, le=50)]
    """Vapour that its walls take up with its air, over what the air holds."""
    hours: Annotated[float, Field(ge=48, le=3000)]
    on: dt.date


class MoistureControl(Document):
    """How an enclosure is kept damp.

    Where nothing is said of it, nothing is predicted of its humidity but what the room's air
    brings.
    """

    substrate: Literal["dry", "dry top", "damp", "wet"] = "dry top"
    """As the keeper keeps it."""
    mistings: Annotated[tuple[Misting, ...], Field(max_length=12)] = ()
    mist_days: Annotated[int, Field(ge=1, le=30)] = 1
    """It is misted every so many days, at those times [days]."""
    nozzles_ml_s: Annotated[float, Field(gt=0, le=100)] | None = None
    """Of a pump with its nozzles together; None when it is misted by hand."""
    tank_l: Annotated[float, Field(gt=0, le=500)] | None = None
    logged: HumidityLogFactors | None = None


class VentAreas(Document):
    """Openings in the sides."""

    low_cm2: Annotated[float, Field(ge=0, le=10_000)] = 60.0
    high_cm2: Annotated[float, Field(ge=0, le=10_000)] = 60.0
    rise_m: Annotated[float, Field(ge=0, le=3)] = 0.25


class EnclosureSpec(Document):
    """The enclosure."""

    inside_m: InsideMeasures
    panels: PanelMaterials = PanelMaterials()
    lid: Lid = Lid()
    substrate: Substrate = Substrate()
    vents: VentAreas = VentAreas()
    covered: tuple[Literal["front", "back", "left", "right"], ...] = ()
    """Clear sides that are covered from outside, so that it does not see through them."""
    wetting: MoistureControl | None = None
    approaches: dict[str, str] = {}
    """Answers to the questions that are asked of the enclosure."""

    @field_validator("approaches")
    @classmethod
    def _approach_known(cls, value: dict[str, str]) -> dict[str, str]:
        wrong = problem_with(value, "enclosure")
        if wrong:
            raise ValueError(wrong)
        return value
