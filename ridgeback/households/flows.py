"""Writes about households as such."""

from django.db import transaction

from ridgeback.households.models import Household, Keeper, Membership

OWN_MOST = 20
"""Households of one owner at the most (design choice)."""


@transaction.atomic
def begin(keeper: Keeper, name: str) -> Household:
    """Make a household with its owner; named after them where no name is given."""
    person = keeper.first_name or keeper.username
    made = Household.objects.create(name=name or f"{person}’s animals"[:80])
    Membership.objects.create(household=made, keeper=keeper, role=Membership.Role.OWNER)

    return made


def may_begin(keeper: Keeper) -> bool:
    """Whether somebody may own one more. Those of the demo keep to their one."""
    owned = Membership.objects.filter(keeper=keeper, role=Membership.Role.OWNER)
    return bool(keeper.email) and owned.count() < OWN_MOST
