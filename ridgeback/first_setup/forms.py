"""The three steps: an animal, an enclosure in a room, its heat, light and stone.

Fields check shape; the core checks meaning.
"""

import datetime as dt
import json
from dataclasses import replace
from typing import Any

from django import forms

from husbandry.bounds import LENGTH_MM
from husbandry.enclosure.catalogue import PLANNED, panels_of
from husbandry.enclosure.equipment import HEATERS, UV_LAMPS
from husbandry.enclosure.substrate import question_depth
from husbandry.growth.body import body_of, proportion
from husbandry.growth.plausibility import question_length, question_mass
from husbandry.items.heaters import LAMP_KINDS
from husbandry.items.uv_lamps import TUBE_KINDS
from husbandry.quantity import Doubt, Kind, QuantityEntry, Units, show
from husbandry.setups.first_setup import HeatingWishes
from husbandry.setups.owned_words import OwnedFitting, read_owned
from husbandry.species.library import find, library
from husbandry.species.parts import LengthKind
from husbandry.species.profile import Profile
from husbandry.species.stages import DAYS_PER_MONTH
from ridgeback.animals.models import Animal
from ridgeback.enclosures.forms import MESHED, PANELS, SLABS, SOLID, SUBSTRATES
from ridgeback.fields import QuantityField, clock
from ridgeback.households.models import Household, Room, valid_zone
from ridgeback.households.places import assumed_place, place_of
from ridgeback.submissions.forms import OnceForm

SPECIES = sorted(
    ((name, profile.name[0].upper() + profile.name[1:]) for name, profile in library().items()),
    key=lambda pair: pair[1],
)
LIDS = [("", "no mesh"), *MESHED]
MEASURED: list[tuple[LengthKind, str]] = [
    ("total", "from snout to tail tip"),
    ("snout_vent", "from snout to vent"),
    ("shell", "along the shell, straight"),
]
PLACE = {
    "room_latitude": ("Latitude, °, north positive", 90),
    "room_longitude": ("Longitude, °, east positive", 180),
}
OWNED_MOST = 400
"""Characters of what a keeper has already."""
NOT_READ = {
    "kind": "“{}” is no lamp or heater that is known here. Say its class: halogen flood, heat mat.",
    "power": "“{}” lacks its power: add the watts that are printed on it, such as 75 W.",
    "strength": "“{}” lacks its strength: add the percentage printed on it, such as 12 %.",
}
"""What is asked about words that are not understood, by what is missing."""
OWN = "own"
NEW_ROOM = "new"


def _date(label: str, help_text: str = "") -> forms.DateField:
    return forms.DateField(
        label=label,
        required=False,
        help_text=help_text,
        widget=forms.DateInput(attrs={"type": "date"}, format="%Y-%m-%d"),
    )


class StepForm(OnceForm):
    """A step knows the reader's units and today; its key and count belong to its drafts."""

    draft_seq = forms.IntegerField(
        required=False,
        initial=0,
        widget=forms.HiddenInput(attrs={"data-draft-seq": "", "autocomplete": "off"}),
    )

    def __init__(
        self, *args: Any, household: Household, units: Units, today: dt.date, **kwargs: Any
    ) -> None:
        self.household = household
        self.units = units
        self.today = today
        self.asked: dict[str, Doubt] = {}
        """What is asked about a field, with the answer that one tap gives."""
        super().__init__(*args, **kwargs)
        self.prepare()
        for field in self.fields.values():  # what the page shows as chosen is chosen
            if isinstance(field, forms.ChoiceField) and field.initial is None:
                field.initial = next(iter(field.choices))[0]  # type: ignore[arg-type]  # pairs, by our own lists

    def prepare(self) -> None:
        """Add the fields that depend on units."""

    def clean(self) -> dict[str, Any]:
        """Ask about every quantity that is unlikely; the same text sent with its answer is taken."""
        cleaned = super().clean() or {}
        for name, field in self.fields.items():
            if isinstance(field, QuantityField) and field.doubt is not None:
                if field.doubt.refused:  # the field said so itself; its answers stand beside it
                    self.asked[name] = field.doubt
                else:
                    self.question(name, field.doubt)
        return cleaned

    def question(self, name: str, doubt: Doubt | None) -> None:
        """Put a question beside a field, unless it was answered for just this text."""
        if doubt is None or name in self.errors:
            return
        typed = str(self.data.get(name, ""))
        if doubt.refused or self.data.get(f"confirm_{name}") != typed:
            self.asked[name] = doubt
            self.add_error(name, doubt.sentence)


