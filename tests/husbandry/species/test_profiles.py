import json
import shutil
from collections.abc import Callable
from importlib.resources import files
from pathlib import Path
from typing import Any

import pytest

from husbandry.audit.check_values import read
from husbandry.errors import DocumentError, UnknownNameError
from husbandry.species import common
from husbandry.species.library import by_slug, find, library, load, shipped
from husbandry.species.needs import NeedKey
from husbandry.species.profile import Profile, parse
from husbandry.species.selection import need_of

PROFILES = Path(str(files("husbandry.species").joinpath("profiles")))
CHECKED = {row.species for row in read(Path(__file__).parents[1] / "data" / "check-values.csv")}
DEMO = {
    "Tiliqua scincoides",
    "Hemitheconyx caudicinctus",
    "Dryophytes cinereus",
    "Lampropeltis californiae",
}
NAMED = {
    "Heterodon nasicus",
    "Morelia spilota",
    "Python bivittatus",
    "Rhacodactylus auriculatus",
    "Furcifer pardalis",
    "Anolis carolinensis",
    "Physignathus cocincinus",
    "Iguana iguana",
    "Salvator merianae",
    "Tiliqua gigas",
    "Broadleysaurus major",
    "Uromastyx dispar",
    "Testudo marginata",
    "Testudo horsfieldii",
    "Testudo graeca",
    "Terrapene carolina",
    "Trachemys scripta",
    "Ceratophrys ornata",
    "Agalychnis callidryas",
    "Cynops orientalis",
    "Eublepharis macularius",
    "Correlophus ciliatus",
    "Stenodactylus sthenodactylus",
    "Pogona vitticeps",
    "Lamprolepis smaragdina",
    "Varanus acanthurus",
    "Varanus exanthematicus",
    "Chamaeleo calyptratus",
    "Phrynosoma platyrhinos",
    "Epicrates cenchria",
    "Python regius",
    "Boa imperator",
    "Malayopython reticulatus",
    "Dasypeltis scabra",
    "Testudo hermanni",
    "Stigmochelys pardalis",
    "Centrochelys sulcata",
    "Ranoidea caerulea",
    "Ranoidea aurea",
    "Ranoidea raniformis",
}


def test_the_library_is_large_and_wide() -> None:
    profiles = library()
    assert len(profiles) >= 55 and set(profiles) >= NAMED | DEMO and not shipped().refused
    assert {p.group for p in profiles.values()} == {
        "lizard",
        "snake",
        "tortoise",
        "turtle",
        "frog",
        "toad",
        "salamander",
    }
    assert {p.habit for p in profiles.values()} == {
        "terrestrial",
        "semi-arboreal",
        "arboreal",
        "fossorial",
        "saxicolous",
        "semi-aquatic",
        "aquatic",
    }
    assert {p.activity for p in profiles.values()} == {"diurnal", "nocturnal", "crepuscular"}
    assert {p.season.dormancy for p in profiles.values()} == {
        "none",
        "possible",
        "usual",
        "obligate",
    }
    assert {p.supplements.plan for p in profiles.values()} == {
        "insect eater",
        "amphibian",
        "plant eater",
        "complete diet",
        "whole prey",
    }


def test_the_demo_species_are_not_checked_ones() -> None:
    assert not DEMO & CHECKED and set(library()) >= CHECKED


@pytest.mark.parametrize("profile", library().values(), ids=lambda p: p.species)
def test_origins_are_honest(profile: Profile) -> None:
    """ "published" is only for what was opened; nothing here was, so nothing claims it."""
    assert {source.kind for source in profile.origins.values()} <= {
        "common practice",
        "from memory",
    }
    used = {
        key
        for _, item in profile.walk()
        for key in (*item.origin, *getattr(item, "limit_origin", ()))
    }
    assert used == set(profile.origins)  # none is listed for show
    for need in profile.needs:
        if need.limit_low is not None or need.limit_high is not None:
            assert len(set(need.limit_origin)) >= 2


@pytest.mark.parametrize("profile", library().values(), ids=lambda p: p.species)
def test_texts_are_sentences_and_the_file_is_found_by_its_name(profile: Profile) -> None:
    assert by_slug(profile.slug) is profile and (PROFILES / f"{profile.slug}.json").is_file()
    for _, item in profile.walk():
        for name in ("text", "security", "dish", "retreat", "breeding", "enrichment"):
            text = getattr(item, name, "")
            assert not text or (text[0].isupper() and text.endswith((".", "!", "?"))), text
    assert len(common.cautions(profile)) >= 3 and len(common.signs(profile)) >= 6


def test_slugs_that_are_none() -> None:
    assert by_slug("draco-volans") is None


def _skink() -> dict[str, Any]:
    data: dict[str, Any] = json.loads(
        (PROFILES / "tiliqua-scincoides.json").read_text(encoding="utf-8")
    )
    return data


