"""Sentences with numbers, in both unit systems."""

import datetime as dt
from typing import Any

import pytest

from husbandry.documents.request_json import from_data
from husbandry.documents.result import Change, Effect, Verdict
from husbandry.plan.plan import plan
from husbandry.quantity import METRIC, Units
from husbandry.species.needs import NeedKey
from ridgeback import sentences
from ridgeback.enclosures import wording
from tests.web.test_drawing import PLAN, REQUEST

US = Units("us", "f")


def change(kind: str, **values: Any) -> Change:
    """A change with only what its title needs."""
    return Change.model_construct(
        kind=kind, item_id="x", item_name=values.pop("name", "halogen flood"), values=values
    )


TITLES = [
    (
        change("height", from_m=0.5, to_m=0.46),
        "Lower the halogen flood 4 cm",
        "Lower the halogen flood 1.6 in",
    ),
    (
        change("height", from_m=0.40, to_m=0.46),
        "Raise the halogen flood 6 cm",
        "Raise the halogen flood 2.4 in",
    ),
    (
        change("uv_height", from_m=0.5, to_m=0.4, name="T5 high-output tube, 14 %"),
        "Lower the T5 high-output tube, 14 % 10 cm",
        None,
    ),
    (change("power", from_w=50, to_w=75), "Fit 75 W instead of 50 W", "Fit 75 W instead of 50 W"),
    (
        change("power_and_height", to_w=75, distance_m=0.3),
        "Fit 75 W and hang it 30 cm above the surface",
        "Fit 75 W and hang it 11.8 in above the surface",
    ),
    (
        change("set_point", set_c=40.5),
        "Set the thermostat to 40.5 °C",
        "Set the thermostat to 105 °F",
    ),
    (
        change("add_thermostat", set_c=40.0),
        "Fit a dimming thermostat at 40.0 °C",
        "Fit a dimming thermostat at 104 °F",
    ),
    (
        change("uv_class", to_name="T5 high-output tube, 14 %", to_length_m=0.85),
        "Fit a T5 high-output tube, 14 %, 85 cm",
        None,
    ),
    (
        change("uv_below_mesh", distance_m=0.25),
        "Hang the tube below the mesh, 25 cm above its back",
        None,
    ),
    (change("uv_new", hours=4000), "Replace the tube with a new one of the same class", None),
    (
        change(
            "uv_add",
            to_name="T5 high-output tube, 5-6 %",
            to_length_m=0.55,
            distance_m=0.2,
            place="below the lid",
        ),
        "Add a T5 high-output tube, 5-6 %, 55 cm, below the lid, 20 cm above its back",
        None,
    ),
    (
        change("heat_add", to_w=75, distance_m=0.32),
        "Add a 75 W halogen flood 32 cm above the surface",
        None,
    ),
    (
        change("night_heat", to_w=60, set_c=20.0, name="ceramic heat emitter"),
        "Add a 60 W ceramic heat emitter at night, thermostat at 20.0 °C",
        None,
    ),
    (
        change("night_heat", to_w=7, set_c=20.0, name="heat mat"),
        (
            "Add a 7 W heat mat under the substrate, over part of the floor only, thermostat at"
            " 20.0 °C"
        ),
        None,
    ),
    (
        change("move_item", name="water dish", to_x_m=0.45, to_y_m=0.1),
        "Move the water dish: 45 cm from the left, 10 cm from the front",
        "Move the water dish: 17.7 in from the left, 3.9 in from the front",
    ),
    (
        change("uv_times", spans="09:00 to 10:00, 18:00 to 19:00"),
        "Set the ultraviolet’s timer: on from 09:00 to 10:00, 18:00 to 19:00",
        None,
    ),
    (change("cover_mesh", to_share=0.3), "Cover half of the open mesh: 30% left open", None),
    (
        change("larger_enclosure", length_m=1.5, depth_m=0.6, height_m=0.6),
        "Move to an enclosure of 150 × 60 × 60 cm inside",
        "Move to an enclosure of 59.1 × 23.6 × 23.6 in inside",
    ),
]


