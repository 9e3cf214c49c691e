"""Find a setup: what is offered works and differs, and where nothing works the nearest is shown with
what would put it right.
"""

import json
from typing import Any

import pytest

from husbandry.documents.request import Request
from husbandry.documents.request_json import apply_patch, from_data, to_data
from husbandry.forecast.power import power_of
from husbandry.plan.plan import plan
from husbandry.setups.existing_enclosure import is_fitting, mirrored, warm_end_is_right
from husbandry.setups.judged import judge
from husbandry.setups.placing import clashes
from husbandry.setups.search import Setups, find_setups
from husbandry.setups.steps import steps_to
from husbandry.species.needs import NeedKey
from husbandry.species.stages import DAYS_PER_MONTH

pytestmark = pytest.mark.xdist_group("search")  # one search serves many of these tests


def bent(sample: dict[str, Any], **room: Any) -> Request:
    data = json.loads(json.dumps(sample))
    data["readings"] = []
    data["room"] |= room
    return from_data(data)


def first_found(request: Request) -> Setups:
    """What a search has when it is stopped after the enclosure as it is and its lids: enough to see that
    something works.
    """
    return find_setups(request, lambda share, said: share < 0.3)


@pytest.fixture(scope="module")
def whole() -> tuple[Request, Setups]:
    from tests.husbandry.conftest import SAMPLE

    data = json.loads(SAMPLE.read_text(encoding="utf-8"))
    data["readings"] = []
    asked = from_data(data)
    return asked, find_setups(asked)


@pytest.fixture(scope="module")
def too_hot() -> Setups:
    from tests.husbandry.conftest import SAMPLE

    data = json.loads(SAMPLE.read_text(encoding="utf-8"))
    return find_setups(bent(data, day_c=31, night_c=27, summer_max_c=36))


def test_every_offer_is_right_by_the_plan(whole: tuple[Request, Setups]) -> None:
    """What it says and what the model says of the same setup are one number."""
    _, found = whole
    assert len(found.offers) >= 3 and not found.misses and not found.stopped
    for offer in found.offers:
        made = plan(offer.request)
        predicted = [need for need in made.needs if need.verdict.speaks == "predicted"]
        assert predicted and {need.verdict.direction for need in predicted} == {"right"}
        assert not [note for note in made.notes if note.severity == "danger"]
        assert clashes(offer.request) == []
        assert offer.values == {need.key: need.predicted.value for need in predicted}  # type: ignore[union-attr]
        kwh = power_of(offer.request).mean_w * 24 * DAYS_PER_MONTH / 1000
        assert offer.month_kwh == pytest.approx(kwh)


def test_no_two_offers_are_of_one_kind_and_each_is_strictly_best_at_its_own(
    whole: tuple[Request, Setups],
) -> None:
    _, found = whole
    natures = {
        tuple(sorted({item.kind for item in offer.request.items if is_fitting(item)}))
        for offer in found.offers
    }
    assert len(natures) == len(found.offers) == len({offer.axis for offer in found.offers})
    measure = {
        "cheapest to buy": lambda o: o.price_eur,
        "cheapest to run": lambda o: round(o.month_kwh, 1),
        "simplest": lambda o: o.devices,
        "uses what you own": lambda o: len(o.to_buy),
        "most headroom": lambda o: -(o.chance + o.chance_colder + o.chance_warmer),
    }
    for offer in found.offers:
        if offer.axis in measure:
            rank = measure[offer.axis]
            others = [rank(other) for other in found.offers if other is not offer]
            assert all(rank(offer) < other for other in others), offer.axis


def test_its_furniture_stays_where_it_stands(whole: tuple[Request, Setups]) -> None:
    asked, found = whole
    stands = [(item.kind, item.at_m) for item in asked.items if not is_fitting(item)]
    for offer in found.offers:
        kept = [(item.kind, item.at_m) for item in offer.request.items if not is_fitting(item)]
        assert kept == stands
        assert offer.request.enclosure.inside_m == asked.enclosure.inside_m


def test_what_is_owned_need_not_be_bought(whole: tuple[Request, Setups]) -> None:
    _, found = whole
    again = find_setups(found.offers[0].request)
    assert again.right_now
    assert any(not offer.to_buy for offer in again.offers)


def test_the_simpler_setup_is_ruled_out_by_a_number(whole: tuple[Request, Setups]) -> None:
    _, found = whole
    fewest = min(offer.devices for offer in found.offers)
    assert found.rejected is None or found.rejected.devices < fewest


