"""A furnished enclosure before anything warms it: what stands in it, and where its animal basks."""

from dataclasses import dataclass
from typing import Any

from husbandry.advise.furniture import STONE_ROOM, STONE_THICK_M, WARM_END, body, furniture, sunk_m
from husbandry.documents.request import Request
from husbandry.documents.request_json import from_data
from husbandry.findings.hazards import REACH_M
from husbandry.findings.reach import WALL_CLIMBERS
from husbandry.predict.predict import EnclosurePoint
from husbandry.predict.warm_patch import trunk_m
from husbandry.setups.enclosure_choice import EnclosureChoice
from husbandry.species.profile import Profile

CLEAR_M = REACH_M + 0.005
"""Of a lamp over a back, and over what is stood on: a little over what is asked for (design choice)
[m].
"""
STONE_SHARE, STONE_LEAST_M, STONE_BL = 0.32, 0.14, 0.8
"""Of the length that a basking stone may take, its least side, and its side over the body's length
(design choice) [1, m, 1].
"""
STONE_ACROSS = 0.92
"""Of the depth that a stone may take whose long side lies across (design choice) [1]."""
TILE_THICK_M = 0.01
"""Of a tile over a mat, where no lamp has room over a stone (common practice) [m]."""
UNDER_PLASTIC_M, UNDER_LID_M = 0.10, 0.03
"""Between a lamp's face and a lid of plastic, and of anything else (common practice) [m]."""


@dataclass(frozen=True)
class Site:
    """A furnished enclosure to be fitted with heat and light."""

    data: dict[str, Any]
    """A request without items, as JSON."""
    choice: EnclosureChoice
    profile: Profile
    back_m: float
    """Height of the animal's back above what it stands on [m]."""
    bodies: tuple[dict[str, Any], ...]
    basking_id: str
    spot: EnclosurePoint
    """Where it basks, on the face of what it basks on."""

    @property
    def inside(self) -> tuple[float, float, float]:
        """Inside length, depth and height [m]."""
        sides = self.choice.inside
        return sides["length"], sides["depth"], sides["height"]

    @property
    def has_mesh(self) -> bool:
        """Whether lamps may lie on its lid."""
        return bool(self.choice.spec["lid"].get("mesh"))

    @property
    def ceiling_m(self) -> float:
        """The highest a lamp's face may hang inside [m]."""
        return self.inside[2] - _under_lid(self.choice)

    @property
    def is_low(self) -> bool:
        """Whether no lamp has room over the animal's back, inside or over a mesh."""
        return not self.has_mesh and self.ceiling_m < self.spot.z_m + self.back_m + CLEAR_M

    @property
    def basks_in_light(self) -> bool:
        """Whether it looks for light to bask in."""
        return self.profile.activity == "diurnal" and self.profile.basks

    @property
    def clings(self) -> bool:
        """Whether it walks on glass, or climbs sides of mesh, up to the lid."""
        body = self.profile.body
        caged = self.choice.spec["panels"]["back"] == "mesh"
        return (body.outline in WALL_CLIMBERS or caged) and body.perch_share > 0

    def request(self, items: list[dict[str, Any]]) -> Request:
        """The enclosure with these items in it. Raises `DocumentError`."""
        return from_data({**self.data, "items": [*self.bodies, *items]})

    def free(self, x_m: float, y_m: float, z_m: float, half_m: float = 0.0) -> bool:
        """Whether a lamp may hang there: out of reach of whatever is stood on under it."""
        for one in self.bodies:
            if one["kind"] not in {"slab", "branch", "hide"}:
                continue
            (x, y, z) = one["at_m"]
            size = one["size_m"]
            under = abs(x - x_m) < size[0] / 2 + half_m and abs(y - y_m) < size[1] / 2
            lives_m = self.back_m if one["id"] == self.basking_id else 0.0
            if under and z_m < z + size[2] + lives_m + CLEAR_M:
                return False
        low = z_m < self.spot.z_m + self.back_m + CLEAR_M

        return not (low and abs(x_m - self.spot.x_m) - half_m < 2 * CLEAR_M)


