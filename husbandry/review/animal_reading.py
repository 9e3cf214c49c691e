"""Who lives there: species, number, sex, age, mass, length."""

import re

from husbandry.review.description import SaidAnimal
from husbandry.review.description_reading import Reading, Statement
from husbandry.review.numbers import A_YEAR, YEAR_MONTHS, Number
from husbandry.review.vocabulary import Mention, filling
from husbandry.species.library import library

_TOGETHER = re.compile(
    r"\b(?:pairs?|together|cohab\w*|cohous\w*|room ?mates?|tank ?mates?|companions?"
    r"|shares? (?:a|an|the|this|his|her|its)\b"
    r"|with (?:his|her|its|a|another) (?:brother|sister|mate|sibling|friend|female|male)"
    r"|with another|another (?:gecko|snake|lizard|dragon|frog|turtle|tortoise|chameleon|one))\b"
)
_COUNT = re.compile(r"(\d+)\s+(?:(?!\d)[\w'-]+\s+){0,4}$")
_GENERIC = re.compile(
    r"\b((?:[a-z'-]+\s+){0,2}?)(gecko|snake|lizard|frog|toad|newt|salamander|turtle|tortoise|chameleon"
    r"|skink|python|cobra|viper|monitor|crocodile|caiman|terrapin|tuatara|scorpion|tarantula|hamster"
    r"|rabbit|parrot|fish|dragon)s?\b"
)
BEFORE_NAME = 14
"""A length so near before the animal's name is its own (design choice) [characters]."""
_ONLY_AGE = re.compile(
    r"[\s,]*(?:(?:about|around|\d+\s*(?:yo|y/o|years?|months?|mo))(?: old)?[\s,]*)*"
)
_KEPT_FOR = re.compile(r"\b(?:for|had|owned|kept|over|almost|nearly|about|past|last)\s*$")
_PARTED = re.compile(r"\b(?:divided|dividers?|partition(?:ed)?|separated by)\b")
"""Who live on two sides of a wall do not live together."""
_IT = re.compile(r"\s*(?:mine|he|she)\b")
"""How a sentence begins that speaks of the animal."""
_GROUP = re.compile(
    r"\b(?:group|colony|trio|bunch) of (?P<of>\d+)|\b(?P<them>\d+)\s+of (?:them|these)\b"
)
_BODY = re.compile(
    r"\b(?:he|she|it)(?:'s| is| measures| was)?\s+(?:now |about |around |roughly |currently )*$"
)


def read_animal(reading: Reading) -> None:
    """Fill in the animal."""
    said: dict[str, object] = {}
    species: list[str] = []

    for statement in reading.statements:
        if statement.clause.wished:
            continue
        for name in statement.of("species"):
            if statement.denied(name):
                continue
            species += [name.value] * (name.value not in species)
            reading.mark(statement, "animal", name)
            _count(reading, statement, name, said)
        _body(reading, statement, said)
        _stage_and_sex(reading, statement, said)

    species = species or _asked_about(reading)

    if species:
        said |= {"species": species[0], "others": tuple(species[1:])}
    else:
        _unknown(reading, said)
    _together(reading, said)
    reading.facts["animal"] = SaidAnimal.model_validate(_possible(reading, said))


def _asked_about(reading: Reading) -> list[str]:
    """The species of a question: “do I need UVB for my leopard gecko?”"""
    for statement in reading.statements:
        for name in statement.of("species"):
            reading.mark(statement, "animal", name)
            return [name.value]
    return []


def _count(reading: Reading, statement: Statement, name: Mention, said: dict[str, object]) -> None:
    """A number before the name: “3 adult leopard geckos”."""

    for number in [n for n in statement.numbers if n.quantity == "bare" and n.end <= name.start]:
        between = statement.text[number.end : name.start]
        few = number.value.low == number.value.high and 1 <= number.value.low <= 20

        if few and re.fullmatch(r"\s+(?:(?!inch|x\b)[a-z'-]+\s+){0,4}", between):
            said.setdefault("count", int(number.value.low))

            for sex in statement.of("sex"):
                if number.end <= sex.start <= name.start and number.value.low > 1:
                    said["males" if sex.value == "male" else "females"] = int(number.value.low) - 1
            reading.mark(statement, "animal", statement.take(number))

            return

    after = [n for n in statement.numbers if n.quantity == "bare" and 0 <= n.start - name.end <= 2]

    times = bool(after) and after[0].start - name.end == 2  # “frogs x3”: the sign became a blank
    ends = bool(after) and not statement.text[after[0].end :].strip()

    if after and after[0].value.low <= 20 and (times or ends):
        said.setdefault("count", int(after[0].value.low))
        reading.mark(statement, "animal", statement.take(after[0]))


