"""Forms of logger files: the file, and what its columns are."""

from typing import Any, Final

from django import forms

from husbandry.records.channels import PLACE_WORDS, Quantity, SensorPlace, places_of
from husbandry.records.logger_layout import LoggerColumn, LoggerLayout
from ridgeback.enclosures.models import Enclosure
from ridgeback.exchange.uploads import LOGGER_BYTES
from ridgeback.records.models import LoggerFile
from ridgeback.records.places import place_choices

ROLES: Final = (
    ("left out", "leave it out"),
    ("temperature C", "temperature, °C"),
    ("temperature F", "temperature, °F"),
    ("humidity", "humidity, %"),
    ("uvi", "UV index"),
    ("power", "power, W"),
    ("moment", "day and time"),
    ("day", "day"),
    ("clock", "time of day"),
)
CLOCKS: Final = (
    ("room", "as the room’s clock, with summer time"),
    ("standard", "standard time all year"),
    ("utc", "UTC"),
)
ORDERS: Final = (
    ("", "choose"),
    ("day first", "the day first"),
    ("month first", "the month first"),
)
USUAL_PLACES = {
    Quantity.TEMPERATURE: SensorPlace.WARM,
    Quantity.HUMIDITY: SensorPlace.COOL,
    Quantity.UVI: SensorPlace.SURFACE,
    Quantity.POWER: SensorPlace.PLUG,
    Quantity.HEATING: SensorPlace.THERMOSTAT,
    Quantity.MASS: SensorPlace.SCALE,
}


