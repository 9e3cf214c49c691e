"""A keeper's table of animals and enclosures, read line by line: what is understood, what is asked,
what is refused.

Any delimiter, decimal commas, days as people write them, either units, columns recognised by their
names, species by any name. Nothing is written here. Method: docs/methods/intake.md.
"""

import csv
import datetime as dt
import functools
import io
import re
from collections.abc import Mapping, Sequence
from typing import Literal

from husbandry.bounds import LENGTH_MM, MASS_G
from husbandry.derivation import Document
from husbandry.enclosure.size_phrases import spoken
from husbandry.errors import EntryError
from husbandry.growth.plausibility import question_mass
from husbandry.intake.dates import Order, is_ambiguous, order_of, read_day
from husbandry.quantity import METRIC, Kind, QuantityEntry, Units, read
from husbandry.species.profile import Profile
from husbandry.species.searching import Index, identify
from husbandry.species.stages import DAYS_PER_MONTH

Column = Literal[
    "name",
    "species",
    "sex",
    "count",
    "born",
    "age",
    "came",
    "mass",
    "weighed",
    "length",
    "enclosure",
    "size",
    "room",
    "shelf",
]
Sex = Literal["female", "male", "unknown"]
LINES_MOST, LINE_MOST = 5_000, 4_000
"""Lines that are read, and letters of one, at the most (design choice)."""
DELIMITERS = ("\t", ";", "|", ",")
"""In the order in which they are believed: a comma may be a decimal one (design choice)."""
COLUMN_WORDS: dict[Column, tuple[str, ...]] = {
    "species": ("species", "kind of animal", "latin", "scientific", "common name", "taxon"),
    "sex": ("sex", "gender"),
    "count": ("count", "number", "quantity", "qty", "how many"),
    "born": ("born", "birth", "hatched", "hatch", "dob"),
    "age": ("age",),
    "came": ("came", "acquired", "arrived", "arrival", "bought", "since"),
    "weighed": ("weighed on", "weighing date", "weight date", "date weighed"),
    "mass": ("mass", "weight"),
    "length": ("length", "svl", "snout", "carapace", "shell"),
    "size": ("size", "dimensions", "enclosure size", "measures"),
    "shelf": ("shelf", "rack", "position"),
    "room": ("room", "place"),
    "enclosure": (
        "enclosure",
        "vivarium",
        "terrarium",
        "tank",
        "tub",
        "cage",
        "housing",
        "box",
        "lives in",
    ),
    "name": ("name", "animal", "id", "label", "pet"),
}
"""Words in the head of a column, the most telling columns first (common practice)."""
FEMALE = frozenset({"f", "female", "fem", "0.1", "0,1", "♀", "w", "hen"})
MALE = frozenset({"m", "male", "1.0", "1,0", "♂", "cock"})
UNKNOWN = frozenset({"", "u", "?", "unknown", "unsexed", "nk", "0.0.1", "0,0,1", "-", "n/a", "ns"})
"""What stands for a sex (common practice: males.females.unknown)."""
_UNIT = re.compile(r"[\[(]?\b(kg|g|oz|lbs?|mm|cm|m|in|inch|inches|ft)\b[\])]?\s*$", re.IGNORECASE)
_BARE = re.compile(r"[\d.,\s]+")
_AGE = re.compile(
    r"(\d+(?:[.,]\d+)?)\s*(y|yr|yrs|year|years|m|mo|mos|month|months|w|weeks?|d|days?)?"
)
_AGE_DAYS = {"y": 365.25, "m": DAYS_PER_MONTH, "w": 7.0, "d": 1.0}


class LineQuestion(Document):
    """Something about a line that its keeper decides."""

    column: Column
    text: str
    choices: tuple[tuple[str, str], ...] = ()
    """A value and its name, each."""


class TableLine(Document):
    """One line of the table as it is understood."""

    number: int
    """Of the line in the text, from 1."""
    name: str = ""
    species: str = ""
    """The scientific name; empty for a line that is of an enclosure alone."""
    common_name: str = ""
    sex: Sex = "unknown"
    count: int = 1
    born_on: dt.date | None = None
    came_on: dt.date | None = None
    mass_g: float | None = None
    weighed_on: dt.date | None = None
    length_mm: float | None = None
    length_kind: str = ""
    enclosure: str = ""
    sides_m: tuple[float, float, float] | None = None
    room: str = ""
    shelf: str = ""
    asked: tuple[LineQuestion, ...] = ()
    refused: tuple[str, ...] = ()

    @property
    def state(self) -> Literal["understood", "asked", "refused"]:
        """Whether it can be taken in."""
        if self.refused:
            return "refused"
        return "asked" if self.asked else "understood"


