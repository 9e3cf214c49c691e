"""Find me a setup: what is screened is what is predicted, what is offered works and differs, and
what cannot work is said.
"""

import json
from typing import Any

import pytest

from husbandry.documents.request import Request
from husbandry.documents.request_json import from_data
from husbandry.forecast.power import power_of
from husbandry.items.furnishings import Slab
from husbandry.plan.plan import plan, plan_summary
from husbandry.setups.fitting_out import bare_enclosure_of
from husbandry.setups.placing import clashes
from husbandry.setups.screening import screen
from husbandry.setups.search import _full, find_setups
from husbandry.species.needs import HEAT_NEEDS, NeedKey
from husbandry.species.stages import DAYS_PER_MONTH


def bent(sample: dict[str, Any], **room: Any) -> Request:
    data = json.loads(json.dumps(sample))
    data["room"] |= room
    return from_data(data)


@pytest.fixture(scope="module")
def whole(request: pytest.FixtureRequest) -> Any:
    from tests.husbandry.conftest import SAMPLE

    data = json.loads(SAMPLE.read_text(encoding="utf-8"))
    data["readings"] = []
    asked = from_data(data)
    return asked, find_setups(asked)


def test_every_offer_keeps_every_target_and_is_safe_when_a_thermostat_sticks(whole: Any) -> None:
    _, found = whole
    assert len(found.offers) >= 3 and found.screened > 10_000
    for offer in found.offers:
        seen = plan_summary(offer.request)
        predicted = [need for need in seen.needs if need.verdict.speaks == "predicted"]
        assert predicted and all(need.verdict.direction == "right" for need in predicted), (
            offer.axis
        )
        assert offer.safety.safe and clashes(offer.request) == []
        assert offer.month_kwh == pytest.approx(
            power_of(offer.request).mean_w * 24 * DAYS_PER_MONTH / 1000
        )
        assert all(
            plan(offer.request).need(need.key).verdict.direction == "right" for need in predicted
        )  # type: ignore[union-attr]


def test_no_two_offers_are_of_one_kind_and_each_is_strictly_best_at_its_own(whole: Any) -> None:
    _, found = whole

    def nature(offer: Any) -> tuple[Any, ...]:
        lamps = [t for t in offer.request.items if t.is_heater and not t.id.startswith("night")]
        tube = next((t.kind for t in offer.request.items if t.is_tube), "")
        return lamps[0].kind, lamps[0].thermostat.control if lamps[0].thermostat else "none", tube

    assert (
        len({nature(offer) for offer in found.offers})
        == len(found.offers)
        == len({offer.axis for offer in found.offers})
    )
    measure = {
        "cheapest to run": lambda o: round(o.month_kwh, 1),
        "simplest": (
            lambda o: o.devices + 0.1 * any(t.held for t in o.request.items if t.id == "lamp-1")
        ),
        "most headroom": lambda o: -round(o.headroom, 2),
        "uses what you own": lambda o: len(o.to_buy),
        "coolest when a thermostat sticks": lambda o: round(o.safety.surface_c, 1),
    }
    for offer in found.offers:
        rank = measure[offer.axis]
        assert all(rank(offer) < rank(other) for other in found.offers if other is not offer), (
            offer.axis
        )


def test_what_is_owned_is_used(whole: Any) -> None:
    asked, found = whole
    own = next((offer for offer in found.offers if offer.axis == "uses what you own"), None)
    if own is not None:
        kinds = {(t.kind, t.power_w) for t in asked.items if not t.is_body}
        assert any((t.kind, t.power_w) in kinds for t in own.request.items if not t.is_body)
        assert len(own.to_buy) == min(len(offer.to_buy) for offer in found.offers)


def test_frozen_films_screen_what_the_whole_model_predicts(sample: dict[str, Any]) -> None:
    """Near the power that the films are frozen at, air within half a kelvin and the surface within
    two.
    """
    asked = from_data(sample)
    substrate = bare_enclosure_of(asked)
    rows = screen(substrate).rows
    for row in rows[:: max(len(rows) // 12, 1)]:
        found = _full(substrate, asked, row)
        assert found is not None
        predicted = {
            need.key: need.predicted.value for need in found.needs if need.predicted is not None
        }
        off = [row.values[n] - predicted[key] for n, key in enumerate(HEAT_NEEDS)]
        assert abs(off[0]) < 2.5 and max(abs(off[1]), abs(off[2])) < 0.8, (row, off)


def test_a_search_says_how_far_it_is_and_can_be_stopped(sample: dict[str, Any]) -> None:
    told: list[float] = []

    def until_three(share: float, said: str) -> bool:
        told.append(share)
        return len(told) < 3

    found = find_setups(from_data(sample), until_three)
    assert found.stopped and told == sorted(told) and 0 <= told[0] < 1


def test_a_room_that_is_too_hot_is_named_with_what_would_do(sample: dict[str, Any]) -> None:
    hot = find_setups(bent(sample, day_c=31, night_c=27, summer_max_c=36))
    assert hot.offers == ()
    cool = next(one for one in hot.impossible if one.key is NeedKey.COOL_AIR_DAY)
    assert cool.high and cool.short > 2


def test_a_cold_night_gets_dark_heat_and_the_simpler_setup_is_ruled_out_by_it(
    sample: dict[str, Any],
) -> None:
    cold = find_setups(bent(sample, night_c=12))
    assert cold.offers
    for offer in cold.offers:
        night = next(t for t in offer.request.items if t.id == "night-heat-1")
        assert night.thermostat is not None and not night.lit_at(13)
    assert cold.rejected is None or cold.rejected.devices < min(
        offer.devices for offer in cold.offers
    )


def test_an_animal_without_ultraviolet_gets_no_tube() -> None:
    data = {
        "format": "ridgeback-request/2",
        "now": "2026-06-14T12:00:00+01:00",
        "room": {"day_c": 21, "night_c": 19, "summer_max_c": 27, "rh_pct": 55},
        "animals": [
            {"species": "Lampropeltis californiae", "mass_g": 391, "length_mm": {"total": 1020}}
        ],
        "enclosure": {"inside_m": {"length": 1.2, "depth": 0.6, "height": 0.6}},
    }
    found = find_setups(from_data(data))
    assert found.offers
    for offer in found.offers:
        assert any(isinstance(t, Slab) for t in offer.request.items)


def test_minutes_of_a_timer_count_in_what_a_setup_draws(sample: dict[str, Any]) -> None:
    def kwh(off: str) -> float:
        data = json.loads(json.dumps(sample))
        for item in data["items"]:
            if "on" in item:
                item |= {"on": "08:00", "off": off}
        rows = screen(bare_enclosure_of(from_data(data))).rows
        return min(row.month_kwh for row in rows if row.control == "none")

    assert kwh("18:45") == pytest.approx(kwh("18:00") * 10.75 / 10)
