"""What an animal can reach that is past its limits: surfaces too hot, ultraviolet too strong.

A need is judged at the place that is meant for it; a limit at the worst place within reach.
"""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from husbandry.documents.naming import names
from husbandry.documents.result import Note
from husbandry.predict.predict import EnclosurePoint, Prediction
from husbandry.species.needs import NeedKey
from husbandry.species.profile import Profile
from husbandry.targets.verdicts import TargetRange

WALL_CLIMBERS = frozenset({"gecko", "frog"})
"""Bodies of climbers that hold on to glass, mesh and lids."""
UNDER_MESH_M = 0.01
"""A climber that hangs on the mesh of a lid is so far below it (design choice) [m]."""
FAR_PAST = 1.5
"""So many times the limit is a danger: meters and classes of lamps differ by that (source: uv 4) [1].
"""


@dataclass(frozen=True)
class ReachedPlace:
    """A place within reach, by its name, with what is predicted there."""

    name: str
    value: float


def hottest_beside_basking(
    prediction: Prediction, called: Mapping[str, str]
) -> list[ReachedPlace]:
    """Every warmed surface within reach but the one it basks on, with its hottest spot [°C]."""
    day = prediction.day
    return [
        ReachedPlace(
            "the substrate under a lamp" if slab.is_substrate else f"the {called[slab.item_id]}",
            day.value(day.surface(n)),
        )
        for n, slab in enumerate(day.heat_model.slabs)
        if n != prediction.basking_slab
    ]


def brightest_place(
    prediction: Prediction, profile: Profile, called: Mapping[str, str]
) -> ReachedPlace | None:
    """Where within reach the ultraviolet is strongest (UV index); None without a lamp.

    Tops of all that can be stood on under a lamp; for climbers that hold on to glass, the mesh of
    the lid under it too.
    """
    best: ReachedPlace | None = None
    for name, point in _places(prediction, profile, called):
        uvi = prediction.uvi_at(point).uvi
        if best is None or uvi > best.value:
            best = ReachedPlace(name, uvi)
    return best


def _places(
    prediction: Prediction, profile: Profile, called: Mapping[str, str]
) -> Iterator[tuple[str, EnclosurePoint]]:
    request = prediction.request
    enclosure = prediction.enclosure
    for source in prediction.uv:
        half = source.length_m / 2
        for item in request.items:
            sides = item.sides_m
            if sides is None or item.kind in {"dish", "pool", "plant", "heat_mat"}:
                continue
            x, y, z = item.at_m
            apart = max(abs(x - source.x_m) - half - sides[0] / 2, 0.0)
            top = z + sides[2] + prediction.back_m
            if apart < enclosure.length_m / 6 and top < source.z_m:
                along = min(max(x, source.x_m - half), source.x_m + half)
                yield f"on the {called[item.id]}", EnclosurePoint(along, y, top)
        # What climbs at all climbs sides of mesh, up to the lid.
        caged = request.enclosure.panels.back == "mesh"
        outline = profile.body.outline
        clings = (outline in WALL_CLIMBERS or caged) and profile.body.perch_share > 0
        if clings and source.z_m > enclosure.height_m and request.enclosure.lid.mesh is not None:
            under = EnclosurePoint(source.x_m, source.y_m, enclosure.height_m - UNDER_MESH_M)
            yield "on the mesh under the lamp", under


def reach_notes(
    prediction: Prediction, profile: Profile, shared: Mapping[NeedKey, TargetRange]
) -> Iterator[Note]:
    """What is past a limit where the animal can go, though its own place is not."""
    called = names(prediction.request)
    surface = shared.get(NeedKey.SURFACE_DAY)
    if surface is not None and surface.limit_high is not None:
        limit = surface.limit_high.value
        for place in hottest_beside_basking(prediction, called):
            if place.value > limit:
                yield Note(
                    slug="reach surface",
                    severity="danger",
                    text=(
                        f"{place.name[0].upper()}{place.name[1:]} is within its reach and gets too"
                        " hot for it. Lower the power, raise the lamp, or take the place out of its"
                        " beam."
                    ),
                    values={"surface_c": place.value, "limit_c": limit},
                )
    uvi = shared.get(NeedKey.UVI_DAY)
    if uvi is None or uvi.limit_high is None:
        return
    # One that is up and about by night meets the lamp only where it sleeps.
    by_day = profile.activity == "diurnal"
    far_past = FAR_PAST * uvi.limit_high.value
    worst = brightest_place(prediction, profile, called)
    if worst is not None and worst.value > uvi.limit_high.value:
        yield Note(
            slug="reach ultraviolet",
            severity="danger" if by_day and worst.value > far_past else "care",
            text=(
                f"The UV index {worst.name} is past its limit, and it can go there. Raise the lamp,"
                " take a weaker class, or keep it from the place."
            ),
            values={"uvi": worst.value, "limit_uvi": uvi.limit_high.value},
        )
