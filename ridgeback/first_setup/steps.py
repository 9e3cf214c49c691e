"""What each step computes while it is filled: the state of the three forms together, and the
request they describe.
"""

import datetime as dt
import json
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from husbandry.documents.request import FORMAT, Request
from husbandry.documents.request_json import from_data, to_data
from husbandry.documents.result import Occupant
from husbandry.enclosure.catalogue import CATALOGUE, CatalogueEnclosure
from husbandry.enclosure.geometry import Interior
from husbandry.enclosure.sizing import SizeFound, judge_size
from husbandry.errors import DocumentError, ImpossibleStateError, Problem
from husbandry.growth.body import Body, body_of
from husbandry.quantity import Kind, Units, show
from husbandry.setups.enclosure_choice import Wanted, enclosure_choices
from husbandry.setups.first_setup import placed, suggest_with
from husbandry.species import common
from husbandry.species.needs import NeedKey
from husbandry.species.profile import Profile
from husbandry.species.stages import StageFound, stage_of
from husbandry.targets.verdicts import TargetRange, targets
from ridgeback.drafts import flows as drafts
from ridgeback.drafts.models import Draft
from ridgeback.first_setup.forms import (
    NEW_ROOM,
    OWN,
    AnimalForm,
    EnclosureForm,
    HeatForm,
    StepForm,
)
from ridgeback.first_setup.parts import owned_words
from ridgeback.households.models import Household
from ridgeback.species_guide.flows import edits_of, profile_of

STEPS = ("animal", "enclosure", "heat")
TITLES = {
    "animal": "The animal",
    "enclosure": "Its enclosure",
    "heat": "Heat, ultraviolet and stone",
}


@dataclass(frozen=True)
class SpeciesWishes:
    """What the species wants of an animal at this stage."""

    profile: Profile
    stage: StageFound
    body: Body
    size: SizeFound
    shape: CatalogueEnclosure | None
    targets: dict[NeedKey, TargetRange]

    @property
    def cautions(self) -> tuple[str, ...]:
        """Those of its species and those of every animal of its sort."""
        return common.cautions(self.profile)


