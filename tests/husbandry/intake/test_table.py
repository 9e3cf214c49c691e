"""Tables as keepers have them (common practice, no source), read line by line."""

import datetime as dt

import pytest

from husbandry.errors import EntryError
from husbandry.intake.dates import is_ambiguous, order_of, read_day
from husbandry.intake.table import TableRead, read_table
from husbandry.quantity import Units
from husbandry.species.library import library
from husbandry.species.searching import Index

TODAY = dt.date(2026, 11, 26)
INDEX = Index.of(library().values())
US = Units("us", "f")


def table(text: str, **more: object) -> TableRead:
    return read_table(text, INDEX, TODAY, **more)  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("text", "day"),
    [
        ("2021-05-03", dt.date(2021, 5, 3)),
        ("2021/5/3", dt.date(2021, 5, 3)),
        ("3.5.2021", dt.date(2021, 5, 3)),
        ("03.05.21", dt.date(2021, 5, 3)),
        ("3 May 2021", dt.date(2021, 5, 3)),
        ("3rd May 2021", dt.date(2021, 5, 3)),
        ("May 3, 2021", dt.date(2021, 5, 3)),
        ("03-May-21", dt.date(2021, 5, 3)),
        ("May 2021", dt.date(2021, 5, 15)),
        ("05/2021", dt.date(2021, 5, 15)),
        ("2021", dt.date(2021, 7, 1)),
        ("about 2021", dt.date(2021, 7, 1)),
        ("1/2/98", dt.date(1998, 2, 1)),
    ],
)
def test_days_are_read_as_people_write_them(text: str, day: dt.date) -> None:
    assert read_day(text, TODAY) == day


@pytest.mark.parametrize("text", ["soon", "31.2.2021", "13/13/2021", "Mayday 2021", "", "5"])
def test_what_is_no_day_is_said(text: str) -> None:
    with pytest.raises(EntryError):
        read_day(text, TODAY)


def test_the_order_of_days_is_told_by_the_days_or_asked() -> None:
    assert order_of(["03/25/2021", "1/2/2020"]) == "month first"
    assert order_of(["25/03/2021", "1/2/2020"]) == "day first"
    assert order_of(["1/2/2020"]) is None
    assert is_ambiguous("1/2/2020") and not is_ambiguous("2/2/2020")
    assert table("name,species,born\nA,corn snake,1/2/2020").order_asked
    assert not table("name,species,born\nA,corn snake,25/2/2020").order_asked
    told = table("name,species,born\nA,corn snake,1/2/2020", order="month first")
    assert told.lines[0].born_on == dt.date(2020, 1, 2)


@pytest.mark.parametrize("delimiter", [",", ";", "\t", "|"])
def test_any_delimiter_is_read(delimiter: str) -> None:
    rows = [["Name", "Species", "Sex", "Weight (g)"], ["Ash", "ball python", "0.1", "1450"]]
    found = table("\n".join(delimiter.join(row) for row in rows)).lines[0]
    assert (found.name, found.species, found.sex) == ("Ash", "Python regius", "female")
    assert found.mass_g == 1450 and found.state == "understood"


def test_decimal_commas_and_units_are_read() -> None:
    text = (
        "Name;Species;Weight kg;Length cm\nAsh;Königspython;1,45;120\nFlint;corn snake;0,4 kg;3 ft"
    )
    ash, flint = table(text).lines
    assert flint.mass_g == pytest.approx(400) and flint.length_mm == pytest.approx(914.4)
    assert ash.mass_g == pytest.approx(1450) and ash.length_mm == 1200
    # Bare numbers without a unit are in the reader's own.
    inches = table("name,species,length\nA,corn snake,40", units=US).lines[0]
    assert inches.length_mm == pytest.approx(1016)


