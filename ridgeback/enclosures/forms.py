"""The layout's form: enclosure, items and animals on one page, checked by planning the result."""

import datetime as dt
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from django import forms

from husbandry.documents.request import Request
from husbandry.enclosure.catalogue import panels_of
from husbandry.enclosure.equipment import MATERIALS, MESHES
from husbandry.enclosure.substrate import question_depth
from husbandry.errors import DocumentError
from husbandry.findings.substrate_findings import rescaled
from husbandry.findings.weight import layers_of
from husbandry.items.union import Item
from husbandry.quantity import Kind, PlausibleRange, Units
from husbandry.species.approaches import QUESTIONS
from husbandry.species.profile import Profile
from ridgeback.approach_fields import approach_field, chosen_approaches
from ridgeback.enclosures.item_fields import POINTED, form_fields, item_data
from ridgeback.enclosures.models import Enclosure
from ridgeback.enclosures.moisture_form import wetting_field, wetting_fields, wetting_said
from ridgeback.enclosures.previews import as_tried
from ridgeback.fields import QuantityField
from ridgeback.sentences import sentence
from ridgeback.submissions.forms import Conflict

PANELS = [(m.name, m.label) for m in MATERIALS.values() if m.use == "panel"]
COVERED_TOGETHER: tuple[tuple[str, ...], ...] = (
    ("back",),
    ("back", "left"),
    ("back", "right"),
    ("back", "left", "right"),
    ("back", "left", "right", "front"),
)
"""Sides that are covered together (common practice)."""
SOLID = [(name, label) for name, label in PANELS if not MATERIALS[name].open_share]
SUBSTRATES = [(m.name, m.label) for m in MATERIALS.values() if m.use == "substrate"]
SLABS = [(m.name, m.label) for m in MATERIALS.values() if m.use == "slab"]
MESHED = [(m.name, m.label) for m in MESHES.values()]
LIDS = [("", "solid"), *MESHED]
VENTS = PlausibleRange((0, 2000), (0, 10_000))
"""Free area of the vents of an enclosure (common practice) [cm²]."""
PASSES = PlausibleRange((0.2, 0.95), (0.06, 1.0))


def _covers(now: tuple[str, ...]) -> list[tuple[str, str]]:
    """Sides that are usually covered together, and those that are now."""
    together = {"": "none"}
    for sides in (*COVERED_TOGETHER, now):
        *first, last = sides or ("",)
        if last:
            together[",".join(sides)] = f"{', '.join(first)} and {last}" if first else last
    return list(together.items())


@dataclass(frozen=True)
class FormSection:
    """A group of fields under one heading."""

    slug: str
    title: str
    fields: tuple[Any, ...]
    has_error: bool


