"""Guide prices on a page."""

from django import template

from ridgeback.households.models import Household
from ridgeback.households.money import money

register = template.Library()


@register.filter
def guide_price(euros: float, household: Household) -> str:
    """A guide price in euros in the household's money; empty where it is nothing."""
    return money(euros, household) if euros >= 1 else ""
