"""Motion, as far as it takes time: the loudness of a channel or of a part of the sound, measured in the background."""

from __future__ import annotations

from PyQt6.QtCore import QObject

from buccaphon.app.session.document import Document
from buccaphon.app.session.jobs import Jobs, Slot
from buccaphon.app.timers import later
from buccaphon.audio.peaks import Peaks
from buccaphon.project.derived import ALL_OF_IT, Derived, Part, listened_part, part_of
from buccaphon.project.edits import Touched
from buccaphon.texts import _

_SETTLES = 200  # ms


class Moving(QObject):
    """Measures what the steering of the shown take listens to, as soon as that is not what is heard anyway."""

    def __init__(self, document: Document, jobs: Jobs) -> None:
        super().__init__(document)
        self._document, self._jobs = document, jobs
        self._begun: tuple[Derived, Part] | None = None
        document.sound_gone.connect(self._stop)
        document.sound_ready.connect(self._measure)
        self._settled = later(self, _SETTLES, self._measure)  # a drag goes through many ranges of frequencies
        document.changed.connect(self._settled.start)

    @property
    def channels(self) -> int:
        """How many the recording has, as far as that is known."""
        recording, take = self._document.recording, self._document.state.take
        chosen = take.channel + 1 if take is not None and isinstance(take.channel, int) else 1
        return max(recording.channels if recording is not None else 1, chosen)

    def _stop(self) -> None:
        self._begun = None
        self._jobs.cancel(Slot.STEER)

    def _measure(self, _what: object = None) -> None:
        document, derived, take = self._document, self._document.derived, self._document.state.take
        if derived is None or take is None:
            return
        part = part_of(take.loudness_settings)
        if part == ALL_OF_IT or part in derived.parts or self._begun == (derived, part):
            return
        self._begun = derived, part

        def work(_progress: object) -> Peaks:
            return listened_part(derived.recording, take.path, part)

        def done(peaks: Peaks) -> None:
            derived.take_peaks(part, peaks)
            document.emit_changed(Touched.MOUTHS, _("Listen to a part of the sound"))

        self._jobs.start(Slot.STEER, _("Listening to a part of the sound"), work, done)
