"""First setups found jointly, judged by the plan alone."""

import pytest

from husbandry.documents.request_json import from_data, to_data
from husbandry.enclosure.equipment import HEATERS, UV_LAMPS
from husbandry.plan.plan import plan
from husbandry.setups import first_choices
from husbandry.setups.candidates import HeaterCandidate, Means
from husbandry.setups.closure import ClosureCase, ClosureTable, RoomCase, data_of, run_case
from husbandry.setups.enclosure_choice import enclosure_choices, material_of
from husbandry.setups.obstacles import obstacles
from husbandry.setups.programme import Answer
from husbandry.setups.starter import choices_for, start
from husbandry.setups.thermostat_settings import SET_RANGE_C, SetPoints, held_items
from husbandry.species.library import find, library
from husbandry.species.needs import NeedKey

USUAL = RoomCase(21.0, 18.0, 28.0, 50.0)
COOL, WARM = RoomCase(18.0, 15.0, 28.0, 50.0), RoomCase(24.0, 21.0, 28.0, 50.0)
DRY, DAMP = RoomCase(21.0, 18.0, 28.0, 35.0), RoomCase(21.0, 18.0, 28.0, 65.0)
EVERY = [(name, stage.slug) for name in sorted(library()) for stage in library()[name].stages]
FORTY = [(*case, USUAL) for case in EVERY[1::5]] + [
    (*case, room) for case, room in zip(EVERY[3::12], [COOL, WARM, DRY, DAMP] * 3, strict=False)
]
"""A fixed set of cases, spread over species, stages and rooms."""


@pytest.mark.parametrize(("species", "stage", "room"), FORTY, ids=str)
def test_the_suggested_setup_comes_out_right(species, stage, room):
    """Judged by `plan`: every need in range, no limit passed, no danger; or the room is why not."""
    found = run_case(species, stage, room)
    assert not found.dead_end
    assert found.closed or found.impossible, found
    assert "thermostat failed on" not in found.findings


@pytest.mark.parametrize(
    ("species", "stage"), [("Malayopython reticulatus", "adult"), ("Epicrates cenchria", "adult")]
)
def test_a_long_snake_lies_under_a_panel_that_warms_all_of_it(species, stage):
    """One emitter over a large snake warms a hand's breadth of it (common practice)."""
    found = start(data_of(find(species), stage, USUAL)).best
    assert found is not None and found.judged.closed
    assert not {"patch", "cold and wet"} & set(found.judged.findings)
    over = [one for one in found.answer.heaters if one.probe == "surface"]
    assert [one.kind for one in over] == ["infrared_panel"]


def test_lights_never_warm_an_enclosure_alone():
    """A light bar of 5 W was a tree frog's whole heating."""
    found = start(data_of(find("Dryophytes cinereus"), "juvenile", USUAL)).best
    assert found is not None and found.judged.closed
    kinds = {one.kind for one in found.answer.heaters}
    assert not kinds or kinds - {"led_bar"}


def test_a_cut_out_comes_only_where_one_can_be_set():
    """At the end of a thermostat's scale there is nothing above it to cut out at."""
    one = HeaterCandidate("halogen_flood", 50.0, 0.2, 0.2, 0.4, probe="surface")
    needs = start(data_of(find("Eublepharis macularius"), "adult", USUAL), choices=[]).needs
    answer = Answer({one: (1.0, 0.0)}, (), {}, 0.0)
    for held_c, cuts in ((32.0, True), (75.0, False)):
        (item,) = held_items(answer, {0: SetPoints(held_c)}, needs, cut_share=1.0)
        assert ("cut_out_c" in item["thermostat"]) is cuts
        assert item["thermostat"]["set_c"] <= SET_RANGE_C[1]


def test_what_is_suggested_exists():
    """Powers that are sold, lengths that are sold, an enclosure that is sold (common practice)."""
    found = start(data_of(find("Pogona vitticeps"), "adult", USUAL)).best
    assert found is not None and found.judged.closed
    request = found.judged.request
    assert from_data(to_data(request)) == request
    lamps = [item for item in request.items if item.warms]
    assert lamps and all(item.held is not None for item in lamps if item.is_heater and item.timer)
    assert any(item.is_tube for item in request.items)
    assert plan(request).size.enough


def test_a_climber_has_its_lamp_over_its_branch_and_out_of_reach():
    """The first outfit hung a chameleon's lamp below the branch it is meant to warm."""
    found = start(data_of(find("Chamaeleo calyptratus"), "adult", USUAL)).best
    assert found is not None and found.judged.right
    request = found.judged.request
    branch = max(
        (item for item in request.items if item.kind == "branch"), key=lambda item: item.at_m[2]
    )
    top = branch.at_m[2] + branch.sides_m[2]
    lamps = [item for item in request.items if item.kind.startswith(("halogen", "incandescent"))]
    assert lamps and all(lamp.at_m[2] > top + 0.15 for lamp in lamps)


def test_a_room_too_warm_is_said_with_what_would_do():
    """Fire salamander: nothing in an enclosure cools (common practice, no source)."""
    found = start(data_of(find("Salamandra salamandra"), "adult", USUAL))
    assert {limit.key for limit in found.limits} >= {NeedKey.COOL_AIR_DAY, NeedKey.AIR_NIGHT}
    assert any("too warm at night" in reason for reason in found.reasons)
    cool = start(data_of(find("Salamandra salamandra"), "adult", RoomCase(16, 12, 20, 60)))
    assert not cool.reasons and cool.best is not None and cool.best.judged.right


