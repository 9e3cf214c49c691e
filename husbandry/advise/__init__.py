"""What to change: candidates found by solving the model, planned again in full, and ranked.

Search is done near the known state (films kept); whatever is offered has been planned again in
full, so that applying it gives the
quoted effect. `context` is where candidates are tried, `heat`, `ultraviolet` and `room` propose
them, `ranking` chooses.
"""

from husbandry.advise.context import ChangeContext
from husbandry.advise.ranking import MOST, find_changes, safety

__all__ = ["MOST", "ChangeContext", "find_changes", "safety"]
