"""An enclosure that stands already, with what stands in it, to be fitted with heat and light anew."""

from typing import Any

from husbandry.advise.furniture import WARM_END
from husbandry.documents.request import Request
from husbandry.documents.request_json import to_data
from husbandry.items.foggers import Fogger
from husbandry.items.furnishings import Branch, Slab
from husbandry.items.union import Item
from husbandry.predict.need_states import AnimalNeeds
from husbandry.predict.predict import EnclosurePoint
from husbandry.setups.enclosure_choice import EnclosureChoice
from husbandry.setups.site import Site, furnish

OPPOSITE = {"left": "right", "right": "left"}
"""Which side a side becomes in a mirror."""


def is_fitting(item: Item) -> bool:
    """Whether it warms, lights or fogs: what a search chooses anew."""
    return item.warms or isinstance(item, Fogger)


def standing_site(request: Request, needs: AnimalNeeds, choice: EnclosureChoice) -> Site:
    """The enclosure of a request without its lamps, its warm end at the left; furnished anew where
    nothing stands in it to bask on.

    Parameters
    ----------
    request : Request
        With its warm end at the left: see `mirrored`.
    choice : EnclosureChoice
        The enclosure, as it is or with its lid and vents set differently.
    """
    data = to_data(request)
    bare = {key: value for key, value in data.items() if key not in {"enclosure", "items"}}
    bare["readings"] = []
    profile = needs.profile
    lead = needs.occupants[needs.lead]
    basking = _basking(request, climbs=profile.body.perch_share > 0)
    if basking is None:
        return furnish(bare, profile, lead.length_m, choice)
    kept = [item.model_dump(mode="json", exclude_none=True) for item in request.items]
    bodies = [body for body, item in zip(kept, request.items, strict=True) if not is_fitting(item)]
    x, y, z = basking.at_m
    sides = basking.sides_m or (0.0, 0.0, 0.0)
    if isinstance(basking, Branch):
        x = max(WARM_END * choice.inside["length"], x - sides[0] / 2 + 0.05)
    return Site(
        {**bare, "enclosure": choice.spec, "items": []},
        choice,
        profile,
        profile.body.back_height_bl * lead.length_m,
        tuple(bodies),
        basking.id,
        EnclosurePoint(round(x, 3), y, round(z + sides[2], 4)),
    )


def _basking(request: Request, *, climbs: bool) -> Item | None:
    """The highest branch of a climber; else the largest slab."""
    branches = [item for item in request.items if isinstance(item, Branch)]
    if climbs and branches:
        return max(branches, key=lambda item: item.at_m[2])
    slabs = [item for item in request.items if isinstance(item, Slab)]
    return max(slabs, key=lambda item: item.size_m[0] * item.size_m[1], default=None)


def warm_end_is_right(request: Request) -> bool:
    """Whether the enclosure is warmed from its right end now."""
    half = request.enclosure.inside_m.length / 2
    lamps = [item for item in request.items if item.is_heater]
    if not lamps:
        basking = _basking(request, climbs=False)
        return basking is not None and basking.at_m[0] > half
    return sum(item.at_m[0] * (item.watts or 1.0) for item in lamps) > half * sum(
        item.watts or 1.0 for item in lamps
    )


def mirrored(data: dict[str, Any]) -> dict[str, Any]:
    """A request as JSON with left and right changed over."""
    enclosure = data["enclosure"]
    long = enclosure["inside_m"]["length"]
    substrate = dict(enclosure.get("substrate", {}))
    if slope := substrate.get("slope"):
        deep_at = slope["deep_at"]
        substrate["slope"] = {**slope, "deep_at": OPPOSITE.get(deep_at, deep_at)}
    panels = {OPPOSITE.get(side, side): of for side, of in enclosure.get("panels", {}).items()}
    covered = [OPPOSITE.get(side, side) for side in enclosure.get("covered", [])]
    items = [
        {**item, "at_m": [round(long - item["at_m"][0], 4), *item["at_m"][1:]]}
        for item in data["items"]
    ]
    return {
        **data,
        "enclosure": {**enclosure, "panels": panels, "covered": covered, "substrate": substrate},
        "items": items,
    }
