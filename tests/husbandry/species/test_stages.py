import datetime as dt
import itertools

import pytest

from husbandry.species.library import find, library
from husbandry.species.parts import LengthKind
from husbandry.species.stages import stage_of, stage_slug_of

TODAY = dt.date(2026, 6, 1)
SKINK = find("Tiliqua scincoides")


def born(months: float) -> dt.date:
    return TODAY - dt.timedelta(days=round(months * 30.44))


@pytest.mark.parametrize(
    ("months", "mass", "length", "stage", "decided_by"),
    [
        (1, 20, 160, "newborn", "mass"),
        (6, 90, 270, "juvenile", "mass"),
        (12, 250, 400, "subadult", "mass"),
        (40, 500, 520, "adult", "mass"),
        (None, 155, 390, "subadult", "mass"),  # in the overlap of mass, the length chooses
        (None, None, 400, "subadult", "length"),
        (30, None, None, "adult", "age"),
        (None, 5000, None, "adult", "mass"),
        (None, 1, None, "newborn", "mass"),
    ],
)
def test_the_body_decides(
    months: float | None, mass: float | None, length: float | None, stage: str, decided_by: str
) -> None:
    lengths: dict[LengthKind, float] = {"total": length} if length else {}
    found = stage_of(
        SKINK,
        today=TODAY,
        born_on=born(months) if months else None,
        mass_g=mass,
        length_mm=lengths,
    )
    assert (found.slug, found.decided_by) == (stage, decided_by)


@pytest.mark.parametrize(
    ("months", "mass", "length", "finding"),
    [
        (14, 60, 240, "behind its age"),
        (5, 260, 400, "ahead of its age"),
        (22, 500, 400, "heavy for its length"),
        (30, 200, 520, "light for its length"),
    ],
)
def test_disagreement_is_a_finding(
    months: float, mass: float, length: float, finding: str
) -> None:
    found = stage_of(
        SKINK, today=TODAY, born_on=born(months), mass_g=mass, length_mm={"total": length}
    )
    assert finding in {f.slug for f in found.findings}
    assert all(f.text for f in found.findings)


def test_agreement_finds_nothing() -> None:
    assert (
        stage_of(
            SKINK, today=TODAY, born_on=born(12), mass_g=250, length_mm={"total": 400}
        ).findings
        == ()
    )


def test_an_unknown_animal_is_planned_as_an_adult_and_says_so() -> None:
    found = stage_of(SKINK, today=TODAY)
    assert (found.slug, found.decided_by) == ("adult", "nothing") and found.findings[
        0
    ].slug == "nothing known"


def test_the_stage_shows_its_working() -> None:
    derivation = stage_of(
        SKINK, today=TODAY, born_on=born(12), mass_g=155, length_mm={"total": 390}
    ).derivation
    assert (
        derivation is not None
        and (derivation.value, derivation.unit) == (155, "g")
        and derivation.sources
    )
    assert {i.name: i.text for i in derivation.inputs if i.text} == {
        "mass says": "juvenile or sub-adult",
        "length says": "sub-adult",
        "age says": "sub-adult",
    }


@pytest.mark.parametrize(
    ("known", "confidence", "because"),
    [
        ({"mass_g": 60, "born_on": dt.date(2025, 12, 1)}, "sure", "mass and age agree"),
        ({"mass_g": 60}, "likely", "mass alone"),
        ({"born_on": dt.date(2025, 12, 1)}, "likely", "weigh it"),
        ({"mass_g": 42, "born_on": dt.date(2026, 4, 1)}, "likely", "its age chose"),
        ({"mass_g": 42}, "unsure", "between newborn and juvenile"),
        ({"mass_g": 60, "born_on": dt.date(2020, 1, 1)}, "unsure", "the body decides"),
        ({}, "unsure", "nothing is known"),
    ],
)
def test_how_sure_a_stage_is_and_why(known, confidence, because):
    found = stage_of(find("Tiliqua scincoides"), today=dt.date(2026, 6, 1), **known)
    assert found.confidence == confidence and because in found.because


@pytest.mark.parametrize("species", sorted(library())[::5])
def test_the_stage_alone_is_the_stage_that_is_told(species: str) -> None:
    profile = library()[species]
    kind = profile.body.length_kind
    grown = profile.stages[-1]
    lengths = (
        [None, {kind: 0.4 * grown.length_mm[kind].low}] if kind in grown.length_mm else [None]
    )

    for months, share, length in itertools.product((None, 2, 400), (None, 0.1, 0.6, 2), lengths):
        known = {
            "today": TODAY,
            "born_on": born(months) if months else None,
            "mass_g": share * grown.mass_g.low if share else None,
            "length_mm": length,
        }
        assert stage_slug_of(profile, **known) == stage_of(profile, **known).slug