class TableRead(Document):
    """A table as it is understood."""

    columns: tuple[tuple[str, str], ...]
    """The head of each column and what it is taken as; empty where it is left out."""
    lines: tuple[TableLine, ...]
    order: Order
    order_asked: bool = False
    """Whether its days could be of either order, so that somebody has to say."""
    left_out: int = 0
    """Lines past the most that are read."""

    def of(self, state: str) -> tuple[TableLine, ...]:
        """The lines of a state."""
        return tuple(line for line in self.lines if line.state == state)


def read_table(
    text: str,
    index: Index,
    today: dt.date,
    *,
    units: Units = METRIC,
    order: Order | None = None,
    answers: Mapping[tuple[int, str], str] | None = None,
) -> TableRead:
    """Read a table whose first line names its columns.

    Parameters
    ----------
    index : Index
        Of the species that are known.
    today : date
        Where the animals live: no day is after it.
    units : Units
        Of bare numbers, where the head of the column names no unit.
    order : str, optional
        Of days with slashes, as somebody said; None: as the days themselves tell.
    answers : mapping, optional
        What was said to earlier questions, by line and column.

    Raises
    ------
    EntryError
        When there is no table in it, or no column that says which species.
    """
    rows, left_out = _rows(text)
    if not rows:
        raise EntryError("Paste a table: a line of column names, then a line for each animal.")
    head = rows[0][1]
    columns = _columns(head)
    if "species" not in columns and "enclosure" not in columns:
        raise EntryError(
            "No column says the species. Begin with a line of names, such as: name, species, sex,"
            " born, weight."
        )
    days = _days(rows[1:], columns)
    told = order or order_of(days)
    reader = _LineReader(
        columns=columns,
        head=head,
        index=index,
        today=today,
        units=units,
        order=told or "day first",
        answers=answers or {},
    )
    taken = {n: name for name, n in columns.items()}
    return TableRead(
        columns=tuple((cell.strip(), taken.get(n, "")) for n, cell in enumerate(head)),
        lines=tuple(reader.line(number, cells) for number, cells in rows[1:]),
        order=told or "day first",
        order_asked=told is None and any(is_ambiguous(day) for day in days),
        left_out=left_out,
    )


def _days(rows: Sequence[tuple[int, Sequence[str]]], columns: Mapping[Column, int]) -> list[str]:
    """Everything that stands in a column of days."""
    keys: tuple[Column, ...] = ("born", "came", "weighed")
    places = [columns[key] for key in keys if key in columns]
    found = []
    for _, cells in rows:
        found += [cells[n] for n in places if n < len(cells)]
    return found


def _rows(text: str) -> tuple[list[tuple[int, list[str]]], int]:
    """Lines with anything in them, numbered as in the text; and how many were too many."""
    plain = text.replace("\r\n", "\n").replace("\r", "\n").replace("\x00", "").lstrip("\ufeff")
    lines = [line for line in plain.split("\n") if line.strip()]
    if not lines:
        return [], 0
    delimiter = _delimiter(lines)
    reader = csv.reader(io.StringIO(plain), delimiter=delimiter, skipinitialspace=True)
    found = []
    try:
        for cells in reader:
            if any(cell.strip() for cell in cells):
                found.append((reader.line_num, [cell.strip()[:LINE_MOST] for cell in cells]))
    except csv.Error as why:
        raise EntryError(
            f"The table cannot be read from line {reader.line_num} on: {why}."
        ) from None
    return found[: LINES_MOST + 1], max(len(found) - LINES_MOST - 1, 0)


def _delimiter(lines: Sequence[str]) -> str:
    """What stands between the cells: it is in the head, and about as often in the next lines."""
    for delimiter in DELIMITERS:
        if delimiter in lines[0]:
            return delimiter
    return ","


