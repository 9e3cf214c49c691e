"""The interface for devices, version 1: who am I, and batches of readings as JSON or CSV.

Its description as OpenAPI is at /api/v1/openapi.json, for anybody.
"""

from typing import Any

from django.core.exceptions import RequestDataTooBig
from django.http import HttpRequest
from ninja import NinjaAPI, Schema
from ninja.errors import HttpError
from ninja.security import HttpBearer
from ninja.throttling import AuthRateThrottle
from pydantic import Field

from ridgeback.clock import now
from ridgeback.devices import flows
from ridgeback.devices.models import Device

RATE = "60/m"
"""Batches of one device: a value a second would be sent by the minute (design choice)."""


class DeviceToken(HttpBearer):
    """A device's token, as “Authorization: Bearer rb_...”."""

    def authenticate(self, request: HttpRequest, token: str) -> Device | None:
        """The device; None answers 401."""
        return flows.known_by(token)


class DeviceRate(AuthRateThrottle):
    """Counts by device."""

    def get_cache_key(self, request: HttpRequest) -> str:
        """One count a device."""
        return f"device-rate-{request.auth.pk}"  # type: ignore[attr-defined]  # set by ninja


class ChannelOut(Schema):
    """A channel that a device may write to."""

    code: str = Field(description="as it is named in a reading")
    enclosure: str
    quantity: str
    place: str
    unit: str


class DeviceOut(Schema):
    """A device and its channels."""

    name: str
    channels: list[ChannelOut]


class ReadingIn(Schema):
    """One value of one channel. A row that cannot be taken is answered by its number."""

    channel: str = Field("", description="the code of a channel of this device")
    at: Any = Field(
        None, description="ISO 8601 with zone, such as 2026-11-25T14:30:00Z, or seconds since 1970"
    )
    value: Any = Field(None, description="in the unit of the channel: °C, %, UVI, W, g")
    unit: str | None = Field(None, description="F for a temperature in °F; else left out")


class BatchIn(Schema):
    """Readings, in any order; sent again they add nothing."""

    readings: list[ReadingIn] = Field(description=f"at most {flows.MOST_ROWS}")


class RefusedOut(Schema):
    """A row that was not taken."""

    row: int = Field(description="counted from 1")
    reason: str


class BatchOut(Schema):
    """What came of a batch."""

    new: int
    known: int = Field(description="were there already, and stay as they are")
    refused: list[RefusedOut]


api = NinjaAPI(
    title="Ridgeback for devices",
    version="1",
    description="Batches of readings from probes, hygrometers, UV meters, plugs, thermostats and scales.",
    docs_url=None,
    urls_namespace="device_api",
    auth=DeviceToken(),
    throttle=[DeviceRate(RATE)],
)
UNITS = {
    "temperature": "C",
    "humidity": "%",
    "uvi": "UVI",
    "power": "W",
    "heating": "%",
    "mass": "g",
}


@api.get("/device", response=DeviceOut, summary="This device and its channels")
def who(request: HttpRequest) -> dict[str, Any]:
    """Answer who a token is of, and what it may write to."""
    device: Device = request.auth  # type: ignore[attr-defined]  # set by ninja
    rows = device.bindings.select_related("channel__enclosure")
    return {
        "name": device.name,
        "channels": [
            {
                "code": one.code,
                "enclosure": one.channel.enclosure.name,
                "quantity": one.channel.quantity,
                "place": one.channel.place,
                "unit": UNITS[one.channel.quantity],
            }
            for one in rows
        ],
    }


@api.post("/readings", response=BatchOut, summary="Send readings as JSON")
def readings(request: HttpRequest, batch: BatchIn) -> dict[str, Any]:
    """Take a batch row by row."""
    return _taken(request, [one.model_dump() for one in batch.readings])


@api.post(
    "/readings.csv", response=BatchOut, summary="Send readings as CSV: channel,at,value,unit"
)
def readings_csv(request: HttpRequest) -> dict[str, Any]:
    """Take a batch line by line."""
    try:
        text = request.body.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise HttpError(400, "This is no UTF-8 text.") from None
    except RequestDataTooBig:
        raise HttpError(413, "This batch is larger than 1 MB: send it in parts.") from None
    return _taken(request, flows.rows_of_csv(text))


def _taken(request: HttpRequest, rows: list[dict[str, Any]]) -> dict[str, Any]:
    device: Device = request.auth  # type: ignore[attr-defined]  # set by ninja
    found = flows.take(device, rows, now())
    refused = [{"row": row, "reason": reason} for row, reason in found.refused]
    return {"new": found.new, "known": found.known, "refused": refused}


def patterns() -> Any:
    """The addresses of the interface, open to whoever has a token."""
    urls, app_name, namespace = api.urls
    for one in urls:
        setattr(one.callback, "login_required", False)  # noqa: B010  # a token opens it, no session
    return urls, app_name, namespace
