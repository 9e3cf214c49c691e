"""Calculators: every one in both unit systems, with a link that gives it again."""

import re

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client

from husbandry import methods
from ridgeback.calculators.catalogue import CALCULATORS
from ridgeback.households.models import Keeper


def us(client: Client) -> None:
    client.post("/preferences/", {"units_system": "us", "units_temperature": "f"})


@pytest.mark.parametrize("slug", sorted(CALCULATORS))
def test_every_sum_answers_and_its_link_gives_it_again_in_any_units(
    client: Client, slug: str
) -> None:
    first = client.get(f"/calculators/{slug}/")
    value = first.context["derivation"].value
    link = first.context["link"]
    assert client.get(link).context["derivation"].value == pytest.approx(value, rel=1e-6)
    us(client)
    again = client.get(link)
    assert again.context["derivation"].value == pytest.approx(value, rel=1e-6)
    assert again.context["command"].startswith("python -m husbandry compute ")


@pytest.mark.parametrize("slug", sorted(CALCULATORS))
def test_the_catalogue_asks_for_what_the_method_takes(slug: str) -> None:
    known = CALCULATORS[slug]
    entry = methods.find(known.method)
    assert set(known.asks) | set(known.fixed) | set(entry.defaults) >= set(
        entry.arguments
    ) and set(known.asks) <= set(entry.arguments)


def test_the_trades_forty_gallons(client: Client) -> None:
    """36 × 18 × 16 in are 44.88 US gal: 231 cubic inches a gallon, NIST Handbook 44, appendix C."""
    us(client)
    page = client.get(
        "/calculators/tank-volume/", {"length_in": "36", "depth_in": "18", "height_in": "16"}
    )
    assert page.context["answer"] == "44.9 gal" and page.context["other"] == "169.9 l"


def test_metric_and_us_entry_meet(client: Client) -> None:
    in_metric = client.get(
        "/calculators/humidity-elsewhere/",
        {"rh_pct": "50", "temp_c": "20", "temp_there_c": "86 F"},
    )
    us(client)
    in_us = client.get(
        "/calculators/humidity-elsewhere/", {"rh_pct": "50", "temp_c": "68", "temp_there_c": "86"}
    )
    assert in_metric.context["derivation"].value == pytest.approx(
        in_us.context["derivation"].value
    )


@pytest.mark.parametrize(
    ("slug", "typed", "said"),
    [
        ("dew-point", {"temp_c": "warm"}, "°C"),
        ("dew-point", {"temp_c": "900"}, "This holds from"),
        ("dew-point", {"rh_pct": "55 cm"}, "cm"),
        ("calcium", {"food_g": "", "target_ratio": "two"}, "number"),
        ("meal", {"body_g": "<script>alert(1)</script>"}, "420 g"),
        ("tube-distance", {"target_uvi": "1e999"}, ""),
        ("weigh-in", {"days": "nan"}, ""),
    ],
)
def test_what_is_wrong_is_said_beside_its_field(
    client: Client, slug: str, typed: dict[str, str], said: str
) -> None:
    response = client.get(f"/calculators/{slug}/", typed)
    html = response.content.decode()
    assert (
        response.status_code == 200
        and 'role="alert"' in html
        and said in html
        and "<script>alert" not in html
    )
    assert "derivation" not in response.context


@pytest.mark.parametrize(
    ("typed", "ways"),
    [
        ("95 F", ["35.0 °C"]),
        ("4 ft", ["121.9 cm", "48.0 in"]),
        ("20 gal", ["75.7 l"]),
        ("2 lb 3 oz", ["992.2 g"]),
        ("100 cm", ["39.4 in"]),
    ],
)
def test_anything_with_a_unit_is_converted(client: Client, typed: str, ways: list[str]) -> None:
    html = client.get("/calculators/", {"typed": typed}).content.decode()
    assert all(way in html for way in ways), re.findall(r"<b>(.*?)</b>", html)


@pytest.mark.parametrize("typed", ["95", "", "many", "7 parsecs", "x" * 5000, "🦎 cm"])
def test_what_has_no_unit_is_asked_for(client: Client, typed: str) -> None:
    html = client.get("/calculators/", {"typed": typed}).content.decode()
    assert 'role="alert"' in html


def test_units_are_the_readers(client: Client) -> None:
    assert Keeper.objects.get(username="demo").units_system == "metric"
    assert "cm" in client.get("/calculators/tube-distance/").context["answer"]
    us(client)
    assert " in" in client.get("/calculators/tube-distance/").context["answer"]


def sun_text() -> str:
    from husbandry.climate.spectra import sun

    return "nm,W\n" + "\n".join(
        f"{nm:g},{value:.6g}" for nm, value in zip(sun().nm, sun().w_m2nm, strict=True)
    )


def test_a_spectrum_is_judged_from_a_file_or_pasted(client: Client) -> None:
    assert (
        b"Judge a lamp" in client.get("/calculators/").content
        and client.get("/calculators/spectrum/").status_code == 200
    )
    file = SimpleUploadedFile("lamp.csv", sun_text().encode(), "text/csv")
    for data in ({"file": file}, {"pasted": sun_text()}):
        html = client.post("/calculators/spectrum/", {**data, "unit": "W/m²/nm"}).content.decode()
        assert "3.69" in html and "No sign of hazard" in html and "heading left out" in html


@pytest.mark.parametrize(
    ("pasted", "says"),
    [
        ("", "Choose a file"),
        ("lamp", "0 rows"),
        ("280,1\n281,2\nfault\n282,3", "line 3"),
        ("5," * 10, "1 row of"),
    ],
)
def test_a_spectrum_that_is_none_is_said_and_stays(client: Client, pasted: str, says: str) -> None:
    html = client.post(
        "/calculators/spectrum/", {"pasted": pasted, "unit": "W/m²/nm"}
    ).content.decode()
    assert says in html and pasted.split("\n")[0] in html
    assert (
        "not one of the available"
        in client.post("/calculators/spectrum/", {"pasted": "x", "unit": "lux"}).content.decode()
    )
