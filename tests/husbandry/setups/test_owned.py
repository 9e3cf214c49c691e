"""What a keeper has: read from ordinary words, used where it can be, and named where it cannot."""

import pytest

from husbandry.setups.closure import RoomCase, data_of
from husbandry.setups.owned_use import means_of, with_owned
from husbandry.setups.owned_words import read_owned
from husbandry.setups.starter import Starter, start
from husbandry.species.library import find

ROOM = RoomCase(21.0, 18.0, 28.0, 50.0)


@pytest.mark.parametrize(
    ("said", "kind", "power_w"),
    [
        ("75 W halogen flood", "halogen_flood", 75),
        ("halogen 75w", "halogen_flood", 75),
        ("a 50-watt halogen spot", "halogen_spot", 50),
        ("100 watts basking bulb", "incandescent_reflector", 100),
        ("60w ceramic heat emitter", "ceramic_emitter", 60),
        ("CHE 100 W", "ceramic_emitter", 100),
        ("80 W deep heat projector", "infrared_projector", 80),
        ("radiant heat panel, 80 W".replace(",", ""), "infrared_panel", 80),
        ("heat mat 16 W", "heat_mat", 16),
        ("T5 12 % tube of 60 cm", "t5_12", 24),
        ("t5 10% 39W", "t5_12", 39),
        ("T5 6% 24 in", "t5_6", 24),
        ("T8 5 % 18 W", "t8_6", 18),
        ("compact 10 % 26 W", "compact_10", 26),
        ("100 W mercury vapour", "uv_flood", 100),
        ("20 W LED bar", "led_bar", 20),
    ],
)
def test_ordinary_words_are_read(said: str, kind: str, power_w: float) -> None:
    """What the trade calls them: common practice, no source."""
    found, missed = read_owned(said)
    assert not missed
    assert [(one.kind, one.power_w) for one in found] == [(kind, power_w)]


@pytest.mark.parametrize(
    ("said", "missing"),
    [
        ("blue thing 40 W", "kind"),
        ("halogen flood", "power"),
        ("9000 W halogen", "power"),
        ("T5 60 cm", "strength"),
        ("compact 13 W", "strength"),
    ],
)
def test_what_is_not_understood_says_what_is_missing(said: str, missing: str) -> None:
    found, missed = read_owned(said)
    assert not found and [one.missing for one in missed] == [missing]
    assert missed[0].words == said


def test_a_list_is_read_part_by_part() -> None:
    found, missed = read_owned("75 W halogen and T5 12 % 39 W;\n\n heat mat 16 W, , wand")
    assert [one.kind for one in found] == ["halogen_flood", "t5_12", "heat_mat"]
    assert [one.words for one in missed] == ["wand"]


def begun(species: str, words: str) -> Starter:
    owned, missed = read_owned(words)
    assert not missed
    return start(data_of(find(species), "adult", ROOM), means=means_of(owned))


def makes(found: Starter) -> set[tuple[str, float]]:
    assert found.best is not None
    return {
        (item.kind, float(item.watts or 0))
        for item in found.best.judged.request.items
        if item.warms
    }


def test_what_can_be_used_is_used_and_stays_right() -> None:
    words = "75 W halogen flood, T5 6 % 24 W"
    found = begun("Eublepharis macularius", words)
    owned, _ = read_owned(words)
    better, said = with_owned(found, owned)
    assert better.best is not None and better.best.judged.closed
    for use in said:
        assert use.used == ((use.fitting.kind, use.fitting.power_w) in makes(better))
    assert all(use.used for use in said), said


def test_what_cannot_be_used_is_named_with_its_reason() -> None:
    """A snake of dry ground needs no strong tube; what is taken stays, what is not says why."""
    words = "50 W halogen flood, T5 14 % 54 W"
    owned, _ = read_owned(words)
    better, said = with_owned(begun("Lampropeltis californiae", words), owned)
    assert better.best is not None and better.best.judged.closed
    why = {use.fitting.kind: use.why for use in said}
    assert why["halogen_flood"] == "used"
    assert why["t5_14"] in {"no ultraviolet", "too long", "no place", "misses"}


def test_nothing_owned_changes_nothing() -> None:
    found = begun("Lampropeltis californiae", "")
    again, said = with_owned(found, ())
    assert again is found and said == ()
