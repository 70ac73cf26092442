"""Hearing where somebody speaks, while there are no words: mouths made by loudness alone stay shut in noise and in music."""

from __future__ import annotations

from PyQt6.QtCore import QObject

from buccaphon.alignment.speaking import spoken_in
from buccaphon.app.session.document import Document
from buccaphon.app.session.jobs import Jobs, Slot
from buccaphon.app.timers import later
from buccaphon.arrays import Bools
from buccaphon.project.derived import Derived
from buccaphon.project.edits import Touched
from buccaphon.texts import _


class Listening(QObject):
    """Begins whenever it would change what is shown, and makes way for reading and aligning."""

    def __init__(self, document: Document, jobs: Jobs) -> None:
        super().__init__(document)
        self._document, self._jobs = document, jobs
        self._begun: Derived | None = None  # what was listened to last, whatever came of it
        document.sound_gone.connect(self._stop)
        soon = later(self, 0, self._listen)  # what is more urgent begins first
        document.sound_ready.connect(soon.start)
        document.changed.connect(self._listen)
        jobs.changed.connect(soon.start)

    def _stop(self) -> None:
        if self._jobs.busy(Slot.LISTEN):
            self._begun = None
            self._jobs.cancel(Slot.LISTEN)

    def _listen(self) -> None:
        document, jobs, derived = self._document, self._jobs, self._document.derived
        take = document.state.take
        words_drive = document.score is not None and take is not None and not take.loudness_settings.loudness_only
        if words_drive or jobs.busy(Slot.TAKE):
            self._stop()
            return
        if derived is None or derived is self._begun or derived.spoken is not None:
            return
        self._begun = derived

        def done(spoken: Bools) -> None:
            derived.take_spoken(spoken)
            document.emit_changed(Touched.MOUTHS, _("Listen for who speaks"))

        jobs.start(
            Slot.LISTEN,
            _("Listening"),
            lambda progress: spoken_in(derived.recording, progress),
            done,
            shown=False,
            awaited=False,
        )
