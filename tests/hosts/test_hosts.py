"""Two web hosts, two workers and one proxy on one database, killed in turn under traffic: nothing that was
acknowledged is lost, hardly a request fails, and what was killed is back within seconds.

Run by `./test hosts`. What restarts a process here stands for systemd or a container's master.
"""

import http.client
import json
import os
import shutil
import signal
import subprocess
import sys
import threading
import time
from collections import Counter, defaultdict
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest
from django.conf import settings
from django.db import connection
from django.test import Client

from husbandry.records.channels import Quantity, SensorPlace
from ridgeback.clock import now
from ridgeback.demo import household as demo
from ridgeback.devices.flows import add, bind
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.models import Keeper
from ridgeback.jobs.models import Job
from ridgeback.records.models import Sample
from tests.running import free_port, shared_environment, until

PYTHON = Path(sys.executable).parent
DEVICES, READERS = 3, 3
PHASE_S = 8
"""Between two kills [s]."""
pytestmark = pytest.mark.skipif(shutil.which("haproxy") is None, reason="haproxy is not installed")


class Kept:
    """A process that is started again when it dies, as systemd would."""

    def __init__(self, name: str, words: list[str], environment: dict[str, str]) -> None:
        self.name, self.words, self.environment = name, words, environment
        self.is_over = False
        self.process = self._start()
        self.thread = threading.Thread(target=self._keep, daemon=True)
        self.thread.start()

    def _start(self) -> subprocess.Popen[bytes]:
        return subprocess.Popen(
            self.words, cwd=settings.ROOT, env=self.environment, start_new_session=True
        )

    def _keep(self) -> None:
        while not self.is_over:
            self.process.wait()
            if not self.is_over:
                time.sleep(1)
                self.process = self._start()

    def kill(self) -> None:
        """Without a word, with its children."""
        os.killpg(self.process.pid, signal.SIGKILL)

    def end(self) -> None:
        """For good."""
        self.is_over = True
        os.killpg(self.process.pid, signal.SIGTERM)
        self.process.wait(30)


@pytest.fixture
def environment(transactional_db: Any) -> dict[str, str]:
    """For processes that share the test's database."""
    return shared_environment()


@pytest.fixture
def site(environment: dict[str, str], tmp_path: Path) -> Iterator[tuple[int, list[Kept]]]:
    """The port of the proxy, and every process by the order in which it is killed."""
    demo.load(now())
    ports = [free_port(), free_port()]
    front = free_port()
    config = (Path(settings.ROOT) / "deploy" / "haproxy.cfg").read_text()
    config = config.replace(
        "bind :443 ssl crt /etc/haproxy/certificate.pem alpn h2,http/1.1",
        f"bind 127.0.0.1:{front}",
    )
    for name, port in zip(("one", "two"), ports, strict=True):
        config = config.replace(f"web-{name}:8000", f"127.0.0.1:{port}")
    config = config.replace("  http-request set-header X-Forwarded-Proto https\n", "")
    path = tmp_path / "haproxy.cfg"
    path.write_text(config)
    web = [
        Kept(
            f"web {port}",
            [
                str(PYTHON / "gunicorn"),
                "ridgeback.wsgi",
                "--config",
                "python:ridgeback.operations.server",
                "--bind",
                f"127.0.0.1:{port}",
                "--workers",
                "1",
            ],
            environment,
        )
        for port in ports
    ]
    workers = [
        Kept(
            f"worker {n}",
            [
                str(PYTHON / "python"),
                "-m",
                "ridgeback.manage",
                "procrastinate",
                "worker",
                "--name",
                f"w{n}",
            ],
            environment,
        )
        for n in (1, 2)
    ]
    proxy = Kept("proxy", ["haproxy", "-f", str(path)], environment)
    until_it(lambda: ask(front, "GET", "/health/ready")[0] == 200)
    yield front, [*web, *workers, proxy]
    for one in (proxy, *web, *workers):
        one.end()


def until_it(is_true: Callable[[], Any], seconds: float = 60) -> float:
    """Wait for something to come true whatever breaks meanwhile; how long it took [s]."""

    def tried() -> bool:
        try:
            return bool(is_true())
        except OSError:
            return False

    begin = time.monotonic()
    until(tried, seconds)
    return time.monotonic() - begin


def ask(
    port: int,
    method: str,
    path: str,
    headers: dict[str, str] | None = None,
    body: str | None = None,
) -> tuple[int, str]:
    link = http.client.HTTPConnection("127.0.0.1", port, timeout=30)
    link.request(method, path, body, headers or {})
    answer = link.getresponse()
    return answer.status, answer.read().decode()


