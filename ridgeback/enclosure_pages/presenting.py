"""What the enclosure's page shows, ready for its templates: numbers in the reader's units, drawings
as SVG, sentences made.
"""

import datetime as dt
from collections.abc import Sequence
from dataclasses import dataclass, field, replace

from django.utils.safestring import SafeString, mark_safe
from django.utils.text import get_text_list

from husbandry.calibration.implausible_readings import read_again_first
from husbandry.derivation import Derivation
from husbandry.documents.request import Request
from husbandry.documents.result import (
    AnimalFound,
    Change,
    NeedState,
    Plan,
    first_danger,
    worst_harm,
)
from husbandry.feeding.calendar import Diet
from husbandry.feeding.supplements import pace_text
from husbandry.findings.zones import zones_of
from husbandry.forecast.interim_size import InterimSize, interim_size
from husbandry.predict.light import plants_for
from husbandry.quantity import Kind, Units, show
from husbandry.species.needs import NEEDS, NeedKey
from husbandry.targets.verdicts import BEFORE_THE_CHANGE
from ridgeback import sentences
from ridgeback.climate.moisture import MoistureView, moisture_view
from ridgeback.drawing import gauge
from ridgeback.drawing.fields import grids, readable
from ridgeback.drawing.paper import Paper
from ridgeback.drawing.sheet import NARROW, WIDE, Labels, front_view
from ridgeback.drawing.strips import strips
from ridgeback.drawing.svg import write
from ridgeback.enclosure_pages.calibration import CalibrationView, calibration_view
from ridgeback.enclosures import wording
from ridgeback.enclosures.planning import Planned
from ridgeback.sentences import plural
from ridgeback.units import spelled


@dataclass(frozen=True)
class Number:
    """A number on the page, with the pointer to its derivation."""

    text: str
    pointer: str


EXPLAINED = {
    NeedKey.SURFACE_DAY: "basking-surface",
    NeedKey.WARM_AIR_DAY: "warm-end",
    NeedKey.COOL_AIR_DAY: "cool-end",
    NeedKey.UVI_DAY: "uvi",
    NeedKey.HUMIDITY_DAY: "humidity",
}
"""Needs whose name is a term of the trade."""


@dataclass(frozen=True)
class NeedView:
    """A need beside its gauge."""

    key: str
    name: str
    place: str
    phase: str
    direction: str
    limit: str
    verdict: str
    gauge: SafeString
    predicted: Number | None
    interval: str
    measured: Number | None
    age: str
    judged: bool
    why_not: str
    floor: Number | None
    target: tuple[Number, ...]
    others: tuple[tuple[str, str, str], ...] = ()
    """What other approaches say of the target range: approach, range, reason."""
    early: str = ""
    """Of a reading of the morning: what was read, and what was still to come."""
    odd: str = ""
    """Why the reading should be taken again first."""
    term: str = ""
    """Under which term (help/terms.py) it is explained; empty where its name says all."""


@dataclass(frozen=True)
class ChangeView:
    """A change as sentences."""

    index: int
    kind: str
    item_id: str
    title: str
    effects: tuple[str, ...]
    answers: str
    """The finding that is gone with it, in its own words; empty where it is for a need."""
    urgent: bool
    """Whether that is a danger."""
    safety: str
    safe: bool
    effort: str
    price_eur: float
    """What is to be bought, by guide prices [€]."""
    puts_right: int
    pointer: str


@dataclass(frozen=True)
class Headline:
    """What is wrong and what to do, for the first two seconds."""

    direction: str
    problem: str
    title: str = ""
    kind: str = ""
    item_id: str = ""


@dataclass(frozen=True)
class DayView:
    """One day of the four weeks."""

    day: dt.date
    meals: tuple[str, ...]
    supplements: tuple[str, ...]
    today: bool
    past: bool = False


@dataclass(frozen=True)
class AnimalView:
    """An animal and its food."""

    name: str
    kind: str
    stage: Number
    decided_by: str
    body: str
    weeks: tuple[tuple[DayView, ...], ...]
    portions: tuple[tuple[str, tuple[Number, ...]], ...]
    energy: Number
    energy_verdict: str
    supplements: tuple[Number, ...] = ()
    because: tuple[str, ...] = ()
    """Why its meals differ from the usual of its stage."""
    pk: int = 0
    """Of its row, for the page of its food; 0 for one that is only drafted."""