def _under_lid(choice: EnclosureChoice) -> float:
    lid = choice.spec["lid"]
    plastic = lid["material"] in {"acrylic", "pvc_board", "polycarbonate_twin"}
    return UNDER_PLASTIC_M if plastic and not lid.get("mesh") else UNDER_LID_M


def furnish(
    data: dict[str, Any], profile: Profile, length_m: float, choice: EnclosureChoice
) -> Site:
    """Put into an enclosure what its animal needs beside heat and light.

    Parameters
    ----------
    data : dict
        A request as JSON, without enclosure and items.
    length_m : float
        Of the largest body, in the profile's own kind [m].
    """
    sides = choice.inside
    back = profile.body.back_height_bl * length_m
    animals = len(data["animals"])
    bodies = furniture(profile, length_m, sides, choice.substrate_m, animals=animals)
    branch = next((body for body in bodies if body["id"] == "branch-1"), None)
    landing = next((body for body in bodies if body["kind"] == "slab"), None)
    if branch is not None:
        bodies = [body for body in bodies if body["kind"] != "slab"]
        basking = _branch_place(choice, profile, branch, back)
    elif profile.habit == "aquatic" and landing is not None:
        basking = landing
    else:
        bodies = [body for body in bodies if body["kind"] != "slab"]
        basking = _stone(choice, profile, length_m)
        bodies.append(basking)
    x, y, z = basking["at_m"]
    if branch is not None:
        x = round(max(WARM_END * sides["length"], x - basking["size_m"][0] / 2 + 0.05), 3)
    spot = EnclosurePoint(x, y, round(z + basking["size_m"][2], 4))

    return Site(
        {**data, "enclosure": choice.spec},
        choice,
        profile,
        back,
        tuple(bodies),
        basking["id"],
        spot,
    )


def _branch_place(
    choice: EnclosureChoice, profile: Profile, branch: dict[str, Any], back_m: float
) -> dict[str, Any]:
    """Put the branch where its climber lives, low enough that a lamp fits over its back."""
    high = choice.inside["height"]
    substrate = choice.substrate_m
    face = high - _under_lid(choice)
    thick = branch["size_m"][2]
    usual = substrate + profile.body.perch_share * (high - substrate)
    top = max(min(usual + thick, face - CLEAR_M - back_m - 0.02), substrate + thick + 0.02)
    branch["at_m"][2] = round(top - thick, 3)
    return branch


def _stone(choice: EnclosureChoice, profile: Profile, length_m: float) -> dict[str, Any]:
    """A stone at the warm end, on the substrate or raised, let into it for a tortoise; wood for what
    does not bask.
    """
    sides = choice.inside
    substrate = choice.substrate_m
    lies_m = STONE_ROOM * trunk_m(profile, length_m)
    long = min(STONE_SHARE * sides["length"], max(STONE_LEAST_M, STONE_BL * length_m, lies_m))
    wide = min(max(0.8 * long, 0.12), 0.6 * sides["depth"])
    across = min(lies_m, STONE_ACROSS * sides["depth"])
    if across > long:  # a long body lies across, where the length is too short for it
        long, wide = min(long, 0.8 * across), across
    x = max(WARM_END * sides["length"], long / 2 + 0.005)
    z = substrate + choice.raised * (sides["height"] - substrate)
    under = sides["height"] - _under_lid(choice)
    low = not choice.spec["lid"].get("mesh") and under < z + STONE_THICK_M + CLEAR_M
    thick = TILE_THICK_M if low else STONE_THICK_M
    z -= sunk_m(profile, length_m, thick, substrate)
    at = (x, 0.5 * sides["depth"], round(z, 4))
    size = (long, wide, thick)
    made_of = "stone" if profile.basks else "softwood"

    return body("stone-1", "slab", at, size, material=made_of, supported=not low)
