"""What shows what: common practice, no source."""

import pytest

from husbandry.readings import INSTRUMENTS, cannot_read, usual_instrument
from husbandry.species.needs import NEEDS, NeedKey


@pytest.mark.parametrize("need", NEEDS)
def test_the_usual_instrument_shows_what_it_is_used_for(need: NeedKey) -> None:
    assert usual_instrument(need) in INSTRUMENTS
    assert cannot_read(usual_instrument(need), need) == "" and cannot_read("other", need) == ""


def test_infrared_is_for_surfaces() -> None:
    """An infrared thermometer reads what it points at; water's own surface counts."""
    shown = {need for need in NEEDS if not cannot_read("infrared", need)}
    assert shown == {NeedKey.SURFACE_DAY, NeedKey.WATER_DAY}


def test_ultraviolet_is_for_its_meter_alone() -> None:
    assert {key for key in INSTRUMENTS if not cannot_read(key, NeedKey.UVI_DAY)} == {"uv", "other"}
    assert {need for need in NEEDS if not cannot_read("uv", need)} == {NeedKey.UVI_DAY}
