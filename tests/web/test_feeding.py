"""The page of an animal's food: condition, condition periods, what its meals hold; and animals that
are here no more.
"""

import datetime as dt

import pytest
from django.test import Client
from django.utils import timezone

from ridgeback.animals.models import Animal, ConditionPeriod
from ridgeback.enclosures.models import Enclosure, Occupancy
from ridgeback.households.models import Keeper
from ridgeback.log.models import LastDone, LogEntry
from ridgeback.tasks.due_tasks import gather
from tests import clocks


@pytest.fixture
def fathom(pip: Enclosure) -> Animal:
    """The kingsnake."""
    return Animal.objects.get(name="Fathom")


@pytest.fixture
def bramble(pip: Enclosure) -> Animal:
    """The gecko."""
    return Animal.objects.get(name="Bramble")


def page(client: Client, animal: Animal) -> str:
    return client.get(f"/animals/{animal.pk}/feeding/").content.decode()


def test_meals_energy_and_calcium_are_shown(client: Client, bramble: Animal) -> None:
    text = page(client, bramble)
    assert (
        "Dusted 2.00 : 1" in text
        and "A light even coat" in text
        and "of calcium carbonate" in text
        and "Plausible for its mass and warmth" in text
    )
    assert "Rotate:" in text and "soldier fly larvae" in text and "in thirty days" in text


def test_prey_is_told_by_mass_and_by_width(client: Client, fathom: Animal) -> None:
    """Share of body mass, and girth over pi: both are shown (decision 10)."""
    others = client.get(f"/animals/{fathom.pk}/feeding/").context["view"].meals[0].others
    assert any("mouse" in text or "rat" in text for text in others) and "Other approaches" in page(
        client, fathom
    )


def test_each_supplement_has_its_day_and_its_reason(client: Client, bramble: Animal) -> None:
    supplements = client.get(f"/animals/{bramble.pk}/feeding/").context["view"].supplements
    assert len(supplements) >= 6 and all(why for _, _, why in supplements)
    assert any(products == "multivitamin" for _, products, _ in supplements)


def test_a_score_is_logged_and_the_meals_follow(client: Client, fathom: Animal) -> None:
    def planned() -> tuple[str, str]:
        meal = client.get(f"/animals/{fathom.pk}/feeding/").context["view"].meals[0]
        return meal.often.text, meal.amount.text

    before = planned()
    client.post(f"/animals/{fathom.pk}/feeding/condition/", {"score": "5"})
    fathom.refresh_from_db()
    entry = LogEntry.objects.get(animal=fathom, stem="body")
    assert (fathom.condition, entry.amount) == (5, 5.0) and LastDone.objects.filter(
        animal=fathom, stem="body"
    ).exists()
    text = page(client, fathom)
    after = planned()
    assert "fed clearly less often" in text and before != after
    due = next(one for one in gather(fathom.household, timezone.now()) if fathom in one.animals)
    assert (
        due.routines is not None and due.routines.animals[0].meals[0].every_days > 15
    )  # the day's tasks follow the same


def test_an_undone_score_is_gone(client: Client, fathom: Animal) -> None:
    for score in ("3", "4"):
        client.post(f"/animals/{fathom.pk}/feeding/condition/", {"score": score})
    latest = LogEntry.objects.filter(animal=fathom, stem="body").order_by("-pk").first()
    assert latest is not None
    client.post(f"/today/undo/{latest.pk}/", {"log": "yes"})
    fathom.refresh_from_db()
    assert fathom.condition == 3
    first = LogEntry.objects.standing().get(animal=fathom, stem="body")
    client.post(f"/today/undo/{first.pk}/", {"log": "yes"})
    fathom.refresh_from_db()
    assert fathom.condition is None and fathom.condition_on is None


@pytest.mark.parametrize("score", ["0", "6", "", "fat"])
def test_there_are_five_scores(client: Client, fathom: Animal, score: str) -> None:
    answer = client.post(f"/animals/{fathom.pk}/feeding/condition/", {"score": score}, follow=True)
    assert (
        "Choose one of the five." in answer.content.decode()
        and not LogEntry.objects.filter(stem="body").exists()
    )


def test_a_shed_holds_a_snakes_meals_back_and_its_end_frees_them(
    client: Client, fathom: Animal
) -> None:
    today = clocks.today()
    client.post(
        f"/animals/{fathom.pk}/feeding/condition-period/",
        {"kind": "shed", "since": today.isoformat()},
    )
    assert f"No meal before {today + dt.timedelta(days=14):%-d %B}" in page(client, fathom)
    due = next(one for one in gather(fathom.household, timezone.now()) if fathom in one.animals)
    assert not any(task.kind == "feed" for task in due.tasks)
    again = client.post(
        f"/animals/{fathom.pk}/feeding/condition-period/",
        {"kind": "shed", "since": today.isoformat()},
        follow=True,
    )
    assert "goes on already" in again.content.decode()
    condition_period = ConditionPeriod.objects.get(animal=fathom, until__isnull=True)
    client.post(
        f"/animals/{fathom.pk}/feeding/condition-period/end/",
        {"condition_period": str(condition_period.pk)},
    )
    assert "No meal before" not in page(client, fathom)


