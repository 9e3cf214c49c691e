"""One line of JSON for every request and every job, without anybody's data: a path's pattern, never
its query, its form or its person.
"""

import logging
import time
import uuid
from collections.abc import Callable
from typing import Any

from django.http import HttpRequest, HttpResponse

from ridgeback.operations.counting import observe

log = logging.getLogger("ridgeback.requests")


class RequestLog:
    """Logs what was asked and how it went.

    `request_id` is in the answer too, so that a report finds its line.
    """

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        began = time.perf_counter()
        request_id = uuid.uuid4().hex[:12]
        response = self.get_response(request)
        route = request.resolver_match.route if request.resolver_match else "unknown"
        response["X-Request-Id"] = request_id
        told: dict[str, Any] = {
            "request_id": request_id,
            "method": request.method if request.method in METHODS else "other",
            "route": route,
            "status": response.status_code,
            "ms": round(1000 * (time.perf_counter() - began), 1),
            "bytes": _size(response),
        }
        observe(told["method"], route, response.status_code, told["ms"] / 1000)
        log.log(
            logging.WARNING if response.status_code >= 500 else logging.INFO, "request", extra=told
        )
        return response


METHODS = {"GET", "HEAD", "POST", "PUT", "PATCH", "DELETE", "OPTIONS"}


def _size(response: HttpResponse) -> int:
    return 0 if response.streaming else len(response.content)


class WithoutData(logging.Filter):
    """Takes from a record what may hold somebody's data: the request object, and the path with its
    values in Django's own lines.
    """

    def filter(self, record: logging.LogRecord) -> bool:
        """Keep the record, without its data."""
        if record.name.startswith("django.request") or record.name.startswith("django.security"):
            record.msg, record.args = (
                (record.msg.split(":")[0] if isinstance(record.msg, str) else "request"),
                (),
            )
        for name in ("request", "sock"):
            record.__dict__.pop(name, None)
        if record.exc_info and record.exc_info[1] is not None:  # where it broke, not with what
            record.error = type(record.exc_info[1]).__name__
            record.places = _places(record)
            record.exc_info = None
            record.exc_text = None
        return True


def _places(record: logging.LogRecord) -> list[str]:
    """File and line of every step to the error."""
    found: list[str] = []
    step = record.exc_info[2] if record.exc_info else None
    while step is not None:
        found.append(
            f"{step.tb_frame.f_code.co_filename.rsplit('/', 2)[-1]}:{step.tb_lineno}"
            f" {step.tb_frame.f_code.co_name}"
        )
        step = step.tb_next
    return found[-12:]
