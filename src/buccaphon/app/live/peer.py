"""A stand-in for the program that listens: hears bundles on this machine and says what is in them."""

from __future__ import annotations

import socket
import threading
import time
from collections.abc import Callable

from buccaphon.formats.osc import Bundle, decoded
from buccaphon.texts import _

_WAIT = 0.2  # seconds
_LARGEST = 65_535


class Peer(threading.Thread):
    """heard: is called in its own thread with each bundle and the moment at which it came. port: 0 takes any that is free.
    Raises OSError when another program listens there."""

    def __init__(self, heard: Callable[[Bundle, float], None], port: int = 0, host: str = "127.0.0.1") -> None:
        super().__init__(name="peer", daemon=True)
        self._heard, self._over = heard, threading.Event()
        self._socket = socket.socket(socket.AF_INET, socket.SOCK_DGRAM)
        try:
            self._socket.bind((host, port))
        except OSError:
            self._socket.close()
            raise
        self._socket.settimeout(_WAIT)
        self.port: int = self._socket.getsockname()[1]

    def run(self) -> None:
        while not self._over.is_set():
            try:
                data, _rest = self._socket.recvfrom(_LARGEST)
            except TimeoutError:
                continue
            except OSError:
                break
            now = time.time()
            try:
                bundle = decoded(data)
            except ValueError:
                continue  # not for us
            self._heard(bundle, now)

    def finish(self) -> None:
        self._over.set()
        self.join(5)
        self._socket.close()


def in_words(bundle: Bundle) -> str:
    """What a bundle says, in a line: the frame, the mouth, the jaw, or the message itself."""
    told = {message.address.rsplit("/", 1)[-1]: message.arguments for message in bundle.messages}
    if "frame" not in told:
        return "  ".join(f"{each.address} {' '.join(map(str, each.arguments))}".strip() for each in bundle.messages)
    parts = [_("frame {told}", told=told["frame"][0])]
    parts += [str(told["mouth"][0])] if "mouth" in told else []
    parts += [_("jaw {told:.2f}", told=told["jaw"][0])] if "jaw" in told else []
    return "  ·  ".join(parts)