class FileForm(forms.Form):
    """A file as a logger or its program exports it."""

    file = forms.FileField(
        label="File",
        required=False,
        widget=forms.FileInput(attrs={"accept": ".csv,.txt,.tsv,text/*"}),
        help_text="CSV, TSV or text, up to 60 MB. You see what was understood before anything is imported.",
    )

    def __init__(self, *args: Any, too_large: bool = False, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.too_large = too_large

    def clean_file(self) -> Any:
        """A file with something in it."""
        if self.too_large:
            raise forms.ValidationError(
                f"This file is larger than {LOGGER_BYTES / 1e6:g} MB: export a shorter time."
            )

        file = self.cleaned_data["file"]
        if not file:
            raise forms.ValidationError("Choose a file.")
        return file


def said_role(column: LoggerColumn) -> str:
    """What a column is, as the form has it."""
    return f"temperature {column.unit or 'C'}" if column.role == "temperature" else column.role


class ColumnsForm(forms.Form):
    """What each column is, and where its sensor was."""

    instrument = forms.CharField(
        label="Name of the logger",
        max_length=80,
        help_text="The next file of it goes to the same lines.",
    )
    order = forms.ChoiceField(
        label="In days such as 03/04, first comes", choices=ORDERS, required=False
    )
    clock = forms.ChoiceField(label="The logger’s clock runs", choices=CLOCKS)

    def __init__(
        self, *args: Any, file: LoggerFile, enclosures: list[Enclosure], **kwargs: Any
    ) -> None:
        self.layout = LoggerLayout.model_validate(file.layout)
        known = file.targets or {}
        kwargs.setdefault(
            "initial",
            {
                "instrument": known.get("instrument", file.name.rsplit(".", 1)[0][:80]),
                "order": self.layout.order or known.get("order", ""),
                "clock": known.get("clock", "room"),
            },
        )

        super().__init__(*args, **kwargs)
        homes = [(str(one.pk), one.name) for one in enclosures]
        self.has_several = len(homes) > 1
        used: set[tuple[str, str]] = set()

        for n, column in enumerate(self.layout.columns):
            said = known.get("columns", {}).get(str(n), {})
            self.fields[f"role_{n}"] = forms.ChoiceField(
                label=f"What {column.head} is", choices=ROLES, initial=said_role(column)
            )
            home = str(said.get("enclosure", file.enclosure_id))
            self.fields[f"enclosure_{n}"] = forms.ChoiceField(
                label=f"Enclosure of {column.head}",
                choices=homes,
                required=False,
                initial=home if home in dict(homes) else str(file.enclosure_id),
            )

            self.fields[f"place_{n}"] = forms.ChoiceField(
                label=f"Place of {column.head}",
                choices=place_choices(SensorPlace),
                required=False,
                initial=said.get("place") or _usual_place(column, used),
            )

    def rows(self) -> list[dict[str, Any]]:
        """A row for each column: the column and its fields."""
        return [
            {
                "column": column,
                "role": self[f"role_{n}"],
                "enclosure": self[f"enclosure_{n}"],
                "place": self[f"place_{n}"],
            }
            for n, column in enumerate(self.layout.columns)
        ]

    def clean(self) -> dict[str, Any]:
        """One time, at least one value, each place once; what each column is, as a layout."""
        data: dict[str, Any] = super().clean() or {}
        if self.errors:
            return data
        roles = [data[f"role_{n}"] for n in range(len(self.layout.columns))]
        self._check_time(roles)
        columns: dict[str, Any] = {}
        used: dict[tuple[str, str, str], int] = {}

        for n, column in enumerate(self.layout.columns):
            quantity = roles[n].split(" ")[0]
            if quantity not in set(Quantity):
                continue
            home, place = data[f"enclosure_{n}"], data[f"place_{n}"]
            if SensorPlace(place) not in places_of(Quantity(quantity)):
                words = PLACE_WORDS[SensorPlace(place)]
                self.add_error(f"place_{n}", f"{column.head} is not measured there: {words}.")
            other = used.setdefault((home, quantity, place), n)
            if other != n:
                said = f"{self.layout.columns[other].head} is of the same place: choose another."
                self.add_error(f"place_{n}", said)
            columns[str(n)] = {"enclosure": int(home), "place": place}

        if not columns:
            self.add_error(None, "Choose at least one column with values.")
        is_asked = self.layout.order is None and not data.get("order")
        if is_asked:
            self.add_error("order", "03/04 can be two days: say which comes first.")
        data["answers"] = {
            "instrument": data["instrument"].strip(),
            "clock": data["clock"],
            "order": data.get("order", ""),
            "columns": columns,
        }

        if not self.errors:
            data["layout"] = self._layout(roles, data.get("order", ""))
        return data

    def _check_time(self, roles: list[str]) -> None:
        for role, words in (("moment", "day and time"), ("day", "day"), ("clock", "time of day")):
            if roles.count(role) > 1:
                self.add_error(None, f"Only one column can be the {words}.")
        if "moment" not in roles and not {"day", "clock"} <= set(roles):
            self.add_error(None, "Choose the column with day and time, or one for each.")

    def _layout(self, roles: list[str], order: str) -> LoggerLayout:
        columns = tuple(
            column.model_copy(
                update={
                    "role": role.split(" ")[0] if role.startswith("temperature") else role,
                    "unit": role[-1] if role.startswith("temperature") else "",
                }
            )
            for column, role in zip(self.layout.columns, roles, strict=True)
        )
        return self.layout.model_copy(
            update={"columns": columns, "order": order or self.layout.order}
        )


def _usual_place(column: LoggerColumn, used: set[tuple[str, str]]) -> str:
    """The place by the column's name, else the usual one that no other column has."""
    quantity = column.quantity
    if quantity is None:
        return SensorPlace.WARM
    head = column.head.lower()
    words = {
        "bask": SensorPlace.SURFACE,
        "surface": SensorPlace.SURFACE,
        "hot": SensorPlace.WARM,
        "warm": SensorPlace.WARM,
        "cool": SensorPlace.COOL,
        "cold": SensorPlace.COOL,
        "hide": SensorPlace.HIDE,
        "water": SensorPlace.WATER,
        "room": SensorPlace.ROOM,
        "ambient": SensorPlace.ROOM,
    }

    allowed = places_of(quantity)
    named = next((one for word, one in words.items() if word in head and one in allowed), None)
    order = [named] if named is not None else [USUAL_PLACES[quantity], *allowed]
    found = next((one for one in order if (quantity, one) not in used), order[0])
    used.add((quantity, found))

    return found
