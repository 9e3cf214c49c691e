"""An enclosure that is only tried: another state than the kept one, told by the kept one's
readings.
"""

from husbandry.documents.request import EarlierState, Request
from ridgeback.enclosures.models import EARLIER_MOST


def as_tried(tried: Request, kept: Request) -> Request:
    """The request of what is tried.

    Another enclosure is a new state: the readings of the kept one tell the model, and judge nothing
    in it.
    """
    if (tried.enclosure, tried.items) == (kept.enclosure, kept.items):
        return tried
    stood = EarlierState(revision=kept.revision, enclosure=kept.enclosure, items=kept.items)
    return tried.model_copy(
        update={"revision": kept.revision + 1, "earlier": (*kept.earlier, stood)[-EARLIER_MOST:]}
    )
