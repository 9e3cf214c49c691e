"""Places of sensors lie inside the enclosure, each where its name says."""

import json
from pathlib import Path

from husbandry.documents.request_json import from_data
from husbandry.plan.plan import prediction_of
from husbandry.predict.sensor_places import place_points
from husbandry.records.channels import SensorPlace

SAMPLE = Path(__file__).parents[3] / "docs" / "samples" / "request.json"


def test_places_lie_inside_and_the_warm_end_is_the_lamps() -> None:
    request = from_data(json.loads(SAMPLE.read_text(encoding="utf-8")))
    found = place_points(request, prediction_of(request))
    inside = request.enclosure.inside_m
    for point in found.values():
        assert 0 <= point.x_m <= inside.length and 0 <= point.z_m <= inside.height
    basking = found[SensorPlace.SURFACE]
    warm, cool = found[SensorPlace.WARM], found[SensorPlace.COOL]
    assert abs(warm.x_m - basking.x_m) < abs(cool.x_m - basking.x_m)
    assert min(warm.x_m, cool.x_m) < found[SensorPlace.MIDDLE].x_m < max(warm.x_m, cool.x_m)
    assert SensorPlace.ROOM not in found and SensorPlace.FRIDGE not in found
    kinds = {item.kind for item in request.items}
    assert (SensorPlace.HIDE in found) is ("hide" in kinds)
    assert (SensorPlace.WATER in found) is bool(kinds & {"dish", "pool"})
