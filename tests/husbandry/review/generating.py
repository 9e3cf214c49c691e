"""Descriptions made from known facts, by seed: what was said is known to the last number.

The phrases are common practice; the facts are invented.
"""

import random
from dataclasses import dataclass, field
from typing import Any

SPECIES = {
    "Eublepharis macularius": ("leopard gecko", "leo"),
    "Pogona vitticeps": ("bearded dragon", "beardie"),
    "Python regius": ("ball python", "royal python"),
    "Pantherophis guttatus": ("corn snake",),
    "Correlophus ciliatus": ("crested gecko", "crestie"),
    "Chamaeleo calyptratus": ("veiled chameleon",),
    "Testudo hermanni": ("Hermann's tortoise", "hermann tortoise"),
    "Ranoidea caerulea": ("White's tree frog", "whites tree frog"),
    "Tiliqua scincoides": ("blue tongue skink", "blue-tongued skink"),
    "Uromastyx ornata": ("uromastyx",),
}
STAGES = ("adult", "juvenile")
SIDES = {
    "90 x 45 x 45 cm": (0.9, 0.45, 0.45),
    "36x18x18 inch": (0.9144, 0.4572, 0.4572),
    "4x2x2 ft": (1.2192, 0.6096, 0.6096),
    "120 by 60 by 60 cm": (1.2, 0.6, 0.6),
    "45x45x60": (0.45, 0.45, 0.6),
    '48" x 24" x 24"': (1.2192, 0.6096, 0.6096),
}
KINDS = {
    "glass terrarium": "glass",
    "wooden vivarium": "timber",
    "PVC enclosure": "board",
    "mesh cage": "mesh",
    "glass tank": "glass",
}
LIDS = {"a mesh lid": "mesh", "a screen top": "mesh", "a solid lid": "solid"}
HEAT = {
    "halogen flood": "halogen_flood",
    "ceramic heat emitter": "ceramic_emitter",
    "basking bulb": "lamp",
    "deep heat projector": "infrared_projector",
    "radiant heat panel": "infrared_panel",
    "heat mat": "heat_mat",
}
UV = {
    "T5 12% tube": ("t5", 12.0),
    "T5 HO 10.0": ("t5", 12.0),
    "T8 6% tube": ("t8", 6.0),
    "compact UVB bulb": ("compact", None),
    "mercury vapour bulb": ("uv_flood", None),
}
SUBSTRATES = {
    "aspen": ["aspen"],
    "play sand": ["sand"],
    "paper towels": ["paper"],
    "coco coir": ["coir"],
    "cypress mulch": ["mulch"],
    "slate tile": ["tile"],
    "topsoil": ["soil"],
}
FOODS = {
    "crickets": "cricket",
    "dubia roaches": "roach",
    "locusts": "locust",
    "mealworms": "mealworm",
    "mixed greens": "greens",
}
SIZES: tuple[tuple[str, dict[str, str]], ...] = (
    ("", {}),
    ("small ", {"cricket": "small", "roach": "small"}),
    ("medium ", {"cricket": "medium", "roach": "medium"}),
    ("adult ", {"cricket": "large", "roach": "large"}),
    ("1/2 inch ", {"cricket": "medium", "roach": "small"}),
    ("3 cm ", {"cricket": "large", "roach": "large"}),
)
"""What is said of an insect’s size, and the size it is by its length (`feeders.csv`)."""
PACES = {
    "every day": (1.0, 1.0),
    "every other day": (2.0, 2.0),
    "twice a week": (3.5, 3.5),
    "every 3 days": (3.0, 3.0),
    "every 2-3 days": (2.0, 3.0),
    "once a week": (7.0, 7.0),
    "3 times a week": (7 / 3, 7 / 3),
}
SUPPLEMENTS = {
    "calcium": "calcium",
    "calcium without D3": "calcium",
    "calcium with D3": "calcium + D3",
    "multivitamin": "multivitamin",
}


@dataclass
class Told:
    """A text with the facts in it, by the path in a description's JSON."""

    text: str = ""
    truth: dict[str, Any] = field(default_factory=dict)

    def say(self, sentence: str, **facts: Any) -> None:
        """Add a sentence and what it says; double underscores part a path."""
        self.text += sentence
        self.truth |= {name.replace("__", "/"): value for name, value in facts.items()}


def celsius(fahrenheit: float) -> float:
    """A temperature in °C, as a description keeps it."""
    return round((fahrenheit - 32) / 1.8, 2)


def described_by(seed: int) -> Told:
    """The description of that seed."""
    chance = random.Random(seed)
    told = Told()
    _animal(chance, told)
    for part in chance.sample(
        (_heat, _uv, _inside, _temperatures, _care, _damp), k=chance.randint(3, 6)
    ):
        part(chance, told)
    return told


def _animal(chance: random.Random, told: Told) -> None:
    species = chance.choice(list(SPECIES))
    name = chance.choice(SPECIES[species])
    stage = chance.choice(STAGES)
    sides = chance.choice(list(SIDES))
    kind = chance.choice(list(KINDS))
    facts = {"animal__species": species, "animal__stage": stage, "sides_m": SIDES[sides]}
    begin = chance.choice(
        (
            "My {0} {1} lives in a {2} {3}",
            "{0} {1} in a {2} {3}",
            "I keep an {0} {1} in a {3}, {2}",
        )
    )
    told.say(begin.format(stage, name, sides, kind), enclosure=KINDS[kind], **facts)
    if chance.random() < 0.5:
        lid = chance.choice(list(LIDS))
        told.say(f" with {lid}", lid=LIDS[lid])
    told.say(". ")
    if chance.random() < 0.5:
        grams = chance.choice((55, 180, 420, 1200))
        weight = chance.choice((f"{grams} g", f"{grams}g", f"{grams / 1000:g} kg"))
        told.say(f"It weighs {weight}. ", said_mass_g=float(grams))


