"""Read what was said of an enclosure: `described(text)`."""

from husbandry.review.animal_reading import read_animal
from husbandry.review.care_reading import read_care
from husbandry.review.description import Description
from husbandry.review.description_reading import read_with
from husbandry.review.enclosure_reading import read_enclosure
from husbandry.review.equipment_reading import read_equipment
from husbandry.review.food_sizes import read_food_sizes
from husbandry.review.interior_reading import read_interior
from husbandry.review.temperature_reading import read_temperatures

READERS = (
    read_food_sizes,
    read_animal,
    read_enclosure,
    read_equipment,
    read_temperatures,
    read_interior,
    read_care,
)
"""In the order in which they take numbers."""


def described(text: str) -> Description:
    """The facts of a description, with what was not understood and what cannot both be.

    Raises
    ------
    EntryError
        Where the text is empty or longer than any description.
    """
    return read_with(text, READERS)
