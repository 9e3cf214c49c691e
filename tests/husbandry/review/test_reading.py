"""Descriptions read into facts: nothing that was said is lost, and nothing is invented."""

from typing import Any

import pytest

from husbandry.errors import EntryError
from husbandry.review.describe import described
from husbandry.review.description import TEXT_MOST, Description
from husbandry.species.library import library
from husbandry.species.profile import Profile
from tests.husbandry.review.generating import Told, described_by

SEEDS = 200


def facts_of(said: Description) -> dict[str, Any]:
    """Every fact of a description by the paths of the generator."""
    found: dict[str, Any] = {}
    animal = said.animal
    for name in ("species", "stage"):
        if getattr(animal, name) is not None:
            found[f"animal/{name}"] = getattr(animal, name)
    if animal.mass_g is not None:
        found["said_mass_g"] = animal.mass_g
    for name in ("enclosure", "lid", "thermostat", "hides", "water", "mistings_per_day"):
        if getattr(said, name) is not None:
            found[name] = getattr(said, name)
    if said.sides_m is not None:
        found["sides_m"] = said.sides_m
    if said.substrate is not None:
        found["substrate"] = list(said.substrate)
    if said.humidity_pct is not None:
        found["humidity_pct"] = (said.humidity_pct.low, said.humidity_pct.high)
    for name in ("heat", "uv"):
        lamps = getattr(said, name)
        if lamps == ():
            found[name] = []
        for n, lamp in enumerate(lamps or ()):
            for key in ("kind", "power_w", "percent", "distance_m"):
                if getattr(lamp, key, None) is not None:
                    found[f"{name}/{n}/{key}"] = getattr(lamp, key)
    for one in said.temperatures:
        found[f"temperature/{one.place}"] = one.value_c.middle
    for food in said.food or ():
        pace = food.every_days
        found[f"food/{food.name}"] = (pace.low, pace.high) if pace else None
        if food.size:
            found[f"food_size/{food.name}"] = food.size
    if said.supplements == ():
        found["supplements"] = []
    for product in said.supplements or ():
        days = product.every_days
        often = {7.0: "once a week", 3.5: "twice a week"}.get(days.low if days else 0.0, "")
        found[f"supplement/{product.product}"] = "every feeding" if product.every_meal else often
    return found


def is_same(read: Any, true: Any) -> bool:
    """Numbers to a thousandth, all else exactly."""
    if isinstance(true, float) or (isinstance(true, tuple) and isinstance(read, tuple)):
        return bool(read == pytest.approx(true, rel=1e-3))
    return bool(read == true)


def compared(told: Told) -> tuple[int, int, list[str]]:
    """How many facts there are, how many were read right, and what was invented."""
    found = facts_of(described(told.text))
    truth = told.truth
    right = sum(name in found and is_same(found[name], truth[name]) for name in truth)
    return len(truth), right, [f"{name}: {found[name]}" for name in found if name not in truth]


def test_generated_descriptions_are_read_right_and_nothing_is_invented() -> None:
    facts = right = 0
    invented: list[str] = []
    for seed in range(SEEDS):
        told = described_by(seed)
        all_of_it, read, more = compared(told)
        facts += all_of_it
        right += read
        invented += [f"{seed} {one}: {told.text}" for one in more]
    assert right >= 0.95 * facts, f"{right} of {facts}"
    assert not invented, invented[:5]


def test_a_text_that_says_nothing_of_an_enclosure_is_refused_or_left_alone() -> None:
    with pytest.raises(EntryError, match="Paste or write"):
        described("  \n ")
    with pytest.raises(EntryError, match="at most"):
        described("sand " * TEXT_MOST)
    joke = described("Why did the gecko cross the road? To get to the other slide.")
    assert joke.animal.species is None
    assert joke.heat is None
    assert joke.sides_m is None


def test_two_sizes_that_cannot_be_one_enclosure_are_asked() -> None:
    said = described("Corn snake in a 10 gallon 4 foot tank")
    assert said.sides_m is None
    assert said.volume_l is None
    assert "do not belong to one enclosure" in said.contradictions[0].text


