"""What measures in an enclosure and controls nothing."""

from typing import Literal

from husbandry.items.base import BaseItem
from husbandry.items.fields import PLACE, ItemField

MEASURES = (
    ("temperature", "temperature"),
    ("humidity", "humidity"),
    ("both", "temperature and humidity"),
)


class Thermometer(BaseItem):
    """The probe of a thermometer or hygrometer: it shows what a thermostat that fails does not."""

    kind: Literal["thermometer"] = "thermometer"
    measures: Literal["temperature", "humidity", "both"] = "temperature"

    fields = (*PLACE, ItemField("measures", "Measures", choices=MEASURES))
    group = "Instruments"
    stem = "meter"

    @property
    def name(self) -> str:
        """What keepers call it, by what it measures."""
        named = {"humidity": "hygrometer", "both": "thermometer with hygrometer"}
        return named.get(self.measures, "thermometer")