def _columns(head: Sequence[str]) -> dict[Column, int]:
    """Which column says what, by its name."""
    found: dict[Column, int] = {}
    for name, words in COLUMN_WORDS.items():
        for n, cell in enumerate(head):
            said = re.sub(r"[^a-z ]", " ", cell.lower())
            taken = n in found.values()
            if not taken and any(re.search(rf"\b{word}\b", said) for word in words):
                found[name] = n
                break
    return found


class _LineReader:
    """Reads the cells of a line by its columns."""

    def __init__(
        self,
        *,
        columns: Mapping[Column, int],
        head: Sequence[str],
        index: Index,
        today: dt.date,
        units: Units,
        order: Order,
        answers: Mapping[tuple[int, str], str],
    ) -> None:
        self.columns = columns
        self.head = head
        self.today = today
        self.units = units
        self.order = order
        self.answers = answers
        self.identify = functools.cache(lambda said: tuple(identify(said, index)))

    def line(self, number: int, cells: Sequence[str]) -> TableLine:
        """One line, with what is asked and refused of it."""
        one = _Line(self, number, cells)
        return one.read()

    def unit_of(self, column: Column) -> str:
        """The unit that the head of a column names; empty where it names none."""
        match = _UNIT.search(self.head[self.columns[column]])
        return match[1].lower().replace("inches", "in").replace("inch", "in") if match else ""


