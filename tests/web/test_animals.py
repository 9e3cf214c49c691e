"""The animals of a household: stage and growth, weights that are questioned, enclosures,
approaches, the life plan, the forecast.
"""

import datetime as dt

import pytest
from django.db import connection
from django.test import Client
from django.test.utils import CaptureQueriesContext
from django.utils import timezone

from husbandry.life_plan.future_body import animal_on
from husbandry.plan.plan import plan
from ridgeback import clock
from ridgeback.animal_pages import lives
from ridgeback.animals.models import Animal, Length, Weighing
from ridgeback.enclosures.models import Derived, Enclosure, Occupancy
from ridgeback.households.models import Household, Room
from ridgeback.jobs import tasks
from ridgeback.species_guide.flows import profile_of
from tests import clocks


@pytest.fixture
def skink(pip: Enclosure) -> Animal:
    """Pip, a growing skink with six weights."""
    return Animal.objects.get(pk=pip.present[0].animal_id)


def today() -> dt.date:
    return clocks.today()


def page(client: Client, animal: Animal, part: str = "", **asked: str) -> str:
    response = client.get(f"/animals/{animal.pk}/{part}", asked)
    assert response.status_code == 200
    return response.content.decode()


def test_the_list_shows_every_animal_and_what_comes_next(
    client: Client, household: Household
) -> None:
    assert "being calculated" in client.get("/animals/").content.decode()
    tasks.work_out_lives(household.pk)
    html = client.get("/animals/").content.decode()
    assert all(name in html for name in ("Pip", "Bramble", "Sable", "Fathom"))
    assert "being calculated" not in html and "Fathom’s enclosure is too small for Fathom" in html


def test_the_page_says_stage_confidence_and_who_decides(client: Client, skink: Animal) -> None:
    html = page(client, skink)
    assert (
        "It is a juvenile" in html
        and "sure: its mass, length and age agree" in html
        and "decides" in html
    )


def test_signs_that_disagree_are_explained(client: Client, skink: Animal) -> None:
    skink.born_on = today() - dt.timedelta(days=1500)
    skink.save()
    html = page(client, skink)
    assert "not sure" in html and "the body decides" in html


def test_the_coming_stages_have_days_with_their_uncertainty(client: Client, skink: Animal) -> None:
    view = client.get(f"/animals/{skink.pk}/").context["view"]
    assert [item.title for item in view.milestones] == ["Sub-adult", "Adult"]
    assert "between" in view.milestones[0].when
    assert any("enclosure of at least" in text for item in view.milestones for text in item.before)


def test_enclosures_of_the_household_are_told_to_fit_or_not(client: Client, skink: Animal) -> None:
    enclosures = {
        fit.enclosure.name: fit
        for fit in client.get(f"/animals/{skink.pk}/").context["view"].enclosures
    }
    assert (
        enclosures["Pip’s enclosure"].mine
        and "large enough until" in enclosures["Pip’s enclosure"].words
    )
    assert "too small now" in enclosures["Sable’s enclosure"].words


def test_its_own_enclosure_costs_nothing_while_it_fits(
    client: Client, household: Household, skink: Animal
) -> None:
    ways = {way.title: way for way in client.get(f"/animals/{skink.pk}/").context["view"].ways}
    assert (
        "Pip’s enclosure" in ways["Step by step"].enclosures[0][1]
        and "yours already" in ways["Step by step"].enclosures[0][1]
    )
    assert "Pip’s enclosure" not in ways["The last enclosure at once"].enclosures[0][1]


def spare(household: Household, state: str) -> Enclosure:
    """An enclosure as large as Sable's will ever be needed, in which nobody lives."""
    made = Enclosure.objects.create(
        household=household, room=household.rooms.first(), name="Spare"
    )
    enclosure_spec = {
        "inside_m": {"length": 2.4, "depth": 1.2, "height": 1.2},
        "substrate": {"depth_m": 0.1},
    }
    made.head = made.revisions.create(
        number=1, spec={"enclosure": enclosure_spec}, state=state, made_at=clock.now()
    )
    made.save()
    return made


