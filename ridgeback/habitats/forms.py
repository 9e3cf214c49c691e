"""The layout's form: enclosure, items and animals on one page, checked by planning the result."""

import datetime as dt
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from django import forms

from husbandry.box.equipment import HEATERS, MATERIALS, MESHES, UV_LAMPS
from husbandry.box.substrate import question_depth
from husbandry.errors import DocumentError
from husbandry.planning.naming import thing_name
from husbandry.planning.request import COMPACT_KINDS, HEATER_KINDS, LAID_KINDS, LONG_KINDS, TUBE_KINDS, Request, Thing
from husbandry.planning.substrate_findings import rescaled
from husbandry.planning.weight import layers_of
from husbandry.quantity import Kind, Plausible, Units
from husbandry.species.profile import Profile
from husbandry.species.schools import QUESTIONS
from ridgeback.fields import QuantityField, clock
from ridgeback.habitats.choices import ENTRANCE_CHOICES, PLANT_CHOICES
from ridgeback.habitats.models import Habitat
from ridgeback.habitats.previews import as_tried
from ridgeback.habitats.probes import probe_choices, probe_chosen, probe_said
from ridgeback.habitats.wetting_form import wetting_field, wetting_fields, wetting_said
from ridgeback.habitats.wording import sentence
from ridgeback.schooling import chosen_schools, school_field
from ridgeback.submissions.forms import Conflict

PANELS = [(m.name, m.label) for m in MATERIALS.values() if m.use == "panel"]
GROUNDS = [(m.name, m.label) for m in MATERIALS.values() if m.use == "ground"]
FLOW = Plausible((20, 5000), (0.1, 20_000))
HELD = Plausible((10, 32), (5, 40))
SLABS = [(m.name, m.label) for m in MATERIALS.values() if m.use == "slab"]
MESHED = [(m.name, m.label) for m in MESHES.values()]
LIDS = [("", "solid"), *MESHED]
# The request's own names of a thing's parts, and the field each is typed in.
POINTED = {
    "at_m-0": "x", "at_m-1": "y", "at_m-2": "z", "at_m": "x", "size_m": "size0", "size_m-0": "size0", "size_m-1": "size1", "size_m-2": "size2",
    "length_m": "length", "power_w": "power", "beam_deg": "beam", "hours_run": "hours", "thermostat-set_c": "set", "thermostat-probe": "probe",
    "thermostat-probe_id": "probe",
    "thermostat": "probe",
}  # fmt: skip
PASSES = Plausible((0.2, 0.95), (0.06, 1.0))
CONTROLS = [("dimming", "dims, or pulses"), ("on_off", "switches on and off")]


@dataclass(frozen=True)
class Section:
    """A group of fields under one heading."""

    slug: str
    title: str
    fields: tuple[Any, ...]
    has_error: bool