def _body(reading: Reading, statement: Statement, said: dict[str, object]) -> None:
    """Age, mass and length, where the clause speaks of the animal."""
    if statement.of("species") or not _is_of_a_lamp(reading, statement):
        _age(reading, statement, said)

    _mass(reading, statement, said)
    _length(reading, statement, said)


def _stands_alone(reading: Reading, statement: Statement) -> bool:
    """Whether a clause names nothing but its stage or sex, in a sentence that names an animal: “...,
    1.4 kg, ...”.
    """
    others = [name for name in statement.names if name.fact not in {"stage", "sex"}]
    first = reading.sentences_text(statement)
    speaks = reading.sentence_of(statement, "species") or _IT.match(first)

    return not others and bool(speaks)


def _age(reading: Reading, statement: Statement, said: dict[str, object]) -> None:
    lone = _stands_alone(reading, statement) or re.search(r"\bage", statement.text)

    for number in statement.numbers_of("age"):
        words = statement.text[number.start : number.end]
        if lone or words.endswith(("old", "yo", "y/o")) or _after_name(statement, number):
            said.setdefault("age_months", number.value.middle)
            reading.mark(statement, "animal", statement.take(number))

    year = A_YEAR.search(statement.text)

    if year is not None and "age_months" not in said:
        said["age_months"] = YEAR_MONTHS if year[1] == "year" else 1.0
        statement.use(year.start(), year.end())


def _after_name(statement: Statement, number: Number) -> bool:
    """Whether an age stands beside the animal's name: “my beardie 14 months 380 g”; how long
    somebody has had it is none.
    """
    before = statement.text[: number.start]
    beside = any(0 <= number.start - name.end <= 2 for name in statement.of("species"))

    return beside and not _KEPT_FOR.search(before)


def _mass(reading: Reading, statement: Statement, said: dict[str, object]) -> None:
    if statement.of("food"):
        return

    weighs = re.search(r"\bweigh|\bweight\b", statement.text)

    if not (weighs or statement.of("species") or _stands_alone(reading, statement)):
        return

    for number in statement.numbers_of("mass"):
        said.setdefault("mass_g", number.value.middle)
        reading.mark(statement, "animal", statement.take(number))


def _length(reading: Reading, statement: Statement, said: dict[str, object]) -> None:
    last = reading.last_of(statement, "species", "enclosure", "cage", "uv", "heat", "substrate")
    bare = re.fullmatch(r"[\s(~]*(?:about |around )?", statement.text[: _first(statement)])
    lone = not statement.names and last is not None and last.fact == "species" and bare

    for number in statement.numbers_of("length"):
        if lone or _is_of_its_body(statement, number):
            said.setdefault("length_mm", 1000 * number.value.middle)
            reading.mark(statement, "animal", statement.take(number))


def _first(statement: Statement) -> int:
    """Where the first number of a clause begins."""
    return min((number.start for number in statement.numbers), default=0)


def _is_of_its_body(statement: Statement, number: Number) -> bool:
    """Whether a length is of the animal: “a 4 ft corn snake”, “boa 6 ft long”, “she is 40 cm long”."""
    before = statement.text[: number.start]
    after = statement.text[number.end :]

    if re.match(r"\s*(?:shell|carapace|scl|svl)\b", after):
        return True

    if _BODY.search(before) and re.match(r"\s*(?:long|total|svl|in length|$)", after):
        return True

    if " x " in before[-4:]:
        return False

    long = re.match(r"\s*(?:long|total)\b", after) is not None

    size = re.match(r"\s*(?:$|[\d(,])", after)

    return any(
        (size and re.fullmatch(r"\s*", statement.text[name.end : number.start]))
        or 0 <= name.start - number.end <= BEFORE_NAME
        or (long and _ONLY_AGE.fullmatch(statement.text[name.end : number.start]))
        for name in statement.of("species")
    )


