"""Fixes of described setups tried alone and together: advice followed to its end."""

import datetime as dt
import functools

import pytest

from husbandry.review.describe import described
from husbandry.review.review import Review, review
from husbandry.review.tried_fixes import can_be_tried, try_fixes, waits_for_correction
from husbandry.tables import rows

NOW = dt.datetime(2026, 6, 1, 12, tzinfo=dt.UTC)
TEXTS = {row["name"]: row["text"] for row in rows("tests.husbandry.review", "setups.csv")}
QUICK = (
    "leo-sand-rock",
    "leo-pair",
    "leo-cold",
    "beardie-lettuce",
    "beardie-old-t8",
    "beardie-two",
    "bp-tank",
    "slider-bowl",
    "axolotl-gravel",
    "whites-dry",
    "daygecko-no-uv",
    "uro-cold",
    "anole-four",
)
"""Setups whose correction is found within three seconds."""


EACH_QUICK = pytest.mark.parametrize(
    "name", [pytest.param(name, marks=pytest.mark.xdist_group(f"judged {name}")) for name in QUICK]
)


@functools.cache
def judged(text: str, *, correct: bool = True) -> Review:
    """A text judged, once for all tests of one worker."""
    return review(described(text), NOW, correct=correct)


@EACH_QUICK
def test_each_fix_alone_mends_its_own_fault_and_makes_no_other(name: str) -> None:
    made = judged(TEXTS[name])
    for one in made.findings:
        if not can_be_tried(one):
            continue
        tried = try_fixes(made, {one.slug}, NOW)
        if tried is None:
            assert one.rank == "better", one.slug
            continue
        assert one.title in tried.mended, one.slug
        assert [more.slug for more in tried.new if more.rank != "better"] == [], one.slug


@EACH_QUICK
def test_all_fixes_together_leave_nothing_that_harms(name: str) -> None:
    made = judged(TEXTS[name])
    tried = try_fixes(made, {one.slug for one in made.findings}, NOW)
    assert tried is not None
    left = [one for one in (*tried.left, *tried.new) if can_be_tried(one)]
    assert [one.slug for one in left if one.rank != "better"] == []
    assert tried.price_eur > 0


def test_what_hangs_in_a_larger_enclosure_comes_with_it() -> None:
    made = judged(TEXTS["beardie-no-uv"])
    tried = try_fixes(made, {"no uv"}, NOW)
    assert tried is not None
    assert "size" in tried.slugs
    assert made.request is not None
    before, after = (one.enclosure.inside_m.length for one in (made.request, tried.request))
    assert after > before


def test_a_lamp_over_the_same_enclosure_comes_alone() -> None:
    made = judged(
        "Adult bearded dragon in a 180x60x60 wooden vivarium, room 21 C, 100 W halogen at 30 cm"
        " with a dimming thermostat, no uvb, two hides, 8 cm of soil and sand, water dish."
    )
    tried = try_fixes(made, {"no uv"}, NOW)
    assert tried is not None
    assert tried.slugs == ("no uv",)
    assert any(item.kind.startswith("t5") for item in tried.request.items)


def test_facts_can_be_tried_before_a_corrected_enclosure_is_known() -> None:
    made = judged(TEXTS["leo-sand-rock"], correct=False)
    assert waits_for_correction(made, {"size"})
    assert not waits_for_correction(made, {"only treats", "no hides"})
    tried = try_fixes(made, {"only treats", "no hides"}, NOW)
    assert tried is not None
    assert set(tried.slugs) == {"only treats", "no hides"}


def test_what_is_unsure_is_measured_not_tried() -> None:
    one = judged(TEXTS["leo-pair"], correct=False).findings[0]
    assert can_be_tried(one)
    assert not can_be_tried(one.model_copy(update={"likely": True}))


def test_nothing_chosen_or_known_is_nothing_tried() -> None:
    made = judged(TEXTS["leo-pair"], correct=False)
    assert try_fixes(made, set(), NOW) is None
    assert try_fixes(made, {"no such thing"}, NOW) is None
    unknown = judged("My dragonfly lives on a 75 W lamp without thermostat.", correct=False)
    assert try_fixes(unknown, {"no thermostat"}, NOW) is None


@pytest.mark.parametrize(
    "text",
    [
        "Leopard gecko hatchling 4 g, large crickets daily",
        "Bearded dragon 15 g, adult dubia roaches daily",
        "Leopard gecko hatchling 3 g, large roaches daily",
        "Crested gecko 3 g, superworms weekly",
        "Adult bearded dragon 400 g, pinhead crickets daily",
    ],
)
def test_insects_of_the_size_that_is_advised_are_no_finding(text: str) -> None:
    made = judged(text, correct=False)
    slug = next(one.slug for one in made.findings if one.slug.endswith(" insects"))
    tried = try_fixes(made, {slug}, NOW)
    assert tried is not None
    assert not [one for one in (*tried.left, *tried.new) if one.slug.endswith(" insects")]