@pytest.mark.parametrize(
    ("said", "species"),
    [
        ("Corn snake", "Pantherophis guttatus"),
        ("pantherophis guttatus", "Pantherophis guttatus"),
        ("leopard geckos", "Eublepharis macularius"),
        ("beardie", "Pogona vitticeps"),
        ("crestd gecko", "Correlophus ciliatus"),
    ],
)
def test_species_are_named_in_ordinary_words(said: str, species: str) -> None:
    line = table(f"name,species\nA,{said}").lines[0]
    assert line.species == species and line.state == "understood"


def test_several_species_are_asked_about_and_answered() -> None:
    text = "name,species\nA,python"
    line = table(text).lines[0]
    assert line.state == "asked" and len(line.asked[0].choices) > 1
    told = table(text, answers={(2, "species"): "Python regius"}).lines[0]
    assert told.state == "understood" and told.species == "Python regius"


@pytest.mark.parametrize(
    ("row", "said"),
    [
        ("A,unicorn zebra,f,2020,20 g", "No species answers"),
        ("A,,f,2020,20 g", "species is missing"),
        ("A,corn snake,f,2199-01-01,20 g", "still to come"),
        ("A,corn snake,f,someday,20 g", "cannot be read as a day"),
        ("A,corn snake,f,2020,heavy", "cannot be read"),
        ("A,corn snake,f,2020,900 kg", "no mass of an animal"),
    ],
)
def test_what_cannot_be_is_refused_with_its_reason(row: str, said: str) -> None:
    found = table(f"name,species,sex,born,weight\n{row}\nB,corn snake,m,2021,300 g")
    bad, good = found.lines
    assert bad.state == "refused" and said in " ".join(bad.refused)
    assert good.state == "understood" and good.number == 3


def test_a_sex_that_is_none_is_asked_about() -> None:
    line = table("name,species,sex\nA,corn snake,probably").lines[0]
    assert line.state == "asked" and line.asked[0].column == "sex"


def test_columns_are_recognised_and_shown() -> None:
    head = "ID,Common name,Sex,DOB,Acquired,Weight g,SVL mm,Tub,Rack,Notes"
    found = table(f"{head}\nT1,leopard gecko,f,2022-03-01,2022-06-01,58,112,Tub 4,R2,shy")
    assert dict(found.columns)["Notes"] == ""
    line = found.lines[0]
    assert line.born_on == dt.date(2022, 3, 1) and line.came_on == dt.date(2022, 6, 1)
    assert (line.length_mm, line.length_kind) == (112, "snout_vent")
    assert (line.enclosure, line.shelf, line.name) == ("Tub 4", "R2", "T1")


def test_sizes_and_ages_as_they_are_spoken() -> None:
    text = "name,species,age,enclosure,size\nA,corn snake,18 months,Box,120x60x60 cm\nB,corn snake,2,Box 2,4x2 ft"
    first, second = table(text).lines
    assert first.sides_m == (1.2, 0.6, 0.6)
    assert first.born_on is not None and 17 < (TODAY - first.born_on).days / 30.44 < 19
    assert second.state == "asked" and "How high" in second.asked[0].text


@pytest.mark.parametrize("text", ["", "   \n ", "hello", "a,b,c\n1,2,3", "\x00"])
def test_what_is_no_table_is_said(text: str) -> None:
    with pytest.raises(EntryError):
        table(text)


def test_half_a_table_wrong_leaves_the_other_half() -> None:
    rows = [f"A{n},{'corn snake' if n % 2 else 'nothing known'},m" for n in range(60)]
    found = table("name,species,sex\n" + "\n".join(rows))
    assert len(found.of("understood")) == len(found.of("refused")) == 30


def test_a_mass_that_cannot_well_be_true_is_asked_about() -> None:
    """A leopard gecko of six kilograms is one of sixty grams (common practice)."""
    text = "name,species,weight\nA,leopard gecko,6 kg\nB,leopard gecko,60 g"
    first, second = table(text).lines
    assert first.state == "asked" and first.asked[0].column == "mass"
    assert second.state == "understood"
    told = table(text, answers={(2, "mass"): "6 kg"}).lines[0]
    assert told.state == "understood" and told.mass_g == 6000
