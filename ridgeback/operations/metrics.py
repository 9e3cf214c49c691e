"""Figures for Prometheus: requests by route, the queue by its waiting and its failures, plans.

Only for who has the key of `METRICS_TOKEN`; without one set there is no such page. Routes are patterns,
never paths: no figure tells of a person.
"""

import hmac
import os

from django.conf import settings
from django.contrib.auth.decorators import login_not_required
from django.db.models import Count, Min, Q
from django.http import Http404, HttpRequest, HttpResponse
from django.views.decorators.cache import never_cache
from django.views.decorators.http import require_safe
from procrastinate.contrib.django.models import ProcrastinateEvent, ProcrastinateJob
from prometheus_client import CONTENT_TYPE_LATEST, CollectorRegistry, Gauge, generate_latest
from prometheus_client.multiprocess import MultiProcessCollector

from ridgeback import clock


def _requests() -> bytes:
    """Requests of every process of this host, where they share a folder; else of this one."""
    if "PROMETHEUS_MULTIPROC_DIR" not in os.environ:
        return generate_latest()
    registry = CollectorRegistry()
    MultiProcessCollector(registry)  # type: ignore[no-untyped-call]  # the library's own
    return generate_latest(registry)


def _queue() -> bytes:
    """The queue as it is now: the same from every host."""
    registry = CollectorRegistry()
    now = clock.now()
    waiting = Q(status="todo") & (Q(scheduled_at__isnull=True) | Q(scheduled_at__lte=now))
    gauges = {
        "waiting": Gauge("ridgeback_jobs_waiting", "Jobs that wait", ["task"], registry=registry),
        "doing": Gauge("ridgeback_jobs_running", "Jobs at work", ["task"], registry=registry),
        "failed": Gauge("ridgeback_jobs_failed", "Jobs that failed", ["task"], registry=registry),
    }
    rows = ProcrastinateJob.objects.values("task_name").annotate(
        waiting=Count("pk", filter=waiting),
        doing=Count("pk", filter=Q(status="doing")),
        failed=Count("pk", filter=Q(status="failed")),
    )
    for row in rows:
        for name, gauge in gauges.items():
            gauge.labels(row["task_name"]).set(row[name])

    oldest = Gauge(
        "ridgeback_oldest_job_seconds", "How long the first job has waited", registry=registry
    )
    since = ProcrastinateEvent.objects.filter(
        job__in=ProcrastinateJob.objects.filter(waiting), type="deferred"
    ).aggregate(at=Min("at"))["at"]
    oldest.set(max(0.0, (now - since).total_seconds()) if since is not None else 0.0)

    return generate_latest(registry)


@login_not_required
@never_cache
@require_safe
def metrics(request: HttpRequest) -> HttpResponse:
    """Answer the figures to who has the key."""
    key = settings.METRICS_TOKEN
    sent = request.headers.get("Authorization", "").removeprefix("Bearer ")
    if not key or not hmac.compare_digest(sent.encode(), key.encode()):
        raise Http404
    return HttpResponse(_requests() + _queue(), content_type=CONTENT_TYPE_LATEST)
