"""Live: the line as it plays and is scrubbed, sent to another program as Open Sound Control. Off until it is switched on."""

from __future__ import annotations

import re

import numpy as np
from PyQt6.QtCore import QObject, pyqtSignal

from buccaphon.app.live.peer import Peer, in_words
from buccaphon.app.live.sender import Sender
from buccaphon.app.session.document import Document
from buccaphon.app.settings import LIVE
from buccaphon.app.timers import later
from buccaphon.errors import TargetError
from buccaphon.formats.delivery import Delivery
from buccaphon.formats.osc import Bundle, Live, part_of_address
from buccaphon.motion.record import JAW, WEIGHT
from buccaphon.project.delivering import deliver
from buccaphon.project.edits import Touched
from buccaphon.texts import _

USUAL = "127.0.0.1:9000/buccaphon"
_SETTLE = 60  # ms after the last change until what is sent is made over
_ADDRESS = re.compile(r"(?P<host>[A-Za-z0-9.-]+):(?P<port>[0-9]{1,5})(?P<prefix>(/[A-Za-z0-9_.-]+)*)/?")
_SOUNDS = Touched.TIMING | Touched.MOUTHS | Touched.SCENE | Touched.KIT | Touched.SOUND | Touched.SCRIPT


class Sending(QObject):
    """is_on: whether anything is sent. changed: it was switched, or tells something. told: how it stands, in a sentence.
    heard: what the stand-in hears."""

    changed = pyqtSignal()
    heard = pyqtSignal(str)
    _failed = pyqtSignal(str)

    def __init__(self, document: Document) -> None:
        super().__init__(document)
        self._document = document
        self._sender: Sender | None = None
        self._peer: Peer | None = None
        self.told = ""
        self._settling = later(self, _SETTLE, self._make_over)
        player = document.player
        player.moved.connect(self._follow)
        player.playing_changed.connect(self._switch)
        document.opened.connect(self._make_over)
        document.sound_ready.connect(self._make_over)
        document.changed.connect(self._settle)
        self._failed.connect(self._tell)

    @property
    def is_on(self) -> bool:
        return self._sender is not None

    @property
    def hears_itself(self) -> bool:
        return self._peer is not None

    @property
    def address(self) -> str:
        """Where to, with the beginning of every address."""
        return LIVE.read() or USUAL

    def set_address(self, text: str) -> bool:
        """Where to from now on. Whether it can be."""
        try:
            read_address(text)
        except TargetError as problem:
            self._tell(str(problem))
            return False
        LIVE.write(text.strip())
        if self.is_on:
            self.switch_off()
            self.switch_on()
        self._tell("")
        return True

    def switch_on(self) -> None:
        host, port, _rest = read_address(self.address)
        self._sender = Sender((host, port), self._failed.emit)
        self._make_over()
        self._sender.start()
        if self._document.player.playing:
            self._switch(True)
        else:
            self._sender.show(self._document.player.position)
        self._tell("")

    def switch_off(self) -> None:
        if self._sender is not None:
            self._sender.stop()
            self._sender.finish()
            self._sender = None
        self.stop_hearing()
        self._tell("")

    def hear_itself(self) -> None:
        """A stand-in on this machine, at the port that is sent to, whose last words are shown."""
        host, port, _rest = read_address(self.address)
        try:
            self._peer = Peer(self._hear, port, host)
        except OSError:
            self._tell(
                _("Another program already listens at {host}:{port}; it receives what is sent.", host=host, port=port)
            )
            return
        self._peer.start()
        self.changed.emit()

    def stop_hearing(self) -> None:
        if self._peer is not None:
            self._peer.finish()
            self._peer = None
            self.changed.emit()

    # --- following -----------------------------------------------------------------------------------------------------

    def _settle(self, changes: object) -> None:
        if self._sender is not None and getattr(changes, "touched", Touched.ALL) & _SOUNDS:
            self._settling.start()

    def _make_over(self) -> None:
        if self._sender is None:
            return
        document = self._document
        if document.derived is None:
            self._sender.take(None)
            return
        delivery = deliver(document.state, document.derived, document.title, whole=True)
        self._sender.take(live_of(delivery, read_address(self.address)[2]))
        if not document.player.playing:
            self._sender.show(document.player.position)

    def _switch(self, playing: bool) -> None:
        if self._sender is None:
            return
        player = self._document.player
        if playing:
            self._sender.play(player.position, player.speed)
        else:
            self._sender.stop()

    def _follow(self, position: float) -> None:
        if self._sender is None:
            return
        if self._document.player.playing:
            self._sender.follow(position, self._document.player.speed)
        else:
            self._sender.show(position)

    def _hear(self, bundle: Bundle, _when: float) -> None:
        self.heard.emit(in_words(bundle))

    def _tell(self, text: str) -> None:
        self.told = text
        self.changed.emit()


def read_address(text: str) -> tuple[str, int, str]:
    """Host, port and prefix of 127.0.0.1:9000/buccaphon. Raises TargetError."""
    found = _ADDRESS.fullmatch(text.strip())
    if found is None or not 0 < int(found["port"]) < 65_536:
        raise TargetError(
            f"“{text[:60]}”", _("it is not an address"), _("Write host:port/prefix, such as {example}", example=USUAL)
        )
    return found["host"], int(found["port"]), found["prefix"]


def live_of(delivery: Delivery, prefix: str) -> Live:
    """What is sent of a line: mouth, jaw, weights and channels of one's own, under the host's names."""
    bake = delivery.bake
    assert bake is not None
    channels, own = delivery.channels(), set(delivery.own_channels().ids)
    names, values = [f"{prefix}/jaw"], [bake.channels.curve(JAW)]
    for number, ident in enumerate(channels.ids):
        if ident.startswith(WEIGHT):
            names.append(f"{prefix}/weight/{part_of_address(ident.removeprefix(WEIGHT))}")
        elif ident in own:
            names.append(f"{prefix}/channel/{part_of_address(ident)}")
        else:
            continue
        values.append(channels.curves[number])
    rows = np.stack(values, axis=1).tolist()
    shown = {name: (delivery.called(name), delivery.number_of(name)) for name in bake.chart.names}
    mouths = [shown[exposure.mouth] for exposure in bake.exposures for _ in range(exposure.length)]
    return Live(prefix, bake.start_frame, float(bake.rate.value), mouths, names, rows)
