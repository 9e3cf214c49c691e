"""Guide prices in a household's money."""

from ridgeback.households.models import Household


def money(euros: float, household: Household | None) -> str:
    """A guide price in the household's money, to two digits."""
    rate, name = (household.euro_rate, household.currency) if household else (1.0, "EUR")
    value = euros * rate
    step = 1 if value < 100 else 10 if value < 1000 else 50 if value < 10_000 else 100
    return f"{round(value / step) * step:,.0f}".replace(",", " ") + f" {name}"