def test_a_search_says_how_far_it_is_and_can_be_stopped(sample: dict[str, Any]) -> None:
    told: list[float] = []

    def until_three(share: float, said: str) -> bool:
        told.append(share)
        return len(told) < 3

    found = find_setups(from_data(sample), until_three)
    assert found.stopped and told == sorted(told) and 0 <= told[0] < 1


def test_a_room_that_is_too_hot_is_named_and_the_nearest_is_shown(too_hot: Setups) -> None:
    """Nothing in an enclosure cools (common practice, no source)."""
    assert not too_hot.offers and too_hot.misses and not too_hot.remedies
    limits = {(limit.key, limit.part) for limit in too_hot.limits}
    assert {(NeedKey.COOL_AIR_DAY, "day"), (NeedKey.AIR_NIGHT, "night")} <= limits
    nearest = too_hot.misses[0]
    made = {need.key: need for need in plan(nearest.request).needs}
    for miss in nearest.missed:
        assert miss.by == made[miss.key].verdict.by > 0
        assert made[miss.key].predicted.value == miss.value  # type: ignore[union-attr]


def test_a_room_in_the_range_it_names_makes_it_possible(sample: dict[str, Any]) -> None:
    assert first_found(bent(sample, day_c=24, night_c=20, summer_max_c=30, rh_pct=45)).offers


def test_an_enclosure_that_cannot_do_is_answered_with_another(sample: dict[str, Any]) -> None:
    """Forty centimetres are no enclosure with a cool end for an animal of open sun."""
    data = json.loads(json.dumps(sample))
    data["readings"] = []
    data["enclosure"]["inside_m"] = {"length": 0.4, "depth": 0.3, "height": 0.3}
    data["items"] = []
    found = find_setups(from_data(data))
    assert found.too_small and not found.right_now
    assert found.offers and all(offer.enclosure for offer in found.offers)
    assert all(plan(offer.request).size.enough for offer in found.offers)
    assert all(offer.price_eur > 50 for offer in found.offers)


def test_a_warm_end_at_the_right_stays_at_the_right(sample: dict[str, Any]) -> None:
    data = json.loads(json.dumps(sample))
    data["readings"] = []
    right = from_data(mirrored(data))
    assert warm_end_is_right(right) != warm_end_is_right(from_data(data))
    assert to_data(from_data(mirrored(mirrored(to_data(right))))) == to_data(right)
    offers = first_found(right).offers
    assert offers
    for offer in offers:
        assert warm_end_is_right(offer.request) == warm_end_is_right(right)


def test_an_animal_without_furniture_gets_a_place_to_bask() -> None:
    data = {
        "format": "ridgeback-request/2",
        "now": "2026-06-14T12:00:00+01:00",
        "room": {"day_c": 21, "night_c": 19, "summer_max_c": 27, "rh_pct": 55},
        "animals": [
            {"species": "Lampropeltis californiae", "mass_g": 391, "length_mm": {"total": 1020}}
        ],
        "enclosure": {"inside_m": {"length": 1.2, "depth": 0.6, "height": 0.6}},
    }
    found = first_found(from_data(data))
    assert found.offers
    for offer in found.offers:
        assert any(item.kind == "slab" for item in offer.request.items)


def test_everything_is_put_right_in_the_fewest_steps(whole: tuple[Request, Setups]) -> None:
    """Followed to its end it is right; without any one of its steps it is not."""
    asked, found = whole
    assert found.steps and found.nearest is not None and not found.right_now
    made = plan(found.nearest)
    assert {need.verdict.direction for need in made.needs} <= {"right", "unknown"}
    assert not found.steps[-1].missed
    assert [step.missed for step in found.steps[:-1]] == [
        step.missed for step in found.steps[:-1] if step.missed
    ]
    assert found.requests[-1] == found.nearest
    assert found.nearest.enclosure.inside_m == asked.enclosure.inside_m


def test_where_one_change_is_enough_it_is_the_one_step(whole: tuple[Request, Setups]) -> None:
    """What the enclosure's own page offers, and not another lamp that would do, too."""
    asked, found = whole
    bare = asked.model_copy(update={"readings": ()})
    enough = [
        change
        for change in plan(asked).changes
        if change.kind != "larger_enclosure" and judge(apply_patch(bare, change.patch)).closed
    ]
    if enough:
        assert len(found.steps) == 1
    assert len(found.steps) <= 2


def test_what_is_right_needs_no_step(whole: tuple[Request, Setups]) -> None:
    _, found = whole
    assert steps_to(found.nearest, found.nearest)[0] == ()  # type: ignore[arg-type]
    steps, end = steps_to(found.nearest, found.offers[0].request)  # type: ignore[arg-type]
    assert steps == () and end == found.nearest
