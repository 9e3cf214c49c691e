"""Processes beside a test: where they listen, what they find, and waiting for what they do."""

import os
import socket
import time
from collections.abc import Callable
from typing import Any

from django.db import connection


def free_port() -> int:
    """A port that nobody listens on."""
    with socket.socket() as s:
        s.bind(("127.0.0.1", 0))
        port: int = s.getsockname()[1]
        return port


def until(is_true: Callable[[], Any], seconds: float = 120) -> Any:
    """Wait for something to come true, and give what it is."""
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        if found := is_true():
            return found
        time.sleep(0.1)
    raise AssertionError("it did not come true in time")


def shared_environment() -> dict[str, str]:
    """For processes that share the test's database.

    The queue's tables are not Django's, so it does not empty them between tests.
    """
    with connection.cursor() as cursor:
        cursor.execute("truncate procrastinate_jobs cascade")
    known = connection.settings_dict
    url = f"postgresql://{known['USER']}@{known['HOST']}:{known['PORT']}/{known['NAME']}"
    return {
        **os.environ,
        "DATABASE_URL": url,
        "DJANGO_SETTINGS_MODULE": "ridgeback.settings.test",
        "LOG_LEVEL": "ERROR",
    }
