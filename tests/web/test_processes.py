"""Two web processes and two workers on one database behave as one: no stale page, no double job,
nothing lost with a worker.
"""

import contextlib
import http.client
import re
import signal
import subprocess
import sys
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any
from urllib.parse import urlencode

import pytest
from django.conf import settings
from django.db import connection
from django.test import Client
from procrastinate.contrib.django.models import ProcrastinateJob
from procrastinate.exceptions import AlreadyEnqueued

from ridgeback.clock import now
from ridgeback.demo import household as demo
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.models import Keeper
from ridgeback.jobs import tasks
from ridgeback.jobs.models import Job
from tests import clocks
from tests.running import free_port, shared_environment, until

PYTHON = Path(sys.executable).parent
pytestmark = pytest.mark.skipif(
    clocks.is_named(), reason="its processes have the machine's own clock"
)


@pytest.fixture(autouse=True)
def run_clock() -> None:
    """The machine's own clock, which its processes have too."""


@pytest.fixture
def environment(transactional_db: Any) -> dict[str, str]:
    """For processes that share the test's database."""
    return shared_environment()


@pytest.fixture
def running(environment: dict[str, str]) -> Iterator[Callable[..., subprocess.Popen[bytes]]]:
    """Starts processes, and ends them after the test."""
    begun: list[subprocess.Popen[bytes]] = []

    def start(*arguments: str) -> subprocess.Popen[bytes]:
        begun.append(
            subprocess.Popen(
                [str(PYTHON / arguments[0]), *arguments[1:]], cwd=settings.ROOT, env=environment
            )
        )
        return begun[-1]

    yield start
    for process in begun:
        process.terminate()
    for process in begun:
        process.wait(20)


class Reader:
    """A signed-in browser without scripts, talking to one web process."""

    def __init__(self, port: int, session: str) -> None:
        self.port, self.session = port, session

    def ask(self, method: str, path: str, form: dict[str, str] | None = None) -> tuple[int, str]:
        """Status, and the page or the address it leads to."""
        link = http.client.HTTPConnection("127.0.0.1", self.port, timeout=30)
        token = "t" * 32
        headers = {
            "Cookie": f"sessionid={self.session}; csrftoken={token}",
            "Content-Type": "application/x-www-form-urlencoded",
        }
        link.request(
            method,
            path,
            urlencode({**form, "csrfmiddlewaretoken": token}) if form is not None else None,
            headers,
        )
        answer = link.getresponse()
        body = answer.read().decode()
        return answer.status, answer.getheader("Location") or body


@pytest.fixture
def pair(running: Any) -> tuple[Reader, Reader]:
    """The same person at two web processes."""
    demo.load(now())
    browser = Client()
    browser.force_login(Keeper.objects.get(username="demo"))
    session = browser.cookies["sessionid"].value
    ports = [free_port(), free_port()]
    for port in ports:
        running(
            "gunicorn",
            "ridgeback.wsgi",
            "--bind",
            f"127.0.0.1:{port}",
            "--workers",
            "1",
            "--log-level",
            "error",
        )
    readers = tuple(Reader(port, session) for port in ports)

    def up() -> bool:
        try:
            return all(reader.ask("GET", "/health/")[0] == 200 for reader in readers)
        except OSError:
            return False

    until(up)
    return readers[0], readers[1]


def worker(running: Any, name: str) -> subprocess.Popen[bytes]:
    process: subprocess.Popen[bytes] = running(
        "python", "-m", "ridgeback.manage", "procrastinate", "worker", "--name", name
    )
    return process


def test_two_web_processes_show_one_truth_and_two_workers_do_each_job_once(
    pair: tuple[Reader, Reader], running: Any
) -> None:
    one, other = pair
    pip = Enclosure.objects.get(name="Pip’s enclosure")
    page = f"/enclosures/{pip.pk}/"
    assert (
        "Surface 5.2 too low" in one.ask("GET", page)[1]
        and "Surface 5.2 too low" in other.ask("GET", page)[1]
    )
    seen = one.ask("GET", page)[1]
    found = re.search(r'form="apply" name="change" value="([^"]+)"', seen)
    assert found
    status, _ = one.ask("POST", f"{page}apply/", {"change": found[1], "revision": "1"})
    assert status == 302
    after = other.ask("GET", page)[1]
    assert "Surface 5.2 too low" not in after and "plan 2" in after, (
        "the second process showed what was before"
    )
    assert "Surface: 5.2 too low" not in other.ask("GET", "/")[1]
    assert (
        "changed meanwhile"
        in other.ask("GET", other.ask("POST", f"{page}undo/", {"revision": "1"})[1])[1]
    )

    enclosures = list(Enclosure.objects.values_list("pk", flat=True))
    with ThreadPoolExecutor(
        8
    ) as crowd:  # everybody asks both processes for the same sheets at once
        asked = list(
            crowd.map(
                lambda n: pair[n % 2].ask(
                    "POST", f"/enclosures/{enclosures[n // 2 % 4]}/sheet/", {}
                ),
                range(16),
            )
        )
    assert {status for status, _ in asked} == {302} and Job.objects.count() == 4
    assert ProcrastinateJob.objects.filter(task_name="make_sheet").count() == 4
    worker(running, "first")
    worker(running, "second")
    until(lambda: Job.objects.filter(state=Job.State.DONE).count() == 4)
    until(
        lambda: (
            not ProcrastinateJob.objects.filter(task_name="make_sheet", status="doing").exists()
        )
    )
    assert (
        list(
            ProcrastinateJob.objects.filter(task_name="make_sheet").values_list(
                "status", "attempts"
            )
        )
        == [("succeeded", 1)] * 4
    )
    assert "Fetch the PDF" in one.ask("GET", f"/jobs/{Job.objects.first().pk}/")[1]  # type: ignore[union-attr]


def test_the_work_of_a_killed_worker_is_taken_over(
    pair: tuple[Reader, Reader], running: Any
) -> None:
    one, _ = pair
    enclosures = list(Enclosure.objects.values_list("pk", flat=True))
    for pk in enclosures:
        one.ask("POST", f"/enclosures/{pk}/sheet/", {})
    first = worker(running, "first")
    until(lambda: ProcrastinateJob.objects.filter(task_name="make_sheet", status="doing").exists())
    first.send_signal(signal.SIGKILL)
    first.wait()
    left = Job.objects.exclude(state=Job.State.DONE).count()
    assert left >= 1
    with connection.cursor() as cursor:  # as if it had been silent for long
        cursor.execute(
            "update procrastinate_workers set last_heartbeat = now() - interval '1 hour'"
        )
    worker(running, "second")
    with contextlib.suppress(AlreadyEnqueued):  # or the first worker queued one before it died
        tasks.take_over.defer(timestamp=0)
    until(lambda: Job.objects.filter(state=Job.State.DONE).count() == len(enclosures))
    assert all(bytes(job.made or b"").startswith(b"%PDF") for job in Job.objects.all())
