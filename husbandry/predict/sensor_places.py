"""Where the places of sensors lie in an enclosure: what a keeper says once, on its drawing."""

from husbandry.documents.request import Request
from husbandry.items.furnishings import Dish, Hide, Pool
from husbandry.predict.predict import EnclosurePoint, Prediction
from husbandry.records.channels import SensorPlace


def place_points(request: Request, prediction: Prediction) -> dict[SensorPlace, EnclosurePoint]:
    """The places of a planned enclosure that exist in it, each with its point; the room is none.

    The first hide and the first water that stand in it are taken for the places of that name.
    """
    basking = prediction.basking
    warm, cool = prediction.warm_point, prediction.cool_point
    inside = request.enclosure.inside_m
    found = {
        SensorPlace.SURFACE: basking,
        SensorPlace.WARM: EnclosurePoint(warm[0], basking.y_m, warm[1]),
        SensorPlace.COOL: EnclosurePoint(cool[0], basking.y_m, cool[1]),
        SensorPlace.MIDDLE: EnclosurePoint(
            (warm[0] + cool[0]) / 2, basking.y_m, inside.height / 2
        ),
    }

    for place, kinds in ((SensorPlace.HIDE, (Hide,)), (SensorPlace.WATER, (Pool, Dish))):
        own = next((one for one in request.items if isinstance(one, kinds)), None)
        if own is not None:
            found[place] = EnclosurePoint(
                own.at_m[0], own.at_m[1], own.at_m[2] + own.sides_m[2] / 2
            )

    return found
