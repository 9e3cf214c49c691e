"""Treatments that a veterinarian prescribed: dated, in their own words.

Nothing of them is calculated here but the days. Method: docs/methods/treatments.md.
"""

import datetime as dt
from typing import NamedTuple


class Treatment(NamedTuple):
    """What a veterinarian prescribed."""

    key: int
    words: str
    """The veterinarian's own: what, how much, how."""
    by: str
    begins: dt.date
    ends: dt.date
    """The last day, included."""
    every_days: int = 1
    times: int = 1
    """On each of its days."""

    def on(self, day: dt.date) -> bool:
        """Whether it is given on a day."""
        return self.begins <= day <= self.ends and (day - self.begins).days % self.every_days == 0

    def before(self, day: dt.date) -> dt.date | None:
        """The day of it before one of its days; None before the first."""
        earlier = day - dt.timedelta(days=self.every_days)
        return earlier if earlier >= self.begins else None

    @property
    def doses(self) -> int:
        """How often it is given in all."""
        return self.times * ((self.ends - self.begins).days // self.every_days + 1)

    def stem(self, time: int) -> str:
        """The name of its dose of a day, from 0."""
        return f"treatment {self.key} {time + 1}"
