"""Facts as words that are edited: what is written can be read back, and nothing drifts."""

import pytest

from husbandry.errors import EntryError
from husbandry.quantity import METRIC, Units
from husbandry.review.describe import described
from husbandry.review.description import Description
from husbandry.review.fact_words import in_words, with_words
from husbandry.tables import rows

US = Units("us", "f")
SETUPS = [row["text"] for row in rows("tests.husbandry.review", "setups.csv")]


@pytest.mark.parametrize("units", [METRIC, US], ids=["metric", "us"])
@pytest.mark.parametrize("text", SETUPS)
def test_facts_survive_being_written_and_read(text: str, units: Units) -> None:
    said = described(text)
    words = in_words(said, units)
    again = with_words(said, words)
    assert in_words(again, units) == words
    for name in ("substrate", "thermostat", "hides"):
        assert getattr(again, name) == getattr(said, name)
    assert [one.kind for one in again.heat or ()] == [one.kind for one in said.heat or ()]
    assert [one.kind for one in again.uv or ()] == [one.kind for one in said.uv or ()]
    assert [one.name for one in again.food or ()] == [one.name for one in said.food or ()]


def test_an_empty_fact_was_not_said_and_none_is_not_there() -> None:
    said = described("Leopard gecko, T5 12% tube, sand")
    assert with_words(said, {"uv": ""}).uv is None
    assert with_words(said, {"uv": "none"}).uv == ()
    assert with_words(said, {"substrate": "soil"}).substrate == ("soil",)


def test_words_that_say_nothing_are_refused_by_the_name_of_their_fact() -> None:
    with pytest.raises(EntryError, match="heat: Nothing was understood of “zorbulator”"):
        with_words(Description(), {"heat": "zorbulator"})
    with pytest.raises(EntryError, match="temperature_basking: “warm” is no temperature"):
        with_words(Description(), {"temperature_basking": "warm"})
