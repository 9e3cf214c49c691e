"""Whether it lives and whether it is ready: for machines that watch over machines.

It says what works, never whose data it is.
"""

from typing import Any

from django.contrib.auth.decorators import login_not_required
from django.db import DatabaseError, connection
from django.db.migrations.executor import MigrationExecutor
from django.http import HttpRequest, JsonResponse
from django.views.decorators.cache import never_cache
from procrastinate.contrib.django.models import ProcrastinateJob, ProcrastinateWorker

from husbandry import CORE_VERSION
from ridgeback import clock

SILENT_S = 60


@login_not_required
@never_cache
def live(request: HttpRequest) -> JsonResponse:
    """200 as long as the process answers: it asks nobody else, so that a database that is away
    restarts no process.
    """
    return JsonResponse({"core": CORE_VERSION})


@login_not_required
@never_cache
def ready(request: HttpRequest) -> JsonResponse:
    """200 when pages can be answered, 503 when not.

    A missing worker is said but does not fail it: pages work, sheets wait.
    """
    found: dict[str, Any] = {
        "core": CORE_VERSION,
        "database": "ok",
        "migrations": "ok",
        "worker": "ok",
    }
    try:
        with connection.cursor() as cursor:
            cursor.execute("select 1")
        executor = MigrationExecutor(connection)
        if executor.migration_plan(executor.loader.graph.leaf_nodes()):
            found["migrations"] = "missing"
        heard = (
            ProcrastinateWorker.objects.order_by("-last_heartbeat")
            .values_list("last_heartbeat", flat=True)
            .first()
        )
        if heard is None or (clock.now() - heard).total_seconds() > SILENT_S:
            found["worker"] = "silent"
        found["waiting_jobs"] = ProcrastinateJob.objects.filter(
            status="todo", scheduled_at__isnull=True
        ).count()
    except DatabaseError:
        found["database"] = "silent"
    good = found["database"] == "ok" and found["migrations"] == "ok"
    return JsonResponse(found, status=200 if good else 503)