class Traffic:
    """People who read and devices that send, until they are stopped."""

    def __init__(self, port: int, session: str, tokens: list[str]) -> None:
        self.port, self.session = port, session
        self.results: dict[str, Counter[str]] = defaultdict(Counter)
        self.phase = "nothing killed"
        self.acknowledged: set[int] = set()
        self.lock = threading.Lock()
        self.is_over = False
        base = int(time.time()) - 200 * 86_400
        self.threads = [
            threading.Thread(target=self._go, args=(n, base + n * 1_000_000, token), daemon=True)
            for n, token in enumerate([*tokens, *[""] * READERS])
        ]
        for one in self.threads:
            one.start()

    def _go(self, number: int, at: int, token: str) -> None:
        while not self.is_over:
            at += 1
            phase = self.phase
            try:
                status, text = self._send(at, token) if token else self._read(at)
            except (OSError, http.client.HTTPException):
                status, text = 0, ""
            with self.lock:
                self.results[phase]["good" if status == 200 else f"bad {status}"] += 1
                if token and status == 200 and not json.loads(text)["refused"]:
                    self.acknowledged.add(at)
            time.sleep(1.1 if token else 0.2)

    def _read(self, n: int) -> tuple[int, str]:
        path = ("/today/", "/", "/animals/")[n % 3]
        return ask(self.port, "GET", path, {"Cookie": f"sessionid={self.session}"})

    def _send(self, at: int, token: str) -> tuple[int, str]:
        rows = [{"channel": "temperature-warm", "at": at, "value": 25 + at % 7}]
        headers = {"Authorization": f"Bearer {token}", "Content-Type": "application/json"}
        return ask(self.port, "POST", "/api/v1/readings", headers, json.dumps({"readings": rows}))

    def stop(self) -> None:
        """No more of it."""
        self.is_over = True
        for one in self.threads:
            one.join(40)


def cut_connections() -> None:
    """Every connection to the database, as when it is started again."""
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT pg_terminate_backend(pid) FROM pg_stat_activity"
            " WHERE datname = current_database() AND pid <> pg_backend_pid()"
        )


def test_killed_in_turn_under_traffic(site: tuple[int, list[Kept]]) -> None:
    port, processes = site
    browser = Client()
    browser.force_login(Keeper.objects.get(username="demo"))
    homes = list(Enclosure.objects.order_by("pk")[:DEVICES])
    devices = [add(one.household, name=f"D{one.pk}", keeper=None, now=now()) for one in homes]
    channels = [
        bind(device, home, Quantity.TEMPERATURE, SensorPlace.WARM).channel
        for (device, _), home in zip(devices, homes, strict=True)
    ]
    for size in ("A4", "letter"):
        for paper in ("card", "labels"):
            browser.post(f"/papers/{paper}/", {"size": size})
    asked = Job.objects.count()
    session = browser.cookies["sessionid"].value
    traffic = Traffic(port, session, [token for _, token in devices])
    back: dict[str, float] = {}
    try:
        time.sleep(PHASE_S)
        for one in processes:
            traffic.phase = one.name
            was = one.process.pid
            one.kill()
            until_it(lambda one=one, was=was: one.process.pid != was)  # type: ignore[misc]  # bound now
            back[one.name] = until_it(lambda: ask(port, "GET", "/health/ready")[0] == 200)
            time.sleep(PHASE_S)
        traffic.phase = "database"
        cut_connections()
        back["database"] = until_it(lambda: ask(port, "GET", "/health/ready")[0] == 200)
        time.sleep(PHASE_S)
    finally:
        traffic.stop()
    kept = {
        int(at.timestamp())
        for at in Sample.objects.filter(channel__in=channels).values_list("at", flat=True)
    }
    print()
    shares = {}
    for phase, results in traffic.results.items():
        whole = sum(results.values())
        shares[phase] = 1 - results["good"] / whole
        took = f", answers after {back[phase]:.1f} s" if phase in back else ""
        print(f"{phase}: {whole} requests, {dict(results)}{took}")
    print(f"{len(traffic.acknowledged)} readings acknowledged, {len(kept)} there")
    behind = [phase for phase in shares if phase != "proxy"]
    requests = {phase: sum(traffic.results[phase].values()) for phase in behind}
    failed = sum(shares[phase] * requests[phase] for phase in behind)
    print(f"failed behind the proxy: {failed / sum(requests.values()):.2%}")
    assert len(traffic.acknowledged) > 50
    assert not traffic.acknowledged - kept, "nothing acknowledged is lost"
    assert failed / sum(requests.values()) < 0.01 and max(back.values()) < 10
    took_s = until_it(lambda: Job.objects.filter(state=Job.State.DONE).count() == asked, 120)
    print(f"{asked} papers asked for, all made ({took_s:.0f} s later)")
