"""The sun over a place: its height, what of it reaches the ground, and its ultraviolet.

Method: docs/methods/outdoors.md.
"""

import datetime as dt
import math

from husbandry.climate.daylight import sun_of
from husbandry.derivation import Source
from husbandry.methods import Argument, Example, method

OKTAS = 8.0
"""Parts in which cloud cover is counted (standard of meteorology) [1]."""


@method(
    arguments={
        "lat_deg": Argument("°", -90, 90),
        "date": Argument("date YYYY-MM-DD"),
        "solar_hour": Argument("h", 0, 24),
    },
    unit="°",
    rule=(
        "sin elevation = sin latitude · sin declination + cos latitude · cos declination · cos hour"
        " angle; 12 h is when the sun stands highest."
    ),
    source=Source(kind="from memory", text="spherical astronomy, any textbook"),
    example=Example(
        {"lat_deg": 48, "date": "2026-06-21", "solar_hour": 12},
        90 - 48 + 23.44,
        0.001,
        "at the solstice the sun stands over the tropic at 23.44°",
    ),
)
def solar_elevation(lat_deg: float, date: str, solar_hour: float) -> float:
    """Height of the sun over the horizon [°]; negative at night."""
    declination = sun_of(dt.date.fromisoformat(date)).declination_rad
    latitude = math.radians(lat_deg)
    hour_angle = math.pi * (solar_hour - 12) / 12
    sine = math.sin(latitude) * math.sin(declination) + math.cos(latitude) * math.cos(
        declination
    ) * math.cos(hour_angle)
    return math.degrees(math.asin(min(1.0, max(-1.0, sine))))


@method(
    arguments={"elevation_deg": Argument("°", -90, 90)},
    unit="W/m²",
    rule="1098 cos z · exp(−0.057 / cos z), z the sun's distance from the zenith; 0 below the horizon.",
    source=Source(
        kind="from memory",
        text="Haurwitz 1945, insolation in relation to cloudiness, J. Meteorology",
    ),
    example=Example(
        {"elevation_deg": 90}, 1098 * math.exp(-0.057), 1e-9, "the formula at the zenith"
    ),
)
def clear_sky_irradiance(elevation_deg: float) -> float:
    """Sun and sky on level ground under a clear sky [W/m²]."""
    cosine = math.sin(math.radians(elevation_deg))
    return 1098 * cosine * math.exp(-0.057 / cosine) if cosine > 1e-3 else 0.0


@method(
    arguments={"oktas": Argument("1", 0, 8)},
    unit="1",
    rule="1 − 0.75 (N/8)^3.4 of what a clear sky gives.",
    source=Source(
        kind="from memory",
        text="Kasten and Czeplak 1980, solar and terrestrial radiation dependent on cloud",
    ),
    example=Example({"oktas": 8}, 0.25, 1e-9, "a quarter under a closed cover"),
)
def cloud_share(oktas: float) -> float:
    """Share of a clear sky's irradiance that clouds leave, by how many eighths of the sky they cover
    [1].
    """
    return float(1 - 0.75 * (oktas / OKTAS) ** 3.4)


@method(
    arguments={"elevation_deg": Argument("°", -90, 90), "ozone_du": Argument("DU", 200, 500)},
    unit="UVI",
    rule="12.5 μ^2.42 (ozone / 300)^−1.23, μ the cosine of the sun's distance from the zenith.",
    source=Source(
        kind="from memory",
        text="Madronich 2007, analytic formula for the clear-sky UV index, Photochem. Photobiol.",
    ),
    example=Example(
        {"elevation_deg": 50, "ozone_du": 300}, 6.5, 0.05, "TUV radiative transfer, 300 DU"
    ),
)
def clear_sky_uvi(elevation_deg: float, ozone_du: float = 300.0) -> float:
    """UV index of the sun on level ground under a clear sky, at sea level."""
    cosine = max(math.sin(math.radians(elevation_deg)), 0.0)
    return float(12.5 * cosine**2.42 * (ozone_du / 300) ** -1.23)


def solar_hour(lat_lon: tuple[float, float], at: dt.datetime) -> float:
    """Convert a moment to hours by the sun at a place: 12 when it stands highest [h].

    Parameters
    ----------
    at : datetime
        With its time zone.
    """
    utc = at.astimezone(dt.UTC)
    hours = utc.hour + utc.minute / 60 + utc.second / 3600
    return (hours + lat_lon[1] / 15 + sun_of(utc.date()).ahead_h) % 24
