"""Forty described setups with known faults, and ten good ones, judged.

Texts are invented; what is wrong with each is common practice, no source.
"""

import datetime as dt
import functools
from typing import Any

import pytest

from husbandry.errors import HusbandryError
from husbandry.quantity import Units
from husbandry.review.describe import described
from husbandry.review.description import Description
from husbandry.review.letter import letter
from husbandry.review.review import Review, review
from husbandry.tables import rows

NOW = dt.datetime(2026, 6, 1, 12, tzinfo=dt.UTC)
SETUPS = {row["name"]: row for row in rows("tests.husbandry.review", "setups.csv")}
GOOD = [name for name in SETUPS if SETUPS[name]["faults"] == "good"]


pytestmark = pytest.mark.xdist_group("judging")  # one judgement serves several of these tests


@functools.cache
def judged(text: str) -> Review:
    """A text judged without its correction."""
    return review(described(text), NOW, correct=False)


def faults_of(name: str) -> list[tuple[list[str], int, bool]]:
    """Slugs of which one must be named, the rank at most, and whether it is a danger."""
    found = []
    for fault in SETUPS[name]["faults"].split(";"):
        slugs, _, most = fault.strip().lstrip("!").rpartition("@")
        found.append((slugs.split("|"), int(most), fault.strip().startswith("!")))
    return found


def plain(slug: str) -> str:
    """A slug as the table writes it."""
    return slug.replace("_day ", "_day_").replace("_night ", "_night_")


def test_there_are_forty_with_faults_and_ten_without() -> None:
    assert len(GOOD) == 10
    assert len(SETUPS) == 50


def test_known_faults_are_named_and_dangers_come_first() -> None:
    named = every = dangers = dangers_named = 0
    missed = []
    for name in SETUPS:
        if name in GOOD:
            continue
        slugs = [plain(one.slug) for one in judged(SETUPS[name]["text"]).findings]
        for wanted, most, danger in faults_of(name):
            there = any(slug in slugs[:most] for slug in wanted)
            every += 1
            named += there
            dangers += danger
            dangers_named += danger and there
            if not there:
                missed.append(f"{name}: {wanted}")
    assert dangers_named >= 0.95 * dangers, missed
    assert named >= 0.85 * every, missed


@pytest.mark.parametrize("name", GOOD)
def test_a_proven_setup_is_not_called_dangerous_or_harmful(name: str) -> None:
    found = judged(SETUPS[name]["text"])
    assert [one.slug for one in found.findings if one.rank in {"danger", "harm"}] == []
    assert len(found.good) >= 3


@pytest.mark.parametrize(
    ("text", "slug"),
    [
        ("Hatchling corn snake 8 g, eats an adult mouse every week", "large prey"),
        ("Leopard gecko hatchling 4 g, large crickets daily", "large insects"),
        ("Bearded dragon 15 g, adult dubia roaches twice a day", "large insects"),
        ("Crested gecko 3 g, superworms weekly", "large insects"),
        ("Adult bearded dragon 400 g, pinhead crickets daily", "small insects"),
        ("Beardie with a T5 12% tube on top of the glass lid", "danger glass uv"),
        ("Beardie with a T8 5.0 tube", "weak uv"),
        ("Crested gecko under a T5 12% tube", "strong uv"),
        ("Red eared slider in a 75 gallon aquarium, no dock", "no dock"),
        ("Red eared slider in a 75 gallon aquarium, no filter", "danger no filter"),
        ("Axolotl in a 40 gallon breeder, the tank is not cycled", "danger uncycled"),
        ("Ball python, the lid doesn't lock", "danger loose lid"),
        ("Ball python, has escaped twice", "danger loose lid"),
        ("Leopard gecko, she stopped eating and has tremors", "danger ill"),
        ("Boa by the window in direct sun", "danger sun"),
    ],
)
def test_what_is_wrong_by_itself_is_named(text: str, slug: str) -> None:
    assert slug in [one.slug for one in judged(text).findings]