def test_what_cannot_be_is_asked_and_not_taken() -> None:
    said = described("Leopard gecko of 5 kg under a 900 W bulb, basking at 95 °C")
    assert said.animal.mass_g is None
    assert said.heat is not None
    assert said.heat[0].power_w is None
    assert not said.temperatures
    assert {one.fact for one in said.contradictions} == {"animal", "heat", "temperatures"}


def test_what_is_planned_or_asked_is_not_there() -> None:
    said = described(
        "Beardie with no UVB. I am going to add a T5 tube next week. Should I get a thermostat?"
    )
    assert said.uv == ()
    assert said.thermostat is None
    assert len(said.set_aside) == 2


def test_what_was_not_understood_stays_in_sight() -> None:
    said = described("Leopard gecko, two hides, a zorbulator under the cork")
    assert said.not_understood == ("a zorbulator under the cork",)


@pytest.mark.parametrize(
    ("text", "denied"),
    [
        ("no UVB, thermostat or hides", {"uv": (), "thermostat": False, "hides": 0}),
        ("UVB: none. Hides: none.", {"uv": (), "hides": 0}),
        ("without a thermostat, not misted", {"thermostat": False, "mistings_per_day": 0.0}),
        ("we don't use UVB and never mist", {"uv": (), "mistings_per_day": 0.0}),
    ],
)
def test_denials_reach_what_they_deny(text: str, denied: dict[str, Any]) -> None:
    said = described(f"Leopard gecko, {text}")
    assert {name: getattr(said, name) for name in denied} == denied


@pytest.mark.parametrize(
    ("text", "path", "value"),
    [
        ("Beardie, T8 5.0 UVB tube", "uv/0/percent", 6.0),
        ("Ball python, 2 hides no uvb aspen", "hides", 2),
        ('Beardie in a 36"x18"x18" tank', "sides_m", (0.9144, 0.4572, 0.4572)),
        ("Veiled chameleon in 24x24x48 mesh", "enclosure", "mesh"),
        ("Leopard gecko, UVB off", "uv", []),
        ("Beardie, hoppers 2x week", "food/locust", (3.5, 3.5)),
        ("Beardie, small and medium crickets daily", "food_size/cricket", "medium"),
        ('Leopard gecko, 1/4" crickets', "food_size/cricket", "small"),
        ("Leopard gecko, 5 half grown dubia every 2 days", "food_size/roach", "medium"),
        ("Crested gecko, pinhead crickets", "food_size/cricket", "pinhead"),
        ("Corn snake, hoppers once a week", "food/mouse", (7.0, 7.0)),
        ("Frogs: White's tree frog, crickets 3x weekly", "food/cricket", (7 / 3, 7 / 3)),
        ("Corn snake, 2 year old female 700g", "said_mass_g", 700.0),
        ("Leopard gecko, basking at 95 and 75 on the cool side", "temperature/cool", 23.89),
        ("Leopard gecko. Hot side 88-90, cool side 75-78", "temperature/warm", 31.665),
    ],
)
def test_phrases_of_the_trade(text: str, path: str, value: Any) -> None:
    """Each was read wrong once."""
    found = facts_of(described(text))
    assert is_same(found.get(path), value), found


def test_how_often_it_is_bathed_is_no_meal() -> None:
    said = described("Sulcata, hay and grass, soaks 3 times a week")
    assert said.feeding_days is None


@pytest.mark.parametrize("profile", library().values(), ids=lambda one: one.species)
def test_every_species_is_known_by_each_of_its_names(profile: Profile) -> None:
    for name in (profile.name, profile.species):
        said = described(f"My {name}, 24 C at the cool end")
        assert (said.animal.species, said.animal.others) == (profile.species, ()), name


def test_groups_are_counted() -> None:
    assert described("White's tree frogs x3 in a 29 gallon tall").animal.count == 3
    assert described("two leos, both female").animal.females == 2
    assert described("Ackie monitor pair in 4x2x2").animal.count == 2


