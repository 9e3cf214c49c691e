"""The bed of an enclosure, layer by layer: litres of each material, bags, masses dry and moist,
what it costs. Method: docs/methods/substrate.md.
"""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from types import MappingProxyType

from husbandry.derivation import Derivation, Source, named_value
from husbandry.methods import Argument, Example, method
from husbandry.tables import rows

PORES = {"expanded_clay": 0.45, "gravel": 0.38}
"""Of a drainage layer: what it can hold of water (from memory) [1]."""


@dataclass(frozen=True)
class LooseMaterial:
    """A material that is sold loose, by the bag."""

    name: str
    label: str
    dry_kg_l: float
    moist_kg_l: float
    settling: float
    """Share of its loose volume that is lost when it is wetted and pressed, middle of its range
    [1].
    """
    bag_l: float
    """A usual bag [l]."""
    source: Source


def _materials() -> dict[str, LooseMaterial]:
    return {
        row["name"]: LooseMaterial(
            name=row["name"],
            label=row["label"],
            dry_kg_l=float(row["dry_kg_l"]),
            moist_kg_l=float(row["moist_kg_l"]),
            settling=(float(row["settle_low"]) + float(row["settle_high"])) / 2,
            bag_l=float(row["bag_l"]),
            source=Source(kind="from memory", text=row["source"]),
        )
        for row in rows("husbandry.enclosure", "substrate_materials.csv")
    }


LOOSE_MATERIALS = MappingProxyType(_materials())


@method(
    arguments={"litres": Argument("l", 0, 20_000), "bag_l": Argument("l", 0.1, 2000)},
    unit="1",
    rule=(
        "Litres over the bag's litres, rounded up; a billionth less, so that ten full bags are ten."
    ),
    source=Source(kind="published", text="arithmetic"),
    example=Example(
        {"litres": 40.0, "bag_l": 20.0}, 2, 1e-9, "0.8 × 0.5 × 0.1 m in bags of 20 l: two"
    ),
)
def bags(litres: float, bag_l: float) -> int:
    """Whole bags for so many litres."""
    return math.ceil(litres / bag_l - 1e-9)


@dataclass(frozen=True)
class SubstrateLayer:
    """One layer of a bed, once settled."""

    depth_m: float
    parts: Mapping[str, float]
    """Parts of each material, by name; all together more than 0."""

    @property
    def settling(self) -> float:
        """Of its mix, by parts [1]."""
        whole = sum(self.parts.values())
        return (
            sum(LOOSE_MATERIALS[name].settling * part for name, part in self.parts.items()) / whole
        )


@dataclass(frozen=True)
class Amount:
    """What is needed of one material."""

    material: LooseMaterial
    litres: float
    """Loose, as it is bought [l]."""
    dry_kg: float
    moist_kg: float
    bag_l: float
    bags: int
    cost: float

    @property
    def left_l(self) -> float:
        """Of the last bag [l]."""
        return self.bags * self.bag_l - self.litres


@dataclass(frozen=True)
class SubstrateBed:
    """A whole bed."""

    amounts: tuple[Amount, ...]
    settled_l: float
    water_l: float
    """To make it moist: the difference of the masses [l]."""
    drainage_l: float
    """That the drainage layer can hold before it reaches the soil [l]; 0 without one."""

    @property
    def dry_kg(self) -> float:
        """As it comes out of the bags."""
        return sum(amount.dry_kg for amount in self.amounts)

    @property
    def moist_kg(self) -> float:
        """As it lies in the enclosure."""
        return sum(amount.moist_kg for amount in self.amounts)

    @property
    def cost(self) -> float:
        """Of whole bags."""
        return sum(amount.cost for amount in self.amounts)


def bed_of(
    area_m2: float,
    layers: Sequence[SubstrateLayer],
    *,
    buried_l: float = 0.0,
    bag_l: Mapping[str, float] | None = None,
    bag_price: Mapping[str, float] | None = None,
) -> SubstrateBed:
    """What a bed takes.

    Parameters
    ----------
    area_m2 : float
        Inside floor [m²].
    layers : sequence of SubstrateLayer
        From below.
    buried_l : float
        What bodies stand in the bed, taken off its upper layer [l].
    bag_l, bag_price : mapping, optional
        Litres and price of a bag by material; usual bags, and nothing.

    Notes
    -----
    A layer of d settled takes d·A/(1 − s) loose, s its mix's settling by parts: 15 % of settling is
    17.6 % more to buy. Masses are of the loose
    volume, so that settling makes no mass.
    """
    litres: dict[str, float] = {}
    settled = drainage = 0.0
    for n, layer in enumerate(layers):
        volume = 1000 * area_m2 * layer.depth_m - (buried_l if n == len(layers) - 1 else 0.0)
        volume = max(volume, 0.0)
        settled += volume
        whole = sum(layer.parts.values())
        for name, part in layer.parts.items():
            litres[name] = litres.get(name, 0.0) + volume / (1 - layer.settling) * part / whole
        pores = [PORES.get(name, 0.0) * part / whole for name, part in layer.parts.items()]
        if n == 0 and len(layers) > 1 and all(pores):
            drainage = volume * sum(pores)
    amounts = []
    for name, volume in litres.items():
        material = LOOSE_MATERIALS[name]
        size = (bag_l or {}).get(name, material.bag_l)
        count = bags(volume, size)
        cost = count * (bag_price or {}).get(name, 0.0)
        amounts.append(
            Amount(
                material,
                volume,
                volume * material.dry_kg_l,
                volume * material.moist_kg_l,
                size,
                count,
                cost,
            )
        )
    water = sum(amount.moist_kg - amount.dry_kg for amount in amounts)
    return SubstrateBed(tuple(amounts), settled, water, drainage)


def amount_derivation(
    area_m2: float, layers: Sequence[SubstrateLayer], amount: Amount, *, buried_l: float = 0.0
) -> Derivation:
    """The loose litres of a material with their derivation, layer by layer."""
    name = amount.material.name
    given = [named_value("floor", area_m2, "m²")]
    for n, layer in enumerate(layers):
        if not layer.parts.get(name):
            continue
        where = f"layer {n + 1} from below" if len(layers) > 1 else "layer"
        given += [
            named_value(f"{where}: depth once settled", layer.depth_m, "m"),
            named_value(
                f"{where}: part of its mix", layer.parts[name] / sum(layer.parts.values()), "1"
            ),
            named_value(f"{where}: settling of the mix", layer.settling, "1"),
        ]
    if buried_l and layers and layers[-1].parts.get(name):
        given.append(named_value("what stands in the upper layer", buried_l, "l"))
    given += [
        named_value("kg a litre, dry", amount.material.dry_kg_l, ""),
        named_value("kg a litre, moist", amount.material.moist_kg_l, ""),
        named_value("a bag holds", amount.bag_l, "l"),
    ]
    return Derivation(
        value=amount.litres,
        unit="l",
        rule=(
            "Floor × depth ÷ (1 − settling) × part of the mix, each layer added; kilograms are of"
            " the loose litres, bags are whole."
        ),
        inputs=tuple(given),
        sources=(amount.material.source,),
        would_change="The depth, the mix, and how hard it is pressed.",
    )
