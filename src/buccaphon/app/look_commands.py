"""The window's commands for how the galley is set."""

from __future__ import annotations

from dataclasses import replace

from buccaphon.app.galley.look import Lane
from buccaphon.app.galley.view import GalleyView
from buccaphon.app.mirror.mirror import Mirror
from buccaphon.app.notice import Notice
from buccaphon.app.session import Session

_ZOOM, _MAGNIFY = 1.25, 1.4
_STEP = 16  # pixels


class LookCommands:
    """Mixed into the window, which has these parts."""

    session: Session
    galley: GalleyView
    mirror: Mirror
    notice: Notice

    def wider(self) -> None:
        self.galley.set_look(self.galley.look.scaled(self.galley.look.scale * _ZOOM))

    def narrower(self) -> None:
        self.galley.set_look(self.galley.look.scaled(self.galley.look.scale / _ZOOM))

    def zoom_to_selection(self) -> None:
        span = self.session.player.loop or self.session.selection
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

    def toggle_wrap(self) -> None:
        self.galley.toggle_wrap()