@pytest.mark.parametrize(
    "text",
    [
        "Corn snake 600 g, eats an adult mouse every ten days",
        "Beardie with a T5 12% tube",
        "Panther chameleon with a T5 6% tube",
        "Leopard gecko with a T5 6% tube",
        "Red eared slider with a dock and a filter",
        "Adult leopard gecko 60 g, medium dubia and adult crickets every other day",
        "Juvenile bearded dragon 80 g, medium crickets and small dubia daily",
        "Crested gecko 40 g, small dubia weekly",
        "Adult bearded dragon 400 g, mealworms weekly and greens daily",
        "Panther chameleon adult male 150 g, large dubia and crickets every 3 days",
    ],
)
def test_what_is_usual_is_not_called_wrong(text: str) -> None:
    usual = {"large prey", "weak uv", "strong uv", "no dock", "danger no filter"}
    usual |= {"large insects", "small insects"}
    assert not usual & {one.slug for one in judged(text).findings}


def test_findings_are_in_order_of_harm() -> None:
    found = judged(SETUPS["leo-sand-rock"]["text"]).findings
    ranks = [("danger", "harm", "missing", "better").index(one.rank) for one in found]
    assert ranks == sorted(ranks)
    assert found[0].slug == "hot rock"


def test_every_finding_says_what_to_do_and_why() -> None:
    for name, row in SETUPS.items():
        for one in judged(row["text"]).findings:
            assert one.title and one.consequence and one.fix and one.text, (name, one.slug)


def test_a_correction_keeps_every_need_in_range_and_costs_what_its_steps_cost() -> None:
    found = review(described(SETUPS["beardie-no-uv"]["text"]), NOW)
    assert found.correction is not None
    assert found.correction.closed
    assert found.correction.is_larger
    ultraviolet = [one for one in found.correction.items if one.item.is_uv]
    assert [one.action for one in ultraviolet] == ["add"] * len(ultraviolet)
    assert sum(one.price_eur for one in found.totals) >= found.correction.price_eur > 0


def test_a_proven_setup_needs_no_correction() -> None:
    found = review(described(SETUPS["good-bp"]["text"]), NOW)
    assert found.correction is not None
    assert found.correction.price_eur == 0.0
    assert {one.action for one in found.correction.items} == {"keep"}


def test_what_was_not_said_is_asked_the_most_telling_first() -> None:
    found = judged(
        "Adult bearded dragon in a 120x60x60 cm wooden vivarium with a 100 W basking bulb"
    )
    asked = [question.slug for question in found.questions]
    assert asked[0] == "thermostat"
    assert {"uv", "basking", "ends", "supplements", "food"} <= set(asked)
    answered = judged(
        "Adult bearded dragon in a 120x60x60 cm wooden vivarium with a 100 W basking bulb on a"
        " thermostat, no UVB"
    )
    assert not {"thermostat", "uv"} & {question.slug for question in answered.questions}


def test_an_unknown_power_is_judged_only_where_every_power_says_the_same() -> None:
    """A lamp of 40 to 100 W over mesh may be right: nothing is called wrong, and its power is asked."""
    found = judged(
        "Adult leopard gecko in a 90x45x45 cm glass terrarium with a mesh lid, heat lamp"
    )
    assert not [one.slug for one in found.findings if one.slug.startswith("surface_day")]
    assert "power" in [question.slug for question in found.questions]


def test_a_species_that_the_guide_does_not_know_gets_general_rules() -> None:
    found = judged("My king cobra has a heat rock, no thermostat on the mat, and 2 hides")
    assert found.nearest == () or all(" " in name for name in found.nearest)
    assert "is not in the species guide" in found.problem
    assert [one.slug for one in found.findings] == ["hot rock", "no thermostat"]


def test_without_an_animal_the_general_dangers_are_judged() -> None:
    found = judged("40 gallon, heat rock, calci sand, no hides")
    assert "not said which animal" in found.problem
    assert [one.slug for one in found.findings] == [
        "hot rock",
        "no hides",
        "substrate calcium sand",
    ]


