"""The window's commands that mend timing and mouths from the keyboard."""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import partial

from buccaphon.app.galley.look import Lane
from buccaphon.app.inline_edit import InlineEdit
from buccaphon.app.notice import Notice
from buccaphon.app.selection import neighbours
from buccaphon.app.session import Session
from buccaphon.project.edits import Together
from buccaphon.project.edits.mouths import Paint
from buccaphon.project.edits.scene import PutNote
from buccaphon.project.edits.timing import MoveBoundary, MoveWords, Release
from buccaphon.score.edits import Boundary, boundary_time, nearest_boundary
from buccaphon.timing import Span


class MendCommands:
    """Mixed into the window, which has these parts."""

    session: Session
    notice: Notice
    inline: InlineEdit

    def nudge_frame_on(self) -> None:
        self._nudge(1 / float(self.session.state.rate.value))

    def nudge_frame_back(self) -> None:
        self._nudge(-1 / float(self.session.state.rate.value))

    def nudge_on(self) -> None:
        self._nudge(0.010)

    def nudge_back(self) -> None:
        self._nudge(-0.010)

    def nudge_fine_on(self) -> None:
        self._nudge(0.001)

    def nudge_fine_back(self) -> None:
        self._nudge(-0.001)

    def _nudge(self, by: float) -> None:
        """Move the words that are selected, else the boundary nearest to the playhead, which stays on it."""
        session, score = self.session, self.session.score
        if session.selection.words and score is not None:
            groups = list(neighbours(session.selection.words))
            moves = tuple(MoveWords(first, end, score.words[first].start + by) for first, end in groups)
            session.apply(Together(moves if by < 0 else moves[::-1], "Move words", f"nudge words {groups}"))
            return
        boundary = nearest_boundary(score, session.player.position) if score else None
        if boundary is None:
            self.notice.say("There is no boundary to move yet.")
            return
        name = f"nudge {boundary.word}/{boundary.phone}"
        session.apply(MoveBoundary(boundary, boundary_time(score, boundary) + by, gesture=name))
        session.player.seek(boundary_time(session.score, boundary))

    def place_boundary(self) -> None:
        """Type where the boundary nearest to the playhead lies: seconds, or a frame as `f 41`."""
        session, score = self.session, self.session.score
        boundary = nearest_boundary(score, session.player.position) if score else None
        if boundary is None:
            self.notice.say("There is no boundary to move yet.")
            return
        at = boundary_time(score, boundary)
        self.inline.ask(
            at, Lane.WORDS, "Seconds, or f and a frame", f"{at:.3f}", self._while_it_holds(partial(self._put, boundary))
        )

    def _put(self, boundary: Boundary, text: str) -> None:
        state, plain = self.session.state, text.lower().removesuffix("s").strip()
        try:
            framed = plain.startswith("f")
            seconds = state.rate.seconds(int(plain[1:]) - state.first_number) if framed else float(plain)
            if not math.isfinite(seconds):
                raise ValueError(text)
        except (ValueError, OverflowError):
            self.notice.say(f"“{text}” is no time. Type seconds such as 1.25, or a frame such as f 30.")
            return
        self.session.apply(MoveBoundary(boundary, seconds))
        self.session.player.seek(boundary_time(self.session.score, boundary))

    def hold_longer(self) -> None:
        """The mouth here stays one frame longer."""
        self._reach(0, 1, "Hold longer")

    def anticipate(self) -> None:
        """The mouth here comes one frame earlier."""
        self._reach(-1, 0, "Anticipate")

    def _reach(self, before: int, after: int, name: str) -> None:
        session, exposure, bake = self.session, self.session.exposure(), self.session.bake()
        if exposure is None or bake is None:
            return
        start, end = max(exposure.start + before, 0), min(exposure.end + after, bake.frames)
        span = Span(session.state.rate.seconds(start), session.state.rate.seconds(end))
        session.apply(Together((Paint(span, exposure.mouth),), name))

    def fill_marked(self) -> None:
        """What is marked on the ruler shows the mouth at the playhead throughout."""
        session, exposure = self.session, self.session.exposure()
        if session.player.loop is None or exposure is None:
            self.notice.say("Drag on the ruler first: what is marked there is filled with the mouth at the playhead.")
            return
        session.apply(Together((Paint(session.player.loop, exposure.mouth),), f"Fill with {exposure.mouth}"))

    def release_pins(self) -> None:
        """Those in what is marked on the ruler, in what is selected, or in the word at the playhead."""
        session, score = self.session, self.session.score
        number = score.word_at(session.player.position) if score else None
        here = (score.words[number].span,) if score and number is not None else ()
        spans = (session.player.loop,) if session.player.loop else session.selection.spans(score) or here
        if not spans:
            self.notice.say("Put the playhead on a word, or drag on the ruler over several.")
            return
        released = tuple(Release(Span(span.start - 1e-6, span.end + 1e-6)) for span in spans)
        session.apply(Together(released, released[0].name))

    def write_note(self) -> None:
        """At what is marked on the ruler, or at the frame at the playhead; an empty note takes it away."""
        session = self.session
        if session.recording is None or session.state.take is None:
            self.notice.say("Open a recording first.")
            return
        rate, frame = session.state.rate, session.frame
        span = session.player.loop or Span(rate.seconds(frame), rate.seconds(frame + 1))
        notes = session.state.take.notes
        known = next((note for note in notes if span.start - 1e-6 <= note.span.start < span.end), None)
        where = known.span if known else span
        self.inline.ask(
            where.start,
            Lane.JAW,
            "A note",
            known.text if known else "",
            lambda text: session.apply(PutNote(where, text)),
        )

    def retype_word(self) -> None:
        """The words that are selected in a row, or the one at the playhead; several words take their place, or none."""
        session, number = self.session, self._word_here()
        if number is None:
            return
        rows = list(neighbours(session.selection.words))
        first, end = rows[0] if len(rows) == 1 else (number, number + 1)
        typed, start = session.rewording.typed(first, end), session.score.words[first].start
        done = self._while_it_holds(partial(session.rewording.retype, first, end))
        self.inline.ask(start, Lane.WORDS, "What is said here", typed, done)

    def retype_sound(self) -> None:
        """The sound at the playhead, in IPA or ARPAbet; several take its place, none takes it out."""
        session, number = self.session, self._word_here()
        if number is None:
            return
        phones = session.score.words[number].phones
        place = max(n for n, phone in enumerate(phones) if phone.start <= session.player.position + 1e-9 or n == 0)
        done = self._while_it_holds(partial(session.pronouncing.retype_sound, number, place))
        self.inline.ask(phones[place].start, Lane.PHONES, "The sound here, IPA or ARPAbet", phones[place].symbol, done)

    def _while_it_holds(self, done: Callable[[str], None]) -> Callable[[str], None]:
        """What is to be done with a word or sound, as long as the line is the one that was asked about."""
        score = self.session.score

        def checked(text: str) -> None:
            if self.session.score is score:
                done(text)
            else:
                self.notice.say("The line has changed meanwhile. Ask again.")

        return checked

    def _word_here(self) -> int | None:
        """The number of the word at the playhead that can be typed anew; None, and a notice, when there is none."""
        session, score = self.session, self.session.score
        chosen = session.selection.words
        number = chosen[0] if chosen else score.word_at(session.player.position) if score else None
        if number is None or not session.state.is_in_step or not score.words[number].text:
            self.notice.say("Put the playhead on a word of an aligned line first.")
            return None
        return number
