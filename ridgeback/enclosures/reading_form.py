"""The form of a reading: what was read, where, when and with what."""

import datetime as dt
import zoneinfo
from collections.abc import Mapping
from typing import Any

from django import forms

from husbandry.commissioning.reading_doubts import reading_doubts
from husbandry.documents.request import ReadingSpec, Request
from husbandry.documents.result import BaskingPlace
from husbandry.errors import EntryError
from husbandry.quantity import PLAUSIBLE, Doubt, Kind, Units, question, read, show
from husbandry.readings import INSTRUMENTS, cannot_read, usual_instrument
from husbandry.species.needs import NEEDS, NeedKey, NeedKind
from ridgeback.fields import clock
from ridgeback.submissions.forms import OnceForm


def _length_like(label: str) -> forms.CharField:
    return forms.CharField(
        label=label,
        max_length=60,
        required=False,
        widget=forms.TextInput(attrs={"autocomplete": "off", "class": "quantity"}),
    )


class ReadingForm(OnceForm):
    """A reading in seconds: what, where, when, with what, its offset, and since when the lamp was
    on.

    The room's temperature and a place of its own are for who wants to tell the model more.
    """

    need = forms.ChoiceField(label="What and where")
    value = forms.CharField(
        label="Reading",
        max_length=60,
        widget=forms.TextInput(
            attrs={"autocomplete": "off", "inputmode": "decimal", "class": "quantity"}
        ),
    )
    at = forms.DateTimeField(
        label="When",
        widget=forms.DateTimeInput(attrs={"type": "datetime-local"}, format="%Y-%m-%dT%H:%M"),
    )
    instrument = forms.ChoiceField(label="Instrument", choices=list(INSTRUMENTS.items()))
    offset = forms.CharField(
        label="Offset (it reads high by)",
        max_length=60,
        required=False,
        widget=forms.TextInput(attrs={"autocomplete": "off", "class": "quantity"}),
    )
    lamp_on = forms.TimeField(label="Lamp on since", required=False, widget=clock())
    moment = forms.ChoiceField(
        label="Of the daily wave",
        required=False,
        choices=[
            ("", "no, at the end of its time"),
            ("before misting", "before a misting"),
            ("after misting", "half an hour after one"),
        ],
    )
    room = _length_like("Room now")
    from_left = _length_like("From the left")
    above_floor = _length_like("Above the floor")
    confirm = forms.CharField(required=False, max_length=60, widget=forms.HiddenInput)

    def __init__(
        self,
        *args: Any,
        keys: list[NeedKey],
        units: Units,
        zone: str,
        now: dt.datetime,
        request: Request,
        basking: BaskingPlace,
        moved_at: Mapping[NeedKey, dt.datetime],
        asks_hour: bool = True,
        **kwargs: Any,
    ) -> None:
        self.units = units
        self.zone = zoneinfo.ZoneInfo(zone)
        self.now = now
        self.request = request
        self.basking = basking
        self.moved_at = moved_at
        self.asks_hour = asks_hour
        self.enclosure = request.enclosure
        self.doubt: Doubt | None = None
        super().__init__(*args, **kwargs)
        choices = [(key.value, f"{NEEDS[key].name}, {NEEDS[key].place}") for key in keys]
        self.fields["need"].choices = choices  # type: ignore[attr-defined]  # a ChoiceField's own
        self.usual = {key.value: usual_instrument(key) for key in keys}
        if not self.is_bound:
            self.initial.setdefault("at", now.astimezone(self.zone).strftime("%Y-%m-%dT%H:%M"))
            self.initial.setdefault("instrument", next(iter(self.usual.values()), "probe"))

    @property
    def more(self) -> list[Any]:
        """What is asked besides."""
        return [self[name] for name in ("room", "from_left", "above_floor")]

    @property
    def waves(self) -> bool:
        """Whether the enclosure is misted, so that its humidity has a wave to read."""
        return self.enclosure.wetting is not None and bool(self.enclosure.wetting.mistings)

    def clean_at(self) -> dt.datetime:
        """Typed in the room's own time."""
        typed: dt.datetime = self.cleaned_data["at"]
        at = typed.replace(tzinfo=self.zone)
        if at > self.now + dt.timedelta(minutes=2):
            raise forms.ValidationError("This moment is still to come.")
        return at

    def clean(self) -> dict[str, Any]:
        """Read the value in the need's quantity, and ask about what cannot well be true."""
        cleaned = super().clean() or {}
        if "need" not in cleaned or "value" not in cleaned:
            return cleaned
        kind = NEEDS[NeedKey(cleaned["need"])]
        try:
            entry = read(cleaned["value"], kind.kind, self.units)
            cleaned["number"] = entry.value
        except EntryError as why:
            self.add_error("value", str(why))
            return cleaned
        doubt = question(
            entry,
            PLAUSIBLE[kind.plausible],
            units=self.units,
            what=kind.name if kind.kind is Kind.UVI else kind.name.lower(),
        )
        if doubt and (doubt.refused or cleaned.get("confirm") != cleaned["value"]):
            self.doubt = doubt
            self.add_error("value", doubt.sentence)
        if why_not := cannot_read(cleaned.get("instrument", ""), kind.key):
            self.add_error("instrument", why_not)
        if cleaned.get("moment") and kind.key is not NeedKey.HUMIDITY_DAY:
            self.add_error(
                "moment", "Only the humidity of the day is read before and after a misting."
            )
        cleaned["offset_value"] = self._offset(cleaned.get("offset", ""), kind.kind)
        cleaned["lamp_on_h"] = self._lamp_hours(cleaned)
        cleaned["room_c"] = self._room(cleaned.get("room", ""))
        cleaned["at_m"] = self._place(cleaned, kind)
        if not self.errors and cleaned.get("confirm") != cleaned["value"]:
            self._ask(cleaned, kind.key)
        return cleaned

    def _ask(self, cleaned: dict[str, Any], need: NeedKey) -> None:
        """Ask about what its hour, its place or the readings before it do not allow."""
        reading = ReadingSpec(
            need=need,
            value=cleaned["number"],
            offset=cleaned["offset_value"],
            at=cleaned["at"],
            lamp_on_h=cleaned["lamp_on_h"],
            revision=self.request.revision,
            at_m=cleaned["at_m"],
            moment=cleaned.get("moment") or "",
        )
        doubts = reading_doubts(
            reading,
            self.request,
            basking=self.basking,
            built_at=self.moved_at.get(need),
            hour=self.asks_hour,
            units=self.units,
        )
        if doubts:
            self.doubt = Doubt(doubts[0], None, refused=False)
            self.add_error("value", doubts[0])

    def _room(self, typed: str) -> float | None:
        if not typed.strip():
            return None
        try:
            value = read(typed, Kind.TEMPERATURE, self.units).value
        except EntryError as why:
            self.add_error("room", str(why))
            return None
        if not -10 <= value <= 50:
            self.add_error(
                "room",
                f"A room of {show(value, Kind.TEMPERATURE, self.units)} is no place for this"
                " enclosure.",
            )
        return value

    def _place(self, cleaned: dict[str, Any], kind: NeedKind) -> tuple[float, float, float] | None:
        """A place of its own [m]: in the middle of the depth, inside the enclosure."""
        typed = {name: cleaned.get(name, "").strip() for name in ("from_left", "above_floor")}
        if not any(typed.values()):
            return None
        inside = self.enclosure.inside_m
        most = {"from_left": inside.length, "above_floor": inside.height}
        found: dict[str, float] = {}
        for name, text in typed.items():
            if not text:
                self.add_error(
                    name, "A place of its own needs both: from the left, and above the floor."
                )
                continue
            try:
                found[name] = read(text, Kind.LENGTH, self.units).value
            except EntryError as why:
                self.add_error(name, str(why))
                continue
            if not 0 <= found[name] <= most[name]:
                del found[name]
                self.add_error(
                    name,
                    "Outside the enclosure, which ends at"
                    f" {show(most[name], Kind.LENGTH, self.units)}.",
                )
        if kind.kind not in {Kind.TEMPERATURE, Kind.UVI} or kind.key is NeedKey.WATER_DAY:
            self.add_error(
                "from_left",
                "Only temperatures and the UV index can be told the model for a place of their"
                " own.",
            )
            return None
        return (
            (found["from_left"], inside.depth / 2, found["above_floor"])
            if len(found) == 2
            else None
        )

    def _offset(self, typed: str, kind: Kind) -> float:
        if not typed.strip():
            return 0.0
        try:
            offset = read(
                typed,
                Kind.TEMPERATURE_DIFFERENCE if kind is Kind.TEMPERATURE else kind,
                self.units,
            ).value
        except EntryError as why:
            self.add_error("offset", str(why))
            return 0.0
        if abs(offset) > 20:
            self.add_error("offset", "No instrument that is off by this much should be used.")
        return offset

    def _lamp_hours(self, cleaned: dict[str, Any]) -> float | None:
        since = cleaned.get("lamp_on")
        at = cleaned.get("at")
        if since is None or at is None:
            return None
        start = at.replace(hour=since.hour, minute=since.minute)
        hours = (at - start).total_seconds() / 3600
        return float(hours if hours >= 0 else hours + 24)
