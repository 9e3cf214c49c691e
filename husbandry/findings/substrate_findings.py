"""The substrate of an enclosure by its layers: what the species wants of it, and the enclosure with
another substrate in it. Method: docs/methods/substrate.md.
"""

from collections.abc import Sequence
from dataclasses import dataclass

from husbandry.documents.enclosure import Slope
from husbandry.documents.request import Request
from husbandry.documents.request_json import from_data, to_data
from husbandry.documents.result import AnimalFound, Occupant
from husbandry.enclosure.substrate import NEARLY, substrate_m
from husbandry.enclosure.substrate_layers import LOOSE_MATERIALS, SubstrateLayer
from husbandry.findings.furnishing_findings import FurnishingFinding
from husbandry.species.care import SubstrateSpec
from husbandry.species.selection import speaking
from husbandry.tables import rows

DRAINS = frozenset({"expanded_clay", "gravel"})
DRAINAGE_M = (0.02, 0.06)
"""Of a drained layer (common practice: 3 to 5 cm, mesh above it) [m]."""
STANDS = 0.5
"""Rise over run of damp soil that stands, about 27 degrees (from memory: angles of repose 25 to 35)
[1].
"""
LIGHT_KG_L = 0.1
"""Lighter than that it is blown and carried, and holds no burrow (design choice) [kg/l]."""


Living = Occupant | AnimalFound


def wanted(request: Request, animals: Sequence[Living]) -> SubstrateSpec | None:
    """What the profile of the largest animal says of the substrate, at its stage and by its
    approaches.
    """
    n = max(range(len(animals)), key=lambda n: animals[n].length_m)
    profile = request.profiles[animals[n].species]
    return next(
        iter(speaking(profile.substrate, animals[n].stage.slug, request.approaches_of(n))), None
    )


def depth_needed_m(request: Request, animals: Sequence[Living]) -> float:
    """Find the depth of substrate that the largest animal needs [m]."""
    n = max(range(len(animals)), key=lambda n: animals[n].length_m)
    one = animals[n]
    profile = request.profiles[one.species]
    return substrate_m(profile, one.stage.slug, request.approaches_of(n), one.length_m)


def why_not(avoided: str) -> str:
    """Why a substrate is avoided, where its own words do not say it; empty where they do (common
    practice).
    """
    if any(said in avoided for said in (":", "whose", "that ", "swallow", "too ")):
        return ""
    return next(
        (
            row["why"]
            for row in rows("husbandry.enclosure", "substrate_avoid.csv")
            if row["words"] in avoided
        ),
        "",
    )


def bed_found(request: Request, low: float) -> list[FurnishingFinding]:
    """Substrate that is shallower than it lives in at this stage, or none that is loose.

    Parameters
    ----------
    low : float
        The depth that it needs: `depth_needed_m` [m].
    """
    if low < LEAST_M:
        return []
    substrate = request.enclosure.substrate
    if substrate.material not in {"soil", "sand"}:
        if low < 2 * LEAST_M:
            return []
        text = (
            "No loose substrate: so it is kept while it is watched and its droppings are looked at."
            " To live on it wants substrate to dig and hide in."
        )
        return [FurnishingFinding("substrate bare", "", text, substrate.depth_m, low)]
    if substrate.deepest_m < NEARLY * low:
        text = (
            "Its substrate is shallower than it digs and hides in at this stage, at the deep end"
            " too: pour more on, at one end at least."
        )
        return [FurnishingFinding("substrate shallow", "", text, substrate.deepest_m, low)]
    return []


LEAST_M = 0.015
"""Thinner than that nobody digs in it (design choice) [m]."""


@dataclass(frozen=True)
class SubstrateFinding:
    """What is wrong with a bed, or good to know."""

    slug: str
    text: str


def judge_bed(
    layers: Sequence[SubstrateLayer],
    spec: SubstrateSpec | None,
    *,
    burrows: bool,
    rise_m: float = 0.0,
    run_m: float = 1.0,
) -> list[SubstrateFinding]:
    """What a keeper should know of a bed before buying it (common practice, unless the profile says
    so); that it is too shallow says `bed_found`.

    Parameters
    ----------
    rise_m, run_m : float
        By which a slope's deep side lies above the mean, and the way over which it falls [m].
    """
    found = []
    depth = sum(layer.depth_m for layer in layers)
    high = (spec.depth_m.high or 9.0) if spec is not None else 9.0
    if depth > high + 0.02:
        found.append(
            SubstrateFinding(
                "deep",
                "Deeper than this animal asks for: more weight, and more that stays wet below.",
            )
        )
    if 2 * rise_m > STANDS * run_m:
        found.append(
            SubstrateFinding(
                "steep",
                "Steeper than loose substrate stands, one in two: it slides flat within days."
                " Terraces of wood or stone hold it.",
            )
        )
    return _judge_layers(burrows, found, layers)


