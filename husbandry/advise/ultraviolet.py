"""Candidates that change the UV index at the basking animal's back: height, side of the mesh, age,
class, a first tube.
"""

from collections.abc import Iterator

from husbandry.advise.context import (
    HEADROOM_M,
    MIN_LAMP_M,
    Candidate,
    ChangeContext,
    Effort,
    Values,
    added_patch,
    at_height,
    item_patch,
)
from husbandry.climate.uv import MIN_DISTANCE_M
from husbandry.enclosure.equipment import UV_LAMPS, UvLampClass
from husbandry.items.union import Item, read_item
from husbandry.species.needs import NeedKey

WORN_H = 1000.0
"""From these hours on a new lamp of the same kind is worth naming (design choice) [h]."""
NEW_H = 100.0
"""Hours after which a new lamp gives what its class says (source: uv 8) [h]."""
COVERED = 0.55
"""Share of the enclosure's length that a first tube should span: a third to two thirds (common
practice) [1].
"""


def candidates(context: ChangeContext) -> Iterator[Candidate]:
    """Everything that could put the UV index right."""
    if NeedKey.UVI_DAY not in context.targets or not context.wrong(NeedKey.UVI_DAY):
        return
    if not any(item.is_uv for item in context.request.items):
        yield from _first_tube(context)
        return
    tube = next((item for item in context.request.items if item.is_tube), None)
    if tube is None:
        # Compact lamps and floods leave most of an enclosure dark: a tube beside them.
        if context.wrong(NeedKey.UVI_DAY) < 0:
            yield from _first_tube(context)
        return
    inside = _span(context)
    weak = context.wrong(NeedKey.UVI_DAY) < 0
    # A tube at the end of its life is not brought nearer: it fades on, and a new one then burns.
    is_spent = weak and (tube.burned_h or 0) > UV_LAMPS[tube.kind].t70_h
    if inside and not tube.hangs_above_lid and not is_spent:
        yield from _hung(context, tube, tube, inside, {}, "uv_height", "move")
    if inside and weak and tube.hangs_above_lid and not is_spent:
        yield from _hung(
            context,
            tube,
            tube.model_copy(update={"above_lid": False}),
            inside,
            {},
            "uv_below_mesh",
            "move",
        )
    if weak and (tube.burned_h or 0) > WORN_H:
        renewed = tube.model_copy(update={"hours_run": NEW_H})
        yield Candidate(
            "uv_new",
            tube,
            {"hours": tube.burned_h or 0.0},
            "buy",
            item_patch(context.request, renewed),
            "The same lamp at 100 hours: ageing gives back what it took.",
            0.0,
            context.score_of(context.near(renewed)),
        )
    for kind, lamp in UV_LAMPS.items():
        if lamp.is_tube and kind != tube.kind:
            yield from _other_class(context, tube, lamp, inside)


def _span(context: ChangeContext) -> tuple[float, float] | None:
    """Heights in which a tube may hang inside [m]."""
    low = context.prediction.basking.z_m + max(MIN_DISTANCE_M, MIN_LAMP_M)
    high = context.request.enclosure.inside_m.height - HEADROOM_M
    return (low, high) if high - low >= 0.01 else None


def _other_class(
    context: ChangeContext, tube: Item, lamp: UvLampClass, inside: tuple[float, float] | None
) -> Iterator[Candidate]:
    enclosure_m = context.request.enclosure.inside_m.length
    watts, length = lamp.nearest(tube.long_m or 1.0)
    if length > enclosure_m:
        return
    middle = min(max(tube.at_m[0], length / 2), enclosure_m - length / 2)
    swapped = tube.model_copy(
        update={
            "kind": lamp.kind,
            "length_m": length,
            "power_w": watts,
            "hours_run": NEW_H,
            "at_m": (round(middle, 3), tube.at_m[1], tube.at_m[2]),
        }
    )
    values: Values = {"to_name": lamp.name, "to_length_m": length}
    if inside is None:
        yield Candidate(
            "uv_class",
            tube,
            values,
            "buy",
            item_patch(context.request, swapped),
            "The same place with another class of tube.",
            1.0,
            context.score_of(context.near(swapped)),
        )
        return
    yield from _hung(
        context,
        tube,
        swapped.model_copy(update={"above_lid": False}),
        inside,
        values,
        "uv_class",
        "buy",
    )


def _hung(
    context: ChangeContext,
    tube: Item,
    changed: Item,
    span: tuple[float, float],
    values: Values,
    kind: str,
    effort: Effort,
) -> Iterator[Candidate]:
    """Hang a tube where the index comes out right, to whole centimetres."""
    found = context.solve_height(changed, NeedKey.UVI_DAY, span)
    if found is None:
        return
    z, near = found
    if changed is tube and abs(z - tube.at_m[2]) < 0.0099:
        return
    yield Candidate(
        kind,
        tube,
        {
            **values,
            "from_m": tube.at_m[2],
            "to_m": z,
            "distance_m": z - context.prediction.basking.z_m,
        },
        effort,
        item_patch(context.request, at_height(changed, z)),
        "The height at which the UV index at the basking animal's back is"
        f" {context.aim(NeedKey.UVI_DAY):.1f}, by halving on the ultraviolet model, to whole"
        " centimetres.",
        abs(z - tube.at_m[2]),
        near,
    )


def _first_tube(context: ChangeContext) -> Iterator[Candidate]:
    """A tube for an enclosure that has none, over about half of the length at the basking end:
    below the lid, or on the mesh where that is too strong.
    """
    enclosure = context.request.enclosure.inside_m
    lid = context.request.enclosure.lid
    places = [(span, False) for span in (_span(context),) if span is not None]
    if lid.mesh is not None:
        places.append(((enclosure.height + 0.01, enclosure.height + 0.35), True))
    for kind in ("t5_6", "t5_12", "t8_6"):
        lengths = [pair for pair in UV_LAMPS[kind].lengths if pair[1] <= enclosure.length]
        for span, above in places if lengths else []:
            watts, length = min(
                lengths, key=lambda pair: abs(pair[1] - COVERED * enclosure.length)
            )
            x = round(
                min(
                    max(context.prediction.basking.x_m, length / 2), enclosure.length - length / 2
                ),
                3,
            )
            tube = read_item(
                {
                    "id": context.free_id("tube"),
                    "kind": kind,
                    "length_m": length,
                    "power_w": watts,
                    "hours_run": NEW_H,
                    "above_lid": above,
                    **context.uv_times(),
                    "at_m": [x, round(context.prediction.basking.y_m, 3), round(span[1], 3)],
                }
            )
            z = context.solve_added(tube, NeedKey.UVI_DAY, span)
            if z is None:
                continue
            hung = at_height(tube, z)
            yield Candidate(
                "uv_add",
                hung,
                {
                    "to_name": UV_LAMPS[kind].name,
                    "to_length_m": length,
                    "to_m": z,
                    "distance_m": z - context.prediction.basking.z_m,
                    "place": "above the mesh" if above else "below the lid",
                },
                "buy",
                added_patch(hung),
                "A tube over about half of the length at the basking end, at the height that brings"
                " the UV index to the middle of the target range.",
                1.0,
            )