@dataclass(frozen=True)
class EnclosureView:
    """The page's content."""

    wide: SafeString
    narrow: SafeString
    read_out: dict[str, object]
    days: tuple[NeedView, ...]
    nights: tuple[NeedView, ...]
    changes: tuple[ChangeView, ...]
    animals: tuple[AnimalView, ...]
    dangers: tuple[str, ...]
    cares: tuple[str, ...]
    size: "SizeView"
    first: Headline
    zones: "ZonesView | None"
    told: CalibrationView | None
    moisture: MoistureView | None
    facts: tuple[tuple[str, Number], ...] = field(default=())

    @property
    def needs(self) -> tuple[NeedView, ...]:
        """All of them, day before night."""
        return self.days + self.nights

    @property
    def for_needs(self) -> tuple[ChangeView, ...]:
        """Changes that clear a danger or put a need right."""
        return tuple(change for change in self.changes if change.urgent or not change.answers)

    @property
    def for_findings(self) -> tuple[ChangeView, ...]:
        """Changes that each clear another finding."""
        return tuple(change for change in self.changes if change.answers and not change.urgent)


@dataclass(frozen=True)
class ZonesView:
    """Where warmth and ultraviolet meet along the floor."""

    drawing: SafeString
    sentences: tuple[tuple[str, str], ...]
    """Direction and words, what is missing first."""


@dataclass(frozen=True)
class SizeView:
    """The enclosure against its rule."""

    enough: bool
    needed: Number
    short: str
    other_approach: str
    other: Number
    volume: Number
    for_now: str = ""
    """Until when it does by the accepted minimum, and what it costs; empty where it does not."""


def _safe(svg: str) -> SafeString:
    """Our own writer escapes every word and number that goes into it."""
    return mark_safe(svg)


def need_view(plan: Plan, need: NeedState, units: Units, now: dt.datetime) -> NeedView:
    """One need."""
    n = plan.needs.index(need)
    at = f"/needs/{n}"
    kind = NEEDS[need.key].kind
    ends = [
        (need.low, "low"),
        (need.high, "high"),
        (need.limit_low, "limit_low"),
        (need.limit_high, "limit_high"),
    ]
    earlier = need.measured is not None and need.measured.why_not == BEFORE_THE_CHANGE
    words = {"low": "from", "high": "to", "limit_low": "never under", "limit_high": "never over"}

    return NeedView(
        key=need.key.value,
        name=need.name,
        term=EXPLAINED.get(need.key, ""),
        place=need.place,
        phase=need.phase,
        direction=need.verdict.direction,
        limit=need.verdict.limit,
        verdict=wording.verdict(need, units),
        gauge=_safe(write(gauge.large(need, units))),
        predicted=(
            Number(show(need.predicted.value, kind, units), f"{at}/predicted")
            if need.predicted
            else None
        ),
        interval=wording.interval(need, units),
        measured=(
            Number(show(need.measured.value, kind, units), f"{at}/measured/derivation")
            if need.measured
            else None
        ),
        age=(
            wording.age(need.measured.at, now) + (", before the change" if earlier else "")
            if need.measured
            else ""
        ),
        judged=bool(need.measured and need.measured.judged),
        why_not=need.measured.why_not if need.measured and not earlier else "",
        floor=Number(show(need.floor.value, kind, units), f"{at}/floor") if need.floor else None,
        target=tuple(
            Number(f"{words[name]} {show(end.value, kind, units)}", f"{at}/{name}")
            for end, name in ends
            if end
        ),
        others=_others(need, units),
        early=wording.early(need, units),
        odd=need.measured.odd if need.measured else "",
    )


def _others(need: NeedState, units: Units) -> tuple[tuple[str, str, str], ...]:
    end = need.low or need.high
    told = end.others if end is not None else ()
    return tuple(
        (other.approach, sentences.otherwise(other, units), sentences.because(other.why))
        for other in told
    )


def _change(index: int, change: Change, plan: Plan, units: Units) -> ChangeView:
    dangers = {note.slug for note in plan.notes if note.severity == "danger"}
    return ChangeView(
        index=index,
        kind=change.kind,
        item_id=change.item_id,
        title=wording.change_title(change, units),
        effects=tuple(wording.effect(item, units) for item in change.effects),
        answers=wording.answers(change, plan.notes, units),
        urgent=bool(dangers & set(change.clears)),
        safety=wording.safety(change, units),
        safe=change.safety.safe,
        effort=wording.EFFORT[change.effort],
        price_eur=change.price_eur,
        puts_right=change.puts_right,
        pointer=f"/changes/{index}/derivation",
    )


