"""Playing the scene: all lines heard together, with the page going from line to line."""

from __future__ import annotations

from PyQt6.QtCore import QObject, pyqtSignal

from buccaphon.app.session.document import Document
from buccaphon.app.session.lines import Lines
from buccaphon.app.sound.player import Player
from buccaphon.project.project import Changes
from buccaphon.texts import _


class ScenePlaying(QObject):
    """switched: is_on is another. is_on: whether playing plays the scene and not the open line alone."""

    switched = pyqtSignal()

    def __init__(self, document: Document, lines: Lines) -> None:
        super().__init__(document)
        self._document, self._lines = document, lines
        self.player = Player(document.player.device, self)
        self.is_on = False
        self._start = 0.0  # of the mix, in seconds of the scene's own counting
        self.player.moved.connect(self._follow)
        document.changed.connect(self._stop_if_changed)
        document.opened.connect(self.stop)

    @property
    def playing(self) -> bool:
        return self.player.playing

    def switch(self) -> None:
        """Play the scene from now on, or the line alone again."""
        if not self.is_on and len(self._document.state.lines) < 2:
            self._document.said.emit(_("There is only one line. Drop another recording to add one."))
            return
        self.is_on = not self.is_on
        self.stop()
        self.switched.emit()
        self._document.said.emit(_("Playing plays the scene.") if self.is_on else _("Playing plays this line."))

    def toggle(self) -> None:
        """Play the scene from the playhead on, or stop."""
        if self.playing:
            self.stop()
            return
        ensemble = self._lines.ensemble()
        missing = [line for line in ensemble.state.lines if line.takes and line.key not in ensemble.sounds]
        if missing:
            self._document.said.emit(_("{name} is still being read.", name=missing[0].title))
            return
        line_player = self._document.player
        line_player.stop()
        self._start = ensemble.state.rate.seconds(ensemble.numbers.start - ensemble.state.start_frame)
        here = self._lines.here - self._start
        if self.player.device is not line_player.device:
            self.player.set_device(line_player.device)
        self.player.load(ensemble.sound())
        self.player.speed = line_player.speed
        self.player.set_volume(line_player.volume)
        self.player.seek(here)
        self.player.play()
        line_player.playing_changed.emit(True)

    def stop(self) -> None:
        if self.playing:
            self.player.stop()
            self._document.player.playing_changed.emit(False)

    def _stop_if_changed(self, changes: Changes) -> None:
        """What is heard would be what was there before; going from line to line changes nothing."""
        if changes.name:
            self.stop()

    def _follow(self, seconds: float) -> None:
        if not self.playing:
            return
        state, at = self._document.state, seconds + self._start
        here = self._lines.line_at(at)
        if here is not None and here != state.open_line:
            self._lines.open(here)
            self.player.set_volume(self._document.player.volume)
        take = self._document.state.take
        if take is not None:
            shift = self._document.state.rate.seconds(
                self._document.state.first_number - self._document.state.start_frame
            )
            self._document.player.seek(at - shift)
