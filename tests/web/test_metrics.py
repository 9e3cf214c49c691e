"""Figures for Prometheus, read back by its own parser."""

import pytest
from django.test import Client
from django.test.utils import override_settings
from prometheus_client.parser import text_string_to_metric_families

from ridgeback.background import defer
from ridgeback.enclosures.models import Enclosure

KEY = "k" * 32


def figures(client: Client) -> dict[tuple[str, tuple[tuple[str, str], ...]], float]:
    answer = client.get("/metrics", headers={"authorization": f"Bearer {KEY}"})
    assert answer.status_code == 200
    return {
        (one.name, tuple(sorted(one.labels.items()))): one.value
        for family in text_string_to_metric_families(answer.content.decode())
        for one in family.samples
    }


@override_settings(METRICS_TOKEN=KEY)
def test_requests_are_counted_by_their_pattern(client: Client, pip: Enclosure) -> None:
    label = (("method", "GET"), ("route", "enclosures/<int:pk>/"), ("status", "2xx"))
    before = figures(client).get(("ridgeback_requests_total", label), 0)
    client.get(f"/enclosures/{pip.pk}/")
    found = figures(client)
    assert found["ridgeback_requests_total", label] == before + 1
    route = (("route", "enclosures/<int:pk>/"),)
    assert found["ridgeback_request_seconds_sum", route] > 0
    text = " ".join(str(key) for key in found)
    assert f"enclosures/{pip.pk}/" not in text and "Pip" not in text, "patterns, never paths"


@override_settings(METRICS_TOKEN=KEY)
def test_the_queue_is_told(client: Client, pip: Enclosure) -> None:
    defer("read_days", enclosures=[pip.pk])
    found = figures(client)
    assert found["ridgeback_jobs_waiting", (("task", "read_days"),)] >= 1
    assert found["ridgeback_oldest_job_seconds", ()] >= 0


@pytest.mark.parametrize("key", ["", KEY])
@pytest.mark.parametrize("sent", ["", "Bearer wrong", "Bearer "])
def test_nobody_else_reads_them(client: Client, key: str, sent: str) -> None:
    with override_settings(METRICS_TOKEN=key):
        assert client.get("/metrics", headers={"authorization": sent}).status_code == 404
