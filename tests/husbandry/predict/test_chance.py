"""How likely it is that all needs hold: against a reference library, against drawn strengths, and in
the directions that anybody expects.
"""

import json
import math
from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from scipy.stats import multivariate_normal

from husbandry.climate.heat import PRIOR_LN_SD, ROOM_SD_K, solve
from husbandry.climate.strengths import Strengths
from husbandry.documents.request import Request
from husbandry.documents.request_json import from_data
from husbandry.predict import chance
from husbandry.predict.chance import chance_of_all, chance_of_each
from husbandry.predict.need_states import look
from husbandry.predict.predict import Prediction, predict
from husbandry.species.needs import NeedKey
from husbandry.targets.verdicts import TargetRange, judge
from tests.husbandry.conftest import SAMPLE

WARMTH = (NeedKey.SURFACE_DAY, NeedKey.WARM_AIR_DAY, NeedKey.COOL_AIR_DAY, NeedKey.AIR_NIGHT)


def sampled(**room: float) -> Request:
    data: dict[str, Any] = json.loads(SAMPLE.read_text(encoding="utf-8"))
    data["readings"] = []
    data["room"] |= room
    return from_data(data)


Seen = tuple[dict[NeedKey, TargetRange], Prediction]


@pytest.fixture(scope="module")
def seen() -> Seen:
    """The documented sample with none of its readings."""
    request = sampled()
    needs = look(request)
    return needs.targets, predict(request, needs.position(request))


def within(target: TargetRange, low: float, high: float) -> TargetRange:
    """The same need with other ends."""
    assert target.low is not None and target.high is not None
    return replace(
        target,
        low=target.low.model_copy(update={"value": low}),
        high=target.high.model_copy(update={"value": high}),
    )


def about(seen: Seen, key: NeedKey, widths: float) -> TargetRange:
    """A need whose range reaches so many standard deviations to either side of what is predicted."""
    targets, prediction = seen
    spread = prediction.spread(key)
    assert spread is not None
    half = widths * spread.sd_k
    return within(targets[NeedKey.WARM_AIR_DAY], spread.temp_c - half, spread.temp_c + half)


@pytest.mark.parametrize("rho", [-0.5, 0.0, 0.6, 0.95])
def test_the_drawn_points_agree_with_a_library_of_the_normal_distribution(
    rho: float, monkeypatch: pytest.MonkeyPatch, seen: Seen
) -> None:
    """scipy.stats.multivariate_normal, by its own integration."""
    joint = np.array([[1.0, rho], [rho, 1.0]])
    monkeypatch.setattr(chance, "_correlations", lambda *given: joint)
    warm, cool = NeedKey.WARM_AIR_DAY, NeedKey.COOL_AIR_DAY
    pair = {warm: about(seen, warm, 1.0), cool: about(seen, cool, 0.7)}
    found = chance_of_all(seen[1], pair)
    wanted = multivariate_normal(cov=joint, seed=1).cdf([1.0, 0.7], lower_limit=[-1.0, -0.7])
    assert found == pytest.approx(wanted, abs=0.01)


@pytest.mark.parametrize("key", [NeedKey.SURFACE_DAY, NeedKey.WARM_AIR_DAY, NeedKey.UVI_DAY])
def test_of_one_need_it_is_the_probability_of_its_verdict(key: NeedKey, seen: Seen) -> None:
    targets, prediction = seen
    value = prediction.centre(key)
    spread = prediction.spread(key)
    assert value is not None
    sd = prediction.uvi().ln_sd if spread is None else spread.sd_k
    verdict = judge(targets[key], value, sd, speaks="predicted")
    holds = chance_of_all(prediction, {key: targets[key]})
    if verdict.direction == "right":
        assert holds == pytest.approx(verdict.probability, abs=0.01)
    else:
        assert holds <= 1 - verdict.probability + 0.01


def test_places_that_one_lamp_warms_are_right_or_wrong_together(seen: Seen) -> None:
    """The chance of both is more than that of two strangers."""
    keys = (NeedKey.WARM_AIR_DAY, NeedKey.COOL_AIR_DAY)
    pair = {key: about(seen, key, 1.0) for key in keys}
    apart = math.prod(chance_of_all(seen[1], {key: one}) for key, one in pair.items())
    assert chance_of_all(seen[1], pair) > apart + 0.02


def test_it_agrees_with_enclosures_drawn_from_the_prior(seen: Seen) -> None:
    """Strengths and rooms drawn, each enclosure solved in full; the model's own error of a spot added.

    The chance is of a linear model; the full one bends: so within some hundredths.
    """
    _, prediction = seen
    asked = {key: about(seen, key, 1.0) for key in WARMTH[:3]}
    read = [prediction.reading_of(key) for key in asked]
    model = prediction.day.heat_model
    rng = np.random.default_rng(3)
    held = 0
    drawn = 250
    for _ in range(drawn):
        ln = rng.normal(0, PRIOR_LN_SD)
        lamps = tuple(
            replace(lamp, strength=math.exp(rng.normal(0, lamp.ln_sd))) for lamp in model.lamps
        )
        other = solve(
            replace(
                model,
                lamps=lamps,
                room_c=model.room_c + rng.normal(0, ROOM_SD_K),
                strengths=Strengths(*np.exp(ln)),
            )
        )
        slab = prediction.basking_slab
        assert slab is not None
        places = (
            other.surface(slab),
            other.air(*prediction.warm_point),
            other.air(*prediction.cool_point),
        )
        good = True
        for one, place, found in zip(asked.values(), places, read, strict=True):
            assert found is not None
            value = other.value(place) + rng.normal(0, found[1].model_sd_k)
            good &= one.low_value <= value <= one.high_value
        held += good
    assert chance_of_all(prediction, asked) == pytest.approx(held / drawn, abs=0.08)


def test_a_wider_range_is_likelier_and_one_far_away_is_never_met(seen: Seen) -> None:
    chances = [
        chance_of_all(seen[1], {key: about(seen, key, widths) for key in WARMTH})
        for widths in (0.3, 1.0, 2.0, 5.0)
    ]
    assert chances == sorted(chances) and chances[-1] > 0.99
    far = within(seen[0][NeedKey.WARM_AIR_DAY], 90.0, 95.0)
    assert chance_of_all(seen[1], {NeedKey.WARM_AIR_DAY: far}) == 0.0


def test_nothing_that_is_predicted_is_certain(seen: Seen) -> None:
    assert chance_of_all(seen[1], {}) == 1.0


def test_each_need_has_the_chance_that_it_has_alone(seen: Seen) -> None:
    """The derivation of all at once, the least likely first; nine of ten lie between the ends."""
    targets, prediction = seen
    each = chance_of_each(prediction, targets)
    assert [one.chance for one in each] == sorted(one.chance for one in each)
    for one in each:
        alone = chance_of_all(prediction, {one.key: targets[one.key]})
        assert one.chance == pytest.approx(alone, abs=0.01)
        ends = targets[one.key].model_copy if False else one
        assert ends.low < ends.high
    assert chance_of_all(prediction, targets) <= each[0].chance + 0.01
