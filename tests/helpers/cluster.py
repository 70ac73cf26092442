"""A scheduler and its workers as processes of their own, to be killed."""

from __future__ import annotations

import os
import signal
import socket
import subprocess
import sys
import time
from typing import Any

_PATIENCE = 90.0  # seconds


class Cluster:
    """cores: workers, each with one."""

    def __init__(self, cores: int = 1) -> None:
        self._cores, self._running = cores, list[subprocess.Popen[bytes]]()
        with socket.socket() as found:
            found.bind(("127.0.0.1", 0))
            self._port = int(found.getsockname()[1])
        self._start()
        self._wait()

    def _wait(self) -> None:
        """Until the scheduler listens: on a busy machine that takes a while."""
        until = time.monotonic() + _PATIENCE
        while time.monotonic() < until:
            with socket.socket() as there:
                if there.connect_ex(("127.0.0.1", self._port)) == 0:
                    return
            time.sleep(0.1)

    @property
    def address(self) -> str:
        return f"tcp://127.0.0.1:{self._port}"

    def _start(self) -> None:
        scheduler = ("scheduler", "--host", "127.0.0.1", "--port", str(self._port), "--no-dashboard")
        worker = ("worker", self.address, "--nworkers", "1", "--nthreads", "1", "--no-dashboard")
        env = {**os.environ, "PYTHONPATH": os.pathsep.join(sys.path)}
        quiet: dict[str, Any] = {"stdout": subprocess.DEVNULL, "stderr": subprocess.DEVNULL, "start_new_session": True}
        for told in (scheduler, *(worker for _each in range(self._cores))):
            self._running.append(subprocess.Popen([sys.executable, "-m", "dask", *told], env=env, **quiet))

    def restart(self) -> None:
        """All of it is killed, and another one is there at the same address."""
        self.stop()
        self._start()

    def stop(self) -> None:
        for each in self._running:
            try:
                os.killpg(each.pid, signal.SIGKILL)
            except ProcessLookupError:
                continue
            each.wait()
        self._running.clear()