@pytest.mark.parametrize(
    ("since", "why"),
    [("2999-01-01", "still to come"), ("1999-01-01", "this day is before"), ("x", "valid date")],
)
def test_a_wrong_day_is_said_beside_the_field(
    client: Client, fathom: Animal, since: str, why: str
) -> None:
    answer = client.post(
        f"/animals/{fathom.pk}/feeding/condition-period/", {"kind": "breeding", "since": since}
    )
    assert answer.status_code == 200 and why in answer.content.decode()
    assert 'value="breeding" selected' in answer.content.decode()  # what was chosen stays


def test_a_male_carries_no_clutches(client: Client, pip: Enclosure) -> None:
    sable = Animal.objects.get(name="Sable")
    answer = client.post(
        f"/animals/{sable.pk}/feeding/condition-period/",
        {"kind": "gravid", "since": clocks.today().isoformat()},
    )
    assert answer.status_code == 200 and not ConditionPeriod.objects.exists()


def test_refusals_reach_the_round_card(client: Client, bramble: Animal) -> None:
    keeper, now = Keeper.objects.get(username="demo"), timezone.now()
    home = Enclosure.objects.get(occupancies__animal=bramble)
    for ago in (25, 22, 18, 14, 10, 6, 2):
        on = clocks.today() - dt.timedelta(days=ago)
        LogEntry.objects.create(
            household=home.household,
            enclosure=home,
            animal=bramble,
            stem="feed insects",
            task=f"x{ago}",
            log_request=f"00000000-0000-0000-0000-0000000000{ago:02d}",
            outcome="done" if ago == 25 else "refused",
            on=on,
            at=now,
            by=keeper,
            touched_at=now,
        )
    text = client.get("/today/").content.decode()
    assert "Ate nothing for 25 days, refused 6 times" in text and "What to tell" in text
    assert "Ate nothing for 25 days" in page(client, bramble)


def test_another_household_sees_and_writes_nothing(stranger: Client, fathom: Animal) -> None:
    assert stranger.get(f"/animals/{fathom.pk}/feeding/").status_code == 404
    for part in ("condition", "condition_period", "condition_period/over"):
        assert (
            stranger.post(f"/animals/{fathom.pk}/feeding/{part}/", {"score": "3"}).status_code
            == 404
        )


def test_an_animal_in_no_enclosure_has_its_food_too(client: Client, fathom: Animal) -> None:
    Occupancy.objects.filter(animal=fathom).update(until=timezone.now())
    assert "Plausible for its mass and warmth" in page(client, fathom)


def test_an_enclosure_that_does_not_add_up_hides_no_food(client: Client, fathom: Animal) -> None:
    home = Enclosure.objects.get(occupancies__animal=fathom)
    assert home.head is not None
    home.head.spec["enclosure"]["inside_m"]["length"] = -1
    home.head.save()
    assert "Plausible for its mass and warmth" in page(client, fathom)


# --- here no more ---------------------------------------------------------------------------------


def test_who_is_gone_leaves_the_enclosure_and_the_round_and_keeps_its_book(
    client: Client, fathom: Animal
) -> None:
    today = clocks.today()
    client.post(f"/animals/{fathom.pk}/departure/", {"gone": "sold", "gone_on": today.isoformat()})
    fathom.refresh_from_db()
    assert (
        fathom.gone == "sold"
        and not Occupancy.objects.filter(animal=fathom, until__isnull=True).exists()
    )
    assert not any(fathom in due.animals for due in gather(fathom.household, timezone.now()))
    listing = client.get("/animals/").content.decode()
    assert "No longer kept" in listing and listing.count("enclosure-row animal-row") == 3
    assert client.get(f"/animals/{fathom.pk}/").status_code == 200
    assert client.get(f"/animals/{fathom.pk}/feeding/").status_code == 302
    client.post(f"/animals/{fathom.pk}/departure/", {"back": "yes"})
    fathom.refresh_from_db()
    assert fathom.there


def test_nothing_is_done_with_who_is_gone(client: Client, fathom: Animal) -> None:
    home = Enclosure.objects.get(occupancies__animal=fathom, occupancies__until__isnull=True)
    due = next(one for one in gather(fathom.household, timezone.now()) if fathom in one.animals)
    today = clocks.today()
    client.post(
        f"/animals/{fathom.pk}/departure/",
        {"gone": "died", "gone_on": (today - dt.timedelta(days=1)).isoformat()},
    )
    log_request = {
        "task": f"{home.pk}/{fathom.pk}/feed prey/{due.today}",
        "log_request": "00000000-0000-0000-0000-000000000001",
    }
    assert (
        client.post(f"/today/{home.pk}/log/", log_request).status_code == 404
    )  # nobody lives there
    weighed = client.post(
        f"/animals/{fathom.pk}/weigh/", {"mass": "390 g", "on": today.isoformat()}
    )
    assert "It is not here since" in weighed.content.decode()
    moved = client.post(
        f"/enclosures/{home.pk}/move-in/", {"animal": fathom.pk, "because": "x"}, follow=True
    )
    assert "is no longer kept" in moved.content.decode()


def test_a_wrong_end_is_said(client: Client, fathom: Animal) -> None:
    late = client.post(
        f"/animals/{fathom.pk}/departure/", {"gone": "died", "gone_on": "2999-01-01"}
    )
    assert "still to come" in late.content.decode()
    early = client.post(
        f"/animals/{fathom.pk}/departure/",
        {"gone": "died", "gone_on": (clocks.today() - dt.timedelta(days=60)).isoformat()},
    )
    assert "after that day" in early.content.decode()
    assert (
        "required"
        in client.post(
            f"/animals/{fathom.pk}/departure/", {"gone": "", "gone_on": ""}
        ).content.decode()
    )
