"""One history: everything in order, filtered, searched, from a day back, as a table; what came before."""

import datetime as dt
import uuid

import numpy as np
import pytest
from django.test import Client
from django.utils import timezone

from husbandry.quantity import METRIC, Units
from husbandry.records.channels import Quantity
from ridgeback.animals.flows import begin_condition_period
from ridgeback.animals.models import Animal
from ridgeback.clock import now
from ridgeback.enclosures.models import Enclosure
from ridgeback.history.events import KINDS, before_of, of_animal, of_enclosure
from ridgeback.households.models import Household
from ridgeback.log.models import LogEntry
from ridgeback.records.flows import channel_for
from ridgeback.records.store import ensure_months, write_samples
from tests import clocks


def day(n: int) -> dt.date:
    return clocks.today() + dt.timedelta(days=n)


@pytest.fixture
def whole(household: Household, pip: Enclosure) -> Animal:
    """Pip, with a life of its own."""
    animal = pip.present[0].animal
    for n, (ago, outcome) in enumerate(
        [(30, "done"), (12, "refused"), (8, "refused"), (4, "refused")]
    ):
        LogEntry.objects.create(
            household=household,
            enclosure=pip,
            animal=animal,
            stem="feed insects",
            task=f"x/{n}",
            log_request=uuid.uuid4(),
            outcome=outcome,
            on=day(-ago),
            at=timezone.now() - dt.timedelta(days=ago),
            touched_at=timezone.now(),
            by=household.memberships.get().keeper,
        )
    animal.weighings.create(on=day(-40), mass_g=500)
    begin_condition_period(animal, kind="shed", since=day(-20))
    return Animal.objects.get(pk=animal.pk)


def test_everything_is_there_the_latest_first(whole: Animal) -> None:
    found = of_animal(whole, METRIC)
    days = [one.on for one in found]
    assert days == sorted(days, reverse=True)
    kinds = {one.kind for one in found}
    assert {"meals", "body", "health", "moves"} <= kinds <= set(KINDS)
    assert sum(one.kind == "meals" for one in found) == 4
    texts = " ".join(one.text for one in found)
    assert (
        "weighed 500 g" in texts and "in shed" in texts and "moved into Pip’s enclosure" in texts
    )


def test_the_reader_has_her_units(whole: Animal) -> None:
    texts = " ".join(one.text for one in of_animal(whole, Units("us", "f")))
    assert "°C" not in texts


def test_an_enclosure_has_the_care_of_its_animals(whole: Animal, pip: Enclosure) -> None:
    found = of_enclosure(pip, METRIC)
    assert any(one.kind == "meals" and one.text.startswith(f"{whole.name}: ") for one in found)
    assert any(one.text == f"{whole.name} moved in" for one in found)
    assert any(one.kind == "readings" for one in found)


def test_it_is_filtered_searched_and_read_from_a_day_back(client: Client, whole: Animal) -> None:
    page = f"/animals/{whole.pk}/history/"
    meals = client.get(page, {"kind": "meals"}).context["events"]
    assert len(meals) == 4 and {one.kind for one in meals} == {"meals"}
    assert [one.text for one in client.get(page, {"words": "500 G"}).context["events"]] == [
        "weighed 500 g"
    ]
    early = client.get(page, {"day": str(day(-30))}).context["events"]
    assert early and all(one.on <= day(-30) for one in early)
    for bad in ({"day": "yesterday"}, {"kind": "x"}, {"words": "zzz"}):
        assert client.get(page, bad).status_code == 200
    assert "Nothing of that is logged" in client.get(page, {"words": "zzz"}).content.decode()


def test_it_comes_as_a_table(client: Client, whole: Animal) -> None:
    answer = client.get(f"/animals/{whole.pk}/history/", {"csv": "yes", "kind": "meals"})
    lines = answer.content.decode("utf-8-sig").splitlines()
    assert lines[0] == "day,time,kind,what,who" and len(lines) == 5


def test_refusals_after_cold_days_are_a_coincidence(whole: Animal, pip: Enclosure) -> None:
    """The cool end was cold for four days before the first refusal."""
    channel = channel_for(pip, Quantity.TEMPERATURE, "cool", "A")
    end = int(now().timestamp())
    at_s = np.arange(end - 40 * 86_400, end, 1800, dtype=np.int64)
    ensure_months(at_s)
    ago = (end - at_s) / 86_400
    values = np.where((ago < 17) & (ago > 13), 5.0, 23.0)
    write_samples(channel, at_s, values, None)
    found = next(one for one in before_of(whole, now()) if one.sign.kind == "refusals")
    assert found.sign.on == day(-12) and found.sign.words == "3 meals refused in a row"
    words = [one.words for one in found.changes]
    assert any("temperature at the cool end" in one and "out of range" in one for one in words)


def test_the_page_says_that_it_is_no_diagnosis(client: Client, whole: Animal) -> None:
    page = client.get(f"/animals/{whole.pk}/history/").content.decode()
    assert "3 meals refused in a row" in page and "veterinarian" in page


def test_another_household_reads_nothing(stranger: Client, whole: Animal, pip: Enclosure) -> None:
    assert stranger.get(f"/animals/{whole.pk}/history/").status_code == 404
    assert stranger.get(f"/enclosures/{pip.pk}/history/").status_code == 404