BENT: list[tuple[Callable[[dict[str, Any]], object], str, str]] = [
    (lambda d: d["needs"][0].pop("origin"), "/needs/0/origin", "required"),
    (lambda d: d["needs"][0].update(low=49.5, high=45), "/needs/0", "rise in this order"),
    (lambda d: d["needs"][0].update(limit_origin=["cp"]), "/needs/0", "two independent origins"),
    (lambda d: d["needs"][0].update(colour="red"), "/needs/0/colour", "not permitted"),
    (
        lambda d: d["stages"][0].update(mass_kg={"low": 1}),
        "/stages/0/mass_kg",
        "masses are in grams",
    ),
    (
        lambda d: d["stages"][0].update(length_cm={"low": 1}),
        "/stages/0/length_cm",
        "bodies are in mm",
    ),
    (lambda d: d["season"].update(rest_f={"low": 50}), "/season/rest_f", "temperatures are in °C"),
    (
        lambda d: d["needs"][0].update(low=100, high=109, limit_high=122, limit_low=None),
        "/needs/0",
        "did you mean 100 °F = 38 °C",
    ),
    (
        lambda d: d["season"]["dormancy_c"].update(low=54, high=95),
        "/season/dormancy_c/high",
        "did you mean 95 °F = 35 °C",
    ),
    (lambda d: d["stages"][3]["mass_g"].update(high=900_000), "/stages/3/mass_g/high", "not"),
    (lambda d: d["needs"][0].update(origin=["hearsay"]), "", "hearsay"),
    (lambda d: d["stages"][0]["mass_g"].update(low="heavy"), "/stages/0/mass_g/low", "number"),
    (lambda d: d["stages"][0]["mass_g"].update(low=50), "/stages/0/mass_g", "crossed"),
    (lambda d: d["meals"][0]["parts"][0].update(share=0.9), "/meals/0", "add up to 1"),
    (lambda d: d["meals"][0].update(stages=["egg"]), "", "no stage"),
    (lambda d: d["needs"][0].update(question="how-big", approach="none"), "", "no approach"),
    (
        lambda d: d["meals"][0]["parts"].__setitem__(0, {"food": "prey", "share": 0.7}),
        "",
        "wide_share",
    ),
    (lambda d: d["needs"][-1].update(high=130, limit_high=None), "/needs/6", "not possible"),
    (lambda d: d.update(format="other/9"), "/format", "ridgeback-profile/3"),
]


@pytest.mark.parametrize(
    ("bend", "pointer", "reason"), BENT, ids=[reason for _, _, reason in BENT]
)
def test_a_wrong_profile_is_refused_with_its_pointer(bend: Any, pointer: str, reason: str) -> None:
    data = _skink()
    bend(data)
    with pytest.raises(DocumentError) as refused:
        parse(json.dumps(data), "bent.json")
    assert any(p.pointer == pointer and reason in p.reason for p in refused.value.problems), (
        refused.value.problems
    )


def test_an_amphibian_with_log_request_water_is_refused() -> None:
    data = json.loads((PROFILES / "dryophytes-cinereus.json").read_text(encoding="utf-8"))
    data["water"]["treated"] = False
    with pytest.raises(DocumentError, match="takes water in through its skin"):
        parse(json.dumps(data))


def test_files_that_cannot_be_used_are_named_and_the_rest_still_loads(tmp_path: Path) -> None:
    for name in ("pogona-vitticeps.json", "python-regius.json"):
        shutil.copy(PROFILES / name, tmp_path)
    shutil.copy(PROFILES / "pogona-vitticeps.json", tmp_path / "twice.json")
    (tmp_path / "half.json").write_text('{"format": "ridgeback-profile/3"', encoding="utf-8")
    (tmp_path / "latin.json").write_bytes(b'{"name": "\xff"}')
    wrong = _skink()
    wrong["stages"][0]["mass_kg"] = {"low": 0.01}
    del wrong["home"]["origin"]
    (tmp_path / "wrong.json").write_text(json.dumps(wrong), encoding="utf-8")
    (tmp_path / "notes.txt").write_text("not a profile", encoding="utf-8")
    loaded = load(tmp_path)
    assert list(loaded.profiles) == ["Pogona vitticeps", "Python regius"]
    said = {refused.file: str(refused) for refused in loaded.refused}
    assert set(said) == {"twice.json", "half.json", "latin.json", "wrong.json"}
    assert (
        "wrong.json: /home/origin: it is required" in said["wrong.json"]
        and "/stages/0/mass_kg" in said["wrong.json"]
    )
    assert (
        "already" in said["twice.json"]
        and "line 1" in said["half.json"]
        and "UTF-8" in said["latin.json"]
    )


def test_text_that_is_not_json_says_where() -> None:
    with pytest.raises(DocumentError, match="line 2"):
        parse("{\n nothing }")


def test_an_unknown_species_names_those_there_are() -> None:
    with pytest.raises(UnknownNameError, match="Pogona vitticeps"):
        find("Draco volans")


@pytest.mark.parametrize(
    "species", ["Testudo hermanni", "Testudo marginata", "Testudo horsfieldii", "Testudo graeca"]
)
def test_a_tortoise_may_be_kept_milder_where_its_keeper_chooses_so(species: str) -> None:
    """30 to 32 °C for slow growth (a clinic's caution); common practice, no source."""
    profile = find(species)
    assert "tortoise-basking" in profile.questions
    for approach, low in (("sun", 34), ("mild", 30)):
        chosen = {"tortoise-basking": approach}
        need = need_of(profile.needs, NeedKey.SURFACE_DAY, "adult", chosen)
        assert need is not None and need.low == low
    usual = need_of(profile.needs, NeedKey.SURFACE_DAY, "adult", {})
    assert usual is not None and usual.low == 34
