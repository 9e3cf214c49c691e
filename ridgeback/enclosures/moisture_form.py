"""How an enclosure is kept damp, as fields: its substrate, mistings, a fogger, a pump and its tank."""

import functools
from typing import Any

from django import forms

from husbandry.documents.enclosure import MoistureControl
from husbandry.quantity import Kind, PlausibleRange, Units
from ridgeback.fields import QuantityField, clock

MISTINGS = 4
"""So many can be written; more come with a timetable."""
SUBSTRATES = [
    ("", "not said"),
    ("dry", "dry"),
    ("dry top", "damp below, its top dry"),
    ("damp", "damp"),
    ("wet", "wet"),
]
SPRAY, FOG, TANK = (
    PlausibleRange((0.002, 1.0), (0.001, 5.0)),
    PlausibleRange((0.02, 0.5), (0.001, 2.0)),
    PlausibleRange((0.5, 60), (0.1, 500)),
)
NOZZLES = PlausibleRange((0.0002, 0.03), (0.0001, 0.1))


def _volume(
    units: Units,
    label: str,
    ml: float | None,
    plausible: PlausibleRange,
    *,
    small: bool = True,
    digits: int | None = None,
    what: str = "",
) -> QuantityField:
    """A field for a volume that is kept in millilitres."""
    return QuantityField(
        Kind.VOLUME,
        units,
        label=label,
        value=None if ml is None else ml / 1000,
        plausible=plausible,
        small=small,
        digits=digits,
        what=what,
        required=False,
    )


def wetting_fields(wetting: MoistureControl | None, units: Units) -> dict[str, forms.Field]:
    """The fields, as the enclosure is kept."""
    kept = wetting or MoistureControl()
    said = "" if wetting is None else kept.substrate
    fields: dict[str, forms.Field] = {
        "substrate": forms.ChoiceField(
            label="Substrate moisture", choices=SUBSTRATES, initial=said, required=False
        )
    }

    volume = functools.partial(_volume, units)
    for n in range(max(MISTINGS, len(kept.mistings))):
        one = kept.mistings[n] if n < len(kept.mistings) else None
        fields[f"at{n}"] = forms.TimeField(
            label=f"Misted, {n + 1}",
            initial=one.at if one else None,
            required=False,
            widget=clock(),
        )
        fields[f"ml{n}"] = volume("with", one.ml if one else None, SPRAY, what="misting")
    fields["days"] = forms.IntegerField(
        label="Misted every so many days",
        initial=kept.mist_days,
        required=False,
        min_value=1,
        max_value=30,
        help_text="1: every day at those times. 7: once a week.",
    )
    fields["nozzles"] = volume(
        "Pump, all nozzles, a second",
        kept.nozzles_ml_s,
        NOZZLES,
        digits=1,
        what="pump’s water a second",
    )
    fields["tank"] = volume(
        "Its tank",
        None if kept.tank_l is None else 1000 * kept.tank_l,
        TANK,
        small=False,
        digits=1,
        what="tank",
    )
    return fields


def wetting_said(
    form: forms.Form, cleaned: dict[str, Any], kept: MoistureControl | None, prefix: str = "wet-"
) -> dict[str, Any] | None:
    """What was said, as the request takes it; None where nothing was.

    Halves of a misting are asked for.
    """

    def typed(name: str) -> Any:
        return cleaned.get(prefix + name)

    mistings: list[dict[str, Any]] = []
    rows: list[int] = []
    for n in range(sum(name.startswith(f"{prefix}at") for name in form.fields)):
        at = typed(f"at{n}")
        litres = typed(f"ml{n}")
        if at is not None and litres is None:
            form.add_error(f"{prefix}ml{n}", "Write how much is sprayed then.")
        elif at is None and litres is not None:
            form.add_error(f"{prefix}at{n}", "Write when it is sprayed.")
        elif at is not None:
            mistings.append({"at": at.strftime("%H:%M"), "ml": round(1000 * litres, 3)})
            rows.append(n)
    nozzles = typed("nozzles")
    tank = typed("tank")
    if not typed("substrate"):
        if mistings or nozzles or tank:
            form.add_error(
                f"{prefix}substrate",
                "Say how damp its substrate is kept: an enclosure is predicted with all of its"
                " water, or not at all.",
            )
        return None
    order = sorted(range(len(mistings)), key=lambda k: str(mistings[k]["at"]))
    form.misting_rows = [rows[k] for k in order]  # type: ignore[attr-defined]  # for whoever says what is wrong with the nth of them
    return {
        "substrate": typed("substrate"),
        "mistings": [mistings[k] for k in order],
        "mist_days": typed("days") or 1,
        "logged": (
            kept.logged.model_dump(mode="json")
            if kept is not None and kept.logged is not None
            else None
        ),
        "nozzles_ml_s": round(1000 * nozzles, 4) if nozzles else None,
        "tank_l": tank,
    }


def wetting_field(rest: list[str], rows: list[int]) -> str:
    """The field that a problem of the request's wetting is about, by the rest of its pointer and
    the rows the mistings were typed in.
    """
    match rest:
        case ["mistings", n, part]:
            return (
                f"wet-{'at' if part == 'at' else 'ml'}{rows[int(n)] if int(n) < len(rows) else 0}"
            )
        case ["mist_days", *_]:
            return "wet-days"
        case ["fogger", *_]:
            return "wet-fog"
    return "wet-substrate"
