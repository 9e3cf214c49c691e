"""A web process goes on answering whatever its clients do with their sockets."""

import contextlib
import http.client
import os
import signal
import socket
import subprocess
import sys
import time
from collections.abc import Iterator
from pathlib import Path

import pytest
from django.conf import settings

APP = "tests.web.slow_application:application"


@pytest.fixture
def port() -> int:
    with socket.socket() as s:
        s.bind(("127.0.0.1", 0))
        found: int = s.getsockname()[1]
    return found


@contextlib.contextmanager
def served(port: int, **environment: str) -> Iterator[subprocess.Popen[bytes]]:
    """A server of two threads in one process, as `./start` runs it."""
    gunicorn = str(Path(sys.executable).parent / "gunicorn")
    config = ["--config", "python:ridgeback.operations.server", "--bind", f"127.0.0.1:{port}"]
    env = {**os.environ, "WEB_PROCESSES": "1", "WEB_THREADS": "2", **environment}
    process = subprocess.Popen(
        [gunicorn, APP, *config], cwd=settings.ROOT, env=env, start_new_session=True
    )
    try:
        for _ in range(200):
            with contextlib.suppress(OSError):
                ask(port)
                break
            time.sleep(0.05)
        yield process
    finally:
        with contextlib.suppress(ProcessLookupError):
            os.killpg(process.pid, signal.SIGKILL)
        process.wait()


def ask(port: int, path: str = "/", body: bytes | None = None) -> str:
    """One whole request and its answer."""
    asked = http.client.HTTPConnection("127.0.0.1", port, timeout=20)
    try:
        asked.request("POST" if body is not None else "GET", path, body)
        return asked.getresponse().read().decode()
    finally:
        asked.close()


def slow_body(port: int) -> socket.socket:
    """A request that announces a body and sends a byte of it."""
    s = socket.create_connection(("127.0.0.1", port), 20)
    s.sendall(b"POST / HTTP/1.1\r\nHost: x\r\nContent-Length: 100000\r\n\r\nx")
    return s


def test_slow_bodies_stop_nobody_else(port: int) -> None:
    """Eight sockets once stopped every answer of four threads."""
    with served(port):
        slow = [slow_body(port) for _ in range(64)]
        began = time.monotonic()
        assert [ask(port) for _ in range(20)] == ["0"] * 20
        assert ask(port, body=b"y" * 500_000) == "500000"
        assert time.monotonic() - began < 10
        for s in slow:
            s.close()


def test_a_body_has_to_arrive_in_time(port: int) -> None:
    with served(port, WEB_BODY_S="1"):
        s = slow_body(port)
        ended = b"waiting"
        for _ in range(60):  # a byte now and then does not make it longer
            with contextlib.suppress(OSError):
                s.sendall(b"x")
            s.settimeout(0.2)
            try:
                ended = s.recv(100)
                break
            except TimeoutError:
                continue
            except OSError:
                ended = b""
                break
        assert ended == b""
        assert ask(port) == "0"


def test_a_request_that_is_stuck_ends_its_process_and_another_starts(port: int) -> None:
    with served(port, WEB_TIMEOUT_S="1"):
        first = ask(port, "/pid")
        with pytest.raises((http.client.HTTPException, OSError)):
            ask(port, "/sleep/60")
        for _ in range(100):
            with contextlib.suppress(OSError, http.client.HTTPException):
                if (second := ask(port, "/pid")) != first:
                    break
            time.sleep(0.1)
        assert second != first


def test_a_request_that_is_derivation_at_is_answered_before_the_server_ends(port: int) -> None:
    with served(port) as process:
        s = socket.create_connection(("127.0.0.1", port), 20)
        s.sendall(b"GET /sleep/1 HTTP/1.1\r\nHost: x\r\nConnection: close\r\n\r\n")
        time.sleep(0.3)
        process.terminate()
        assert b"slept" in s.recv(4000) + s.recv(4000)
        process.wait(20)