def ways_of(client: Client, animal: Animal) -> str:
    ways = client.get(f"/animals/{animal.pk}/").context["view"].ways
    return " ".join(what for way in ways for _, what in way.enclosures)


def test_a_spare_enclosure_that_stands_is_owned(
    client: Client, household: Household, skink: Animal
) -> None:
    spare(household, "built")
    assert "Spare" in ways_of(client, skink)


def test_what_is_only_planned_is_not_owned(
    client: Client, household: Household, skink: Animal
) -> None:
    """It was offered as “yours already” for nothing."""
    planned = spare(household, "planned")
    assert "Spare" not in ways_of(client, skink)
    enclosures = {
        fit.enclosure.pk: fit
        for fit in client.get(f"/animals/{skink.pk}/").context["view"].enclosures
    }
    assert enclosures[planned.pk].note == "planned, not built"


def test_its_own_planned_enclosure_is_not_owned(client: Client, skink: Animal) -> None:
    """The setup ends in a planned enclosure, and its animal counted as living in one."""
    home = Enclosure.objects.get(name="Pip’s enclosure")
    home.revisions.update(state="planned")
    assert "yours already" not in ways_of(client, skink)


def test_what_somebody_lives_in_or_will_is_not_free(
    client: Client, household: Household, skink: Animal
) -> None:
    taken = spare(household, "built")
    other = household.animals.exclude(pk=skink.pk).first()
    assert other is not None
    other.occupancies.filter(until__isnull=True).update(until=clock.now())
    until = clock.now() + dt.timedelta(days=90)
    stay = Occupancy.objects.create(
        enclosure=taken, animal=other, since=clock.now() + dt.timedelta(days=1), until=until
    )
    assert "Spare" not in ways_of(client, skink)
    stay.until = None
    stay.save()
    assert "Spare" not in ways_of(client, skink)
    enclosures = {
        fit.enclosure.pk: fit
        for fit in client.get(f"/animals/{skink.pk}/").context["view"].enclosures
    }
    assert enclosures[taken.pk].note == f"{other.name} lives there"


def test_money_is_the_households_own(client: Client, household: Household, skink: Animal) -> None:
    assert "EUR" in page(client, skink, "enclosures/")
    response = client.post(
        "/household/",
        {"name": "Saltmarsh Lane", "currency": "gbp", "euro_rate": "0.5", "kwh_price": "0.25"},
    )
    assert response.status_code == 302
    html = page(client, skink, "enclosures/")
    assert "170 GBP" in html and "EUR" not in html  # 340 euros for the last enclosure at once


@pytest.mark.parametrize(
    ("field", "text", "says"),
    [
        ("euro_rate", "0", "more than nothing"),
        ("euro_rate", "many", "number"),
        ("kwh_price", "-1", "upwards"),
        ("currency", "E1", "capital letters"),
    ],
)
def test_money_that_cannot_be_is_said_beside_its_field(
    client: Client, household: Household, field: str, text: str, says: str
) -> None:
    data = {
        "name": "Saltmarsh Lane",
        "currency": "EUR",
        "euro_rate": "1",
        "kwh_price": "0.3",
        field: text,
    }
    html = client.post("/household/", data).content.decode()
    assert says in html and f'value="{text}"' in html


def test_a_weight_is_logged_and_moves_the_stage(client: Client, skink: Animal) -> None:
    response = client.post(
        f"/animals/{skink.pk}/weigh/",
        {"mass": "170 g", "on": today().isoformat(), "confirm": ""},
        follow=True,
    )
    assert (
        "Logged: 170 g" in response.content.decode() and "sub-adult" in response.content.decode()
    )


