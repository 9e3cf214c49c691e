"""Rules over all profiles: none finds anything, and each finds what it is there for."""

import json
from collections.abc import Callable
from typing import Any

import pytest

from husbandry.audit import consistency
from husbandry.audit.consistency import body_temperature, findings, rules
from husbandry.audit.coverage import coverage
from husbandry.feeding.supplements import SupplementRule
from husbandry.species.library import find, library
from husbandry.species.profile import Profile, parse

Data = dict[str, Any]


@pytest.mark.parametrize("profile", library().values(), ids=lambda p: p.species)
def test_no_rule_finds_anything(profile: Profile) -> None:
    assert not findings(profile)


def bent(species: str, bend: Callable[[Data], object]) -> Profile:
    data = find(species).model_dump(mode="json", exclude_none=True)
    bend(data)
    return parse(json.dumps(data))


def need(data: Data, key: str, stage: str = "") -> Data:
    return next(
        n
        for n in data["needs"]
        if n["need"] == key and (not stage or stage in n.get("stages", [stage]))
    )


DRAGON, SKINK, FROG, SNAKE = (
    "Pogona vitticeps",
    "Tiliqua scincoides",
    "Dryophytes cinereus",
    "Pantherophis guttatus",
)
BENT: list[tuple[str, Callable[[Data], object], str]] = [
    (
        DRAGON,
        lambda d: need(d, "air_night").update(low=24, high=36, limit_high=38),
        "night is below",
    ),
    (DRAGON, lambda d: need(d, "cool_air_day").update(high=31), "night is below"),
    (DRAGON, lambda d: need(d, "surface_day").update(low=30, limit_low=29), "night is below"),
    (DRAGON, lambda d: d["needs"].remove(need(d, "cool_air_day")), "night is below"),
    (
        "Ambystoma mexicanum",
        lambda d: need(d, "water_day").update(need="air_night"),
        "night is below",
    ),
    (DRAGON, lambda d: need(d, "cool_air_day").update(limit_high=45), "limits of a place"),
    (
        DRAGON,
        lambda d: need(d, "uvi_day").update(limit_origin=["baines2016", "raiti2012"]),
        "no limit rests",
    ),
    (
        SNAKE,
        lambda d: d["needs"].remove(
            next(n for n in d["needs"] if n.get("approach") == "under-floor")
        ),
        "every approach",
    ),
    (DRAGON, lambda d: d["body"].update(eye_gap_bl=0.002), "food is no wider"),
    (
        SNAKE,
        lambda d: (
            d["stages"][0]["mass_g"].update(low=0.6)
            or d["stages"][0]["length_mm"]["total"].update(low=230)
        ),
        "food is no wider",
    ),
    (SKINK, lambda d: d["size"][2].update(length_bl=1.0, min_m=[0.6, 0.3, 0.3]), "a larger stage"),
    (DRAGON, lambda d: d["size"][1].update(min_m=[2.0, 1.0, 1.0]), "the roomy approach"),
    (SNAKE, lambda d: d["supplements"].update(plan="insect eater"), "supplements go"),
    (DRAGON, lambda d: d["supplements"].update(plan="whole prey"), "supplements go"),
    (DRAGON, lambda d: d["stages"][1]["mass_g"].update(low=60), "stages cover"),
    (DRAGON, lambda d: d["adult"][0].update(mass_g={"low": 5000, "high": 6000}), "stages cover"),
    (DRAGON, lambda d: d["months_to_adult"].update(low=1, high=2), "the growth curve"),
    (SNAKE, lambda d: [m.update(share_of_mass=[0.001, 0.002]) for m in d["meals"]], "meals hold"),
    (DRAGON, lambda d: need(d, "uvi_day").update(high=6.5), "the uv target"),
    (DRAGON, lambda d: d["company"].update(most=4), "company is"),
    (DRAGON, lambda d: d["body"].update(dig_bl=3), "substrate is deep"),
    (DRAGON, lambda d: d["season"].pop("dormancy_c"), "a brumation"),
    (FROG, lambda d: d["season"].update(dormancy="none"), "a brumation"),
    (SNAKE, lambda d: d["young"].pop("incubation_c"), "the young are"),
    (DRAGON, lambda d: d["lifespan_years"].update(low=0.5, high=0.9), "a life is longer"),
    (DRAGON, lambda d: d["origins"]["raiti2012"].update(text="Raiti"), "every value names"),
]


@pytest.mark.parametrize(
    ("species", "bend", "rule"), BENT, ids=[f"{n}-{rule}" for n, (_, _, rule) in enumerate(BENT)]
)
def test_each_rule_finds_its_fault(
    species: str, bend: Callable[[Data], object], rule: str
) -> None:
    found = findings(bent(species, bend))
    mine = [finding for finding in found if finding.rule.startswith(rule)]
    assert mine, found
    assert all(finding.pointer.startswith("/") and len(finding.text) > 15 for finding in mine)


def test_every_rule_is_shown_to_find_something() -> None:
    shown = {rule for rule in rules() for _, _, start in BENT if rule.startswith(start)}
    # what is refused when the file is read needs no example here
    assert set(rules()) - shown == {
        "amphibians never get chlorinated water",
        "without uvb there is vitamin d3",
    }


def test_a_pace_of_supplements_without_d3_is_found(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(
        consistency,
        "default_rules",
        lambda *args, **kwargs: (SupplementRule(product="calcium", doses=0),),
    )
    found = [finding for finding in findings(find(FROG)) if finding.rule.startswith("without uvb")]
    assert len(found) == len(find(FROG).stages) and "vitamin D3" in found[0].text


def test_the_temperatures_of_a_body_lie_between_its_needs() -> None:
    for profile in library().values():
        for stage in profile.stages:
            assert 5 < body_temperature(profile, stage.slug) < 37
    assert body_temperature(find("Ambystoma mexicanum"), "adult") == 16


@pytest.mark.parametrize("profile", library().values(), ids=lambda p: p.species)
def test_coverage_counts_every_value_once(profile: Profile) -> None:
    told = coverage(profile)
    assert told.values == sum(told.by_origin.values()) >= 40 and told.sources >= 3
    assert told.by_origin["published"] == 0  # nothing was opened
    assert (
        told.memory_share
        == profile.memory_share
        == pytest.approx(1 - told.by_origin["practice alone"] / told.values)
    )