def _is_of_a_lamp(reading: Reading, statement: Statement) -> bool:
    """Whether what was named last in its sentence is a lamp and no animal."""
    last = reading.last_of(statement, "uv", "bulb", "species", "sex", "stage")
    return last is not None and last.fact in {"uv", "bulb"}


def _stage_and_sex(reading: Reading, statement: Statement, said: dict[str, object]) -> None:
    for name in statement.of("stage"):
        food = any(0 <= one.start - name.end <= 2 for one in statement.of("food", "substrate"))
        if not food and not statement.denied(name):
            said.setdefault("stage", name.value)
            reading.mark(statement, "animal", name)
    for name in statement.of("sex"):
        if statement.denied(name):
            continue
        key = "males" if name.value == "male" else "females"
        number = next(
            (
                n
                for n in statement.numbers
                if n.quantity == "bare" and 0 <= name.start - n.end <= 12 and n.value.low <= 20
            ),
            None,
        )
        plural = statement.text[name.start : name.end].endswith("s")
        both = re.search(r"\bboth\s+$", statement.text[: name.start])
        count = int(number.value.low) if number else 2 if plural or both else 1
        said[key] = int(str(said.get(key, 0))) + count
        reading.mark(statement, "animal", name, *([statement.take(number)] if number else []))


def _together(reading: Reading, said: dict[str, object]) -> None:
    """More than one by sexes that are counted, by other species, or because they share."""
    sexed = int(str(said.get("males", 0))) + int(str(said.get("females", 0)))

    if sexed > 1 and "count" not in said:
        said["count"] = sexed

    for statement in reading.statements:
        for name in statement.of("alone"):
            said.setdefault("count", 1)
            reading.mark(statement, "animal", name)
        group = _GROUP.search(statement.text)
        if group and not statement.clause.wished:
            said.setdefault("count", min(int(group["of"] or group["them"]), 20))
            statement.use(group.start(), group.end())
        found = _TOGETHER.search(statement.text)
        if _PARTED.search(statement.text) and not statement.clause.wished:
            said |= {"count": 1, "males": None, "females": None}
            return
        if found and not statement.clause.wished:
            alone = re.search(r"\b(?:not|never|no|without)\b", statement.text[: found.start()])
            statement.use(found.start(), found.end())
            if not alone:
                said["count"] = max(int(str(said.get("count", 0))), 2)


def _unknown(reading: Reading, said: dict[str, object]) -> None:
    """An animal that the guide does not know, by the words it was called."""
    for statement in reading.statements:
        for found in _GENERIC.finditer(statement.text):
            words = [word for word in found[1].split() if word not in filling("before a name")]
            if not statement.of("food") or words:
                said["words"] = " ".join((*words, found[2]))
                statement.use(found.start(), found.end())
                return


def _possible(reading: Reading, said: dict[str, object]) -> dict[str, object]:
    """Without a mass or a length that no animal of its species has; those are asked for again."""
    profile = library().get(str(said.get("species")))

    if profile is None:
        return said
    stages = {stage.slug for stage in profile.stages}

    if said.get("stage") == "hatchling" and "hatchling" not in stages:
        said["stage"] = profile.stages[0].slug
    heaviest = max(adult.mass_g.ends[1] for adult in profile.adult)
    mass = said.get("mass_g")

    if isinstance(mass, float) and mass > 2.5 * heaviest:
        reading.contradict(
            "animal",
            f"{mass:g} g is more than a {profile.name} ever weighs (up to {heaviest:g} g).",
        )
        del said["mass_g"]
    longest = max(
        span.ends[1] for stage in profile.stages[-1:] for span in stage.length_mm.values()
    )
    length = said.get("length_mm")

    if isinstance(length, float) and length > 1.8 * longest:
        reading.contradict(
            "animal",
            f"{length / 10:.0f} cm is longer than a {profile.name} ever grows"
            f" (up to {longest / 10:.0f} cm).",
        )
        del said["length_mm"]

    return said
