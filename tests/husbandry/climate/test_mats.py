"""Heat mats against an independent solution by finite volumes, and by what is known of them."""

from typing import Any

import pytest

from benchmarks.mats import MAT_K, SURFACE_K, request
from husbandry.documents.request_json import from_data
from husbandry.enclosure.equipment import MATERIALS
from husbandry.plan.plan import plan_with_prediction
from husbandry.predict.predict import Prediction
from tests.husbandry.climate.finite_volumes import MatCase, temperatures

FLOOR = (0.9, 0.45)
MAT = (0.28, 0.28)


def seen(data: dict[str, Any]) -> Prediction:
    """What the core predicts of a request."""
    return plan_with_prediction(from_data(data))[1]


@pytest.mark.parametrize(
    ("power_w", "mat_m", "bed"),
    [
        (7, (0.28, 0.15), ("soil", 0.02)),
        (14, MAT, ("soil", 0.05)),
        (14, MAT, ("sand", 0.03)),
        (20, (0.42, 0.28), ("paper", 0.002)),
        (28, (0.40, 0.30), ("soil", 0.02)),
        (28, (0.40, 0.30), ("soil", 0.08)),
    ],
)
def test_surface_and_mat_are_those_of_finite_volumes(
    power_w: float, mat_m: tuple[float, float], bed: tuple[str, float]
) -> None:
    """Six of the forty cases of benchmarks/mats.py."""
    made = seen(request(power_w, mat_m, FLOOR, bed))
    panel = MATERIALS[made.request.enclosure.panels.bottom]
    surface_c, mat_c = temperatures(
        MatCase(
            power_w=power_w,
            mat_m=mat_m,
            floor_m=FLOOR,
            depth_m=bed[1],
            substrate_w_mk=MATERIALS[bed[0]].conductivity_w_mk,
            panel_m=panel.thickness_m,
            panel_w_mk=panel.conductivity_w_mk,
            air_c=made.day.value(made.day.air(FLOOR[0] / 2, bed[1] + 0.05)),
            room_c=21.0,
        )
    )

    assert made.day.value(made.day.surface(0)) == pytest.approx(surface_c, abs=SURFACE_K)
    assert made.day.mat_face(0) == pytest.approx(mat_c, abs=MAT_K)


def test_a_larger_mat_of_the_same_power_is_cooler() -> None:
    small, large = (
        made.day.value(made.day.surface(0))
        for made in (
            seen(request(7, size, (0.9, 0.5), ("soil", 0.02)))
            for size in ((0.28, 0.15), (0.28, 0.45))
        )
    )

    assert small > large + 4


def test_a_mat_does_not_know_how_deep_the_enclosure_is() -> None:
    """35.2 to 34.3 °C from 28 to 90 cm by finite volumes; it once fell by six kelvin."""
    found = [
        made.day.value(made.day.surface(0))
        for made in (
            seen(request(14, MAT, (0.9, deep), ("soil", 0.02))) for deep in (0.45, 0.6, 0.9)
        )
    ]

    assert max(found) - min(found) < 1.2
    assert min(found) > 33.5 and max(found) < 36.0


def test_a_hide_over_a_mat_keeps_its_warmth() -> None:
    """35.7 °C under it, 32.3 beside it, in one case of an independent calculation."""
    data = request(14, MAT, FLOOR, ("soil", 0.03))
    hide = {
        "id": "hide-1",
        "kind": "hide",
        "at_m": [0.38, 0.225, 0.03],
        "size_m": [0.14, 0.2, 0.1],
    }
    made = seen({**data, "items": [*data["items"], hide]})
    slabs = made.day.heat_model.slabs
    under = next(n for n, slab in enumerate(slabs) if slab.cover_m2k_w)
    beside = next(n for n, slab in enumerate(slabs) if not slab.cover_m2k_w)
    values = [made.day.value(made.day.surface(n)) for n in (under, beside)]

    assert 1.5 < values[0] - values[1] < 6.0


def test_energy_is_kept() -> None:
    made = seen(request(28, (0.40, 0.30), (1.2, 0.6), ("soil", 0.04)))

    assert abs(made.day.energy_residual_w()) < 1e-9


def test_a_mat_that_gets_hot_under_deep_substrate_is_named() -> None:
    deep, _ = plan_with_prediction(from_data(request(28, (0.40, 0.30), FLOOR, ("sand", 0.06))))
    thin, _ = plan_with_prediction(from_data(request(7, MAT, FLOOR, ("soil", 0.02))))
    hot = [note for note in deep.notes if note.slug == "mat hot"]

    assert hot and hot[0].values["mat_c"] > 50
    assert not [note for note in thin.notes if note.slug == "mat hot"]