class BenchForm(forms.Form):
    """Everything about an enclosure that can be changed on its page.

    Shape is checked by the fields, meaning by the core: what only the parts together make impossible comes back as errors on the field it
    is about. `request_` holds the resulting request when the form is valid.
    """

    conflicts: tuple[Conflict, ...] = ()

    def __init__(self, *args: Any, habitat: Habitat, units: Units, now: dt.datetime, **kwargs: Any) -> None:
        self.habitat, self.units, self.now = habitat, units, now
        self.kept = habitat.request_at(now)
        self.request_: Request | None = None
        self._wetting: dict[str, Any] | None = None
        self.misting_rows: list[int] = []
        self._sections: list[tuple[str, str, list[str]]] = []
        super().__init__(*args, **kwargs)
        self._add_box()
        self._section("wet", "Moisture", wetting_fields(self.kept.box.wetting, self.units))
        for thing in self.kept.things:
            self._add_thing(thing)
        for n in range(len(self.kept.animals)):
            self._add_animal(n)

    @property
    def seen(self) -> str:
        """The versions of its animals, as the page carries them: key:version, key:version."""
        present = self.habitat.present
        return ",".join(f"{one.animal_id}:{one.animal.version}" for one in present)

    # --- fields ---------------------------------------------------------------------------------------------------------

    def _section(self, slug: str, title: str, fields: dict[str, forms.Field]) -> None:
        self._sections.append((slug, title, [f"{slug}-{name}" for name in fields]))
        for name, made in fields.items():
            self.fields[f"{slug}-{name}"] = made

    def _length(self, label: str, value: float | None, plausible: str = "distance", **kwargs: Any) -> QuantityField:
        return QuantityField(Kind.LENGTH, self.units, label=label, value=value, plausible=plausible, **kwargs)

    def _temperature(self, label: str, value: float | None, plausible: str, **kwargs: Any) -> QuantityField:
        return QuantityField(Kind.TEMPERATURE, self.units, label=label, value=value, plausible=plausible, **kwargs)

    def _add_box(self) -> None:
        box = self.kept.box
        self._section(
            "box",
            "Enclosure",
            {
                "length": self._length("Length inside", box.inside_m.length, "enclosure length"),
                "depth": self._length("Depth inside", box.inside_m.depth, "enclosure depth"),
                "height": self._length("Height inside", box.inside_m.height, "enclosure height"),
                "front": forms.ChoiceField(label="Front", choices=PANELS, initial=box.panels.front),
                "walls": forms.ChoiceField(label="Other sides and floor", choices=PANELS, initial=box.panels.back),
                "lid": forms.ChoiceField(label="Lid", choices=PANELS, initial=box.lid.material),
                "mesh": forms.ChoiceField(label="Mesh in the lid", choices=LIDS, initial=box.lid.mesh or "", required=False),
                "share": QuantityField(
                    Kind.SHARE, self.units, label="Mesh over", value=box.lid.mesh_share or 0.5, required=False
                ),
                "passes": QuantityField(
                    Kind.SHARE,
                    self.units,
                    label="UV it lets through, if measured",
                    value=box.lid.mesh_passes,
                    plausible=PASSES,
                    required=False,
                ),
                "ground": forms.ChoiceField(label="Substrate", choices=GROUNDS, initial=box.ground.material),
                "ground_depth": self._length("Depth of substrate", box.ground.depth_m, "substrate depth"),
                **{f"school_{slug}": school_field(slug, box.schools) for slug in self._asked("box")},
            },
        )

    def _asked(self, of: str, n: int | None = None) -> list[str]:
        """The questions between approaches asked of the enclosure, for all who live in it, or of one animal."""
        profiles = self.kept.profiles
        species = [self.kept.animals[n].species] if n is not None else list(profiles)
        return [
            slug for slug in QUESTIONS if QUESTIONS[slug].of == of and any(slug in profiles[one].questions for one in species)
        ]

    def _add_thing(self, thing: Thing) -> None:
        x = self._length("From the left", thing.at_m[0])
        y = self._length("From the front", thing.at_m[1])
        title = thing_name(thing)
        fields: dict[str, forms.Field]
        if thing.is_body:
            assert thing.size_m is not None
            names = ("Length", "Depth", "Height")
            fields = {"x": x, "y": y}
            fields |= {f"size{n}": self._length(name, thing.size_m[n]) for n, name in enumerate(names)}
            if thing.kind == "hide":
                fields["moist"] = forms.BooleanField(label="Holds wet moss", initial=thing.moist, required=False)
                fields["entrance"] = forms.ChoiceField(
                    label="Entrance", choices=ENTRANCE_CHOICES, initial=thing.entrance or "", required=False
                )
                fields["sheer"] = forms.BooleanField(label="Light comes through its sides", initial=thing.sheer, required=False)
            if thing.kind == "plant":
                fields["plant"] = forms.ChoiceField(
                    label="Plant", choices=PLANT_CHOICES, initial=thing.plant or "", required=False
                )
            if thing.kind == "pool":
                fields["filter"] = QuantityField(
                    Kind.VOLUME,
                    self.units,
                    label="Filter flow, an hour",
                    what="filter’s flow an hour",
                    value=thing.filter_l_h,
                    plausible=FLOW,
                    required=False,
                )
                fields["heater"] = QuantityField(
                    Kind.POWER,
                    self.units,
                    label="Heater in it",
                    what="heater",
                    value=thing.heater_w,
                    plausible="power",
                    required=False,
                )
                fields["held"] = QuantityField(
                    Kind.TEMPERATURE,
                    self.units,
                    label="Water temperature held",
                    value=thing.held_c,
                    plausible=HELD,
                    required=False,
                )
            if thing.kind == "slab":
                fields["material"] = forms.ChoiceField(label="Material", choices=SLABS, initial=thing.material)
        elif thing.is_probe:
            fields = {"x": x, "y": y, "z": self._length("Above the floor", thing.at_m[2])}
        else:
            fields = {
                "kind": forms.ChoiceField(label="Kind", choices=_kinds(thing), initial=thing.kind),
                "x": x,
                "y": y,
                "z": self._length("Above the floor", thing.at_m[2]),
                "above_lid": forms.BooleanField(label="Above the mesh", initial=thing.above_lid, required=False),
            }
            if thing.kind == "heat_mat":
                assert thing.size_m is not None
                fields = {
                    "x": x,
                    "y": y,
                    **{f"size{n}": self._length(name, thing.size_m[n]) for n, name in enumerate(("Length", "Depth"))},
                }
            if thing.kind in LONG_KINDS:
                fields["length"] = self._length("Length", thing.length_m)
            if thing.is_tube:
                fields["length"] = self._length("Nominal length", thing.length_m)
                fields["reflector"] = forms.BooleanField(label="In a reflector", initial=thing.reflector, required=False)
            else:
                fields["power"] = QuantityField(Kind.POWER, self.units, label="Power", value=thing.power_w, plausible="power")
                if HEATERS[thing.kind].beam_share:
                    fields["beam"] = forms.FloatField(
                        label="Beam angle, ° (data sheet)", initial=thing.beam_deg, required=False, min_value=5, max_value=170
                    )
                if HEATERS[thing.kind].dimmable:
                    held = thing.thermostat
                    fields["probe"] = forms.ChoiceField(
                        label="Thermostat probe",
                        choices=probe_choices(self.kept.probes),
                        initial=probe_chosen(held),
                        required=False,
                    )
                    fields["control"] = forms.ChoiceField(
                        label="Thermostat type", choices=CONTROLS, initial=held.control if held else "dimming", required=False
                    )
                    fields["set"] = self._temperature(
                        "Thermostat set to", held.set_c if held else None, "thermostat", required=False
                    )
            if thing.is_uv:
                fields["hours"] = QuantityField(
                    Kind.HOURS, self.units, label="Hours burned", value=thing.hours_run, required=False
                )
            fields["on"] = forms.TimeField(label="On at", initial=thing.on, required=False, widget=clock())
            fields["off"] = forms.TimeField(label="Off at", initial=thing.off, required=False, widget=clock())
        self._section(f"thing-{thing.id}", title[0].upper() + title[1:], fields)

    def _add_animal(self, n: int) -> None:
        animal = self.kept.animals[n]
        kind = self.kept.profiles[animal.species].body.length_kind
        length = animal.length_mm.get(kind)
        words = {"total": "Total length", "snout_vent": "Snout to vent", "shell": "Shell length"}[kind]
        fields: dict[str, forms.Field] = {
            # What was weighed or measured once cannot be unweighed here: a new value makes a new row.
            "mass": QuantityField(
                Kind.MASS,
                self.units,
                label="Mass",
                value=animal.mass_g,
                plausible=_masses(self.kept.profiles[animal.species]),
                required=animal.mass_g is not None,
            ),
            "length": self._length(words, None if length is None else length / 1000, "body length", required=length is not None),
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
        fields |= {slug: school_field(slug, animal.schools) for slug in self._asked("animal", n)}
        self._section(f"animal-{n}", animal.name or "Animal", fields)

    # --- checking -------------------------------------------------------------------------------------------------------

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
        laid = (cleaned["box-ground"], cleaned["box-ground_depth"])
        thick = question_depth(*laid, units=self.units)
        ground = self.kept.box.ground
        if thick is not None and laid != (ground.material, ground.depth_m):
            self.add_error("box-ground_depth", thick.sentence)
        self._wetting = wetting_said(self, cleaned, self.kept.box.wetting)
        if self.errors:
            return cleaned
        try:
            tried = self.habitat.request_at(self.now, self._spec(cleaned), animals=self._animals(cleaned))
            self.request_ = as_tried(tried, self.kept)
        except DocumentError as why:
            for problem in why.problems:
                self.add_error(self._field_of(problem.pointer), sentence(problem.reason))
        return cleaned

    def _whole_thermostats(self, cleaned: dict[str, Any]) -> None:
        """A thermostat needs both its probe and its temperature: half of one is asked for, not dropped."""
        for thing in self.kept.things:
            probe, held = f"thing-{thing.id}-probe", f"thing-{thing.id}-set"
            if probe in self.fields and cleaned.get(probe) and cleaned.get(held) is None:
                self.add_error(held, "Write the temperature it is to hold.")
            elif probe in self.fields and not cleaned.get(probe) and cleaned.get(held) is not None:
                self.add_error(probe, "Say where its probe is, or clear the temperature beside it.")

    def _field_of(self, pointer: str) -> str | None:
        """The field a problem of the request is about."""
        parts = pointer.strip("/").split("/")
        name: str | None = None
        match parts:
            case ["things", index, *rest] if int(index) < len(self.kept.things):
                last = "-".join(rest)
                name = f"thing-{self.kept.things[int(index)].id}-{POINTED.get(last, last)}"
                if name not in self.fields and last.startswith("at_m"):
                    name = f"thing-{self.kept.things[int(index)].id}-x"
            case ["box", "inside_m", side]:
                name = f"box-{side}"
            case ["box", "ground", "depth_m" | "slope", *_]:
                name = "box-ground_depth"
            case ["box", "wetting", *rest]:
                name = wetting_field(rest, self.misting_rows)
            case ["box", "lid", "mesh_passes"]:
                name = "box-passes"
            case ["box", "lid", *_]:
                name = "box-share"
            case ["animals", n, *rest]:
                name = f"animal-{n}-{'mass' if rest[:1] == ['mass_g'] else 'length'}"
        return name if name in self.fields else None

    def _spec(self, cleaned: dict[str, Any]) -> dict[str, Any]:
        """Enclosure and things, as a revision keeps them."""
        box = self.kept.box
        mesh = cleaned["box-mesh"] or None
        share = cleaned["box-share"]
        walls = cleaned["box-walls"]
        depth = cleaned["box-ground_depth"]
        panels = (
            dict.fromkeys(("back", "left", "right", "bottom"), walls)
            if walls != box.panels.back
            else box.panels.model_dump(exclude={"front"})
        )
        return {
            "box": {
                "inside_m": {side: cleaned[f"box-{side}"] for side in ("length", "depth", "height")},
                "panels": {"front": cleaned["box-front"], **panels},
                "lid": {
                    "material": cleaned["box-lid"],
                    "mesh": mesh,
                    "mesh_share": (share if share is not None else 0.5) if mesh else 0.0,
                    "mesh_passes": cleaned["box-passes"] if mesh else None,
                },
                "ground": {
                    **box.ground.model_dump(mode="json"),
                    "material": cleaned["box-ground"],
                    "depth_m": depth,
                    "layers": self._layers(depth),
                },
                "vents": box.vents.model_dump(),
                "wetting": self._wetting,
                "schools": chosen_schools({slug: cleaned[f"box-school_{slug}"] for slug in self._asked("box")}),
            },
            "things": [
                self._raised(thing, self._thing(thing, cleaned, depth - box.ground.depth_m), cleaned)
                for thing in self.kept.things
            ],
        }

    def _raised(self, thing: Thing, data: dict[str, Any], cleaned: dict[str, Any]) -> dict[str, Any]:
        """What stands above the lid rises and sinks with it, unless its own height was written anew."""
        rise = cleaned["box-height"] - self.kept.box.inside_m.height
        x, y, z = data["at_m"]
        if thing.above_lid and data.get("above_lid") and abs(z - thing.at_m[2]) < 1e-9:
            data["at_m"] = [x, y, round(z + rise, 4)]
        return data

    def _layers(self, depth_m: float) -> list[dict[str, Any]]:
        """The bed as it is, as deep as is said now."""
        return [{"depth_m": layer.depth_m, "parts": dict(layer.parts)} for layer in rescaled(layers_of(self.kept), depth_m)]

    def _thing(self, thing: Thing, cleaned: dict[str, Any], lift: float) -> dict[str, Any]:
        def typed(name: str) -> Any:
            return cleaned.get(f"thing-{thing.id}-{name}")

        data = thing.model_dump(mode="json")
        x, y, z = typed("x"), typed("y"), typed("z")
        if thing.is_body:  # what lies on the ground rises with it
            data["at_m"] = [x, y, round(thing.at_m[2] + lift, 4)]
            data["size_m"] = [typed(f"size{n}") for n in range(3)]
            data["material"] = typed("material") or thing.material
            data["moist"] = bool(typed("moist"))
            if thing.kind == "hide":
                data |= {"entrance": typed("entrance") or None, "sheer": bool(typed("sheer"))}
            if thing.kind == "plant":
                data["plant"] = typed("plant") or None
            if thing.kind == "pool":
                data |= {"filter_l_h": typed("filter"), "heater_w": typed("heater"), "held_c": typed("held")}
            return data
        if thing.is_probe:
            data["at_m"] = [x, y, z]
            return data
        place = [x, y, z if thing.kind != "heat_mat" else 0.0]
        data |= {
            "kind": typed("kind") or thing.kind,
            "at_m": place,
            "above_lid": bool(typed("above_lid")),
            "hours_run": typed("hours"),
        }
        if thing.kind == "heat_mat" and thing.size_m:
            data["size_m"] = [typed("size0"), typed("size1"), thing.size_m[2]]
        if thing.kind in LONG_KINDS:
            data["length_m"] = typed("length")
        for name in ("on", "off"):
            data[name] = typed(name).strftime("%H:%M") if typed(name) else None
        if thing.is_tube:
            data |= {
                "length_m": typed("length"),
                "reflector": bool(typed("reflector")),
                "power_w": self._tube_watts(thing, typed("kind"), typed("length")),
            }
        else:
            held = (
                {"set_c": typed("set"), "control": typed("control") or "dimming", **probe_said(typed("probe"))}
                if typed("probe") and typed("set") is not None
                else None
            )
            data |= {"power_w": typed("power"), "beam_deg": typed("beam"), "thermostat": held}
        return data

    @staticmethod
    def _tube_watts(thing: Thing, kind: str, length_m: float) -> float | None:
        if kind == thing.kind and length_m == thing.length_m:
            return thing.power_w
        return UV_LAMPS[kind].nearest(length_m)[0]

    def _animals(self, cleaned: dict[str, Any]) -> list[dict[str, Any]]:
        found = []
        for n, animal in enumerate(self.kept.animals):
            kind = self.kept.profiles[animal.species].body.length_kind
            length = cleaned[f"animal-{n}-length"]
            lengths: dict[str, float] = {k: v for k, v in animal.length_mm.items() if k != kind}
            if length is not None:
                lengths[kind] = round(length * 1000, 3)
            chosen = chosen_schools({slug: cleaned[f"animal-{n}-{slug}"] for slug in self._asked("animal", n)})
            data = animal.model_dump(mode="json")
            born, fed = cleaned[f"animal-{n}-born"], cleaned[f"animal-{n}-fed"]
            data |= {"mass_g": cleaned[f"animal-{n}-mass"], "length_mm": lengths, "born_on": born.isoformat() if born else None}
            data |= {"fed_on": fed.isoformat() if fed else None, "schools": chosen}
            found.append(data)
        return found

    # --- for the page -----------------------------------------------------------------------------------------------------

    def sections(self) -> Iterator[Section]:
        """The groups in order, with bound fields."""
        for slug, title, names in self._sections:
            yield Section(slug, title, tuple(self[name] for name in names), any(name in self.errors for name in names))

    def doubt(self, name: str) -> str:
        """The question about a value that is unlikely."""
        made = self.fields[name]
        return made.asked if isinstance(made, QuantityField) else ""

    @property
    def changed(self) -> bool:
        """Whether the result differs from what is kept."""
        return self.request_ is not None and self.request_ != self.kept


def _kinds(thing: Thing) -> list[tuple[str, str]]:
    if thing.is_tube:
        return [(kind, UV_LAMPS[kind].name) for kind in TUBE_KINDS]
    if thing.kind in LAID_KINDS:
        return [(thing.kind, HEATERS[thing.kind].name)]
    if thing.kind in COMPACT_KINDS:
        return [(kind, UV_LAMPS[kind].name) for kind in COMPACT_KINDS]
    if thing.kind == "uv_flood":
        return [("uv_flood", UV_LAMPS["uv_flood"].name)]
    return [(kind, HEATERS[kind].name) for kind in HEATER_KINDS]


def _masses(profile: Profile) -> Plausible:
    """From half of the lightest newborn to half as much again as the heaviest adult."""
    stages = profile.stages
    return Plausible((0.5 * (stages[0].mass_g.low or 1.0), 1.5 * (stages[-1].mass_g.high or 100_000)), (0.05, 500_000))
