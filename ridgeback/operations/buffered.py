"""A web worker that slow clients cannot hold.

Gunicorn starts, watches and restarts the processes; in each of them waitress reads requests, whole
and without a thread, and hands them to a few threads. Eight sockets that send a body a byte a
second stopped every answer of threads that read for themselves; here they cost eight sockets.

- A request must arrive within `BODY_S`, whatever its sender does in between.
- A request that is worked at for longer than gunicorn's `timeout` ends its process, which is
  started anew: other requests get `graceful_timeout` to end first.
- A process whose threads are busy takes no new connection: another one does.
"""

import os
import threading
import time
from typing import Any

from gunicorn.workers.base import Worker
from waitress.adjustments import Adjustments
from waitress.channel import HTTPChannel
from waitress.server import TcpWSGIServer
from waitress.task import ThreadedTaskDispatcher

BODY_S = float(os.environ.get("WEB_BODY_S", "30"))
"""In which a request has to arrive, from its first byte to its last [s]."""
CONNECTIONS = 800
"""Open at a time in one process; more wait (below the 1024 that select can watch)."""
LOOP_S = 0.5


class BoundedChannel(HTTPChannel):
    """A connection that knows since when its request arrives, and since when it is worked at."""

    began = 0.0
    """When the request that is still arriving began [s of time.monotonic]; 0 when none is."""

    def received(self, data: bytes) -> Any:
        """Take a part of a request."""
        if self.request is None:
            self.began = time.monotonic()
        taken = super().received(data)
        if self.request is None:
            self.began = 0.0
        return taken

    def service(self) -> None:
        """Work at a request, in a thread."""
        working = self.server.working
        working[threading.get_ident()] = time.monotonic()
        try:
            super().service()
        finally:
            working.pop(threading.get_ident(), None)


class BufferedServer(TcpWSGIServer):
    """Reads requests whole, and closes those that take too long to arrive."""

    channel_class = BoundedChannel

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        self.working: dict[int, float] = {}
        super().__init__(*args, **kwargs)

    def readable(self) -> bool:
        """Take new connections only while a thread is free for them."""
        dispatcher = self.task_dispatcher
        return bool(super().readable()) and len(dispatcher.queue) < len(dispatcher.threads)

    def maintenance(self, now: float) -> None:
        """Close what is idle for too long, and what arrives for too long."""
        super().maintenance(now)
        latest = time.monotonic() - BODY_S
        for channel in list(self.active_channels.values()):
            if channel.request is not None and channel.began < latest:
                channel.will_close = True

    def longest_s(self) -> float:
        """For how long the slowest request is being worked at [s]."""
        begun = list(self.working.values())
        return time.monotonic() - min(begun) if begun else 0.0


class BufferedWorker(Worker):
    """Gunicorn's process around a waitress server."""

    alive: bool
    """Until it is told to stop."""

    def run(self) -> None:
        """Serve until told to stop, or until a request is stuck."""
        servers = [self._server(listener.sock) for listener in self.sockets]
        while self.alive:
            self.notify()
            self._turn(servers)
            if self.cfg.timeout and max(one.longest_s() for one in servers) > self.cfg.timeout:
                self.log.critical("a request is worked at for too long: this process is replaced")
                self.alive = False
            if os.getppid() != self.ppid:
                self.alive = False
        for server in servers:
            server.accepting = False
        end = time.monotonic() + self.cfg.graceful_timeout
        while time.monotonic() < end and any(self._busy(server) for server in servers):
            self.notify()
            self._turn(servers)
        if any(server.working for server in servers):
            os._exit(1)  # a thread that is stuck would keep the process

    def _server(self, sock: Any) -> BufferedServer:
        sock.setblocking(False)
        adjustments = Adjustments(
            sockets=[sock],
            threads=self.cfg.threads,
            connection_limit=CONNECTIONS,
            channel_timeout=max(self.cfg.keepalive, 5),
            cleanup_interval=2,
            asyncore_use_poll=True,
            clear_untrusted_proxy_headers=False,  # keepers.proxies.TrustedProxies does it
            ident=None,
        )
        dispatcher = ThreadedTaskDispatcher()
        dispatcher.set_thread_count(self.cfg.threads)
        return BufferedServer(
            self.wsgi,
            {},
            _sock=sock,
            dispatcher=dispatcher,
            adj=adjustments,
            sockinfo=(sock.family, sock.type, sock.proto, sock.getsockname()),
            bind_socket=False,
        )

    def _turn(self, servers: list[BufferedServer]) -> None:
        """One look at every socket."""
        for server in servers:
            server.asyncore.loop(
                timeout=LOOP_S / len(servers), use_poll=True, map=server._map, count=1
            )

    @staticmethod
    def _busy(server: BufferedServer) -> bool:
        waiting = any(channel.total_outbufs_len for channel in server.active_channels.values())
        return bool(server.working or server.task_dispatcher.queue or waiting)
