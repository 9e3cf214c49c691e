"""How gunicorn serves the application; every number can be set in the environment."""

import gc
import os

worker_class = "ridgeback.operations.buffered.BufferedWorker"
workers = int(os.environ.get("WEB_PROCESSES", "2"))
threads = int(os.environ.get("WEB_THREADS", "2"))
# A request that is worked at for longer ends its process [s].
timeout = int(os.environ.get("WEB_TIMEOUT_S", "60"))
graceful_timeout = 5
keepalive = 15
loglevel = "warning"
errorlog = "-"


def post_worker_init(worker: object) -> None:
    """What a process has loaded by now stays, and is not looked through for garbage again: that would
    take about 0.2 s, in whatever request it falls.
    """
    gc.collect()
    gc.freeze()


def child_exit(server: object, worker: object) -> None:
    """A process that ended counts no longer as running; what it counted stays."""
    if "PROMETHEUS_MULTIPROC_DIR" in os.environ:
        from prometheus_client.multiprocess import mark_process_dead

        mark_process_dead(getattr(worker, "pid", 0))  # type: ignore[no-untyped-call]  # the library's own
