"""A small application for tests of the server: counts a body, sleeps, or tells its process."""

import os
import time
from collections.abc import Callable, Iterable
from typing import Any


def application(environ: dict[str, Any], start: Callable[..., Any]) -> Iterable[bytes]:
    """Answer with the length of the body; `/sleep/N` first sleeps; `/pid` names the process."""
    path = environ["PATH_INFO"]
    if path.startswith("/sleep/"):
        time.sleep(float(path.removeprefix("/sleep/")))
        said = b"slept"
    elif path == "/pid":
        said = str(os.getpid()).encode()
    else:
        said = str(len(environ["wsgi.input"].read())).encode()
    start("200 OK", [("Content-Type", "text/plain"), ("Content-Length", str(len(said)))])
    return [said]
