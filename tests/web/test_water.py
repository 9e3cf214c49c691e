"""The water of an enclosure: dishes, pools, conditioner and soaks."""

import pytest
from django.test import Client

from ridgeback.enclosures.models import Enclosure

pytestmark = pytest.mark.django_db


def with_pool(enclosure: Enclosure, **more: object) -> None:
    assert enclosure.head is not None
    pool = {
        "id": "pool-9",
        "kind": "pool",
        "at_m": [0.5, 0.2, 0.0],
        "size_m": [0.3, 0.25, 0.08],
        **more,
    }
    enclosure.head.spec["items"].append(pool)
    enclosure.head.save()


def test_a_dish_has_its_litres_its_dose_and_its_loss(client: Client, pip: Enclosure) -> None:
    page = client.get(f"/enclosures/{pip.pk}/water/").content.decode()
    assert (
        "Water dish" in page
        and "Conditioner for a full change" in page
        and "Evaporates in a day" in page
    )
    assert "every day, washed each time" in page


def test_a_pool_is_changed_by_what_is_eaten_and_its_filter_is_judged(
    client: Client, pip: Enclosure
) -> None:
    with_pool(pip)
    page = client.get(f"/enclosures/{pip.pk}/water/").content.decode()
    assert "all of it, every" in page and "It has no filter" in page and "5.4 l" in page
    with_pool(pip, id="pool-8", filter_l_h=3)
    assert "% of it, every" in client.get(f"/enclosures/{pip.pk}/water/").content.decode()


def test_the_label_of_a_conditioner_is_read_in_the_readers_units(
    client: Client, pip: Enclosure
) -> None:
    with_pool(pip)
    page = client.get(
        f"/enclosures/{pip.pk}/water/", {"dose": "10 ml", "per": "5 l"}
    ).content.decode()
    assert "10.8 ml" in page  # 5.4 l at 2 ml a litre
    wrong = client.get(
        f"/enclosures/{pip.pk}/water/", {"dose": "much", "per": "5 l"}
    ).content.decode()
    assert (
        'value="much"' in wrong
        and 'role="alert"' in wrong
        and "Conditioner for a full change" not in wrong
    )


def test_another_household_has_no_such_enclosure(
    client: Client, stranger: Client, pip: Enclosure
) -> None:
    assert stranger.get(f"/enclosures/{pip.pk}/water/").status_code == 404


def test_the_plan_carries_the_pools_numbers(client: Client, pip: Enclosure) -> None:
    with_pool(pip)
    said = client.get(
        f"/enclosures/{pip.pk}/calculation/", {"at": "/predictions/pool_change_pool-9"}
    ).content.decode()
    assert "Share changed" in said
