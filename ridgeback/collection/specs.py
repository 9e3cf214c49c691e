"""Enclosures of which only a size is known, as a request takes them."""

from typing import Any

from husbandry.enclosure.catalogue import CatalogueEnclosure, panels_of
from husbandry.enclosure.substrate import USUAL_M


def shape_spec(shape: CatalogueEnclosure) -> dict[str, Any]:
    """An enclosure of the catalogue, with nothing in it."""
    lid: dict[str, Any] = {"material": shape.lid}
    if shape.mesh:
        lid |= {"mesh": shape.mesh, "mesh_share": shape.mesh_share}
    return _spec(shape.sides_m, panels_of(shape.front, shape.walls), lid)


def sides_spec(sides_m: tuple[float, float, float], walls: str = "wood") -> dict[str, Any]:
    """An enclosure of these inside measures [m], with nothing in it; one of timber has a front of
    glass.
    """
    front = "glass" if walls == "wood" else walls
    lid = {"material": "wood" if walls == "mesh" else walls}
    return _spec(sides_m, panels_of(front, walls), lid)


def _spec(
    sides_m: tuple[float, float, float], panels: dict[str, str], lid: dict[str, Any]
) -> dict[str, Any]:
    length, depth, height = sides_m
    return {
        "inside_m": {"length": length, "depth": depth, "height": height},
        "panels": panels,
        "lid": lid,
        "substrate": {"material": "soil", "depth_m": USUAL_M},
    }
