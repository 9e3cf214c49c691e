"""What can be chosen of plants and hides on forms and on the bench."""

from husbandry.box.hides import ENTRANCES
from husbandry.box.plants import PLANTS

HARMS = {"none": "", "irritant": ", irritant", "poisonous": ", poisonous"}
PLANT_CHOICES: tuple[tuple[str, str], ...] = (
    ("", "not said"),
    *((plant.name, f"{plant.label}{HARMS[plant.harm]}") for plant in PLANTS.values()),
)
ENTRANCE_CHOICES: tuple[tuple[str, str], ...] = (("", "not said"), *ENTRANCES.items())