def test_the_letter_speaks_plainly_in_the_readers_units() -> None:
    found = judged(SETUPS["beardie-no-uv"]["text"])
    said = letter(found, Units("us", "f"))
    assert "said 95 °F, needed 102 to 109 °F" in said
    assert "No UVB. Without UVB its bones go soft" in said
    assert "°C" not in said
    assert "35 °C" in letter(found)


def test_a_description_survives_as_json() -> None:
    said = described(SETUPS["good-leo"]["text"])
    assert Description.model_validate_json(said.model_dump_json()) == said
    found = review(said, NOW, correct=False)
    assert Review.model_validate_json(found.model_dump_json()) == found


@pytest.mark.parametrize(
    "wrong",
    [
        {"animal": {"species": "Draco volans"}},
        {"substrate": ["lava"]},
        {"food": [{"name": "pizza"}]},
        {"dangers": ["dragons"]},
    ],
)
def test_json_with_names_that_are_not_known_is_refused(wrong: dict[str, Any]) -> None:
    with pytest.raises((HusbandryError, ValueError), match=r"is not in|no species"):
        Description.model_validate(wrong)


@pytest.mark.parametrize(
    ("text", "slug"),
    [
        ("Crested gecko 45x45x60, lamp rests on the plastic lid", "danger near plastic"),
        ("Ball python 4x2x2, thermostat probe hangs outside the tank", "danger probe outside"),
        ("Leo in 60x45x45, heat mat. Thermostat is broken.", "no thermostat"),
        ("Slider, 60 gallon, heater 200W glass without guard", "danger unguarded"),
        ("Axolotl, 40 gallon breeder, water 26C in summer", "water_day above"),
        ("Green iguana, free roaming in the living room with the dog", "danger other pets"),
        ("Panther chameleon. Temps drop to 8C at night in winter.", "air_night below"),
        ("Leopard gecko, mat at 45 C on the floor, no thermostat", "surface_day above"),
    ],
)
def test_dangers_in_loose_words_are_named(text: str, slug: str) -> None:
    """Each was overlooked once (invented; common practice)."""
    assert slug in [one.slug for one in judged(text).findings if one.rank == "danger"]


@pytest.mark.parametrize(
    ("text", "slug"),
    [
        ("Adult male veiled chameleon, 2x2x4 ft screen cage", "size"),
        ("Giant day gecko 45 x 45 x 60 cm glass", "size"),
        ("Axolotl, 40 gallon breeder, fine sand", "sand alone"),
        ("Leopard gecko hatchling 4 g in a 45x45x45 cm glass", "size"),
        ("2 male leopard geckos in a 40 gallon divided by a pane", "company"),
        ("Ornate horned frog, nightcrawlers weekly and a pinky mouse monthly", "rodents"),
        ("Tree frog, White's, 45x45x60, 22-24 degrees", "warm_air_day below"),
        ("Boa adult 180x90x60 cm timber, water tub, two hides", "kind of enclosure"),
    ],
)
def test_what_practice_knows_to_be_right_harms_nobody(text: str, slug: str) -> None:
    harmful = [one.slug for one in judged(text).findings if one.rank in {"danger", "harm"}]
    assert slug not in harmful


def test_one_too_many_harms_and_a_loner_is_in_danger() -> None:
    ranks = {}
    for text in ("3 Dendrobates tinctorius in 60x45x60", "2 corn snakes in 4x2x2 ft"):
        found = [one.rank for one in judged(text).findings if one.slug == "company"]
        ranks[text[:1]] = found
    assert ranks == {"3": ["harm"], "2": ["danger"]}


@pytest.mark.parametrize(
    ("text", "slug", "said"),
    [
        ("Adult leopard gecko 60 g, crickets, no supplements", "no supplements", "monthly"),
        ("Adult bearded dragon 400 g, crickets twice daily", "fed too often", "as much as"),
        ("Hatchling corn snake 8 g, eats an adult mouse every week", "large prey", "as wide as"),
    ],
)
def test_what_other_approaches_say_of_food_is_told(text: str, slug: str, said: str) -> None:
    found = next(one for one in judged(text).findings if one.slug == slug)
    assert any(said in f"{other.approach} {other.text}" for other in found.others), found.others