class LayoutForm(forms.Form):
    """Everything about an enclosure that can be changed on its page.

    Shape is checked by the fields, meaning by the core: what only the parts together make
    impossible comes back as errors on the field it
    is about. `request_` holds the resulting request when the form is valid.
    """

    conflicts: tuple[Conflict, ...] = ()

    def __init__(
        self, *args: Any, enclosure: Enclosure, units: Units, now: dt.datetime, **kwargs: Any
    ) -> None:
        self.enclosure = enclosure
        self.units = units
        self.now = now
        self.kept = enclosure.request_at(now)
        self.request_: Request | None = None
        self._wetting: dict[str, Any] | None = None
        self.misting_rows: list[int] = []
        self._sections: list[tuple[str, str, list[str]]] = []
        super().__init__(*args, **kwargs)
        self._add_enclosure()
        self._section("wet", "Moisture", wetting_fields(self.kept.enclosure.wetting, self.units))
        for item in self.kept.items:
            self._add_item(item)
        for n in range(len(self.kept.animals)):
            self._add_animal(n)

    @property
    def seen(self) -> str:
        """The versions of its animals, as the page carries them: key:version, key:version."""
        present = self.enclosure.present
        return ",".join(f"{one.animal_id}:{one.animal.version}" for one in present)

    # --- fields -----------------------------------------------------------------------------------

    def _section(self, slug: str, title: str, fields: dict[str, forms.Field]) -> None:
        self._sections.append((slug, title, [f"{slug}-{name}" for name in fields]))
        for name, made in fields.items():
            self.fields[f"{slug}-{name}"] = made

    def _length(
        self, label: str, value: float | None, plausible: str = "distance", **kwargs: Any
    ) -> QuantityField:
        return QuantityField(
            Kind.LENGTH, self.units, label=label, value=value, plausible=plausible, **kwargs
        )

    def _temperature(
        self, label: str, value: float | None, plausible: str, **kwargs: Any
    ) -> QuantityField:
        return QuantityField(
            Kind.TEMPERATURE, self.units, label=label, value=value, plausible=plausible, **kwargs
        )

    def _vent(self, label: str, value: float) -> QuantityField:
        return QuantityField(
            Kind.AREA,
            self.units,
            label=label,
            value=value,
            plausible=VENTS,
            what="vent area",
            help_text="The free area of all of them together, or “24 holes of 3 mm”.",
        )

    def _lid_fields(self) -> dict[str, forms.Field]:
        """The lid, its mesh, and what that lets through."""
        lid = self.kept.enclosure.lid
        return {
            "lid": forms.ChoiceField(label="Lid", choices=SOLID, initial=lid.material),
            "mesh": forms.ChoiceField(
                label="Mesh in the lid", choices=LIDS, initial=lid.mesh or "", required=False
            ),
            "share": QuantityField(
                Kind.SHARE,
                self.units,
                label="Mesh over",
                value=lid.mesh_share or 0.5,
                required=False,
            ),
            "passes": QuantityField(
                Kind.SHARE,
                self.units,
                label="UV it lets through, if measured",
                value=lid.mesh_passes,
                plausible=PASSES,
                required=False,
            ),
        }

    def _add_enclosure(self) -> None:
        enclosure_spec = self.kept.enclosure
        self._section(
            "enclosure",
            "Enclosure",
            {
                "length": self._length(
                    "Length inside", enclosure_spec.inside_m.length, "enclosure length"
                ),
                "depth": self._length(
                    "Depth inside", enclosure_spec.inside_m.depth, "enclosure depth"
                ),
                "height": self._length(
                    "Height inside", enclosure_spec.inside_m.height, "enclosure height"
                ),
                "front": forms.ChoiceField(
                    label="Front", choices=PANELS, initial=enclosure_spec.panels.front
                ),
                "walls": forms.ChoiceField(
                    label="Other sides and floor",
                    choices=PANELS,
                    initial=enclosure_spec.panels.back,
                ),
                **self._lid_fields(),
                "vent_low": self._vent("Vents low in the sides", enclosure_spec.vents.low_cm2),
                "vent_high": self._vent("Vents high in the sides", enclosure_spec.vents.high_cm2),
                "covered": forms.ChoiceField(
                    label="Covered from outside",
                    choices=_covers(enclosure_spec.covered),
                    initial=",".join(enclosure_spec.covered),
                    required=False,
                    help_text="Clear sides that it does not see through.",
                ),
                "substrate": forms.ChoiceField(
                    label="Substrate",
                    choices=SUBSTRATES,
                    initial=enclosure_spec.substrate.material,
                ),
                "substrate_depth": self._length(
                    "Depth of substrate", enclosure_spec.substrate.depth_m, "substrate depth"
                ),
                **{
                    f"approach_{slug}": approach_field(slug, enclosure_spec.approaches)
                    for slug in self._asked("enclosure")
                },
            },
        )

    def _asked(self, of: str, n: int | None = None) -> list[str]:
        """The questions between approaches asked of the enclosure, for all who live in it, or of
        one animal.
        """
        profiles = self.kept.profiles
        species = [self.kept.animals[n].species] if n is not None else list(profiles)
        return [
            slug
            for slug in QUESTIONS
            if QUESTIONS[slug].of == of and any(slug in profiles[one].questions for one in species)
        ]

    def _add_item(self, item: Item) -> None:
        title = item.name
        fields = form_fields(item, self.units, self.kept.probes)
        self._section(f"item-{item.id}", title[0].upper() + title[1:], fields)

    def _add_animal(self, n: int) -> None:
        animal = self.kept.animals[n]
        kind = self.kept.profiles[animal.species].body.length_kind
        length = animal.length_mm.get(kind)
        words = {"total": "Total length", "snout_vent": "Snout to vent", "shell": "Shell length"}[
            kind
        ]
        fields: dict[str, forms.Field] = {
            # What was weighed or measured once cannot be unweighed here: a new value makes a new
            # row.
            "mass": QuantityField(
                Kind.MASS,
                self.units,
                label="Mass",
                value=animal.mass_g,
                plausible=_masses(self.kept.profiles[animal.species]),
                required=animal.mass_g is not None,
            ),
            "length": self._length(
                words,
                None if length is None else length / 1000,
                "body length",
                required=length is not None,
            ),
            "born": forms.DateField(
                label="Born on",
                initial=animal.born_on,
                required=False,
                widget=forms.DateInput(attrs={"type": "date"}, format="%Y-%m-%d"),
            ),
            "fed": forms.DateField(
                label="Last fed on",
                initial=animal.fed_on,
                required=False,
                widget=forms.DateInput(attrs={"type": "date"}, format="%Y-%m-%d"),
            ),
        }
        fields |= {
            slug: approach_field(slug, animal.approaches) for slug in self._asked("animal", n)
        }
        self._section(f"animal-{n}", animal.name or "Animal", fields)

    # --- checking ---------------------------------------------------------------------------------

    def clean(self) -> dict[str, Any]:
        """Build the request and let the core look at it as a whole."""
        cleaned = super().clean() or {}
        if self.errors:
            return cleaned
        for n in range(len(self.kept.animals)):
            for name in ("born", "fed"):
                day = cleaned[f"animal-{n}-{name}"]
                if day and day > self.kept.today:
                    self.add_error(f"animal-{n}-{name}", "This day is still to come.")
        self._whole_thermostats(cleaned)
        laid = (cleaned["enclosure-substrate"], cleaned["enclosure-substrate_depth"])
        thick = question_depth(*laid, units=self.units)
        substrate = self.kept.enclosure.substrate
        if thick is not None and laid != (substrate.material, substrate.depth_m):
            self.add_error("enclosure-substrate_depth", thick.sentence)
        self._wetting = wetting_said(self, cleaned, self.kept.enclosure.wetting)
        if self.errors:
            return cleaned
        try:
            tried = self.enclosure.request_at(
                self.now, self._spec(cleaned), animals=self._animals(cleaned)
            )
            self.request_ = as_tried(tried, self.kept)
        except DocumentError as why:
            for problem in why.problems:
                self.add_error(self._field_of(problem.pointer), sentence(problem.reason))
        return cleaned

    def _whole_thermostats(self, cleaned: dict[str, Any]) -> None:
        """A thermostat needs both its probe and its temperature: half of one is asked for, not
        dropped.
        """
        for item in self.kept.items:
            probe = f"item-{item.id}-probe"
            held = f"item-{item.id}-set"
            if probe in self.fields and cleaned.get(probe) and cleaned.get(held) is None:
                self.add_error(held, "Write the temperature it is to hold.")
            elif probe in self.fields and not cleaned.get(probe) and cleaned.get(held) is not None:
                self.add_error(
                    probe, "Say where its probe is, or clear the temperature beside it."
                )
            elif cleaned.get(f"{held}_night") is not None and cleaned.get(held) is None:
                self.add_error(held, "Write what it holds by day as well.")

    def _field_of(self, pointer: str) -> str | None:
        """The field a problem of the request is about."""
        parts = pointer.strip("/").split("/")
        name: str | None = None
        match parts:
            case ["items", index, *rest] if int(index) < len(self.kept.items):
                last = "-".join(rest)
                name = f"item-{self.kept.items[int(index)].id}-{POINTED.get(last, last)}"
                if name not in self.fields and last.startswith("at_m"):
                    name = f"item-{self.kept.items[int(index)].id}-x"
            case ["enclosure", "inside_m", side]:
                name = f"enclosure-{side}"
            case ["enclosure", "substrate", "depth_m" | "slope", *_]:
                name = "enclosure-substrate_depth"
            case ["enclosure", "wetting", *rest]:
                name = wetting_field(rest, self.misting_rows)
            case ["enclosure", "lid", "mesh_passes"]:
                name = "enclosure-passes"
            case ["enclosure", "lid", *_]:
                name = "enclosure-share"
            case ["animals", n, *rest]:
                name = f"animal-{n}-{'mass' if rest[:1] == ['mass_g'] else 'length'}"
        return name if name in self.fields else None

    def _spec(self, cleaned: dict[str, Any]) -> dict[str, Any]:
        """Enclosure and items, as a revision keeps them."""
        enclosure_spec = self.kept.enclosure
        mesh = cleaned["enclosure-mesh"] or None
        share = cleaned["enclosure-share"]
        walls = cleaned["enclosure-walls"]
        depth = cleaned["enclosure-substrate_depth"]
        front = cleaned["enclosure-front"]
        panels = (
            panels_of(front, walls)
            if walls != enclosure_spec.panels.back
            else enclosure_spec.panels.model_dump(exclude={"front"})
        )
        return {
            "enclosure": {
                "inside_m": {
                    side: cleaned[f"enclosure-{side}"] for side in ("length", "depth", "height")
                },
                "panels": {**panels, "front": front},
                "lid": {
                    "material": cleaned["enclosure-lid"],
                    "mesh": mesh,
                    "mesh_share": (share if share is not None else 0.5) if mesh else 0.0,
                    "mesh_passes": cleaned["enclosure-passes"] if mesh else None,
                },
                "substrate": {
                    **enclosure_spec.substrate.model_dump(mode="json"),
                    "material": cleaned["enclosure-substrate"],
                    "depth_m": depth,
                    "layers": self._layers(depth),
                },
                "vents": {
                    **enclosure_spec.vents.model_dump(),
                    "low_cm2": cleaned["enclosure-vent_low"],
                    "high_cm2": cleaned["enclosure-vent_high"],
                },
                "covered": [side for side in cleaned["enclosure-covered"].split(",") if side],
                "wetting": self._wetting,
                "approaches": chosen_approaches(
                    {
                        slug: cleaned[f"enclosure-approach_{slug}"]
                        for slug in self._asked("enclosure")
                    }
                ),
            },
            "items": [
                self._raised(
                    item,
                    self._item(item, cleaned, depth - enclosure_spec.substrate.depth_m),
                    cleaned,
                )
                for item in self.kept.items
            ],
        }

    def _raised(self, item: Item, data: dict[str, Any], cleaned: dict[str, Any]) -> dict[str, Any]:
        """What stands above the lid rises and sinks with it, unless its own height was written
        anew.
        """
        rise = cleaned["enclosure-height"] - self.kept.enclosure.inside_m.height
        x, y, z = data["at_m"]
        if item.hangs_above_lid and data.get("above_lid") and abs(z - item.at_m[2]) < 1e-9:
            data["at_m"] = [x, y, round(z + rise, 4)]
        return data

    def _layers(self, depth_m: float) -> list[dict[str, Any]]:
        """The bed as it is, as deep as is said now."""
        return [
            {"depth_m": layer.depth_m, "parts": dict(layer.parts)}
            for layer in rescaled(layers_of(self.kept), depth_m)
        ]

    def _item(self, item: Item, cleaned: dict[str, Any], lift_m: float) -> dict[str, Any]:
        start = f"item-{item.id}-"
        typed = {
            name.removeprefix(start): v for name, v in cleaned.items() if name.startswith(start)
        }
        return item_data(item, typed, lift_m)

    def _animals(self, cleaned: dict[str, Any]) -> list[dict[str, Any]]:
        found = []
        for n, animal in enumerate(self.kept.animals):
            kind = self.kept.profiles[animal.species].body.length_kind
            length = cleaned[f"animal-{n}-length"]
            lengths: dict[str, float] = {k: v for k, v in animal.length_mm.items() if k != kind}
            if length is not None:
                lengths[kind] = round(length * 1000, 3)
            chosen = chosen_approaches(
                {slug: cleaned[f"animal-{n}-{slug}"] for slug in self._asked("animal", n)}
            )
            data = animal.model_dump(mode="json")
            born = cleaned[f"animal-{n}-born"]
            fed = cleaned[f"animal-{n}-fed"]
            data |= {
                "mass_g": cleaned[f"animal-{n}-mass"],
                "length_mm": lengths,
                "born_on": born.isoformat() if born else None,
            }
            data |= {"fed_on": fed.isoformat() if fed else None, "approaches": chosen}
            found.append(data)
        return found

    # --- for the page -----------------------------------------------------------------------------

    def sections(self) -> Iterator[FormSection]:
        """The groups in order, with bound fields."""
        for slug, title, names in self._sections:
            yield FormSection(
                slug,
                title,
                tuple(self[name] for name in names),
                any(name in self.errors for name in names),
            )

    def doubt(self, name: str) -> str:
        """The question about a value that is unlikely."""
        made = self.fields[name]
        return made.asked if isinstance(made, QuantityField) else ""

    @property
    def changed(self) -> bool:
        """Whether the result differs from what is kept."""
        return self.request_ is not None and self.request_ != self.kept


def _masses(profile: Profile) -> PlausibleRange:
    """From half of the lightest newborn to half as much again as the heaviest adult."""
    stages = profile.stages
    return PlausibleRange(
        (0.5 * (stages[0].mass_g.low or 1.0), 1.5 * (stages[-1].mass_g.high or 100_000)),
        (0.05, 500_000),
    )
