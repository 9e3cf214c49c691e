import json
from importlib.resources import files
from pathlib import Path
from typing import Any

import pytest

from husbandry.errors import DocumentError, UnknownNameError
from husbandry.species.check_values import Row, check, read
from husbandry.species.needs import NeedKey
from husbandry.species.profile import find, library, parse

DATA = Path(__file__).parents[1] / "data" / "check-values.csv"
CHECKED = {row.species for row in read(DATA)}
ROWS = [row for row in read(DATA) if row.species in library()]


@pytest.mark.parametrize("row", ROWS, ids=lambda r: f"{r.species.split()[0]}-{r.stage}-{r.quantity}")
def test_check_values_of_the_trade(row: Row) -> None:
    """Facts of the trade, common practice, no source. No row is explained away for these profiles."""
    outcome = check(find(row.species), row)
    assert outcome.verdict in {"match", "literature"}, (
        f"{row.quantity} {row.low}-{row.high} {row.unit}: the profile has {outcome.found}"
    )


def test_every_row_of_the_checked_species_is_compared() -> None:
    assert len(ROWS) == 29 and not [r for r in ROWS if check(find(r.species), r).verdict == "miss"]


def test_the_check_can_fail() -> None:
    row = Row("Pogona vitticeps", "all", "basking_surface", "25", "27", "degC", "", "")
    assert check(find("Pogona vitticeps"), row).verdict == "miss"


DEMO = {"Tiliqua scincoides", "Hemitheconyx caudicinctus", "Dryophytes cinereus", "Lampropeltis californiae"}


def test_the_demo_species_are_not_checked_ones_and_two_that_are_have_profiles() -> None:
    assert set(library()) >= DEMO and not DEMO & CHECKED
    assert len(CHECKED & set(library())) >= 2
    assert {(p.habit, p.activity) for s, p in library().items() if s in DEMO} == {
        ("terrestrial", "diurnal"), ("terrestrial", "crepuscular"), ("arboreal", "nocturnal"),
    }  # fmt: skip


@pytest.mark.parametrize("profile", library().values(), ids=lambda p: p.species)
def test_temperatures_do_not_cross(profile: Any) -> None:
    for stage in profile.stages:

        def band(key: NeedKey, slug: str = stage.slug) -> tuple[float, float] | None:
            spec = next((n for n in profile.needs if n.need == key and (not n.stages or slug in n.stages)), None)
            return (spec.low, spec.high) if spec else None

        surface, warm, cool, night = (band(NeedKey(k)) for k in ("surface_day", "warm_air_day", "cool_air_day", "air_night"))
        assert warm and cool and night
        overlap = 1.0
        if surface is None:  # what never seeks a hot spot lives in nearly one climate
            assert profile.amphibian
            overlap = 2.0
        else:
            assert surface[0] > warm[1] - 1
        assert warm[0] >= cool[1] - overlap and warm[1] > cool[1] and night[0] < cool[0] + 1
        assert next(m for m in profile.meals if stage.slug in m.stages)


@pytest.mark.parametrize("profile", library().values(), ids=lambda p: p.species)
def test_stages_cover_life_without_a_gap_and_boxes_never_shrink(profile: Any) -> None:
    for younger, older in zip(profile.stages, profile.stages[1:], strict=False):
        assert older.mass_g.low <= younger.mass_g.high
        assert older.age_months.low <= younger.age_months.high
        for kind, span in younger.length_mm.items():
            assert older.length_mm[kind].low <= span.high
    kind = profile.body.length_kind
    sizes = []
    for stage in profile.stages:
        rule = next(r for r in profile.size if r.school == "room" and (not r.stages or stage.slug in r.stages))
        sizes.append(
            [
                max(m * (stage.length_mm[kind].high / 1000), least)
                for m, least in zip((rule.length_bl, rule.depth_bl), rule.min_m, strict=False)
            ]
        )
    assert sizes == sorted(sizes)


@pytest.mark.parametrize("profile", library().values(), ids=lambda p: p.species)
def test_no_hatchling_prey_is_wider_than_its_eyes_are_apart(profile: Any) -> None:
    from husbandry.diet.feeders import widest_insect

    gap_mm = profile.body.eye_gap_bl * profile.stages[0].length_mm[profile.body.length_kind].low
    width = widest_insect(gap_mm).width_mm
    assert width is not None and width <= max(gap_mm, 2.3)


@pytest.mark.parametrize("profile", library().values(), ids=lambda p: p.species)
def test_origins_are_honest(profile: Any) -> None:
    """ "published" is only for what was opened; nothing here was, so nothing claims it."""
    assert {source.kind for source in profile.origins.values()} <= {"common practice", "from memory"}
    assert 0 <= profile.memory_share() <= 1
    for need in profile.needs:
        if need.limit_low is not None or need.limit_high is not None:
            assert len(set(need.limit_origin)) >= 2


def _skink() -> dict[str, Any]:
    text = files("husbandry.species").joinpath("profiles", "tiliqua-scincoides.json").read_text(encoding="utf-8")
    data: dict[str, Any] = json.loads(text)
    return data


@pytest.mark.parametrize(
    ("bend", "pointer", "reason"),
    [
        (lambda d: d["needs"][0].pop("origin"), "/needs/0/origin", "required"),
        (lambda d: d["needs"][0].update(low=50), "/needs/0", "rise in this order"),
        (lambda d: d["needs"][0].update(limit_origin=["cp"]), "/needs/0", "two independent origins"),
        (lambda d: d["needs"][0].update(colour="red"), "/needs/0/colour", "not permitted"),
        (lambda d: d["needs"][0].update(origin=["hearsay"]), "", "hearsay"),
        (lambda d: d["stages"][0]["mass_g"].update(low="heavy"), "/stages/0/mass_g/low", "number"),
        (lambda d: d["meals"][0]["parts"][0].update(share=0.9), "/meals/0", "add up to 1"),
        (lambda d: d["needs"][0].update(stages=["egg"]), "", "no stage"),
        (lambda d: d.update(format="other/9"), "/format", "ridgeback-profile/1"),
    ],
)  # fmt: skip
def test_a_wrong_profile_is_refused_with_its_pointer(bend: Any, pointer: str, reason: str) -> None:
    data = _skink()
    bend(data)
    with pytest.raises(DocumentError) as refused:
        parse(json.dumps(data), "bent.json")
    assert any(p.pointer == pointer and reason in p.reason for p in refused.value.problems), refused.value.problems


def test_text_that_is_not_json_says_where() -> None:
    with pytest.raises(DocumentError, match="line 2"):
        parse("{\n nothing }")


def test_an_unknown_species_names_those_there_are() -> None:
    with pytest.raises(UnknownNameError, match="Pogona vitticeps"):
        find("Draco volans")