def _judge_layers(
    burrows: bool, found: list[SubstrateFinding], layers: Sequence[SubstrateLayer]
) -> list[SubstrateFinding]:
    """Judge each layer, and what lies on what."""
    for n, layer in enumerate(layers):
        drains = set(layer.parts) <= DRAINS
        if drains and n > 0:
            found.append(
                SubstrateFinding(
                    "drainage above",
                    "A drained layer belongs at the bottom, with a mesh above it.",
                )
            )
        if drains and n == 0 and not DRAINAGE_M[0] <= layer.depth_m <= DRAINAGE_M[1]:
            found.append(
                SubstrateFinding(
                    "drainage depth",
                    "A drained layer is 3 to 5 cm deep, with a mesh above it to keep the soil out.",
                )
            )
        if "leaves" in layer.parts and len(layer.parts) == 1 and n < len(layers) - 1:
            found.append(
                SubstrateFinding("litter below", "Leaf litter lies on top: below it only rots.")
            )
    if burrows and layers:
        top = layers[-1]
        whole = sum(top.parts.values())
        dry = (
            sum(LOOSE_MATERIALS[name].dry_kg_l * part for name, part in top.parts.items()) / whole
        )
        if dry < LIGHT_KG_L and len(layers) == 1:
            found.append(
                SubstrateFinding(
                    "no burrow",
                    "Too light to hold a burrow: soil with sand or loam, wetted and pressed layer"
                    " by layer.",
                )
            )
    if any(name == "gravel" for layer in layers[1:] for name in layer.parts):
        found.append(
            SubstrateFinding(
                "swallowed",
                "Gravel within reach is swallowed with the food: below a mesh, or in none.",
            )
        )
    return found


def with_bed(
    request: Request,
    layers: Sequence[SubstrateLayer],
    *,
    slope: Slope | None = None,
    crew: bool = False,
) -> Request:
    """The same enclosure with another substrate: what stands on it rises or sinks with it.

    Raises
    ------
    DocumentError
        When it does not fit, by JSON pointer.
    """
    depth = round(sum(layer.depth_m for layer in layers), 4)
    known = request.enclosure.substrate
    inside = request.enclosure.inside_m
    substrate = known.model_copy(update={"depth_m": depth, "slope": slope})
    data = to_data(request)
    data["enclosure"]["substrate"] |= {
        "depth_m": depth,
        "layers": [{"depth_m": layer.depth_m, "parts": dict(layer.parts)} for layer in layers],
        "material": "sand" if _sandy(layers) else "soil",
        "slope": slope.model_dump() if slope else None,
        "crew": crew,
    }
    for item, placed in zip(data["items"], request.items, strict=True):
        if placed.is_body or placed.is_probe:
            at = placed.at_m[0] / inside.length, placed.at_m[1] / inside.depth
            item["at_m"][2] = round(
                max(placed.at_m[2] + substrate.depth_at(*at) - known.depth_at(*at), 0.0), 4
            )
    return from_data(data)


def _sandy(layers: Sequence[SubstrateLayer]) -> bool:
    """Whether its upper layer is mostly sand, for the heat in it."""
    if not layers:
        return False
    parts = layers[-1].parts
    return sum(part for name, part in parts.items() if name in {"sand", "gravel"}) > 0.7 * sum(
        parts.values()
    )


def rescaled(layers: Sequence[SubstrateLayer], depth_m: float) -> tuple[SubstrateLayer, ...]:
    """The same bed for another depth: the upper layer gives or takes, all of them where that is not
    enough.
    """
    whole = sum(layer.depth_m for layer in layers)
    if not layers or depth_m <= 0:
        return ()
    top = layers[-1].depth_m + depth_m - whole
    if top > 0.004:
        return (*layers[:-1], SubstrateLayer(round(top, 4), layers[-1].parts))
    return tuple(
        SubstrateLayer(round(layer.depth_m * depth_m / whole, 5), layer.parts) for layer in layers
    )
