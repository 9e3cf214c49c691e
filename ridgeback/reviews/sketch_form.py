"""A described enclosure tapped together from pictures: what is not tapped was not said."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any, Literal

from django import forms
from django.utils.safestring import SafeString

from husbandry.errors import EntryError
from husbandry.quantity import Kind, Units, read, show
from husbandry.review.description import Description
from husbandry.review.fact_words import HEAT_WORDS, with_words
from husbandry.species.library import library
from ridgeback.drawing.tiles import size_tile, tile
from ridgeback.reviews.forms import STAGES, UNSAID, YES_NO, flag_of, put_together
from ridgeback.submissions.forms import OnceForm

NONE = "none"
SIZES_M = (
    (0.3, 0.3, 0.45),
    (0.45, 0.45, 0.45),
    (0.45, 0.45, 0.6),
    (0.45, 0.45, 0.9),
    (0.6, 0.45, 0.45),
    (0.6, 0.6, 1.2),
    (0.9, 0.45, 0.45),
    (1.2, 0.6, 0.6),
    (1.5, 0.75, 0.6),
    (1.8, 0.9, 0.6),
)
"""Sizes of enclosures as they are sold (common practice) [m]."""
LENGTH_MOST_M = 3.0
"""Nothing in an enclosure is farther apart or deeper (design choice) [m]."""
HEATERS = (
    "halogen_flood",
    "ceramic_emitter",
    "infrared_panel",
    "heat_mat",
    "tube_heater",
    "coloured_lamp",
    "hot_rock",
)
POWERED = HEATERS[:-1]
"""Heaters whose power is asked."""
UV_LAMPS = (
    ("t5_6", "T5 tube, 5 to 6 %"),
    ("t5_12", "T5 tube, 10 to 12 %"),
    ("t8_6", "T8 tube, 5 to 6 %"),
    ("compact_5", "compact lamp"),
    ("uv_flood", "heat and UVB in one bulb"),
    (NONE, "none"),
)
SUBSTRATES = (
    "soil",
    "coir",
    "sand",
    "calcium sand",
    "bark",
    "aspen",
    "moss",
    "gravel",
    "paper",
    "carpet",
    "tile",
)
FOODS = (
    "cricket",
    "locust",
    "roach",
    "mealworm",
    "superworm",
    "waxworm",
    "earthworm",
    "mouse",
    "rat",
    "greens",
    "lettuce",
    "fruit",
    "grass",
    "pellets",
    "paste",
    "cat food",
)
PACES = (
    UNSAID,
    ("1", "every day"),
    ("2", "every other day"),
    ("3.5", "twice a week"),
    ("7", "once a week"),
    ("14", "every two weeks"),
)
SUPPLEMENTS = ("calcium", "calcium + D3", "multivitamin", NONE)


@dataclass(frozen=True)
class Tile:
    """A picture that can be tapped."""

    id: str
    value: str
    label: str
    picture: SafeString
    chosen: bool


@dataclass(frozen=True)
class TileGroup:
    """One question, answered by tapping one or several pictures."""

    legend: str
    name: str
    type: Literal["radio", "checkbox"]
    tiles: tuple[Tile, ...]
    errors: tuple[str, ...]
    more: tuple[forms.BoundField, ...] = ()
    """What may be written beside them."""


def _one(label: str, choices: tuple[tuple[str, str], ...]) -> forms.ChoiceField:
    return forms.ChoiceField(label=label, choices=choices, required=False)


def _several(label: str, choices: tuple[tuple[str, str], ...]) -> forms.MultipleChoiceField:
    return forms.MultipleChoiceField(label=label, choices=choices, required=False)


def _named(values: tuple[str, ...]) -> tuple[tuple[str, str], ...]:
    return tuple((value, value) for value in values)


class SketchForm(OnceForm):
    """Every question may stay open."""

    species = forms.ChoiceField(label="Animal", required=False)
    stage = _one("Stage", STAGES)
    count = forms.IntegerField(label="How many", min_value=1, max_value=20, required=False)
    enclosure = _one(
        "Enclosure",
        (
            ("glass", "glass"),
            ("timber", "timber"),
            ("board", "plastic board"),
            ("mesh", "mesh cage"),
            ("tub", "tub"),
            ("open table", "open table"),
            ("tank of water", "aquarium"),
        ),
    )
    size = _one("Size: length, depth, height", ())
    size_words = forms.CharField(
        label="Another size",
        max_length=60,
        required=False,
        help_text="Such as 100 x 50 x 50 cm, or 40 gallon.",
    )
    lid = _one("Lid", (("mesh", "mesh"), ("solid", "solid"), ("open", "none")))
    heat = _several("Heat", (*((kind, HEAT_WORDS[kind]) for kind in HEATERS), (NONE, "none")))
    heat_distance = forms.CharField(
        label="From the lamp to where it basks", max_length=20, required=False
    )
    thermostat = _one("Thermostat", YES_NO)
    uv = _one("UVB", UV_LAMPS)
    uv_distance = forms.CharField(
        label="From the UVB lamp to its back", max_length=20, required=False
    )
    uv_age = forms.FloatField(
        label="Age of the UVB lamp, months", min_value=0, max_value=120, required=False
    )
    inside = _several(
        "Inside",
        (
            ("hide", "one hide"),
            ("two hides", "two or more hides"),
            ("moist hide", "moist hide"),
            ("branch", "branches"),
            ("plant", "live plants"),
            ("artificial", "artificial plants"),
            ("dish", "water dish"),
            ("pool", "pool"),
            ("slab", "stone under the lamp"),
            ("no hide", "no hide"),
        ),
    )
    substrate = _several("Substrate", (*_named(SUBSTRATES), (NONE, "bare floor")))
    substrate_depth = forms.CharField(label="Its depth", max_length=20, required=False)
    measured = _several(
        "Measured with",
        (
            ("dial", "dials on the glass"),
            ("digital", "digital, with probes"),
            ("infrared", "infrared thermometer"),
            ("uv meter", "UV meter"),
            (NONE, "nothing"),
        ),
    )
    food = _several("Food", _named(FOODS))
    pace = _one("How often", PACES)
    supplements = _several("Supplements", _named(SUPPLEMENTS))
    said: Description | None = None

    def __init__(self, *args: Any, units: Units, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.units = units
        names = sorted((profile.name, species) for species, profile in library().items())
        self._choices("species", (UNSAID, *((species, name) for name, species in names)))
        for kind in POWERED:
            self.fields[f"power_{kind}"] = forms.IntegerField(
                label=f"{HEAT_WORDS[kind].capitalize()}, W",
                min_value=1,
                max_value=2000,
                required=False,
            )
        self._choices("size", tuple((_key(sides), self._size_words(sides)) for sides in SIZES_M))

    def _choices(self, name: str, choices: tuple[tuple[str, str], ...]) -> None:
        self.fields[name].choices = choices  # type: ignore[attr-defined]  # a choice field

    def _size_words(self, sides: tuple[float, ...]) -> str:
        numbers = [show(side, Kind.LENGTH, self.units).partition(" ") for side in sides]
        return f"{' × '.join(number for number, _, _ in numbers)} {numbers[0][2]}"

    # what is shown

    def groups(self) -> Iterator[TileGroup]:
        """Its questions in order, with their pictures."""
        yield self._group("enclosure", "radio")
        yield self._group("size", "radio", more=("size_words",))
        yield self._group("lid", "radio", prefix="lid ")
        yield self._group(
            "heat",
            "checkbox",
            more=(*(f"power_{kind}" for kind in POWERED), "heat_distance", "thermostat"),
        )
        yield self._group("uv", "radio", more=("uv_distance", "uv_age"))
        yield self._group("inside", "checkbox")
        yield self._group("substrate", "checkbox", more=("substrate_depth",))
        yield self._group("measured", "checkbox")
        yield self._group("food", "checkbox", more=("pace",))
        yield self._group("supplements", "checkbox")

    def _group(
        self,
        name: str,
        type: Literal["radio", "checkbox"],
        *,
        more: tuple[str, ...] = (),
        prefix: str = "",
    ) -> TileGroup:
        bound = self[name]
        value = bound.value() or ""
        chosen = {value} if isinstance(value, str) else set(value)
        choices = list(self.fields[name].choices)  # type: ignore[attr-defined]  # a choice field
        if type == "radio":  # what was tapped by mistake can be taken back
            choices.insert(0, UNSAID)
            chosen = chosen or {""}
        tiles = tuple(
            Tile(
                f"{bound.auto_id}_{n}", key, label, _picture(name, f"{prefix}{key}"), key in chosen
            )
            for n, (key, label) in enumerate(choices)
        )
        return TileGroup(
            str(bound.label),
            name,
            type,
            tiles,
            tuple(str(error) for error in bound.errors),
            tuple(self[one] for one in more),
        )

    # what is said

    def clean(self) -> dict[str, Any]:
        """Put the facts together; what cannot be is said beside its field."""
        data: dict[str, Any] = super().clean() or {}

        if not self.errors:
            self.said = put_together(self, lambda: self._described(data))

        return data

    def _described(self, data: dict[str, Any]) -> Description:
        inside = set(data["inside"])
        depth_m = self._length("substrate_depth", data)
        facts: dict[str, Any] = {
            "animal": {
                "species": data["species"] or None,
                "stage": data["stage"] or None,
                "count": data["count"],
            },
            "enclosure": data["enclosure"] or None,
            "sides_m": _sides(data["size"]),
            "lid": data["lid"] or None,
            "heat": self._heat(data),
            "thermostat": flag_of(data["thermostat"]),
            "uv": self._uv(data),
            "instruments": _list(data["measured"]),
            "substrate": _list(data["substrate"]),
            "substrate_m": {"low": depth_m, "high": depth_m} if depth_m else None,
            **_furniture(inside),
            "food": self._food(data),
            "supplements": _supplements(data["supplements"]),
        }
        said = Description.model_validate(facts)

        if not data["size_words"].strip():
            return said

        try:
            return with_words(said, {"size": data["size_words"]})
        except EntryError as why:
            raise EntryError(f"size_words: {str(why).partition(': ')[2]}") from None

    def _length(self, name: str, data: dict[str, Any]) -> float | None:
        """A length in metres. Raises `EntryError` with the field in front of its sentence."""
        text = data[name].strip()

        if not text:
            return None
        try:
            value = read(text, Kind.LENGTH, self.units).value
        except EntryError as why:
            raise EntryError(f"{name}: {why}") from None
        if not 0 < value <= LENGTH_MOST_M:
            most = show(LENGTH_MOST_M, Kind.LENGTH, self.units)
            raise EntryError(f"{name}: More than nothing, and at most {most}.")

        return value

    def _heat(self, data: dict[str, Any]) -> list[dict[str, Any]] | None:
        chosen = [kind for kind in data["heat"] if kind != NONE]

        if not data["heat"]:
            return None
        distance_m = self._length("heat_distance", data)

        return [
            {"kind": kind, "power_w": data.get(f"power_{kind}"), "distance_m": distance_m}
            for kind in chosen
        ]

    def _uv(self, data: dict[str, Any]) -> list[dict[str, Any]] | None:
        if data["uv"] in {"", NONE}:
            return [] if data["uv"] else None
        family, _, percent = data["uv"].rpartition("_")
        told = family in {"t5", "t8", "compact"}

        return [
            {
                "kind": family if told else "uv_flood",
                "percent": float(percent) if told else None,
                "distance_m": self._length("uv_distance", data),
                "age_months": data["uv_age"],
            }
        ]

    def _food(self, data: dict[str, Any]) -> list[dict[str, Any]] | None:
        days = float(data["pace"]) if data["pace"] else None
        pace = {"low": days, "high": days} if days else None
        return [{"name": name, "every_days": pace} for name in data["food"]] or None


def _key(sides: tuple[float, ...]) -> str:
    return "x".join(f"{100 * side:.0f}" for side in sides)


def _sides(key: str) -> tuple[float, ...] | None:
    return next((sides for sides in SIZES_M if _key(sides) == key), None)


def _picture(name: str, key: str) -> SafeString:
    sides = _sides(key) if name == "size" else None
    if sides is not None:
        return size_tile(sides[0], sides[2])
    if name in {"food", "supplements", "measured"}:
        return SafeString("")
    return tile({"artificial": "plant"}.get(key, key))


def _list(values: list[str]) -> list[str] | None:
    """Tapped values; empty for “none”, None where nothing was tapped."""
    return [value for value in values if value != NONE] if values else None


def _furniture(inside: set[str]) -> dict[str, Any]:
    """Facts of what stands inside; what was not tapped was not said."""
    hides = 2 if "two hides" in inside else 1 if "hide" in inside else None
    moist = "moist hide" in inside or None

    if moist:
        hides = (hides or 0) + 1

    if hides is None and "no hide" in inside:
        hides = 0

    return {
        "hides": hides,
        "moist_hide": moist,
        "climbing": "branch" in inside or None,
        "basking_place": "slab" in inside or None,
        "plants": "live"
        if "plant" in inside
        else "artificial"
        if "artificial" in inside
        else None,
        "water": "pool" if "pool" in inside else "dish" if "dish" in inside else None,
    }


def _supplements(values: list[str]) -> list[dict[str, str]] | None:
    return [{"product": value} for value in values if value != NONE] if values else None
