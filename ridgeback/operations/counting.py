"""Counts of requests, in this process or, where they share a folder, of all processes of this host.

Loaded with the logs, before any table is known: it knows none.
"""

from prometheus_client import Counter, Histogram

SECONDS = (0.01, 0.025, 0.05, 0.1, 0.25, 0.5, 1.0, 2.5, 5.0, 10.0, 30.0)
"""Upper ends of the classes of time (design choice) [s]."""
REQUESTS = Counter(
    "ridgeback_requests_total", "Requests that were answered", ["method", "route", "status"]
)
DURATION = Histogram(
    "ridgeback_request_seconds", "Time to answer, by route", ["route"], buckets=SECONDS
)


def observe(method: str, route: str, status: int, seconds: float) -> None:
    """Count a request that was answered."""
    REQUESTS.labels(method, route, f"{status // 100}xx").inc()
    DURATION.labels(route).observe(seconds)