def test_grams_for_kilograms_are_asked_about_and_may_be_meant(
    client: Client, skink: Animal
) -> None:
    weigh = {"mass": "0.1", "on": today().isoformat()}
    html = client.post(f"/animals/{skink.pk}/weigh/", weigh).content.decode()
    assert "did you mean" in html and "Yes, 0.1 kg" in html and 'value="0.1"' in html
    assert not Weighing.objects.filter(animal=skink, on=today()).exists()
    client.post(f"/animals/{skink.pk}/weigh/", {**weigh, "mass": "0.1 kg"})
    assert Weighing.objects.get(animal=skink, on=today()).mass_g == pytest.approx(100)


def test_what_is_asked_about_may_be_confirmed(client: Client, skink: Animal) -> None:
    data = {"mass": "260", "on": today().isoformat()}
    assert (
        "It is correct as typed"
        in client.post(f"/animals/{skink.pk}/weigh/", data).content.decode()
    )
    client.post(f"/animals/{skink.pk}/weigh/", {**data, "confirm": "260"})
    assert Weighing.objects.filter(animal=skink, mass_g=260).exists()


@pytest.mark.parametrize(
    ("data", "says"),
    [
        ({"mass": "", "on": "2026-01-01"}, "required"),
        ({"mass": "heavy", "on": "2026-01-01"}, "cannot be read"),
        ({"mass": "-5", "on": "2026-11-20"}, "more than nothing"),
        ({"mass": "90", "on": "2150-01-01"}, "still to come"),
        ({"mass": "90", "on": "1990-01-01"}, "this day is before"),
        ({"mass": "90", "on": "soon"}, "valid date"),
        ({"mass": "900 kg", "on": "2026-11-20"}, "not"),
    ],
)
def test_a_weight_that_cannot_be_is_said_and_what_was_typed_stays(
    client: Client, skink: Animal, data: dict[str, str], says: str
) -> None:
    if data["on"].startswith("2026"):
        data = {**data, "on": today().isoformat()}
    response = client.post(f"/animals/{skink.pk}/weigh/", data)
    assert says in response.content.decode() and Weighing.objects.filter(animal=skink).count() == 6
    if data["mass"]:
        assert f'value="{data["mass"]}"' in response.content.decode()


def test_a_length_that_contradicts_the_mass_is_asked_about(client: Client, skink: Animal) -> None:
    data = {"kind": "total", "length": "52", "on": today().isoformat()}
    html = client.post(f"/animals/{skink.pk}/measure/", data).content.decode()
    assert "contradicts" in html and not Length.objects.filter(animal=skink, on=today()).exists()
    client.post(f"/animals/{skink.pk}/measure/", {**data, "length": "28.5"})
    assert Length.objects.get(animal=skink, on=today()).length_mm == pytest.approx(285)


def test_a_wrong_weight_is_taken_away_and_only_ones_own(
    client: Client, skink: Animal, stranger: Client
) -> None:
    row = skink.weighings.all()[0]
    assert (
        stranger.post(
            f"/animals/{skink.pk}/measurements/delete/", {"of": "weight", "row": row.pk}
        ).status_code
        == 404
    )
    client.post(f"/animals/{skink.pk}/measurements/delete/", {"of": "weight", "row": row.pk})
    assert not Weighing.objects.filter(pk=row.pk).exists()
    other = Weighing.objects.exclude(animal=skink)[0]
    client.post(f"/animals/{skink.pk}/measurements/delete/", {"of": "weight", "row": other.pk})
    assert Weighing.objects.filter(pk=other.pk).exists()


def test_impossible_births_are_asked_about_or_refused(client: Client, skink: Animal) -> None:
    data = {"name": "Pip", "sex": "female", "born_on": "1950-01-01"}
    html = client.post(f"/animals/{skink.pk}/facts/", data).content.decode()
    assert "its species lives to about" in html and "It is correct as typed" in html
    assert (
        "still to come"
        in client.post(
            f"/animals/{skink.pk}/facts/", {**data, "born_on": "2140-01-01"}
        ).content.decode()
    )
    born = (today() - dt.timedelta(days=150)).isoformat()
    client.post(f"/animals/{skink.pk}/facts/", {**data, "born_on": born})
    skink.refresh_from_db()
    assert (
        skink.sex == "female" and skink.born_on is not None and skink.born_on.isoformat() == born
    )