class SetupDraft:
    """The three steps of one keeper's draft."""

    def __init__(
        self, household: Household, draft: Draft | None, units: Units, now: dt.datetime
    ) -> None:
        self.household = household
        self.units = units
        self.now = now
        self.draft = draft

    @property
    def today(self) -> dt.date:
        """The day in the household."""
        return self.household.day_of(self.now)

    @property
    def draft(self) -> Draft | None:
        """What is kept of the run so far."""
        return self._draft

    @draft.setter
    def draft(self, draft: Draft | None) -> None:
        self._draft = draft
        self._whole: dict[str, StepForm | None] = {}

    def form(
        self,
        step: str,
        typed: Mapping[str, Any] | None = None,
        *,
        initial: dict[str, Any] | None = None,
    ) -> StepForm:
        """A step's form: bound to what is typed, or fresh with initial values."""
        common: dict[str, Any] = {
            "household": self.household,
            "units": self.units,
            "today": self.today,
            "initial": initial or {},
        }
        if step == "animal":
            return AnimalForm(typed, **common)
        if step == "enclosure":
            return EnclosureForm(typed, **common)
        return HeatForm(typed, **common)

    def kept(self, step: str) -> dict[str, str] | None:
        """What the draft holds of a step, in the reader's units."""
        kept = self.draft.data.get(step) if self.draft else None
        return drafts.typed_in(self.draft, step, self.form(step), self.units) if kept else None

    def whole(self, step: str) -> StepForm | None:
        """A step's form when the draft's content is valid."""
        if step not in self._whole:  # asked for many times in a request, checked once
            kept = self.kept(step)
            form = self.form(step, kept) if kept is not None else None
            self._whole[step] = form if form is not None and form.is_valid() else None
        return self._whole[step]

    def ready(self, step: str) -> bool:
        """Whether the steps before it are whole."""
        return all(self.whole(before) is not None for before in STEPS[: STEPS.index(step)])

    # --- what is computed -------------------------------------------------------------------------

    def kind(self, animal: AnimalForm) -> SpeciesWishes | None:
        """Stage, needs and size of what is known of the animal so far."""
        cleaned = animal.cleaned_data
        if "species" not in cleaned:
            return None
        profile = profile_of(self.household, cleaned["species"])
        lengths = animal.lengths()
        stage = stage_of(
            profile,
            today=self.today,
            born_on=cleaned.get("born_on"),
            mass_g=cleaned.get("mass"),
            length_mm=lengths or None,
        )
        body = body_of(
            profile,
            stage.slug,
            mass_g=cleaned.get("mass"),
            length_mm=lengths,
            sex=cleaned.get("sex", "unknown"),
        )
        length_m = body.length.value / 1000
        size = judge_size(Interior(1, 1, 1, 0), profile, stage.slug, length_m, {})
        sides = [side.needed_m for side in size.sides]
        occupant = Occupant(
            name="",
            species=profile.species,
            common_name=profile.name,
            stage=stage,
            length_m=length_m,
            body=body,
        )
        found = targets((occupant,), {profile.species: profile}, ({},))
        wanted = Wanted(profile, stage.slug, length_m, (sides[0], sides[1], sides[2]), {})
        shape = CATALOGUE.get(enclosure_choices(wanted)[0].slug)
        return SpeciesWishes(profile, stage, body, size, shape, found)

    def request(self, enclosure: EnclosureForm, heat: HeatForm | None = None) -> Request:
        """The request that the steps describe. Raises `DocumentError`."""
        animal = self.whole("animal")
        if not isinstance(animal, AnimalForm):
            raise ImpossibleStateError("missing: isinstance(animal, AnimalForm)")
        data: dict[str, Any] = {
            "format": FORMAT,
            "now": self.now.replace(second=0, microsecond=0).isoformat(),
            "animals": [animal.animal()],
            "place": enclosure.place(),
            "room": enclosure.room(),
            "enclosure": enclosure.enclosure(),
            "items": [],
        }
        own = edits_of(self.household, animal.cleaned_data["species"])
        if own:
            data["edits"] = {
                species: [edit.model_dump(mode="json") for edit in edits]
                for species, edits in own.items()
            }
        empty = from_data(data)
        if heat is None:
            return empty
        if heat.takes_suggestion:
            return _with_suggestion(data, heat.suggested())
        return from_data({**data, "items": placed(empty, heat.fitting())})

    def suggestion(self, step: str) -> dict[str, str]:
        """What a step begins with: what the species wants."""
        animal = self.whole("animal")
        if step == "animal" or not isinstance(animal, AnimalForm):
            return {}
        if step == "enclosure":
            kind = self.kind(animal)
            first = self.household.rooms.first()
            shape = kind.shape.slug if kind and kind.shape else OWN
            found = {
                "name": f"{animal.cleaned_data['name']}’s enclosure",
                "shape": shape,
                "room": str(first.pk) if first else NEW_ROOM,
            }
            if not first:
                found["room_name"] = "Living room"
            if kind and not kind.shape:
                names = ("length", "depth", "height")
                found |= {
                    n: show(s.needed_m, Kind.LENGTH, self.units)
                    for n, s in zip(names, kind.size.sides, strict=True)
                }
            return found
        enclosure = self.whole("enclosure")
        if not isinstance(enclosure, EnclosureForm):
            raise ImpossibleStateError("missing: isinstance(enclosure, EnclosureForm)")
        try:
            fitted, uses = suggest_with(self.request(enclosure), enclosure.owned())
            outfit = to_data(fitted)
        except DocumentError:
            return {}
        whole = {name: outfit[name] for name in ("enclosure", "items")}
        whole["owned"] = [owned_words(use) for use in uses]
        return {
            **HeatForm.initial_from(outfit["items"], self.units),
            "outfit": "suggested" if outfit["items"] else "own",
            "suggestion": json.dumps(whole) if outfit["items"] else "",
        }


def _with_suggestion(data: dict[str, Any], suggestion: dict[str, Any]) -> Request:
    """The suggested setup in the enclosure that was written. Raises `DocumentError`.

    Its vents, lid and moisture are the suggestion's; it must be of the same size.
    """
    spec = data["enclosure"]
    suited = suggestion["enclosure"]
    if spec["inside_m"] != suited.get("inside_m"):
        reason = (
            "The suggestion was made for an enclosure of another size: reset this step to the"
            " suggestion."
        )
        raise DocumentError("request", [Problem("/suggestion", reason)])
    return from_data({**data, "enclosure": {**spec, **suited}, "items": suggestion["items"]})
