"""The demo's outdoor pen: the young skink's, with what people forget."""

from husbandry.pens.pen import PenSpec
from husbandry.pens.plan import PenClimate
from ridgeback.animals.models import Animal
from ridgeback.households.models import Household, Room
from ridgeback.pens.models import Pen, PenAnimal

NAME, GOES_OUT = "By the south wall", "Pip"


def plan_pen(household: Household, room: Room) -> Pen:
    """Describe a pen that has walls and a stone, but neither cover nor enough shade."""
    spec = PenSpec(
        length_m=1.6,
        width_m=0.8,
        wall_m=0.5,
        sunk_m=0.3,
        shade_share=0.15,
        hides=1,
        stone=True,
        water=True,
    )
    climate = PenClimate(warm_max_c=21, warm_min_c=12, cold_max_c=8, cold_min_c=2)
    pen = Pen.objects.create(
        household=household,
        name=NAME,
        room=room,
        spec=spec.model_dump(mode="json"),
        climate=climate.model_dump(mode="json"),
    )
    PenAnimal.objects.create(
        pen=pen, animal=Animal.objects.get(household=household, name=GOES_OUT)
    )
    return pen