def test_approaches_are_chosen_one_by_one_or_at_once_and_the_enclosure_follows(
    client: Client, pip: Enclosure, skink: Animal
) -> None:
    wide = client.get(f"/animals/{skink.pk}/").context["view"].grown_enclosure
    client.post(f"/animals/{skink.pk}/approaches/", {"how-big": "minimum"})
    skink.refresh_from_db()
    assert skink.approaches == {"how-big": "minimum"}
    assert client.get(f"/animals/{skink.pk}/").context["view"].grown_enclosure != wide
    client.post(f"/animals/{skink.pk}/approaches/", {"preset": "defaults"})
    skink.refresh_from_db()
    assert skink.approaches == {}
    client.post(f"/animals/{skink.pk}/approaches/", {"how-big": "palace"})
    client.post(f"/animals/{skink.pk}/approaches/", {"preset": "nonsense"})
    skink.refresh_from_db()
    assert skink.approaches == {}


@pytest.mark.parametrize(
    ("told", "says"),
    [
        ("4x2 ft", "large enough now, not when it is grown"),
        ("10 gal", "too small now"),
        ("2 x 1 m", "large enough now and when"),
        ("big", "cannot be read"),
        ("9000 l", "litres say nothing"),
    ],
)
def test_a_size_as_it_is_spoken_is_compared(
    client: Client, skink: Animal, told: str, says: str
) -> None:
    assert says in page(client, skink, "enclosures/", told=told)


def test_the_path_says_what_plan_says_of_its_days(
    client: Client, pip: Enclosure, skink: Animal
) -> None:
    life = lives.life_of(skink, today(), profile_of(skink.household, skink.species))
    request = pip.request_at(timezone.now())
    for days in (0, 45, 200, 400):
        on = today() + dt.timedelta(days=days)
        moved = request.model_copy(
            update={
                "now": dt.datetime.combine(on, dt.time(12), dt.UTC),
                "animals": (animal_on(life.future, on),),
                "readings": (),
            }
        )
        worth = life.life_plan.life_row("enclosure").on(on)  # type: ignore[union-attr]
        assert worth is not None and worth.sides_m == tuple(
            side.needed_m for side in plan(moved).size.sides
        )
    html = client.get(f"/animals/{skink.pk}/life-plan/").content.decode()
    assert (
        "today" in html
        and "What you need before each stage" in html
        and "What other approaches say" in html
    )


def test_the_path_reads_in_inches_and_fahrenheit(client: Client, skink: Animal) -> None:
    client.post("/preferences/", {"units_system": "us", "units_temperature": "f"})
    html = client.get(f"/animals/{skink.pk}/life-plan/").content.decode()
    assert "100 to 109 °F" in html and " in" in html and "°C" not in html.split("</header>")[1]


def test_an_animal_never_weighed_and_of_unknown_age_has_its_pages(
    client: Client, household: Household
) -> None:
    animal = Animal.objects.create(household=household, name="Found", species="Bombina orientalis")
    assert "nothing is known of its body" in page(client, animal)
    assert "It is grown" in client.get(f"/animals/{animal.pk}/life-plan/").content.decode()


def many(household: Household, count: int, weights: int = 3) -> None:
    room = Room.objects.filter(household=household)[0]
    head = Enclosure.objects.filter(household=household, head__isnull=False)[0].head
    assert head is not None
    for n in range(count):
        animal = Animal.objects.create(
            household=household,
            name=f"Many {n}",
            species="Tiliqua scincoides",
            born_on=today() - dt.timedelta(days=100 + n),
        )
        Weighing.objects.bulk_create(
            Weighing(animal=animal, on=today() - dt.timedelta(days=10 * k), mass_g=60 + n - 3 * k)
            for k in range(weights)
        )
        made = Enclosure.objects.create(household=household, room=room, name=f"Many enclosure {n}")
        made.revisions.create(number=1, spec=head.spec, made_at=timezone.now())
        Enclosure.objects.filter(pk=made.pk).update(head=made.revisions.get())
        Occupancy.objects.create(enclosure=made, animal=animal, since=timezone.now())