class _Line:
    """A line as it is read: its cells, its questions, its refusals."""

    def __init__(self, reader: _LineReader, number: int, cells: Sequence[str]) -> None:
        self.reader = reader
        self.number = number
        self.cells = cells
        self.asked: list[LineQuestion] = []
        self.refused: list[str] = []

    def cell(self, column: Column) -> str:
        """What stands in a column, or was answered to a question about it."""
        answer = self.reader.answers.get((self.number, column))
        if answer:
            return answer
        n = self.reader.columns.get(column)
        return self.cells[n] if n is not None and n < len(self.cells) else ""

    def read(self) -> TableLine:
        """Everything that the line says."""
        profile = self._species()
        mass = self._quantity("mass", Kind.MASS)
        mass_g = None if mass is None else mass.value
        length = self._quantity("length", Kind.LENGTH)
        length_m = None if length is None else length.value
        born_on = self._born()
        came_on = self._day("came")
        if mass is not None and profile is not None:
            self._ask_about(mass, profile, born_on)
        if born_on and came_on and came_on < born_on:
            self.refused.append("It came before it was born.")
        enclosure = self.cell("enclosure")[:80]
        if profile is None and not self.asked and not self.refused and not enclosure:
            self.refused.append("The line names no species and no enclosure.")
        name = self.cell("name")[:70]
        return TableLine(
            number=self.number,
            name=name or (profile.name.capitalize() if profile else ""),
            species=profile.species if profile else "",
            common_name=profile.name if profile else "",
            sex=self._sex(),
            count=self._count(),
            born_on=born_on,
            came_on=came_on,
            mass_g=self._in_bounds(mass_g, MASS_G, "mass"),
            weighed_on=self._day("weighed"),
            length_mm=self._in_bounds(
                None if length_m is None else length_m * 1000, LENGTH_MM, "length"
            ),
            length_kind=self._length_kind(profile) if length_m is not None else "",
            enclosure=enclosure,
            sides_m=self._sides(),
            room=self.cell("room")[:80],
            shelf=self.cell("shelf")[:80],
            asked=tuple(self.asked),
            refused=tuple(self.refused),
        )

    def _species(self) -> Profile | None:
        said = self.cell("species")
        if not said:
            if self.cell("name") and "species" in self.reader.columns:
                self.refused.append("The species is missing.")
            return None
        found = self.reader.identify(said)
        if not found:
            self.refused.append(f"No species answers to “{said}”.")
            return None
        if len(found) > 1:
            choices = tuple((profile.species, profile.name) for profile in found)
            text = f"Which species is “{said}”?"
            self.asked.append(LineQuestion(column="species", text=text, choices=choices))
            return None
        return found[0]

    def _sex_of_cell(self) -> Sex:
        """Its sex where the cell is clear."""
        said = self.cell("sex").lower()
        if said in FEMALE:
            return "female"
        return "male" if said in MALE else "unknown"

    def _sex(self) -> Sex:
        found = self._sex_of_cell()
        if found != "unknown":
            return found
        if self.cell("sex").lower() not in UNKNOWN:
            choices = (("female", "female"), ("male", "male"), ("unknown", "unknown"))
            text = f"Which sex is “{self.cell('sex')}”?"
            self.asked.append(LineQuestion(column="sex", text=text, choices=choices))
        return "unknown"

    def _count(self) -> int:
        said = self.cell("count")
        if not said:
            return 1
        if said.isdigit() and 1 <= int(said) <= 200:
            return int(said)
        self.refused.append(f"“{said}” is no number of animals from 1 to 200.")
        return 1

    def _born(self) -> dt.date | None:
        born_on = self._day("born")
        said = self.cell("age").lower().strip()
        if born_on is not None or not said:
            return born_on
        match = _AGE.fullmatch(said)
        if match is None:
            self.refused.append(f"“{said}” cannot be read as an age: write 18 months.")
            return None
        unit = (match[2] or "y")[0]
        days = float(match[1].replace(",", ".")) * _AGE_DAYS[unit]
        if days > 200 * 365:
            self.refused.append(f"“{said}” is no age.")
            return None
        return self.reader.today - dt.timedelta(days=round(days))

    def _day(self, column: Column) -> dt.date | None:
        said = self.cell(column)
        if not said or said.lower() in UNKNOWN:
            return None
        try:
            day = read_day(said, self.reader.today, self.reader.order)
        except EntryError as why:
            self.refused.append(str(why))
            return None
        if day > self.reader.today:
            # the middle of a month or year that goes on
            if (day.year, len(said)) == (self.reader.today.year, 4):
                return self.reader.today
            self.refused.append(f"“{said}” is still to come.")
            return None
        return day

    def _ask_about(self, mass: QuantityEntry, profile: Profile, born_on: dt.date | None) -> None:
        """Ask about a mass that cannot well be true of its species or its age; an answer is believed."""
        if (self.number, "mass") in self.reader.answers:
            return
        doubt = question_mass(
            mass,
            profile,
            self._sex_of_cell(),
            on=self.reader.today,
            units=self.reader.units,
            born_on=born_on,
        )
        if doubt is not None and not doubt.refused:
            choices = ((self.cell("mass"), "it is right"),)
            self.asked.append(LineQuestion(column="mass", text=doubt.sentence, choices=choices))

    def _quantity(self, column: Column, kind: Kind) -> QuantityEntry | None:
        said = self.cell(column)
        if not said or said.lower() in UNKNOWN:
            return None
        unit = self.reader.unit_of(column) if column in self.reader.columns else ""
        typed = f"{said} {unit}" if unit and _BARE.fullmatch(said) else said
        try:
            return read(typed, kind, self.reader.units)
        except EntryError as why:
            self.refused.append(str(why))
            return None

    def _in_bounds(
        self, value: float | None, bounds: tuple[float, float], what: str
    ) -> float | None:
        if value is not None and not bounds[0] <= value <= bounds[1]:
            self.refused.append(f"“{self.cell(what)}” is no {what} of an animal.")  # type: ignore[arg-type]  # a column
            return None
        return value

    def _length_kind(self, profile: Profile | None) -> str:
        """As the head of the column says; else as is usual for the species."""
        head = self.reader.head[self.reader.columns["length"]].lower()
        if re.search(r"svl|snout", head):
            return "snout_vent"
        if re.search(r"carapace|shell|scl", head):
            return "shell"
        if "total" in head:
            return "total"
        return profile.body.length_kind if profile is not None else "total"

    def _sides(self) -> tuple[float, float, float] | None:
        said = self.cell("size")
        if not said:
            return None
        if not re.search(r"[a-z\"'″′]", said.lower().replace("x", "")):
            said = f"{said} {'in' if self.reader.units.system == 'us' else 'cm'}"
        try:
            phrase = spoken(said)
        except EntryError as why:
            self.refused.append(str(why))
            return None
        if phrase.sides_m is None or phrase.sides_m[2] is None:
            text = f"How high is “{self.cell('size')}”? Write all three sides."
            self.asked.append(LineQuestion(column="size", text=text))
            return None
        return (phrase.sides_m[0], phrase.sides_m[1], phrase.sides_m[2])
