"""Where a thermostat's probe is, as one choice: one of the usual places, or a probe that was
placed.
"""

from collections.abc import Iterable

from husbandry.items.thermostats import ThermostatSpec

USUAL = [
    ("surface", "on the basking surface"),
    ("warm_air", "in warm-end air"),
    ("cool_air", "in cool-end air"),
]
PLACED = "at "


def probe_choices(ids: Iterable[str]) -> list[tuple[str, str]]:
    """What can be chosen beside probes that were placed, by their ids: value and words."""
    placed = [(PLACED + one, f"{one.replace('-', ' ')}, where it is placed") for one in ids]
    return [("", "none"), *USUAL, *placed]


def probe_chosen(held: ThermostatSpec | None) -> str:
    """The value of what is chosen."""
    if held is None:
        return ""
    return PLACED + held.probe_id if held.probe_id is not None else held.probe


def probe_said(chosen: str) -> dict[str, str | None]:
    """A choice as a thermostat holds it."""
    if chosen.startswith(PLACED):
        return {"probe": "placed", "probe_id": chosen.removeprefix(PLACED)}
    return {"probe": chosen, "probe_id": None}