def test_the_outlook_takes_the_same_queries_for_few_and_for_many(
    client: Client, household: Household
) -> None:
    counts = []
    for more in (2, 12):
        many_before = Animal.objects.count()
        if many_before < 10:
            many(household, more)
        tasks.work_out_lives(household.pk)
        with CaptureQueriesContext(connection) as queries:
            assert client.get("/coming-up/").status_code == 200
        counts.append(len(queries))
        Derived.objects.all().delete()
        if more == 2:
            Animal.objects.filter(name__startswith="Many").delete()
            Enclosure.objects.filter(name__startswith="Many").update(head=None)
            Enclosure.objects.filter(name__startswith="Many").delete()
    assert counts[0] == counts[1]


def test_the_outlook_tells_stages_enclosures_and_rests_by_month(
    client: Client, household: Household
) -> None:
    assert "Being calculated for 4 animals" in client.get("/coming-up/").content.decode()
    tasks.work_out_lives(household.pk)
    html = client.get("/coming-up/").content.decode()
    assert (
        "Fathom’s enclosure is too small for Fathom" in html
        and "Pip becomes a sub-adult" in html
        and "brumation" in html
    )
    assert "Being worked out" not in html
    assert (
        "in Sable’s enclosure" in html and "its ultraviolet falls before its light" in html
    )  # its tube has run 6,200 hours


def test_growth_is_fitted_in_the_job_and_never_on_the_outlook(
    client: Client, household: Household, skink: Animal, monkeypatch: pytest.MonkeyPatch
) -> None:
    tasks.work_out_lives(household.pk)
    monkeypatch.setattr(lives, "ahead_of", lambda *a, **k: pytest.fail("fitted on a page"))
    monkeypatch.setattr(lives, "future", lambda *a, **k: pytest.fail("fitted on a page"))
    assert client.get("/coming-up/").status_code == 200
    client.post(f"/animals/{skink.pk}/facts/", {"name": "Pip", "sex": "male", "born_on": ""})
    assert "Being calculated for 1 animal" in client.get("/coming-up/").content.decode()


def test_a_weight_queues_the_work_once(
    client: Client, household: Household, skink: Animal
) -> None:
    from procrastinate.contrib.django.models import ProcrastinateJob

    for grams in ("98", "99"):
        client.post(f"/animals/{skink.pk}/weigh/", {"mass": grams, "on": today().isoformat()})
    assert ProcrastinateJob.objects.filter(task_name="work_out_lives", status="todo").count() == 1


def test_the_day_it_came_is_kept_and_wrong_ones_are_refused(client: Client, skink: Animal) -> None:
    born = skink.born_on
    assert born is not None
    data = {"name": "Pip", "sex": "male", "born_on": born.isoformat()}
    for day, said in (
        ("2140-01-01", "still to come"),
        ((born - dt.timedelta(days=3)).isoformat(), "before it was born"),
        ("soon", "valid date"),
    ):
        html = client.post(
            f"/animals/{skink.pk}/facts/", {**data, "came_on": day}
        ).content.decode()
        assert said in html and day in html and Animal.objects.get(pk=skink.pk).came_on is None
    for ago, phrase in ((5, "at the earliest"), (45, "at the latest")):
        client.post(
            f"/animals/{skink.pk}/facts/",
            {**data, "came_on": (today() - dt.timedelta(days=ago)).isoformat()},
        )
        assert phrase in page(client, skink) and "In quarantine" in page(client, skink)
    client.post(f"/animals/{skink.pk}/facts/", {**data, "came_on": ""})
    assert "In quarantine" not in page(client, skink)
