"""What an animal does, and what in its enclosure most likely makes it so: what to measure first, and when a
veterinarian is asked before anything is changed.

Never a diagnosis. Facts of the trade: common practice, no source. Method: docs/methods/behaviour.md.
"""

from collections.abc import Iterable, Mapping
from types import MappingProxyType
from typing import Literal, NamedTuple

from husbandry.documents.result import NeedState
from husbandry.species.needs import NeedKey
from husbandry.species.profile import Profile

Fit = Literal["fits", "not known", "does not fit"]
Fact = Literal["arrived", "too small", "in shed", "gravid", "in brumation"]
ORDER: tuple[Fit, ...] = ("fits", "not known", "does not fit")
"""In which causes are looked at (design choice)."""


class Cause(NamedTuple):
    """Something in its enclosure, or of its time, that makes an animal do so."""

    text: str
    measure: str
    """What to look at or measure."""
    need: NeedKey | None = None
    direction: str = ""
    """Which way the need is missed then: below or above."""
    fact: Fact | None = None
    """What must hold for it, where it is none of the needs."""


class Behaviour(NamedTuple):
    """Something that a keeper sees it do."""

    slug: str
    name: str
    causes: tuple[Cause, ...]
    vet: str
    """When a veterinarian comes first."""


_COOL_SURFACE = Cause(
    "Its basking place is too cool to warm up on.",
    "the surface under its lamp at noon, with an infrared thermometer",
    NeedKey.SURFACE_DAY,
    "below",
)
_HOT_SURFACE = Cause(
    "Its basking place is too hot.",
    "the surface under its lamp at noon, with an infrared thermometer",
    NeedKey.SURFACE_DAY,
    "above",
)
_HOT_COOL_END = Cause(
    "Its cool end is too warm: there is nowhere to cool down.",
    "the air at the cool end in the afternoon, with a shaded probe",
    NeedKey.COOL_AIR_DAY,
    "above",
)
_WARM_AIR = Cause(
    "The air at the warm end is too warm.",
    "the air at the warm end in the afternoon, with a shaded probe",
    NeedKey.WARM_AIR_DAY,
    "above",
)
_COLD_AIR = Cause(
    "The air at the warm end is too cool.",
    "the air at the warm end in the afternoon, with a shaded probe",
    NeedKey.WARM_AIR_DAY,
    "below",
)
_COLD_NIGHT = Cause(
    "Its nights are too cold.", "the air in the last hour of the dark", NeedKey.AIR_NIGHT, "below"
)
_STRONG_UV = Cause(
    "The ultraviolet at its basking place is too strong.",
    "the UV index at the height of its back",
    NeedKey.UVI_DAY,
    "above",
)
_DRY = Cause("The air is too dry.", "the humidity in the afternoon", NeedKey.HUMIDITY_DAY, "below")
_NEW = Cause("It is new here and learns the place.", "nothing: give it peace", fact="arrived")
_SHED = Cause("It is about to shed.", "its eyes and its colour", fact="in shed")
_SMALL = Cause("Its enclosure is too small for it.", "its floor and height", fact="too small")
_GRAVID = Cause(
    "She carries eggs or young, or looks where to lay.",
    "her flanks, and whether there is moist ground deep enough to dig in",
    fact="gravid",
)
_SEASON = Cause("It is its time of rest.", "the date and the hours of light", fact="in brumation")
BEHAVIOURS: Mapping[str, Behaviour] = MappingProxyType(
    {
        one.slug: one
        for one in (
            Behaviour(
                "basks all day",
                "Basks all day",
                (_COOL_SURFACE, _COLD_AIR, _COLD_NIGHT, _GRAVID),
                "When it does not move when touched, or breathes with an open mouth.",
            ),
            Behaviour(
                "never basks",
                "Never basks",
                (_HOT_SURFACE, _STRONG_UV, _WARM_AIR, _NEW),
                "When it does not eat either and loses weight.",
            ),
            Behaviour(
                "cool end",
                "Is always at the cool end",
                (_HOT_COOL_END, _WARM_AIR, _HOT_SURFACE, _STRONG_UV),
                "When it lies there limp, or gapes though it is cool.",
            ),
            Behaviour(
                "glass",
                "Walks along the glass",
                (_SMALL, _HOT_COOL_END, _NEW, _GRAVID),
                "When its nose is sore.",
            ),
            Behaviour(
                "digs",
                "Digs at a corner",
                (_GRAVID, _HOT_COOL_END, _DRY, _SMALL),
                "When a female digs for days, strains, and lays nothing.",
            ),
            Behaviour(
                "hides",
                "Has hidden for weeks",
                (_NEW, _SHED, _SEASON, _COLD_AIR, _COLD_NIGHT, _STRONG_UV),
                "When it has lost a tenth of its weight, or its eyes are sunken.",
            ),
            Behaviour(
                "gapes",
                "Sits with an open mouth",
                (_HOT_SURFACE, _WARM_AIR, _HOT_COOL_END),
                "Today, when it gapes away from the heat, or with bubbles, slime or noise.",
            ),
            Behaviour(
                "water",
                "Sleeps in its water",
                (_HOT_COOL_END, _DRY, _SHED),
                "When mites are on it or in the water, or it cannot hold its head up.",
            ),
            Behaviour(
                "refuses",
                "Refuses food",
                (_NEW, _SHED, _SEASON, _GRAVID, _COOL_SURFACE, _COLD_AIR, _COLD_NIGHT),
                "When it has lost a tenth of its weight, vomits, or its belly is swollen.",
            ),
        )
    }
)
"""What is asked about, by its slug (common practice)."""


class LikelyCause(NamedTuple):
    """A cause beside what is predicted and measured there and then."""

    cause: Cause
    fit: Fit
    state: NeedState | None = None


def likely_causes(
    behaviour: Behaviour,
    profile: Profile,
    states: Iterable[NeedState] = (),
    facts: Iterable[Fact] = (),
    *,
    sex: str = "unknown",
) -> tuple[LikelyCause, ...]:
    """The causes in the order in which they are looked at: what fits the enclosure as it is now, then
    what nobody knows, then what does not fit. Needs that the species has not are left out, and what no male
    does.
    """
    known = {state.key: state for state in states}
    held = set(facts)
    has = {need.need for need in profile.needs}
    found = [
        _judged(cause, known, held)
        for cause in behaviour.causes
        if (cause.need is None or cause.need in has)
        and not (cause.fact == "gravid" and sex == "male")
    ]
    return tuple(sorted(found, key=lambda one: ORDER.index(one.fit)))


def _judged(cause: Cause, known: Mapping[NeedKey, NeedState], facts: set[Fact]) -> LikelyCause:
    if cause.need is None:
        return LikelyCause(cause, "fits" if cause.fact in facts else "does not fit")
    state = known.get(cause.need)
    if state is None or state.verdict.direction == "unknown":
        return LikelyCause(cause, "not known", state)
    fits = state.verdict.direction == cause.direction
    return LikelyCause(cause, "fits" if fits else "does not fit", state)
