"""Where warmth and ultraviolet meet: moved apart they part, a hide makes shade, and shares add up."""

import itertools
import json
from pathlib import Path

import numpy as np
import pytest

from husbandry.documents.request_json import from_data
from husbandry.findings.zones import POINTS, ZONE_NEAR_K, zones_of
from husbandry.plan.plan import plan_summary, prediction_of
from husbandry.species.library import library
from husbandry.species.needs import NeedKey

SAMPLE = json.loads((Path(__file__).parents[3] / "docs" / "samples" / "request.json").read_text())


def look(items=None, **changes):
    data = {**SAMPLE, "readings": [], **changes}
    if items is not None:
        data["items"] = items
    request = from_data(data)
    seen = plan_summary(request)
    lead = seen.animals[0]
    return zones_of(
        prediction_of(request), seen.needs, request.profiles[lead.species], lead.length_m
    )


def moved(kind, x):
    """The sample with one item elsewhere along the length."""
    return [
        {**t, "at_m": [x, *t["at_m"][1:]]} if t["kind"] == kind else t for t in SAMPLE["items"]
    ]


def test_strips_cover_the_length_and_shares_add_up():
    zones = look()
    assert zones is not None
    for strip in (zones.warmth, zones.light):
        assert strip[0].from_m == 0 and strip[-1].to_m == pytest.approx(zones.length_m)
        assert all(a.to_m == b.from_m and a.kind != b.kind for a, b in itertools.pairwise(strip))
    assert sum(zones.shares.values()) == pytest.approx(1)


def test_a_good_enclosure_goes_from_warm_to_cool():
    kinds = [stretch.kind for stretch in look().warmth]
    assert kinds[0] in {"warm", "basking"} and kinds[-1] in {"cool", "between"}


@pytest.mark.parametrize(("beyond_k", "last"), [(0.9, "cool"), (1.1, "between")])
def test_what_is_neither_warm_nor_cool_lies_between(beyond_k, last):
    """A cool end above what is asked of it: as cool as asked within the nearness alone."""
    request = from_data({**SAMPLE, "readings": []})
    seen = plan_summary(request)
    prediction = prediction_of(request)
    coolest_c = min(
        prediction.day.value(prediction.day.air(float(x), prediction.living_m))
        for x in np.linspace(0, prediction.enclosure.length_m, POINTS + 1)
    )
    needs = [
        need
        if need.key is not NeedKey.COOL_AIR_DAY
        else need.model_copy(
            update={
                "high": need.high.model_copy(update={"value": coolest_c - beyond_k * ZONE_NEAR_K})
            }
        )
        for need in seen.needs
    ]
    lead = seen.animals[0]
    zones = zones_of(prediction, needs, request.profiles[lead.species], lead.length_m)

    assert [stretch.kind for stretch in zones.warmth][-1] == last


def test_lamp_and_tube_at_one_end_meet_and_moved_apart_they_do_not():
    """Common practice, no source: brightness, heat and UV belong together at one end."""
    tube = next(t for t in SAMPLE["items"] if t["kind"].startswith("t5"))
    others = [t for t in SAMPLE["items"] if t is not tube]
    cool = {"day_c": 18, "night_c": 16, "summer_max_c": 26, "rh_pct": 55}

    def lit(x):
        return look(
            [*others, {**tube, "length_m": 0.55, "at_m": [x, 0.3, tube["at_m"][2] - 0.2]}],
            room=cool,
        )

    assert lit(0.35).sunny_m > 0.2 > lit(1.21).sunny_m
    assert lit(1.21).cool_light


def test_without_a_tube_there_is_no_sun_and_a_hide_is_shade():
    dark = look([t for t in SAMPLE["items"] if not t["kind"].startswith("t5")])
    assert dark.sunny_m == 0 and not dark.sun_covers_body and not dark.cool_light
    assert {stretch.kind for stretch in dark.light} == {"shade"}


def test_a_hide_at_the_warm_end_is_warm_and_one_at_the_cool_end_is_not():
    length = SAMPLE["enclosure"]["inside_m"]["length"]
    assert look(moved("hide", 0.2)).warm_hide
    assert not look(moved("hide", length - 0.15)).warm_hide
    assert look(moved("hide", 0.2)).warm_shade


def test_what_lives_in_water_is_not_looked_at_along_the_floor():
    animals = [{"species": "Ambystoma mexicanum", "mass_g": 120}]
    assert look(animals=animals) is None


def test_every_land_species_can_be_looked_at():
    for species, profile in library().items():
        zones = look(animals=[{"species": species}])
        assert (zones is None) == (profile.habit == "aquatic"), species