def test_the_example_of_the_trade_is_read_whole() -> None:
    said = described("40 gallon, 100 W basking at 95, no UVB, sand, two hides, crickets every day")
    assert said.sides_m == pytest.approx((0.914, 0.457, 0.406), abs=0.001)
    assert said.heat is not None
    assert (said.heat[0].kind, said.heat[0].power_w) == ("lamp", 100.0)
    basking = said.temperature("basking")
    assert basking is not None
    assert basking.middle == pytest.approx(35.0)
    assert said.uv == ()
    assert said.substrate == ("sand",)
    assert said.hides == 2
    assert said.food is not None
    assert (said.food[0].name, said.food[0].every_days) == ("cricket", said.food[0].every_days)
    assert said.not_understood == ()


@pytest.mark.parametrize(
    ("text", "path", "value"),
    [
        ("bearded dragon. heat: 100w spot, stat? no.", "thermostat", False),
        ("bearded dragon. heat: 100w spot, stat? no.", "heat/0/kind", "lamp"),
        ("ackie, 2x 100w halogen floods", "heat/0/count", 2),
        ("boa, 2x deep heat projector 80W", "heat/0/count", 2),
        ("boa, 2 x 60w panels", "heat/0/kind", "infrared_panel"),
        ("jacksons chameleon in a 40cm cube", "sides_m", (0.4, 0.4, 0.4)),
        ("king snake in a tub of 33 litres", "sides_m", None),
        ("axolotls x2 in 40L tank", "sides_m", None),
        ("axolotls x2 in 40L tank", "animal/count", 2),
        ("axolotl, temp 19C", "temperatures/0/place", "water"),
        ("veiled chameleon, ambient 75F night 65F", "temperatures/1/value_c/low", 18.33),
        ("white's tree frog, 5% uvb, 22-24 degrees", "temperatures/0/value_c/high", 24.0),
        ("leopard gecko, 85F warm 75 cool", "temperatures/0/value_c/low", 23.89),
        ("crested gecko, summer 28 in the room", "temperatures", ()),
        ("hognose on 3 inches of shavings (aspen)", "substrate", ("aspen",)),
        ("corn snake, aspen, paper tube hide", "substrate", ("aspen",)),
        ("panther chameleon. Mist 2 min x 4 a day.", "mistings_per_day", 4.0),
        ("red eyed tree frogs, mist x3 daily", "mistings_per_day", 3.0),
        ("fire bellied toads group of six", "animal/count", 6),
        ("red eared slider about 6 inch shell", "animal/length_mm", 152.4),
        ("my beardie 14 months 380g", "animal/age_months", 14.0),
        ("I have had my beardie for 2 years", "animal/age_months", None),
        ("Ball python. Mine is 3 years, 1500 g.", "animal/mass_g", 1500.0),
        ("hognose, 1 fuzzy/wk", "food/0/every_days/low", 7.0),
        ("axolotl, nightcrawlers twice/week", "food/0/every_days/low", 3.5),
        ("leopard gecko. Hides: 4 incl. humid hide", "hides", 4),
        ("leopard gecko, 2 hides and one moist hide", "hides", 3),
        ("Red eared slider in a 40 gallon, no lamp", "uv", ()),
        ("ball python, no lights, no heater", "uv", ()),
        ("Crested gecko, no heat lamp", "uv", None),
        ("Crested gecko, no heat lamp, T5 tube 6 %", "contradictions", ()),
        ("Crested gecko, no light at night", "uv", None),
        ("leopard gecko, calcium + D3 every week", "supplements/0/product", "calcium + D3"),
    ],
)
def test_loose_sentences_are_read(text: str, path: str, value: Any) -> None:
    """Counts, paces and forms as the trade writes them (invented)."""
    found: Any = described(text).model_dump()
    for step in path.split("/"):
        found = found[int(step)] if step.isdigit() else found[step]
    assert found == (pytest.approx(value) if isinstance(value, float) else value)
