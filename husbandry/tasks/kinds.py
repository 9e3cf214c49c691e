"""Every kind of task in one place: its order in a round, its words, and what a log entry of it holds.

When a kind is due stands in enclosure_tasks.py and animal_tasks.py. To add a kind: a row here, and
a line there.
"""

from dataclasses import dataclass

from husbandry.quantity import Kind


@dataclass(frozen=True)
class TaskKind:
    """A kind of task."""

    slug: str
    done: str
    """What the log says was done."""
    title: str = ""
    """What is to be done, where the words are always the same."""
    note: str = ""
    """How, in a few words."""
    button: str = "Done"
    short: str = ""
    """In a week's table; `done` where it is empty."""
    amount: Kind | None = None
    """Of what kind its amount is; None where it has none."""
    most_times: float = 0.0
    """So many times the usual amount is a slip [1]."""
    daily: bool = False
    """It comes every day, and a week's table leaves it out."""
    plain: bool = True
    """A log entry needs nothing but the button."""
    stood_in: bool = True
    """Somebody who stands in for the keeper does it; else it waits for the keeper."""


_ROWS = (
    TaskKind(
        "look",
        done="checked",
        title="Visual check",
        note="alive and well, warm and cool end, droppings, leftover food",
        button="Checked",
        daily=True,
    ),
    TaskKind("treatment", done="treatment given", short="treatment"),
    TaskKind(
        "leftovers",
        done="leftovers taken out",
        title="Take out the egg it left",
        note="an egg that lies warm for days bursts or rots",
        button="Taken out",
        short="leftovers",
    ),
    TaskKind("read", done="read", short="read", plain=False, stood_in=False),
    TaskKind("mist", done="misted", amount=Kind.VOLUME, most_times=10.0, daily=True),
    TaskKind(
        "dripper",
        done="dripper filled",
        title="Fill the dripper",
        note="fresh water, its nozzle clear, the dish below it emptied",
        button="Filled",
        daily=True,
    ),
    TaskKind("feed", done="fed", amount=Kind.MASS, most_times=20.0),
    TaskKind("soak", done="soaked", short="soak"),
    TaskKind(
        "water",
        done="water changed",
        title="Fresh water",
        note="dish washed, not in the kitchen’s sink",
        button="Changed",
        daily=True,
    ),
    TaskKind("pool", done="pool changed", short="pool", amount=Kind.VOLUME, most_times=5.0),
    TaskKind("tame", done="handled", short="handling", stood_in=False),
    TaskKind("weigh", done="weighed", short="weigh", amount=Kind.MASS, plain=False),
    TaskKind(
        "body",
        done="condition",
        title="Body condition",
        note="five pictures to compare with; its meals follow",
        button="Score",
        short="body condition",
        plain=False,
        stood_in=False,
    ),
    TaskKind(
        "screen",
        done="droppings sent",
        title="Droppings to a veterinarian",
        note="an arrival is screened once, from fresh droppings",
        button="Sent",
        short="screen",
        stood_in=False,
    ),
    TaskKind(
        "moss",
        done="moss changed",
        title="New moss in the moist hide",
        note="compacted moss holds germs, not water",
        button="Changed",
        short="moss",
    ),
    TaskKind(
        "dig box",
        done="dig box dampened",
        title="Dampen the dig box",
        note="until its substrate holds its shape in the hand; dig for old eggs",
        button="Dampened",
        short="dig box",
    ),
    TaskKind(
        "toes",
        done="checked after its shed",
        title="After its shed: look for skin that stayed",
        button="Checked",
        short="shed check",
    ),
    TaskKind(
        "nails", done="claws looked at", title="Claws and beak", short="claws", stood_in=False
    ),
    TaskKind(
        "calcium dish",
        done="calcium dish filled",
        title="Calcium dish: check and refill",
        note="one that empties is taken out, and the animal is looked at",
        button="Filled",
        short="calcium dish",
    ),
    TaskKind(
        "clean",
        done="cleaned",
        title="Glass and corners",
        note="spot clean; look at toes and tail tip for shed that stayed",
        button="Cleaned",
        short="glass",
    ),
    TaskKind(
        "deep clean",
        done="deep cleaned",
        title="Deep clean",
        note="animal out, substrate checked or changed, everything rinsed and dry",
        button="Cleaned",
        short="deep clean",
        stood_in=False,
    ),
    TaskKind(
        "disinfect",
        done="disinfected",
        title="Disinfect the quarantine enclosure",
        note=(
            "dirt off first; twice, each for the time the disinfectant needs; rinse, air until dry"
            " and without smell; its own tools, and hands after"
        ),
        button="Disinfected",
        short="disinfect",
    ),
    TaskKind(
        "filter",
        done="filter rinsed",
        title="Rinse the filter",
        note="in water of its own pool, never under the tap",
        button="Rinsed",
        short="filter",
    ),
    TaskKind(
        "lamp",
        done="lamp replaced",
        title="Measure or replace the UV lamp",
        note="near 70 % of its ultraviolet, though its light looks the same",
        button="Replaced",
        short="UV lamp",
        stood_in=False,
    ),
    TaskKind("enrich", done="enrichment done", short="enrichment", stood_in=False),
    TaskKind("own", done="done", short="own task"),
    TaskKind(
        "gutload",
        done="feeders gut-loaded",
        title="Gut-load the feeders",
        note="a day before they are food: greens and a calcium-rich mash",
        daily=True,
    ),
)
TASK_KINDS: dict[str, TaskKind] = {row.slug: row for row in _ROWS}
"""By slug, in the order in which a round does them (common practice, no source)."""
ORDER: dict[str, int] = {slug: n for n, slug in enumerate(TASK_KINDS)}
"""The place of each kind in a round."""
