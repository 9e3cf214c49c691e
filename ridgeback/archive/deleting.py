"""Deleting a household with every row of it."""

from django.db import transaction
from django.db.models import Q

from ridgeback.archive.tables import TABLES
from ridgeback.households.models import Household


@transaction.atomic
def delete_household(household: Household) -> None:
    """Delete a household: first the keys that point ahead, then its rows, children first."""
    ways = {}
    for table in TABLES:
        mine = Q()
        for way in table.household:
            mine |= Q(**{way: household})
        ways[table.model] = mine
        for name in table.later:
            table.model._default_manager.filter(mine).update(**{name: None})
    for table in reversed(TABLES):
        table.model._default_manager.filter(ways[table.model]).delete()
    household.delete()