class AnimalForm(StepForm):
    """Who it is, and what is known of its body."""

    name = forms.CharField(label="Name", max_length=80)
    species = forms.ChoiceField(label="Species", choices=SPECIES)
    sex = forms.ChoiceField(label="Sex", choices=Animal.Sex.choices, initial="unknown")
    born_on = _date("Hatched or born on")
    age_months = forms.FloatField(
        label="or its age in months",
        required=False,
        min_value=0,
        max_value=2400,
        help_text="When the day is not known.",
    )

    def prepare(self) -> None:
        self.fields["mass"] = QuantityField(Kind.MASS, self.units, label="Mass", required=False)
        self.fields["length"] = QuantityField(
            Kind.LENGTH, self.units, label="Length", required=False
        )
        self.fields["length_kind"] = forms.ChoiceField(
            label="Measured", choices=[("", "as usual for its species"), *MEASURED], required=False
        )

    def clean(self) -> dict[str, Any]:
        """The day it was born, from either answer."""
        cleaned = super().clean() or {}
        born = cleaned.get("born_on")
        months = cleaned.get("age_months")
        if born and born > self.today:
            self.add_error("born_on", "This day is still to come.")
        if not born and months is not None:
            cleaned["born_on"] = self.today - dt.timedelta(days=round(months * DAYS_PER_MONTH))
        if "species" in cleaned:
            self._ask_about_body(find(cleaned["species"]), cleaned)
        return cleaned

    def _ask_about_body(self, profile: Profile, cleaned: dict[str, Any]) -> None:
        """Ask about a mass or a length that cannot well be true, as at a weigh-in."""
        own = profile.body.length_kind
        kind = cleaned.get("length_kind") or own
        self._say_kind(profile)
        if cleaned.get("length") is not None and proportion(profile, kind) is None:
            words = dict(MEASURED)[own]
            self.add_error("length_kind", f"A {profile.name} is measured {words}.")
            return
        mm = body_of(profile, profile.stages[-1].slug, length_mm=self.lengths()).length
        born = cleaned.get("born_on")
        sex = cleaned.get("sex", "unknown")
        mass = self._entry("mass")
        if mass is not None:
            doubt = question_mass(
                mass,
                profile,
                sex,
                on=self.today,
                units=self.units,
                length_mm=None if mm.how == "typical" else mm.value,
                born_on=born if born and born <= self.today else None,
            )
            self.question("mass", doubt)
        length = self._entry("length")
        share = proportion(profile, kind)
        if length is not None and share is not None:
            doubt = question_length(
                length, profile, sex, on=self.today, units=self.units, of_own_kind=share
            )
            other = next((k for k in profile.grown.length_mm if k != own), None)
            if doubt is not None and kind == own and doubt.meant is None and other is not None:
                measured = f"{dict(MEASURED)[own]}, not {dict(MEASURED)[other]}"
                doubt = replace(doubt, sentence=f"{doubt.sentence} Is it {measured}?")
            self.question("length", doubt)

    def _entry(self, name: str) -> QuantityEntry | None:
        """A quantity as it was typed; None where nothing was."""
        field = self.fields[name]
        return field.entry if isinstance(field, QuantityField) else None

    def _say_kind(self, profile: Profile) -> None:
        """Say at the field which length is meant, and what another one is converted to."""
        own = profile.body.length_kind
        text = f"Usual for a {profile.name}: {dict(MEASURED)[own]}."
        length = self.lengths()
        if length and own not in length:
            body = body_of(profile, profile.stages[-1].slug, length_mm=length)
            metres = body.length.value / 1000
            shown = show(metres, Kind.LENGTH, self.units, small=metres < 0.15)
            text = (
                f"About {shown} {dict(MEASURED)[own]}: converted by the proportion of its species."
            )
        self.fields["length_kind"].help_text = self["length_kind"].help_text = text

    def lengths(self) -> dict[LengthKind, float]:
        """Its length as it was measured, by kind [mm]; nothing where none was typed that can be."""
        cleaned = self.cleaned_data
        if cleaned.get("length") is None or "species" not in cleaned:
            return {}
        length_mm = cleaned["length"] * 1000
        if not LENGTH_MM[0] <= length_mm <= LENGTH_MM[1]:
            return {}
        kind = cleaned.get("length_kind") or find(cleaned["species"]).body.length_kind
        return {kind: round(length_mm, 3)}

    def animal(self) -> dict[str, Any]:
        """The animal as a request takes it."""
        cleaned = self.cleaned_data
        born = cleaned.get("born_on")
        data: dict[str, Any] = {
            "name": cleaned["name"],
            "species": cleaned["species"],
            "sex": cleaned["sex"],
        }
        if born:
            data["born_on"] = born.isoformat()
        if cleaned.get("mass") is not None:
            data["mass_g"] = cleaned["mass"]
        if self.lengths():
            data["length_mm"] = self.lengths()
        return data


