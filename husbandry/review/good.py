"""What is good about a described enclosure: what was said and found in order."""

from collections.abc import Iterator

from husbandry.derivation import Document
from husbandry.review.description import FactName
from husbandry.review.findings import ReviewFinding
from husbandry.review.need_findings import NAMES, Seen, called, reading_of


class GoodPoint(Document):
    """Something that is as it should be."""

    fact: FactName
    text: str


def good_points(seen: Seen, found: tuple[ReviewFinding, ...]) -> tuple[GoodPoint, ...]:
    """What was said and is in order."""
    wrong = {finding.slug for finding in found}
    bad_facts = {finding.fact for finding in found if finding.rank in {"danger", "harm"}}

    return tuple(GoodPoint(fact=fact, text=text) for fact, text in _points(seen, wrong, bad_facts))


def _points(
    seen: Seen, wrong: set[str], bad_facts: set[FactName]
) -> Iterator[tuple[FactName, str]]:
    said = seen.said
    profile = seen.assumed.profile
    sized = said.sides_m is not None

    if sized and "size" not in wrong:
        yield "enclosure", "The enclosure is large enough."

    for state in seen.plan.needs:
        missed = {f"{state.key} below", f"{state.key} above"}
        if reading_of(seen, state) is not None and not missed & wrong:
            yield NAMES[state.key][1], f"{called(said, state.key)}: in range."

    if said.heat and said.thermostat:
        yield "thermostat", "The heat is held by a thermostat."

    if said.uv and "uv" not in bad_facts and not wrong & {"compact lamp", "weak uv", "strong uv"}:
        yield "uv", "There is UVB, of a fitting kind."

    if (
        said.substrate
        and "substrate" not in bad_facts
        and not any(slug.startswith(("substrate", "sand")) for slug in wrong)
    ):
        yield "substrate", "The substrate suits it."

    if said.hides and not {"few hides", "no hides"} & wrong:
        yield "hides", "There are enough hides."

    if said.moist_hide and "moist" in profile.hides.places:
        yield "hides", "It has a moist hide."

    if said.climbing and profile.body.perch_share:
        yield "climbing", "There is something to climb."

    if said.plants == "live":
        yield "plants", "Live plants keep its air fresh and damp."

    if said.water in {"dish", "pool"}:
        yield "water", "It has water."

    if (
        said.food
        and not any(finding in wrong for finding in _FOOD_SLUGS)
        and "food" not in bad_facts
    ):
        yield "food", "Its food is what it lives on."

    if said.supplements and "supplements" not in bad_facts:
        yield "supplements", "Its food is supplemented."

    if said.instruments and set(said.instruments) & {"digital", "infrared", "uv meter"}:
        yield "instruments", "It is measured with instruments that can be trusted."


_FOOD_SLUGS = ("wrong food", "no greens", "only treats", "poor greens", "animal food", "rodents")
