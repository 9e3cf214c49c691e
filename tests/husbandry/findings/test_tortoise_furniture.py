"""What tips a tortoise over, and plastic that what grazes bites off (common practice, no source)."""

from typing import Any

import pytest

from husbandry.documents.request import Request
from husbandry.documents.request_json import apply_patch, from_data
from husbandry.findings.furnishing import step_m
from husbandry.plan.plan import plan

TORTOISE, LIZARD = "Testudo hermanni", "Tiliqua scincoides"


def table(
    *items: dict[str, Any], species: str = TORTOISE, shell_mm: float = 60, length_m: float = 1.2
) -> Request:
    """An open table with a lamp."""
    kind = "shell" if species == TORTOISE else "total"
    return from_data(
        {
            "format": "ridgeback-request/2",
            "now": "2026-06-10T12:00:00+00:00",
            "room": {"day_c": 21, "night_c": 18, "summer_max_c": 28, "rh_pct": 50},
            "animals": [{"name": "One", "species": species, "length_mm": {kind: shell_mm}}],
            "enclosure": {
                "inside_m": {"length": length_m, "depth": 0.6, "height": 0.45},
                "panels": dict.fromkeys(("front", "back", "left", "right", "bottom"), "wood"),
                "lid": {"mesh": "half_inch", "mesh_share": 1.0},
                "substrate": {"material": "soil", "depth_m": 0.1},
            },
            "items": [
                {
                    "id": "lamp-1",
                    "kind": "halogen_flood",
                    "at_m": [0.3, 0.3, 0.42],
                    "power_w": 75,
                    "on": "08:00",
                    "off": "20:00",
                },
                *items,
            ],
        }
    )


def stone(top_m: float) -> dict[str, Any]:
    """A slate of 4 cm whose top lies so far above the substrate."""
    return {
        "id": "stone-1",
        "kind": "slab",
        "at_m": [0.3, 0.3, round(0.1 + top_m - 0.04, 4)],
        "size_m": [0.25, 0.2, 0.04],
        "material": "stone",
    }


def plastic() -> dict[str, Any]:
    return {
        "id": "plant-1",
        "kind": "plant",
        "plant": "artificial",
        "at_m": [0.8, 0.3, 0.1],
        "size_m": [0.18, 0.18, 0.2],
    }


def slugs(request: Request) -> set[str]:
    return {note.slug for note in plan(request, advise=False).notes}


@pytest.mark.parametrize(
    ("top_m", "shell_mm", "tips"),
    [
        (0.04, 60, True),  # two thirds of a hatchling's shell
        (0.015, 60, False),
        (0.04, 150, False),  # a grown one walks over it
        (0.04, 30, False),  # higher than it climbs
    ],
)
def test_a_step_tips_by_the_shell(top_m: float, shell_mm: float, tips: bool) -> None:
    found = slugs(table(stone(top_m), shell_mm=shell_mm))
    assert ("furniture flip" in found) is tips


def test_no_lizard_is_tipped_over() -> None:
    assert "furniture flip" not in slugs(table(stone(0.04), species=LIZARD, shell_mm=100))


def test_the_stone_is_sunk_as_advised() -> None:
    request = table(stone(0.04))
    change = next(one for one in plan(request).changes if one.kind == "stone_sink")
    assert "furniture flip" in change.clears and change.price_eur == 0
    after = apply_patch(request, change.patch)
    sunk = after.item("stone-1")
    assert sunk.at_m[2] + 0.04 - 0.1 == pytest.approx(step_m(0.06), abs=0.001)
    assert "furniture flip" not in slugs(after)


def test_plastic_leaves_are_named_for_what_grazes_alone() -> None:
    assert "furniture plant plastic" in slugs(table(plastic(), shell_mm=150))
    assert "furniture plant plastic" not in slugs(table(plastic(), species=LIZARD, shell_mm=300))


@pytest.mark.parametrize("is_bright", [False, True])
def test_a_live_plant_that_may_be_eaten_takes_its_place(is_bright: bool) -> None:
    """Where it has light to grow; in the dark it is taken out."""
    bar = {
        "id": "bar-1",
        "kind": "led_bar",
        "at_m": [0.7, 0.3, 0.4],
        "power_w": 60,
        "length_m": 0.9,
        "on": "08:00",
        "off": "20:00",
    }
    hides = [
        {"id": f"hide-{n}", "kind": "hide", "at_m": [x, 0.1, 0.1], "size_m": [0.2, 0.15, 0.12]}
        for n, x in enumerate((0.3, 0.6, 0.95))
    ]
    request = table(plastic(), *hides, *([bar] if is_bright else []), shell_mm=150)
    kinds = {"plant_swap", "plant_out"}
    change = next(one for one in plan(request).changes if one.kind in kinds)
    assert change.kind == ("plant_swap" if is_bright else "plant_out")
    after = apply_patch(request, change.patch)
    found = slugs(after)
    assert not {"furniture plant plastic", "furniture plant roots"} & found
    assert not {"furniture plant poisonous", "furniture plant irritant"} & found


def test_cover_for_a_tortoise_is_no_plastic() -> None:
    """An empty stretch is put right by something that it cannot eat."""
    advised = plan(table(shell_mm=150)).changes
    covers = [one for one in advised if "furniture open stretch" in one.clears]
    assert covers and all(one.kind != "plant_add" for one in covers)


def test_a_long_open_floor_is_divided_by_as_many_hides_as_it_takes() -> None:
    """One hide in the middle of a long one clears nothing, so nothing was offered."""
    hides = [
        {
            "id": f"hide-{n}",
            "kind": "hide",
            "at_m": [x, 0.1, 0.1],
            "size_m": [0.2, 0.15, 0.12],
            "moist": n == 1,
        }
        for n, x in enumerate((0.3, 0.6, 2.85))
    ]
    dish = {"id": "dish-1", "kind": "dish", "at_m": [0.55, 0.45, 0.1], "size_m": [0.2, 0.12, 0.03]}
    long = table(*hides, dish, shell_mm=120, length_m=3.0)
    assert "furniture open stretch" in slugs(long)
    change = next(
        one
        for one in plan(long).changes
        if one.kind == "hide_add" and "furniture open stretch" in one.clears
    )
    assert float(change.values["count"]) >= 2
    assert "furniture open stretch" not in slugs(apply_patch(long, change.patch))