def test_the_same_request_has_the_same_answer():
    data = data_of(find("Eublepharis macularius"), "adult", USUAL)
    first, again = start(data).best, start(data).best
    assert first is not None and again is not None
    assert first.judged.request == again.judged.request


@pytest.mark.parametrize("species", sorted(library()))
def test_an_enclosure_is_of_a_kind_that_suits(species):
    """An axolotl was offered a wooden box."""
    profile = find(species)
    for stage in profile.stages:
        choices = choices_for(data_of(profile, stage.slug, USUAL))
        assert choices and all(choice.suits for choice in choices)
        if profile.habit == "aquatic":
            assert {choice.spec["panels"]["back"] for choice in choices} == {"glass"}


def test_nothing_not_allowed_is_offered():
    data = data_of(find("Pantherophis guttatus"), "adult", USUAL)
    found = start(data, means=Means(excluded=frozenset({"ceramic_emitter", "heat_mat"}))).best
    assert found is not None
    assert not {item.kind for item in found.judged.request.items} & {"ceramic_emitter", "heat_mat"}


def test_words_for_substrates_become_materials():
    assert [
        material_of(words) for words in ("fine sand", "bare bottom", "paper towel", "loam")
    ] == ["sand", "tile", "paper", "soil"]
    assert enclosure_choices.__doc__


@pytest.mark.parametrize(
    ("change", "means", "said"),
    [
        ({"animals": 20}, Means(), "kept alone"),
        ({"room": RoomCase(40, 35, 45, 30)}, Means(), "nothing in an enclosure cools"),
        ({"mate": "Dendrobates tinctorius"}, Means(), "One species to an enclosure"),
        ({}, Means(excluded=frozenset({*HEATERS, *UV_LAMPS})), "Nothing that warms is in it"),
        ({"enclosure_m": 0.3}, Means(), "too small for it: it needs"),
    ],
)
def test_what_cannot_be_is_said_with_the_nearest(change, means, said):
    """Twenty in one enclosure, a room like an oven, two species, nothing allowed, thirty
    centimetres: the reason and the nearest that is possible, nothing invented.
    """
    profile = find("Pogona vitticeps")
    data = data_of(profile, "adult", change.get("room", USUAL))
    (animal,) = data["animals"]
    data["animals"] = [{**animal, "name": f"{n}"} for n in range(change.get("animals", 1))]
    if "mate" in change:
        other = data_of(find(change["mate"]), "adult", USUAL)["animals"][0]
        data["animals"].append({**other, "name": "mate"})
    side = change.get("enclosure_m")
    enclosure = side and {"inside_m": dict.fromkeys(("length", "depth", "height"), side)}
    found = start(data, enclosure=enclosure, means=means)
    assert found.best is not None and not found.best.judged.closed
    assert any(said in reason for reason in found.reasons), found.reasons


def test_a_room_too_cold_is_said_with_one_that_would_do():
    site = start(data_of(find("Pogona vitticeps"), "adult", USUAL)).best
    assert site is not None
    data = to_data(site.judged.request)
    data["room"] |= {"day_c": 5, "night_c": 3}
    assert any("a room of about" in reason for reason in obstacles(from_data(data)))


def test_what_only_stands_in_the_way_is_not_impossible():
    """A case counts as impossible by its room alone; every other miss is a miss of ours."""
    found = run_case("Salamandra salamandra", "adult", USUAL)
    assert found.impossible and "nothing in an enclosure cools" in found.why
    missed = ClosureCase(species="x", stage="y", room=(21, 18, 28, 50), wrong={"uvi_day": 1.0})
    assert not missed.closed and not missed.impossible
    assert "impossible, by the room 0" in list(ClosureTable(cases=(missed,)).lines())


def test_what_was_right_in_a_like_room_is_tried_first(monkeypatch, tmp_path):
    """The table only decides the order: the other enclosures follow, each once."""
    data = data_of(find("Varanus exanthematicus"), "adult", USUAL)
    monkeypatch.setattr(first_choices, "_table", dict)
    plain = choices_for(data, 99)
    other = plain[3].vented_as("x/50+60")
    cold = ("Varanus exanthematicus", "adult", tuple(COOL), plain[1].key, False)
    usual = ("Varanus exanthematicus", "adult", tuple(USUAL), other.key, True)
    file = tmp_path / "first.csv"
    first_choices.write_first_choices(file, [cold, usual])
    monkeypatch.setattr(first_choices, "_table", lambda: first_choices.read_first_choices(file))
    found = choices_for(data, 99)
    assert found[0].key == other.key and found[0].known == "clear" and found[1:] == plain
    damp = data_of(find("Varanus exanthematicus"), "adult", RoomCase(18.0, 16.0, 28.0, 60.0))
    first = choices_for(damp, 99)[0]
    assert first.key == plain[1].key and first.known == "closed"


def test_the_table_of_first_choices_knows_its_species_and_stages():
    """Written by `python -m husbandry closure --first-choices`; a row that fits none is of no use."""
    known = first_choices._table()
    assert set(known) <= set(EVERY) and len(known) > 0.9 * len(EVERY)
    for species, stage in EVERY[::20]:
        keys = {
            one.key.rpartition("/")[0]
            for one in choices_for(data_of(find(species), stage, USUAL), 99)
        }
        assert {key.rpartition("/")[0] for key in known.get((species, stage), {}).values()} <= keys
