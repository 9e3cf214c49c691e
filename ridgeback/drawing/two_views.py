"""Front and top view of an enclosure on one sheet with a title block, for keeping and printing."""

from husbandry.documents.result import Plan
from husbandry.predict.predict import Prediction
from husbandry.quantity import Units
from ridgeback.drawing.fields import grids
from ridgeback.drawing.layout import LAYOUT, layout, shapes
from ridgeback.drawing.primitives import Drawing
from ridgeback.drawing.sheet import BLOCK, Labels, title_block


def both_views(plan: Plan, prediction: Prediction, units: Units, labels: Labels) -> Drawing:
    """Draw a planned enclosure from the front and from above, at one scale."""
    request = prediction.request
    views = layout(request)
    top = views.top.floor + 34
    block = title_block(request, views.front, units, labels, (LAYOUT.width - 8, top), "both views")
    parts = [*shapes(plan, prediction, units, set(), "", grids(prediction)), *block]
    words = f"{labels.name}, front and top view at one scale"
    return Drawing(LAYOUT.width, top + BLOCK[1] + 8, tuple(parts), words, f"{words}.", "sheet")
