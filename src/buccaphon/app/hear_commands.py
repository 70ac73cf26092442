"""The window's commands for hearing and moving the playhead."""

from __future__ import annotations

from buccaphon.app.galley.view import GalleyView
from buccaphon.app.mirror.mirror import Mirror
from buccaphon.app.mirror.player import PRE_ROLLS, SPEEDS
from buccaphon.app.notice import Notice
from buccaphon.app.session import Session
from buccaphon.score.records import Word


class HearCommands:
    """Mixed into the window, which has these parts."""

    session: Session
    galley: GalleyView
    mirror: Mirror
    notice: Notice

    def play_or_stop(self) -> None:
        self.session.player.toggle()

    def toggle_loop(self) -> None:
        player = self.session.player
        player.loops = not player.loops
        if player.playing:
            player.play()
        self.session.selected.emit()

    def mark_selection(self) -> None:
        """What is selected, or the word at the playhead, is marked on the ruler; again, and the mark is taken away."""
        player, score = self.session.player, self.session.score
        number = score.word_at(player.position) if score else None
        span = self.session.selected_span or (score.words[number].span if number is not None else None)
        if span is None and player.loop is None:
            self.notice.say("Put the playhead on a word, or select something, to mark it on the ruler.")
            return
        player.loop = None if player.loop == span else span
        player.loops = player.loop is not None
        self.session.selected.emit()

    def play_selection(self) -> None:
        """The loop if one is drawn, else the selected exposure, else the word at the playhead."""
        player, score = self.session.player, self.session.score
        number = score.word_at(player.position) if score else None
        span = player.loop or self.session.selected_span or (score.words[number].span if number is not None else None)
        if span is not None:
            player.hear(span)

    def next_speed(self) -> None:
        player = self.session.player
        player.set_speed(SPEEDS[(SPEEDS.index(player.speed) + 1) % len(SPEEDS)])
        self.mirror.refresh()

    def next_pre_roll(self) -> None:
        player = self.session.player
        player.pre_roll = PRE_ROLLS[(PRE_ROLLS.index(player.pre_roll) + 1) % len(PRE_ROLLS)]
        self.notice.say(f"{player.pre_roll:g} s are heard before the loop.")

    def frame_on(self) -> None:
        self.session.step(1)

    def frame_back(self) -> None:
        self.session.step(-1)

    def frame_on_pair(self) -> None:
        self.session.step(1, neighbour=True)

    def frame_back_pair(self) -> None:
        self.session.step(-1, neighbour=True)

    def next_word(self) -> None:
        self._to_word([word.start for word in self._words() if word.start > self.session.player.position + 1e-3][:1])

    def previous_word(self) -> None:
        self._to_word([word.start for word in self._words() if word.start < self.session.player.position - 1e-3][-1:])

    def _words(self) -> tuple[Word, ...]:
        return self.session.score.words if self.session.score else ()

    def _to_word(self, starts: list[float]) -> None:
        for start in starts:
            self._go(start)

    def next_doubt(self) -> None:
        self._to_doubt(1)

    def previous_doubt(self) -> None:
        self._to_doubt(-1)

    def _to_doubt(self, way: int) -> None:
        """Go to a doubt, from the last one to the first and back, and hear the word."""
        session, doubts = self.session, self.session.words.doubts()
        if not doubts:
            self.notice.say("No word is in doubt.")
            return
        starts = [session.score.words[number].start for number in doubts]
        here = session.player.position
        later = [n for n, start in enumerate(starts) if start > here + 1e-3]
        earlier = [n for n, start in enumerate(starts) if start < here - 1e-3]
        at = (later[0] if later else 0) if way > 0 else (earlier[-1] if earlier else -1)
        word = session.score.words[doubts[at]]
        self._go(word.start)
        session.player.hear(word.span)

    def to_start(self) -> None:
        self._go(0.0)

    def to_end(self) -> None:
        if self.session.recording is not None:
            self._go(self.session.recording.duration)

    def _go(self, seconds: float) -> None:
        self.session.player.seek(seconds)
        self.galley.show_time(seconds)