def _cares(plan: Plan, units: Units) -> tuple[str, ...]:
    """What is no danger and no change answers."""
    answered = {slug for change in plan.changes for slug in change.clears[:1]}
    return tuple(
        wording.note(note, units)
        for note in plan.notes
        if note.severity != "danger" and note.slug not in answered
    )


def _portion(grams: float, name: str, count: int | None, units: Units) -> str:
    if count is not None:
        return f"{count} {name if count == 1 else plural(name)}"
    return f"{show(grams, Kind.MASS, units)} {name}"


def _animal(index: int, animal: AnimalFound, units: Units) -> AnimalView:
    at = f"/animals/{index}/diet"
    diet = animal.diet
    weeks = _weeks_of(diet)
    portions = []
    for n, plan in enumerate(diet.plans):
        rhythm = sentences.rhythm(plan.every_days.value)
        here = f"{at}/plans/{n}"
        rows = [
            Number(f"{show(plan.grams.value, Kind.MASS, units)} in all", f"{here}/grams"),
            Number(rhythm, f"{here}/every_days"),
            *(
                Number(
                    _portion(p.grams, p.name, p.count, units), f"{here}/portions/{k}/derivation"
                )
                for k, p in enumerate(plan.portions)
            ),
        ]
        if plan.calcium_mg and plan.calcium_mg.value > 0:
            supplement = (
                f"about {sentences.supplement(plan.calcium_mg.value)} of calcium supplement: a light"
                " even coat"
            )
            rows.append(Number(supplement, f"{here}/calcium_mg"))
        portions.append((plan.name, tuple(rows)))
    mass = show(animal.mass_g, Kind.MASS, units) + wording.HOW_KNOWN["mass"][animal.body.mass.how]
    length = show(animal.length_m, Kind.LENGTH, units)
    length += wording.HOW_KNOWN["length"][animal.body.length.how]
    decided = {"mass": "by mass", "length": "by length", "age": "by age", "nothing": "assumed"}[
        animal.stage.decided_by
    ]

    return AnimalView(
        name=animal.name or animal.common_name,
        kind=animal.common_name,
        stage=Number(
            animal.stage.name,
            f"/animals/{index}/stage/derivation" if animal.stage.derivation else "",
        ),
        decided_by=decided,
        body=f"{mass}, {length}",
        weeks=weeks,
        portions=tuple(portions),
        energy=Number(f"{diet.energy_kj_day.value:.1f} kJ a day", f"{at}/energy_kj_day"),
        energy_verdict=diet.energy_verdict,
        because=diet.plans[0].because if diet.plans else (),
        supplements=tuple(
            Number(pace_text(rule), f"{at}/supplements/{n}")
            for n, (rule, _) in enumerate(zip(diet.rules, diet.supplements, strict=True))
        ),
    )


def _weeks_of(diet: Diet) -> tuple[tuple[DayView, ...], ...]:
    """Put the days of food into weeks."""
    days: list[DayView] = []
    for offset in range(7 * diet.weeks):
        day = diet.first_day + dt.timedelta(days=offset)
        meals = [meal for meal in diet.meals if meal.day == day]
        supplements = tuple(
            dict.fromkeys(wording.SUPPLEMENTS[p] for meal in meals for p in meal.dusted_with)
        )
        days.append(DayView(day, tuple(meal.name for meal in meals), supplements, offset == 0))
    lead = diet.first_day.weekday()
    padded = [
        DayView(diet.first_day - dt.timedelta(days=lead - n), (), (), False, True)
        for n in range(lead)
    ] + days

    return tuple(tuple(padded[i : i + 7]) for i in range(0, len(padded), 7))


NOT_DESCRIBED_YET = "Nothing in it is described yet"
SAY_WHAT_IS_IN_IT = "Say on its Layout page what hangs and stands in it, or find a setup"


def undescribed(view: EnclosureView) -> EnclosureView:
    """The same of an enclosure that stands and whose lamps nobody has told: it is not cold, it is
    not known.
    """
    said = Headline("unknown", NOT_DESCRIBED_YET, title=SAY_WHAT_IS_IN_IT)
    return replace(view, first=said)


