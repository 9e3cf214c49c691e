"""An enclosure that is only tried: another state than the kept one, told by the kept one's readings."""

from husbandry.planning.request import Earlier, Request
from ridgeback.habitats.models import EARLIER_MOST


def as_tried(tried: Request, kept: Request) -> Request:
    """The request of what is tried. Another enclosure is a new state: the readings of the kept one tell the model, and judge nothing in it."""
    if (tried.box, tried.things) == (kept.box, kept.things):
        return tried
    stood = Earlier(revision=kept.revision, box=kept.box, things=kept.things)
    return tried.model_copy(update={"revision": kept.revision + 1, "earlier": (*kept.earlier, stood)[-EARLIER_MOST:]})
