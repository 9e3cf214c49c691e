"""Front and top view of an enclosure on one sheet with a title block, for keeping and printing."""

from husbandry.planning.predict import Outcome
from husbandry.planning.result import Plan
from husbandry.quantity import Units
from ridgeback.drawing.fields import grids
from ridgeback.drawing.primitives import Drawing
from ridgeback.drawing.sheet import BLOCK, Labels, title_block
from ridgeback.drawing.workbench import BENCH, layout, shapes


def both_views(plan: Plan, outcome: Outcome, units: Units, labels: Labels) -> Drawing:
    """Draw a planned enclosure from the front and from above, at one scale."""
    request = outcome.request
    bench = layout(request)
    top = bench.top.floor + 34
    block = title_block(request, bench.front, units, labels, (BENCH.width - 8, top), "both views")
    parts = [*shapes(plan, outcome, units, set(), "", grids(outcome)), *block]
    words = f"{labels.name}, front and top view at one scale"
    return Drawing(BENCH.width, top + BLOCK[1] + 8, tuple(parts), words, f"{words}.", "sheet")
