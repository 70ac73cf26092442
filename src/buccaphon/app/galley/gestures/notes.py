"""In the notes: drag one to another moment."""

from __future__ import annotations

from buccaphon.app.galley.gestures.gesture import GRAB, Gesture, Held, PlacePlayhead, Press
from buccaphon.app.galley.layout import Place
from buccaphon.audio.onsets import onsets_within
from buccaphon.project.edits import Together
from buccaphon.project.edits.scene import PutNote
from buccaphon.score.records import Note
from buccaphon.texts import _
from buccaphon.timing import Span

_NEAR = 1.0  # frames around an onset of the sound in which a note goes to it


class DragNote:
    """The note goes where the hand goes, to the frame there, or to that of an onset of the sound beside it; with Alt to the
    frame alone. A click puts the playhead on it."""

    def __init__(self, press: Press, note: Note) -> None:
        self._document, self._note, self._from = press.document, note, press.place.seconds
        self._gesture = f"note {note.span.start}"
        press.document.project.end_gesture()
        press.document.select_nothing()
        press.document.player.seek(note.span.start)

    def move(self, place: Place, held: Held = Held.NONE) -> None:
        document, rate, note = self._document, self._document.state.rate, self._note
        wanted = note.span.start + place.seconds - self._from
        if not held & Held.ALT and document.recording is not None:
            near = rate.seconds(_NEAR)
            onsets = onsets_within(document.recording, Span(max(wanted - near, 0.0), max(wanted + near, 0.0)))
            wanted = min(onsets, key=lambda onset: abs(onset - wanted), default=wanted)
        start = max(rate.seconds(rate.containing(wanted)), 0.0)
        document.project.cancel_gesture(self._gesture)
        moved = PutNote(Span(start, start + note.span.length), note.text)
        document.apply(Together((PutNote(note.span, ""), moved), name=_("Move a note"), gesture=self._gesture))
        document.player.scrub(start)

    def end(self, place: Place) -> None:
        del place
        self._document.project.end_gesture()


def note_at(press: Press) -> Note | None:
    """The note that the hand is on: from its start to its end, and a few pixels before and after it."""
    take, seconds, reach = press.document.state.take, press.place.seconds, GRAB / press.layout.scale
    found = [n for n in (take.notes if take else ()) if n.span.start - reach <= seconds < n.span.end + reach]
    return min(found, key=lambda note: abs(note.span.start - seconds), default=None)


def press_notes(press: Press) -> Gesture:
    note = note_at(press)
    return DragNote(press, note) if note is not None else PlacePlayhead(press)


def note_grip(press: Press) -> bool:
    return note_at(press) is not None