class EnclosureForm(StepForm):
    """An enclosure by the name of its shape or by its own measures, and the room it stands in."""

    name = forms.CharField(label="Name of the enclosure", max_length=80)
    shape = forms.ChoiceField(
        label="Shape",
        choices=[(OWN, "my own measures"), *[(s.slug, s.name) for s in PLANNED.values()]],
        help_text="By the name the trade gives it; inside measures are what counts.",
    )

    def prepare(self) -> None:
        for side in ("length", "depth", "height"):
            self.fields[side] = QuantityField(
                Kind.LENGTH,
                self.units,
                label=f"{side.capitalize()} inside",
                required=False,
                plausible=f"enclosure {side}",
            )
        self.fields["front"] = forms.ChoiceField(
            label="Front", choices=PANELS, required=False, initial="glass"
        )
        self.fields["walls"] = forms.ChoiceField(
            label="Other sides and floor", choices=PANELS, required=False, initial="wood"
        )
        self.fields["lid"] = forms.ChoiceField(
            label="Lid", choices=SOLID, required=False, initial="wood"
        )
        self.fields["mesh"] = forms.ChoiceField(
            label="Mesh in the lid", choices=LIDS, required=False
        )
        self.fields["share"] = QuantityField(
            Kind.SHARE, self.units, label="Mesh over", value=0.5, required=False
        )
        self.fields["substrate"] = forms.ChoiceField(label="Substrate", choices=SUBSTRATES)
        self.fields["substrate_depth"] = QuantityField(
            Kind.LENGTH,
            self.units,
            label="Depth of substrate",
            value=0.05,
            plausible="substrate depth",
        )
        self.fields["owned"] = forms.CharField(
            label="Lamps and heaters you have already",
            required=False,
            max_length=OWNED_MOST,
            widget=forms.Textarea(attrs={"rows": 2}),
            help_text=(
                "One after another, with power or length: 75 W halogen flood, T5 12 % tube of 60 cm,"
                " 16 W heat mat. What can be used is used."
            ),
        )
        rooms = [(str(room.pk), room.name) for room in self.household.rooms.all()]
        self.fields["room"] = forms.ChoiceField(
            label="Room", choices=[*rooms, (NEW_ROOM, "another room")]
        )
        self.fields["room_name"] = forms.CharField(
            label="Name of the room", max_length=80, required=False
        )
        self._prepare_fields()

    def _prepare_fields(self) -> None:
        """Make the fields of the enclosure and its room."""
        first = self.household.rooms.first()
        zone = self.household.time_zone
        self.fields["room_zone"] = forms.CharField(
            label="Its time zone",
            max_length=64,
            required=False,
            validators=[valid_zone],
            initial=zone,
            widget=forms.TextInput(
                attrs={"list": "zones", "data-zone": "" if first is None else "known"}
            ),
            help_text="Such as Europe/Lisbon. Days, seasons and timers follow it.",
        )
        for name, (label, most) in PLACE.items():
            self.fields[name] = forms.FloatField(
                label=label,
                required=False,
                min_value=-most,
                max_value=most,
                widget=forms.TextInput(attrs={"autocomplete": "off", "inputmode": "text"}),
            )
        self._say_place({"room_zone": zone})
        air = {
            "room_day": ("By day", 21.0),
            "room_night": ("By night", 18.0),
            "room_summer": ("Summer maximum", 28.0),
        }
        for name, (label, usual) in air.items():
            self.fields[name] = QuantityField(
                Kind.TEMPERATURE,
                self.units,
                label=label,
                value=usual,
                plausible="room",
                required=False,
            )
        self.fields["room_rh"] = QuantityField(
            Kind.HUMIDITY,
            self.units,
            label="Humidity",
            value=50.0,
            plausible="humidity",
            required=False,
        )
        for name, who in (("room_cats", "cat"), ("room_dogs", "dog")):
            self.fields[name] = forms.BooleanField(label=f"A {who} comes in", required=False)

    def clean_owned(self) -> str:
        """What a keeper has, in words that are understood."""
        text: str = self.cleaned_data["owned"]
        _, missed = read_owned(text)
        if missed:
            said = " ".join(NOT_READ[one.missing].format(one.words) for one in missed)
            raise forms.ValidationError(said)
        return text

    def owned(self) -> tuple[OwnedFitting, ...]:
        """Lamps and heaters that are there already."""
        return read_owned(self.cleaned_data.get("owned", ""))[0]

    def clean(self) -> dict[str, Any]:
        """Own measures are complete; a new room has its facts; names are free."""
        cleaned = super().clean() or {}
        self._say_place(cleaned)
        if cleaned.get("shape") == OWN:
            for side in ("length", "depth", "height"):
                if side not in self.errors and cleaned.get(side) is None:
                    self.add_error(side, "Write it, or choose a shape above.")
        if cleaned.get("substrate_depth") is not None:
            depth = cleaned["substrate_depth"]
            self.question(
                "substrate_depth",
                question_depth(cleaned.get("substrate", ""), depth, units=self.units),
            )
        if self.household.enclosures.filter(name=cleaned.get("name", "")).exists():
            self.add_error("name", "There is an enclosure of this name already.")
        if cleaned.get("room") == NEW_ROOM:
            name = cleaned.get("room_name", "")
            if not name:
                self.add_error("room_name", "A room needs a name.")
            elif self.household.rooms.filter(name=name).exists():
                self.add_error(
                    "room_name", "There is a room of this name already: choose it above."
                )
            for field in ("room_day", "room_night", "room_summer", "room_rh"):
                if field not in self.errors and cleaned.get(field) is None:
                    self.add_error(field, "Write it: the enclosure begins with its room.")
        return cleaned

    def _say_place(self, cleaned: dict[str, Any]) -> None:
        """Say what an empty latitude and longitude are taken to be, from the time zone."""
        zone = cleaned.get("room_zone") or "UTC"
        assumed = assumed_place(zone)
        why = (
            "as for the time zone"
            if place_of(zone)
            else f"{zone} is no place: Greenwich is assumed"
        )
        for name, value in zip(PLACE, assumed, strict=True):
            text = f"Left empty: {value:g}°, {why}."
            self.fields[name].help_text = self[name].help_text = text

    def place(self) -> dict[str, Any]:
        """The room's place as a request takes it: north and east positive [degrees]."""
        known = self.chosen_room()
        if known is not None:
            lat = known.latitude_deg
            lon = known.longitude_deg
            zone = known.time_zone
            return {"lat": lat, "lon": lon, "tz": zone}
        zone = self.cleaned_data["room_zone"] or "UTC"
        typed = [self.cleaned_data[name] for name in PLACE]
        assumed = assumed_place(zone)
        lat, lon = (
            own if own is not None else value for own, value in zip(typed, assumed, strict=True)
        )
        return {"lat": lat, "lon": lon, "tz": zone}

    def enclosure(self) -> dict[str, Any]:
        """The enclosure as a request takes it."""
        cleaned = self.cleaned_data
        shape = PLANNED.get(cleaned["shape"])
        if shape is not None:
            sides = {"length": shape.length_m, "depth": shape.depth_m, "height": shape.height_m}
            front, walls, lid, mesh, share = (
                shape.front,
                shape.walls,
                shape.lid,
                shape.mesh,
                shape.mesh_share,
            )
        else:
            sides = {side: cleaned[side] for side in ("length", "depth", "height")}
            front = cleaned["front"] or "glass"
            walls = cleaned["walls"] or "wood"
            lid = cleaned["lid"] or "wood"
            mesh = cleaned["mesh"]
            share = 0.5 if cleaned["share"] is None else cleaned["share"]
        return {
            "inside_m": sides,
            "panels": panels_of(front, walls),
            "lid": {"material": lid, "mesh": mesh or None, "mesh_share": share if mesh else 0.0},
            "substrate": {"material": cleaned["substrate"], "depth_m": cleaned["substrate_depth"]},
        }

    def chosen_room(self) -> Room | None:
        """The room, when it is there already."""
        chosen = self.cleaned_data["room"]
        return self.household.rooms.get(pk=int(chosen)) if chosen != NEW_ROOM else None

    def room(self) -> dict[str, float]:
        """The room's air as a request takes it."""
        known = self.chosen_room()
        if known is not None:
            return known.air()
        cleaned = self.cleaned_data
        return {
            "day_c": cleaned["room_day"],
            "night_c": cleaned["room_night"],
            "summer_max_c": cleaned["room_summer"],
            "rh_pct": cleaned["room_rh"],
            "has_cats": cleaned["room_cats"],
            "has_dogs": cleaned["room_dogs"],
        }