def _first(plan: Plan, units: Units) -> Headline:
    """Say what harms most, and what to do about it."""
    worst = plan.worst
    harm = worst_harm(plan)
    larger = next((one for one in plan.changes if one.kind == "larger_enclosure"), None)
    top = larger if harm == "size" else plan.answer
    doing = (
        {"title": wording.change_title(top, units), "kind": top.kind, "item_id": top.item_id}
        if top
        else {}
    )
    danger = first_danger(plan)
    if danger is not None:
        return Headline("above", wording.first_sentence(danger, units))
    if harm == "size":
        return Headline("below", "The enclosure is too small", **doing)
    if worst is not None:
        if read_again_first(worst):
            doing = {"title": "Measure it again before you change anything"}
        problem = f"{worst.name} {wording.verdict(worst, units)}"
        return Headline(worst.verdict.direction, problem, **doing)
    if not plan.size.enough:
        return Headline("below", "The enclosure is too small", **doing)

    return Headline("right", "In range as far as known")


def _for_now(interim: InterimSize | None, units: Units) -> str:
    """Until when a small enclosure does by the accepted minimum, and what it costs the animal."""
    if interim is None:
        return ""
    if interim.until is None:
        until = "It does by the accepted minimum, grown too."
    else:
        length = show(interim.length_m, Kind.LENGTH, units)
        until = (
            f"By the accepted minimum it does for now, until about {interim.until:%B %Y} ({length}"
            " of body, as its species grows)."
        )
    lacks = [check.name for check in interim.costs]

    return f"{until} It lacks {get_text_list(lacks, 'and')}." if lacks else until


def _size(plan: Plan, request: Request, units: Units) -> SizeView:
    size = plan.size

    def sides(values: tuple[float, ...]) -> str:
        return "\u00a0×\u00a0".join(
            show(v, Kind.LENGTH, units, unit=n == len(values) - 1) for n, v in enumerate(values)
        )

    needed = Number(sides(tuple(side.needed_m for side in size.sides)), "/size/needed")
    short = [
        f"{side.name} is {show(side.actual_m, Kind.LENGTH, units)}"
        for side in size.sides
        if not side.enough
    ]
    if short and size.sides[-1].actual_m < size.usable_height_m - 0.001:
        short[-1] += (
            f" with the {show(size.substrate_needed_m, Kind.LENGTH, units)} of substrate that it"
            " needs"
        )
    elif short and not size.sides[-1].enough and size.sides[-1].actual_m <= size.usable_height_m:
        short[-1] += " above the substrate"
    volume = Number(show(size.volume.value, Kind.VOLUME, units), "/size/volume")
    other = Number(sides(size.other_needed_m), "/size/other")
    for_now = "" if size.enough else _for_now(interim_size(request, plan), units)

    return SizeView(
        size.enough, needed, ", ".join(short), size.other_approach, other, volume, for_now
    )


def _zones(planned: Planned, units: Units) -> ZonesView | None:
    lead = max(planned.plan.animals, key=lambda animal: animal.length_m)
    profile = planned.request.profiles[lead.species]
    zones = zones_of(planned.prediction, planned.plan.needs, profile, lead.length_m)
    if zones is None:
        return None
    drawing = strips(zones, profile.body.outline, profile.nose_to_tail_m(lead.length_m), units)
    told = wording.zones(zones, units)

    return ZonesView(
        _safe(write(drawing)), tuple(sorted(told, key=lambda pair: pair[0] == "right"))
    )


def _light_facts(plan: Plan) -> list[tuple[str, Number]]:
    """Brightness, the length of the day, and what a leaf gets."""
    light = {
        key: derivation.value
        for key, derivation in plan.predictions.items()
        if key.startswith("light_")
    }
    if not light:
        return []

    def lux(value: float) -> str:
        return (
            f"{round(value, -2 if value >= 1000 else -1 if value >= 100 else 0):,.0f} lx".replace(
                ",", "\u202f"
            )
        )

    texts = {
        "light_basking": ("Light where it basks", lux(light["light_basking"])),
        "light_cool": ("at the cool end", lux(light["light_cool"])),
        "light_hours": ("Lit", f"{light['light_hours']:.1f} h a day"),
        "light_leaf": (
            "On a leaf",
            f"{light['light_leaf']:.1f} mol/m² a day, {plants_for(light['light_leaf'])}",
        ),
    }
    hides = [key for key in plan.predictions if key.startswith("hide_")]
    texts |= {
        key: (
            "In the hide" if len(hides) == 1 else f"In hide {n}",
            lux(plan.predictions[key].value),
        )
        for n, key in enumerate(hides, 1)
    }

    return [(name, Number(text, f"/predictions/{key}")) for key, (name, text) in texts.items()]