@pytest.mark.parametrize(
    ("made", "metric", "us"), TITLES, ids=lambda v: v.kind if isinstance(v, Change) else ""
)
def test_titles_say_what_to_do_with_its_number(made: Change, metric: str, us: str | None) -> None:
    assert wording.change_title(made, METRIC) == metric
    assert us is None or wording.change_title(made, US) == us


def test_effects_and_gaps() -> None:
    effect = Effect(
        need=NeedKey.SURFACE_DAY, unit="°C", before=36.1, after=40.2, direction="right"
    )
    assert wording.effect(effect, METRIC) == "surface 36.1 → 40.2 °C"
    assert wording.effect(effect, US) == "surface 97 → 104 °F"
    assert wording.effect(effect.model_copy(update={"before": None}), METRIC) == "surface 40.2 °C"
    assert (
        wording.gap(NeedKey.SURFACE_DAY, 2.0, METRIC) == "2"
        and wording.gap(NeedKey.SURFACE_DAY, 2.0, US) == "4"
    )
    assert wording.gap(NeedKey.UVI_DAY, 0.3, METRIC) == "0.3"


@pytest.mark.parametrize(
    ("verdict", "said"),
    [
        (
            {"direction": "below", "by": 1.9, "sure": True, "speaks": "measured", "limit": "kept"},
            "1.9 too low",
        ),
        (
            {"direction": "right", "sure": False, "speaks": "predicted", "limit": "kept"},
            "predicted in range, likely",
        ),
        (
            {
                "direction": "above",
                "by": 8.0,
                "sure": True,
                "speaks": "measured",
                "limit": "breached",
            },
            "8 too high, outside the safe limit",
        ),
        (
            {
                "direction": "above",
                "by": 0.02,
                "sure": False,
                "speaks": "predicted",
                "limit": "kept",
            },
            "predicted just too high, likely",
        ),
        ({"direction": "unknown", "speaks": "nothing"}, "not measured lately"),
    ],
)
def test_verdicts(verdict: dict[str, Any], said: str) -> None:
    need = PLAN.needs[0].model_copy(update={"verdict": Verdict.model_validate(verdict)})
    assert wording.verdict(need, METRIC) == said


@pytest.mark.parametrize(
    ("ago", "said"),
    [
        ({"minutes": 5}, "5 min ago"),
        ({"hours": 8}, "8 h ago"),
        ({"days": 3}, "3 days ago"),
        ({"days": 40}, "6 weeks ago"),
    ],
)
def test_ages(ago: dict[str, int], said: str) -> None:
    now = dt.datetime(2026, 6, 14, 12, tzinfo=dt.UTC)
    assert wording.age(now - dt.timedelta(**ago), now) == said


def test_every_change_of_a_bad_enclosure_has_its_sentence_and_its_safety() -> None:
    data = REQUEST.model_dump(mode="json")
    data["items"][0] |= {"power_w": 150}
    data["room"] |= {"night_c": 12}
    data["readings"] = []
    made = plan(from_data(data))
    assert len(made.changes) >= 3
    for item in made.changes:
        for units in (METRIC, US):
            assert wording.change_title(item, units)
            risk = wording.safety(item, units)
            assert risk.startswith("If its thermostat failed on, it would reach") or (
                item.clears and not item.effects and not risk
            )
    unsafe = [c for c in made.changes if not c.safety.safe and wording.safety(c, METRIC)]
    assert all("cut-out" in wording.safety(c, METRIC) for c in unsafe)


@pytest.mark.parametrize(
    ("value", "unit", "metric", "us"),
    [
        (0.3, "m", "30 cm", "11.8 in"),
        (5.5, "mm", "5.5 mm", "0.22 in"),
        (282, "mm", "28 cm", "11.1 in"),
        (0.45, "g", "0.45 g", "0.45 g"),
        (40.0, "°C", "40.0 °C", "104.0 °F"),
        (0.66, "1", "66 %", "66 %"),
        (1.8, "1", "1.8", "1.8"),
        (78, "mg/100 g", "78 mg/100 g", "78 mg/100 g"),
        (75, "W", "75 W", "75 W"),
    ],
)
def test_inputs_of_a_working_are_in_the_readers_units(
    value: float, unit: str, metric: str, us: str
) -> None:
    assert (
        sentences.number_text(value, unit, METRIC) == metric
        and sentences.number_text(value, unit, US) == us
    )