DAY_HEATERS = (*LAMP_KINDS, "heat_mat")
HEATS = [("", "none"), *[(kind, HEATERS[kind].name) for kind in DAY_HEATERS]]
TUBES = [("", "none"), *[(kind, UV_LAMPS[kind].name) for kind in TUBE_KINDS]]
STONES = [("", "none"), *SLABS]
NIGHTS = [
    ("", "none"),
    *[(kind, HEATERS[kind].name) for kind in DAY_HEATERS if not HEATERS[kind].emits_light],
]


HEIGHT_HELP = (
    "More than the enclosure’s height: above the mesh. A mat lies under the substrate: leave it"
    " empty."
)


def _part_of(item: dict[str, Any]) -> str | None:
    """Under which heading of the form an item stands; None where it has none."""
    kind = item["kind"]
    if kind in TUBE_KINDS:
        return "uv"
    if kind == "slab":
        return "stone"
    if kind not in DAY_HEATERS:
        return None
    by_night = item.get("on", "00:00") > item.get("off", "24:00")
    return "night" if by_night and kind in dict(NIGHTS) else "heat"


class HeatForm(StepForm):
    """Heat by day, ultraviolet, a stone, heat by night.

    Places along the enclosure are usual ones and are moved in the layout editor later.
    """

    outfit = forms.ChoiceField(
        label="Heat, light and furniture",
        choices=[
            ("suggested", "Take the suggested setup"),
            ("own", "Choose heat and light yourself"),
        ],
        widget=forms.RadioSelect,
        required=False,
    )
    suggestion = forms.CharField(widget=forms.HiddenInput, max_length=30_000, required=False)
    heat = forms.ChoiceField(label="Heat by day", choices=HEATS, required=False)
    uv = forms.ChoiceField(label="UVB tube", choices=TUBES, required=False)
    stone = forms.ChoiceField(label="Basking stone", choices=STONES, required=False)
    night = forms.ChoiceField(label="Heat by night", choices=NIGHTS, required=False)
    on = forms.TimeField(label="Day begins at", initial="07:30", widget=clock())
    off = forms.TimeField(label="Day ends at", initial="19:30", widget=clock())
    state = forms.ChoiceField(
        label="Is it built already?",
        choices=[("planned", "no, it is planned"), ("built", "yes")],
        initial="planned",
    )

    def prepare(self) -> None:
        def add(name: str, kind: Kind, label: str, plausible: str, help_text: str = "") -> None:
            self.fields[name] = QuantityField(
                kind,
                self.units,
                label=label,
                plausible=plausible,
                required=False,
                help_text=help_text,
            )

        add("heat_power", Kind.POWER, "Power", "power")
        add(
            "heat_height",
            Kind.LENGTH,
            "Height of its face above the floor",
            "distance",
            HEIGHT_HELP,
        )
        add("heat_set", Kind.TEMPERATURE, "Thermostat set to", "thermostat")
        add("uv_length", Kind.LENGTH, "Length", "distance")
        add(
            "uv_height",
            Kind.LENGTH,
            "Height of its axis above the floor",
            "distance",
            "More than the enclosure’s height: on the mesh.",
        )
        add("stone_length", Kind.LENGTH, "Length", "distance")
        add("stone_depth", Kind.LENGTH, "Depth", "distance")
        add("stone_height", Kind.LENGTH, "Thickness", "distance")
        add("night_power", Kind.POWER, "Power", "power")
        add("night_set", Kind.TEMPERATURE, "Thermostat set to", "thermostat")

    GROUPS = (
        ("Heat by day", ("heat", "heat_power", "heat_height", "heat_set")),
        ("Ultraviolet", ("uv", "uv_length", "uv_height")),
        ("Stone", ("stone", "stone_length", "stone_depth", "stone_height")),
        ("Heat by night", ("night", "night_power", "night_set")),
        ("The day", ("on", "off")),
        ("The enclosure", ("state",)),
    )

    def groups(self) -> list[tuple[str, list[forms.BoundField]]]:
        """Fields under their headings."""
        return [(title, [self[name] for name in names]) for title, names in self.GROUPS]

    @property
    def own_groups(self) -> list[tuple[str, list[forms.BoundField]]]:
        """Those that are not asked of whoever takes the suggestion."""
        return self.groups()[:-1]

    @property
    def last_group(self) -> tuple[str, list[forms.BoundField]]:
        """What is asked in any case."""
        return self.groups()[-1]

    @property
    def takes_suggestion(self) -> bool:
        """Whether the suggested setup is taken as a whole."""
        return bool(self.cleaned_data.get("outfit") == "suggested" and self.suggested())

    def suggested(self) -> dict[str, Any]:
        """The suggested enclosure and its items; empty where there is none."""
        try:
            found = json.loads(self.cleaned_data.get("suggestion") or "{}")
        except json.JSONDecodeError:
            return {}
        whole = isinstance(found, dict) and (
            isinstance(found.get("enclosure"), dict) and isinstance(found.get("items"), list)
        )
        return found if whole else {}

    NEEDED = {
        "heat": ("heat_power", "heat_height"),
        "uv": ("uv_length", "uv_height"),
        "stone": ("stone_length", "stone_depth", "stone_height"),
        "night": ("night_power", "night_set"),
    }

    def clean(self) -> dict[str, Any]:
        """What is fitted has its measures."""
        cleaned = super().clean() or {}
        if cleaned.get("outfit") == "suggested":
            self._take_suggestion()
            return cleaned
        for kind, names in self.NEEDED.items():
            mat = cleaned.get(kind) == "heat_mat"
            asked = [name for name in names if not (mat and name.endswith("height"))]
            for name in asked if cleaned.get(kind) else ():
                if name not in self.errors and cleaned.get(name) is None:
                    self.add_error(
                        name,
                        f"Write it, or choose “none” for {str(self.fields[kind].label).lower()}.",
                    )
        if (
            cleaned.get("heat") == "heat_mat"
            and "heat_set" not in self.errors
            and cleaned.get("heat_set") is None
        ):
            self.add_error(
                "heat_set", "A mat burns without a thermostat: write what it is set to."
            )
        return cleaned

    def _take_suggestion(self) -> None:
        """What is asked of whoever chooses alone stays as it was typed and is not judged."""
        for _, fields in self.own_groups:
            for field in fields:
                self.errors.pop(field.name, None)
        if not self.suggested():
            self.add_error(
                "outfit",
                "There is no suggestion for this enclosure: reset this step, or choose heat and"
                " light yourself.",
            )

    @staticmethod
    def initial_from(items: list[dict[str, Any]], units: Units) -> dict[str, str]:
        """As much of a suggested setup as the form can say: of each part the first."""
        found: dict[str, str] = {"heat": "", "uv": "", "stone": "", "night": ""}
        for item in items:
            part = _part_of(item)
            if part is None or found[part]:
                continue
            height = (
                "" if item["kind"] == "heat_mat" else show(item["at_m"][2], Kind.LENGTH, units)
            )
            thermostat = item.get("thermostat") or {}
            if part == "uv":
                length = show(item["length_m"], Kind.LENGTH, units)
                found |= {"uv": item["kind"], "uv_length": length, "uv_height": height}
            elif part == "stone":
                length, depth, thick = (show(side, Kind.LENGTH, units) for side in item["size_m"])
                found |= {
                    "stone": item.get("material", "stone"),
                    "stone_length": length,
                    "stone_depth": depth,
                    "stone_height": thick,
                }
            else:
                power = f"{item['power_w']:g} W"
                set_c = thermostat.get("set_c")
                held = show(set_c, Kind.TEMPERATURE, units) if set_c is not None else ""
                found |= {part: item["kind"], f"{part}_power": power, f"{part}_set": held}
                if part == "heat":
                    found["heat_height"] = height
        return found

    def fitting(self) -> HeatingWishes:
        """What was written, for the core to place."""
        c = self.cleaned_data
        return HeatingWishes(
            heat=(
                (c["heat"], c["heat_power"], c["heat_height"] or 0.0, c["heat_set"])
                if c["heat"]
                else None
            ),
            tube=(c["uv"], c["uv_length"], c["uv_height"]) if c["uv"] else None,
            stone=(
                (c["stone"], c["stone_length"], c["stone_depth"], c["stone_height"])
                if c["stone"]
                else None
            ),
            night=(c["night"], c["night_power"], c["night_set"]) if c["night"] else None,
            on=c["on"].strftime("%H:%M"),
            off=c["off"].strftime("%H:%M"),
        )

    POINTED = {"lamp-1": "heat", "tube-1": "uv", "stone-1": "stone", "night-heat-1": "night"}

    def field_of(self, pointer: str, items: list[dict[str, Any]]) -> str | None:
        """The field that a problem of the request is about."""
        match pointer.strip("/").split("/"):
            case ["items", index, *rest] if index.isdecimal() and int(index) < len(items):
                stem = self.POINTED.get(items[int(index)]["id"], "")
                last = {
                    "power_w": "power",
                    "length_m": "length",
                    "size_m": "length",
                    "thermostat": "set",
                }.get(rest[0] if rest else "", "height")
                name = f"{stem}_{last}"
                return name if name in self.fields else (stem or None)
        return None
