import json
from importlib.resources import files
from pathlib import Path

import pytest

from husbandry.audit import check_values
from husbandry.audit.check_values import READERS, CheckValue, check, check_all, read, stages_of
from husbandry.species.library import find, library
from husbandry.species.profile import parse

DATA = Path(__file__).parents[1] / "data" / "check-values.csv"
ROWS = read(DATA)


@pytest.mark.parametrize(
    "row", ROWS, ids=lambda r: f"{r.species.split()[0]}-{r.stage}-{r.quantity}"
)
def test_check_values_of_the_trade(row: CheckValue) -> None:
    """Facts of the trade, common practice, no source. None is explained away."""
    outcome = check(find(row.species), row)
    assert outcome.verdict == "match", (
        f"{row.quantity} {row.low}-{row.high} {row.unit}: the profile has {outcome.found}"
    )


def test_the_whole_file_is_compared_and_good() -> None:
    checked = check_all(library(), ROWS)
    assert len(checked.outcomes) == len(ROWS) == 61 and checked.good
    assert not checked.of("explained") and not checked.of("literature")


@pytest.mark.parametrize(
    ("species", "stage", "quantity", "low", "high", "unit", "verdict"),
    [
        ("Pogona vitticeps", "all", "basking_surface", "25", "27", "degC", "miss"),
        (
            "Pogona vitticeps",
            "all",
            "basking_surface",
            "104",
            "108",
            "degF",
            "match",
        ),  # 40 to 42 °C
        ("Pogona vitticeps", "adult", "length_total", "17", "23", "in", "match"),
        ("Pogona vitticeps", "adult", "mass", "0.3", "0.5", "kg", "match"),
        ("Pogona vitticeps", "adult", "mass", "3", "5", "kg", "miss"),
        ("Pogona vitticeps", "all", "time_to_adult_size", "1", "2", "year", "match"),
        ("Pogona vitticeps", "adult", "enclosure_footprint_min", "4x2", "4x2", "ft", "match"),
        ("Pogona vitticeps", "adult", "enclosure_volume_min", "75", "75", "US gal", "match"),
        ("Pogona vitticeps", "adult", "enclosure_volume_min", "900", "900", "litre", "miss"),
        ("Ambystoma mexicanum", "all", "water_temperature", "15", "18", "degC", "match"),
        ("Salamandra salamandra", "all", "humidity", "20", "40", "%RH", "miss"),
        ("Dendrobates tinctorius", "all", "cohabitation", "2", "2", "animals", "match"),
        ("Testudo hermanni", "all", "brumation_temperature", "4", "8", "degC", "match"),
        ("Stenodactylus sthenodactylus", "all", "incubation_days", "54", "80", "day", "match"),
        ("Stenodactylus sthenodactylus", "all", "colour", "1", "1", "", "miss"),
        ("Pogona vitticeps", "all", "mass", "heavy", "", "g", "miss"),
        ("Pogona vitticeps", "all", "mass", "3", "3", "degC", "miss"),
    ],
)
def test_rows_in_any_unit_and_rows_that_cannot_be(
    species: str, stage: str, quantity: str, low: str, high: str, unit: str, verdict: str
) -> None:
    outcome = check(find(species), CheckValue(species, stage, quantity, low, high, unit, "", ""))
    assert outcome.verdict == verdict, outcome


def test_a_row_that_no_profile_can_answer_says_why() -> None:
    outcome = check(
        find("Pogona vitticeps"),
        CheckValue("Pogona vitticeps", "all", "colour", "1", "1", "", "", ""),
    )
    assert "no quantity" in outcome.why
    assert (
        "cannot be read"
        in check(
            find("Pogona vitticeps"),
            CheckValue("Pogona vitticeps", "all", "mass", "x", "", "g", "", ""),
        ).why
    )


def test_what_the_literature_excuses_and_what_a_profile_explains() -> None:
    dragon = find("Pogona vitticeps")
    cold = CheckValue("Pogona vitticeps", "all", "night_min", "30", "30", "degC", "", "")
    assert check(dragon, cold).verdict == "miss"
    assert (
        check(dragon, CheckValue(**{**cold.__dict__, "literature": "nights fall to 18"})).verdict
        == "literature"
    )
    data = json.loads(
        files("husbandry.species")
        .joinpath("profiles", "pogona-vitticeps.json")
        .read_text(encoding="utf-8")
    )
    data["explains"] = [
        {"quantity": "night_min", "text": "A drop is part of its day.", "origin": ["raiti2012"]}
    ]
    explained = check(parse(json.dumps(data)), cold)
    assert explained.verdict == "explained" and "Raiti 2012" in explained.why
    checked = check_all(
        {"Pogona vitticeps": parse(json.dumps(data))}, [cold] * (check_values.MOST_EXPLAINED + 1)
    )
    assert not checked.good and checked.explained_without_literature == 6


def test_a_species_without_a_profile_is_a_miss() -> None:
    checked = check_all(
        library(), [CheckValue("Draco volans", "all", "mass", "1", "2", "g", "", "")]
    )
    assert len(checked.unknown) == 1 and not checked.good


@pytest.mark.parametrize(
    ("species", "words", "stages"),
    [
        ("Pogona vitticeps", "all", ("hatchling", "juvenile", "subadult", "adult")),
        ("Pogona vitticeps", "juvenile (over 30 g)", ("juvenile",)),
        ("Tiliqua scincoides", "hatchling", ("newborn",)),
        ("Tiliqua scincoides", "sub-adult", ("subadult",)),
        ("Chamaeleo calyptratus", "adult female", ("adult",)),
        ("Stigmochelys pardalis", "yearling", ("yearling",)),
        ("Centrochelys sulcata", "yearling", ("juvenile",)),
        ("Dryophytes cinereus", "metamorph", ("froglet",)),
    ],
)
def test_stages_by_the_trades_words(species: str, words: str, stages: tuple[str, ...]) -> None:
    assert stages_of(find(species), words) == stages


def test_every_reader_reads_every_profile() -> None:
    """No quantity fails on any species, whatever it lacks."""
    for profile in library().values():
        every = tuple(stage.slug for stage in profile.stages)
        for _, _, reader in READERS.values():
            assert all(low <= high for low, high in reader(profile, every))


def test_a_file_without_its_columns_is_refused(tmp_path: Path) -> None:
    file = tmp_path / "rows.csv"
    file.write_text("species,value\nPogona vitticeps,3\n", encoding="utf-8")
    with pytest.raises(ValueError, match="quantity"):
        read(file)