def linked(view: EnclosureView, animals: Sequence[int]) -> EnclosureView:
    """The same view with the rows of its animals, for pages of theirs."""
    if len(animals) != len(view.animals):
        return view
    return replace(
        view,
        animals=tuple(replace(one, pk=pk) for one, pk in zip(view.animals, animals, strict=True)),
    )


def _front(planned: Planned, units: Units, labels: Labels, paper: Paper) -> SafeString:
    """The front view on paper of that size."""

    def drawn() -> SafeString:
        view = front_view(planned.plan, planned.prediction, units, labels, paper, light=True)
        return _safe(write(view))

    return planned.once(("front", spelled(units), labels, paper), drawn)


def enclosure_view(
    planned: Planned, units: Units, now: dt.datetime, *, name: str, previewing: bool = False
) -> EnclosureView:
    """The whole page's content. `now` is the reader's moment, for how long ago things were."""
    plan = planned.plan
    labels = Labels(
        name, "Lamp on, settled", "not saved yet" if previewing else f"plan {plan.revision}"
    )
    views = [need_view(plan, need, units, now) for need in plan.needs]
    predictions = plan.predictions
    facts: list[tuple[str, Number]] = [
        (
            "Air in the middle",
            Number(
                show(predictions["middle_air_day"].value, Kind.TEMPERATURE, units),
                "/predictions/middle_air_day",
            ),
        )
    ]
    _add_facts(facts, predictions, units)
    facts += _light_facts(plan)
    for key, derivation in predictions.items():
        if key.startswith("routine_"):
            facts.append(
                (
                    "Lamp's share of its power",
                    Number(f"{derivation.value:.0%}", f"/predictions/{key}"),
                )
            )

    return EnclosureView(
        wide=_front(planned, units, labels, WIDE),
        narrow=_front(planned, units, labels, NARROW),
        read_out=planned.once(
            ("read-out", spelled(units)),
            lambda: readable(planned.prediction, grids(planned.prediction), units),
        ),
        days=tuple(v for v in views if v.phase == "day"),
        nights=tuple(v for v in views if v.phase == "night"),
        changes=tuple(_change(n, change, plan, units) for n, change in enumerate(plan.changes)),
        animals=tuple(_animal(n, animal, units) for n, animal in enumerate(plan.animals)),
        dangers=tuple(
            wording.note(note, units) for note in plan.notes if note.severity == "danger"
        ),
        cares=_cares(plan, units),
        size=_size(plan, planned.request, units),
        first=_first(plan, units),
        zones=planned.once(("zones", spelled(units)), lambda: _zones(planned, units)),
        moisture=moisture_view(plan, units),
        told=calibration_view(plan, units),
        facts=tuple(facts),
    )


def _add_facts(
    facts: list[tuple[str, Number]], predictions: dict[str, Derivation], units: Units
) -> None:
    """Add the facts that the predictions hold."""
    if "warm_patch" in predictions:
        facts.append(
            (
                "Warm patch",
                Number(
                    show(predictions["warm_patch"].value, Kind.LENGTH, units),
                    "/predictions/warm_patch",
                ),
            )
        )
    if "uv_coverage" in predictions:
        facts.append(
            (
                "Length in the UV target range",
                Number(f"{predictions['uv_coverage'].value:.0%}", "/predictions/uv_coverage"),
            )
        )
        facts.append(
            (
                "Length in UV shade",
                Number(f"{predictions['uv_shade'].value:.0%}", "/predictions/uv_shade"),
            )
        )
    if "uv_dose" in predictions:
        in_range = show(predictions["uv_in_range"].value, Kind.HOURS, units)
        facts.append(("UV index in range, each day", Number(in_range, "/predictions/uv_in_range")))
        dose = f"{predictions['uv_dose'].value:.1f} index hours"
        facts.append(
            ("UV dose of a day in the basking place", Number(dose, "/predictions/uv_dose"))
        )
    facts.append(
        (
            "Thermostat failed on, hottest day",
            Number(
                show(predictions["failed_on_surface"].value, Kind.TEMPERATURE, units, digits=0),
                "/predictions/failed_on_surface",
            ),
        )
    )
    cool = show(predictions["failed_on_cool_air"].value, Kind.TEMPERATURE, units, digits=0)
    facts.append(("its cool end", Number(cool, "/predictions/failed_on_cool_air")))
