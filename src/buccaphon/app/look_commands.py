"""The window's commands for how the galley is set."""

from __future__ import annotations

from dataclasses import replace

from PyQt6.QtCore import QSettings
from PyQt6.QtWidgets import QApplication, QWidget

from buccaphon.app.galley.look import Lane
from buccaphon.app.galley.overview import Overview
from buccaphon.app.galley.view import GalleyView
from buccaphon.app.mirror.mirror import Mirror
from buccaphon.app.notice import Notice
from buccaphon.app.painting import mouth_picture
from buccaphon.app.panels.script import ScriptPanel
from buccaphon.app.rail import Rail
from buccaphon.app.session import Session
from buccaphon.app.theme import NIGHT, PAPER, Theme, dress

SCALES = (0.8, 0.9, 1.0, 1.1, 1.25, 1.5, 1.75, 2.0)  # of the interface
_ZOOM, _MAGNIFY = 1.25, 1.4
_STEP = 16  # pixels


class LookCommands:
    """Mixed into the window, which has these parts."""

    session: Session
    galley: GalleyView
    mirror: Mirror
    overview: Overview
    script: ScriptPanel
    rail: Rail
    notice: Notice
    theme: Theme

    def wider(self) -> None:
        self.galley.set_look(self.galley.look.scaled(self.galley.look.scale * _ZOOM))

    def narrower(self) -> None:
        self.galley.set_look(self.galley.look.scaled(self.galley.look.scale / _ZOOM))

    def zoom_to_selection(self) -> None:
        span = self.session.player.loop or self.session.selected_span
        if span is None:
            self.notice.say("Drag on the ruler first: what is marked there fills the page then.")
        else:
            self.galley.zoom_to(span)

    def magnify(self) -> None:
        self.galley.set_look(self.galley.look.louder(_MAGNIFY))

    def diminish(self) -> None:
        self.galley.set_look(self.galley.look.louder(1 / _MAGNIFY))

    def taller_sound(self) -> None:
        self.galley.set_look(self.galley.look.taller(Lane.SOUND, _STEP))

    def lower_sound(self) -> None:
        self.galley.set_look(self.galley.look.taller(Lane.SOUND, -_STEP))

    def toggle_spectrum(self) -> None:
        self.galley.set_look(self.galley.look.toggled(Lane.SPECTRUM))

    def toggle_loudness(self) -> None:
        self.galley.set_look(replace(self.galley.look, loudness=not self.galley.look.loudness))

    def next_ink(self) -> None:
        self.galley.set_look(self.galley.look.inked())

    def next_reading(self) -> None:
        self.mirror.next_reading()

    def toggle_actor(self) -> None:
        self.mirror.actor.next_place()
        self.notice.say(f"The actor's picture: {self.mirror.actor.place.value}.")

    def next_notation(self) -> None:
        self.galley.set_look(self.galley.look.written())
        self.notice.say(f"Sounds are written in {self.galley.look.notation.value}.")

    def toggle_night(self) -> None:
        """Paper by day, or the night theme."""
        night = self.theme.pictures == PAPER.pictures
        self.theme.become(NIGHT if night else PAPER)
        QSettings().setValue("theme", "night" if night else "paper")
        dress(QApplication.instance(), self.theme)
        mouth_picture.cache_clear()
        self.galley.forget_pictures()
        self.overview.forget_pictures()
        self.mirror.draw_icons()
        self.rail.draw(self.theme)
        self.script.refresh()
        for widget in self.findChildren(QWidget):
            widget.update()

    def larger(self) -> None:
        self._scale(1)

    def smaller(self) -> None:
        self._scale(-1)

    def _scale(self, step: int) -> None:
        """Another size of everything, from the next start on."""
        now = float(QSettings().value("scale", "1.0"))
        nearest = min(range(len(SCALES)), key=lambda n: abs(SCALES[n] - now))
        scale = SCALES[min(max(nearest + step, 0), len(SCALES) - 1)]
        QSettings().setValue("scale", str(scale))
        self.notice.say(f"Everything will be at {scale:.0%} from the next start on.")

    def toggle_wrap(self) -> None:
        self.galley.toggle_wrap()
