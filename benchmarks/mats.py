"""Heat mats against finite volumes: forty cases of other sizes, depths, materials and floors.

.venv/bin/python -m benchmarks.mats
"""

import itertools
import json
import statistics
from pathlib import Path
from typing import Any

from husbandry.documents.request_json import from_data
from husbandry.enclosure.equipment import MATERIALS
from husbandry.plan.plan import plan_with_prediction
from tests.husbandry.climate.finite_volumes import MatCase, temperatures

SAMPLE = Path(__file__).parents[1] / "docs" / "samples" / "request.json"
MATS = ((7.0, (0.28, 0.15)), (14.0, (0.28, 0.28)), (20.0, (0.42, 0.28)), (28.0, (0.40, 0.30)))
FLOORS = ((0.9, 0.45), (1.2, 0.6))
BEDS = (("soil", 0.02), ("soil", 0.05), ("sand", 0.03), ("paper", 0.002), ("soil", 0.08))
SURFACE_K, MAT_K = 1.5, 4.0
"""How near the prediction should be at the surface and at the mat [K]."""


def request(power_w: float, mat_m: Any, floor_m: Any, bed: tuple[str, float]) -> dict[str, Any]:
    """A python in an enclosure that a mat alone warms."""
    data: dict[str, Any] = json.loads(SAMPLE.read_text(encoding="utf-8"))
    data["readings"] = []
    data["animals"] = [{"name": "P", "species": "Python regius", "sex": "female", "mass_g": 1400}]
    data["room"] |= {"day_c": 21, "night_c": 21, "summer_max_c": 30}
    data["enclosure"].pop("approaches", None)
    data["enclosure"]["inside_m"] = {"length": floor_m[0], "depth": floor_m[1], "height": 0.45}
    data["enclosure"]["substrate"] = {"material": bed[0], "depth_m": bed[1]}
    data["items"] = [
        {
            "id": "mat-1",
            "kind": "heat_mat",
            "at_m": [floor_m[0] / 2, floor_m[1] / 2, 0],
            "size_m": [*mat_m, 0.001],
            "power_w": power_w,
        }
    ]
    return data


def main() -> int:
    """Print each case and how far off it is; 1 when one is further off than it may be."""
    off_surface, off_mat = [], []
    print("W   mat cm   floor cm  bed           surface: here  volumes   mat: here  volumes")
    for (power, mat), floor, bed in itertools.product(MATS, FLOORS, BEDS):
        made = from_data(request(power, mat, floor, bed))
        _, seen = plan_with_prediction(made)
        day = seen.day
        panel = MATERIALS[made.enclosure.panels.bottom]
        air = day.value(day.air(floor[0] / 2, bed[1] + 0.05))
        reference = temperatures(
            MatCase(
                power_w=power,
                mat_m=mat,
                floor_m=floor,
                depth_m=bed[1],
                substrate_w_mk=MATERIALS[bed[0]].conductivity_w_mk,
                panel_m=panel.thickness_m,
                panel_w_mk=panel.conductivity_w_mk,
                air_c=air,
                room_c=21.0,
            )
        )
        surface = day.value(day.surface(0))
        face = day.mat_face(0) or 0.0
        off_surface.append(surface - reference[0])
        off_mat.append(face - reference[1])
        print(
            f"{power:3.0f} {100 * mat[0]:3.0f}×{100 * mat[1]:2.0f}  {100 * floor[0]:4.0f}×"
            f"{100 * floor[1]:2.0f}   {bed[0]:5} {100 * bed[1]:3.1f} cm  {surface:10.1f}"
            f"  {reference[0]:7.1f}  {face:9.1f}  {reference[1]:7.1f}"
        )
    worst = max(map(abs, off_surface)), max(map(abs, off_mat))
    print(
        f"surface: mean {statistics.fmean(off_surface):+.2f} K, worst {worst[0]:.2f} K;"
        f" mat: mean {statistics.fmean(off_mat):+.2f} K, worst {worst[1]:.2f} K"
        f" (may be {SURFACE_K} and {MAT_K})"
    )
    return int(worst[0] > SURFACE_K or worst[1] > MAT_K)


if __name__ == "__main__":
    raise SystemExit(main())