def _heat(chance: random.Random, told: Told) -> None:
    if chance.random() < 0.15:
        told.say(chance.choice(("No heating. ", "There is no heat source. ")), heat=[])
        return
    name = chance.choice(list(HEAT))
    watts = chance.choice((50, 75, 100, 150))
    power = chance.choice((f"{watts}W", f"{watts} watt", f"{watts} W"))
    held = chance.choice(("yes", "no", ""))
    text = {"yes": " on a thermostat", "no": ", no thermostat", "": ""}[held]
    told.say(
        chance.choice((f"Heat is a {power} {name}{text}. ", f"{power} {name}{text}. ")),
        heat__0__kind=HEAT[name],
        heat__0__power_w=float(watts),
    )
    if held:
        told.say("", thermostat=held == "yes")


def _uv(chance: random.Random, told: Told) -> None:
    if chance.random() < 0.3:
        told.say(
            chance.choice(("No UVB. ", "There is no UVB. ", "UVB: none. ", "We don't use UVB. ")),
            uv=[],
        )
        return
    name = chance.choice(list(UV))
    kind, percent = UV[name]
    told.say(f"{chance.choice(('UV comes from a ', 'A ', ''))}{name}", uv__0__kind=kind)
    if percent is not None:
        told.say("", uv__0__percent=percent)
    if chance.random() < 0.4:
        inches = chance.choice((8, 12, 14))
        said, metres = chance.choice(
            ((f"{inches} inches", inches * 0.0254), (f"{inches * 2.5:g} cm", inches * 0.025))
        )
        told.say(f", {said} above the basking spot", uv__0__distance_m=metres)
    told.say(". ")


def _inside(chance: random.Random, told: Told) -> None:
    name = chance.choice(list(SUBSTRATES))
    if chance.random() < 0.5:
        told.say(f"The substrate is {name}. ", substrate=SUBSTRATES[name])
    else:
        told.say(f"{name.capitalize()} on the floor. ", substrate=SUBSTRATES[name])
    hides = chance.choice((0, 1, 2, 3, None))
    if hides is not None:
        words = {0: "No hides", 1: "One hide", 2: "Two hides", 3: "3 hides"}[hides]
        told.say(f"{words}. ", hides=hides)
    if chance.random() < 0.4:
        told.say("There is a water bowl. ", water="dish")


def _temperatures(chance: random.Random, told: Told) -> None:
    imperial = chance.random() < 0.5
    places = chance.sample(("basking", "warm", "cool", "night"), k=chance.randint(1, 4))
    words = {
        "basking": ("basking spot {0}", "basking at {0}", "basking surface is about {0}"),
        "warm": ("warm side {0}", "hot end {0}"),
        "cool": ("cool side {0}", "cool end at {0}", "{0} on the cool side"),
        "night": ("nights {0}", "drops to {0} at night", "{0} at night"),
    }
    values = {"basking": (95, 36), "warm": (88, 31), "cool": (75, 24), "night": (68, 20)}
    parts = []
    for place in places:
        fahrenheit, metric = values[place]
        said = (
            chance.choice((f"{fahrenheit}F", f"{fahrenheit} °F", f"{fahrenheit}"))
            if imperial
            else f"{metric}{chance.choice(('C', ' °C', '°C'))}"
        )
        parts.append(chance.choice(words[place]).format(said))
        told.truth[f"temperature/{place}"] = celsius(fahrenheit) if imperial else float(metric)
    told.say(f"{', '.join(parts)}. ")
    if chance.random() < 0.3:
        told.say("Humidity is 40-50%. ", humidity_pct=(40.0, 50.0))


def _care(chance: random.Random, told: Told) -> None:
    food, other = chance.sample(list(FOODS), k=2)
    pace = chance.choice(list(PACES))
    said, size = chance.choice(SIZES) if FOODS[food] in {"cricket", "roach"} else ("", {})
    truth = {f"food__{FOODS[food]}": PACES[pace]}
    if size:
        truth[f"food_size__{FOODS[food]}"] = size[FOODS[food]]
    told.say(f"It eats {said}{food} {pace}", **truth)
    if chance.random() < 0.4:
        again = chance.choice(list(PACES))
        told.say(f" and {other} {again}", **{f"food__{FOODS[other]}": PACES[again]})
    told.say(". ")
    if chance.random() < 0.2:
        told.say(
            chance.choice(("No supplements. ", "I don't use any supplements. ")), supplements=[]
        )
        return
    name = chance.choice(list(SUPPLEMENTS))
    said = chance.choice(("every feeding", "once a week", "twice a week"))
    told.say(f"{name.capitalize()} {said}. ", **{f"supplement__{SUPPLEMENTS[name]}": said})


def _damp(chance: random.Random, told: Told) -> None:
    often = chance.choice((0, 1, 2, 3))
    words = {
        0: "It is never misted. ",
        1: "Misted once a day. ",
        2: "Misted twice a day. ",
        3: "I mist 3 times a day. ",
    }
    told.say(words[often], mistings_per_day=float(often))
