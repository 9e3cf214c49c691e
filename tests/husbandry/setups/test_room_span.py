"""How far the room may be off: what is said is what the plan says of those rooms."""

import json

import pytest

from husbandry.documents.request import Request
from husbandry.documents.request_json import from_data
from husbandry.plan.plan import plan_summary
from husbandry.setups.room_span import SPAN_MOST_K, room_span
from tests.husbandry.conftest import SAMPLE


@pytest.fixture(scope="module")
def right() -> Request:
    """A setup that the solver finds for an animal of dry ground."""
    from husbandry.setups.closure import RoomCase, data_of
    from husbandry.setups.starter import start
    from husbandry.species.library import find

    asked = data_of(find("Heterodon nasicus"), "adult", RoomCase(21.0, 18.0, 28.0, 50.0))
    found = start(asked).best
    assert found is not None
    return found.judged.request


def in_room(request: Request, off_k: float) -> Request:
    room = request.room
    other = {"day_c": room.day_c + off_k, "night_c": room.night_c + off_k}
    return request.model_copy(update={"room": room.model_copy(update=other)})


@pytest.mark.parametrize("side", ["colder", "warmer"])
def test_inside_the_span_every_need_is_in_range(right: Request, side: str) -> None:
    span = room_span(right)
    reach = span.colder_k if side == "colder" else span.warmer_k
    off = reach * 0.95 * (-1 if side == "colder" else 1)
    for need in plan_summary(in_room(right, off)).needs:
        assert need.verdict.direction not in {"below", "above"}, (need.key, off)


def test_beyond_it_a_need_is_missed(right: Request) -> None:
    span = room_span(right)
    assert span.colder_k < SPAN_MOST_K, "the sample should have an end"
    beyond = plan_summary(in_room(right, -span.colder_k - 0.3)).needs
    assert any(
        need.predicted is not None
        and need.low is not None
        and need.predicted.value < need.low.value
        for need in beyond
    )


def test_what_is_not_right_has_none() -> None:
    data = json.loads(SAMPLE.read_text(encoding="utf-8"))
    data["room"] |= {"day_c": 12.0, "night_c": 8.0}
    assert room_span(from_data(data)).least_k == 0
