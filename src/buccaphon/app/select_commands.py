"""The window's commands that select many things at once, and cut, copy and paste them."""

from __future__ import annotations

from PyQt6.QtCore import QMimeData
from PyQt6.QtGui import QGuiApplication

from buccaphon.app.notice import Notice
from buccaphon.app.passage import MIME_TYPE, Passage, parsed, written
from buccaphon.app.selection import Selection, neighbours
from buccaphon.app.session import Session
from buccaphon.mouths.choosing import Painted
from buccaphon.project.edits import Together
from buccaphon.project.edits.mouths import Paint
from buccaphon.speech.script import script_words
from buccaphon.timing import Span


class SelectCommands:
    """Mixed into the window, which has these parts."""

    session: Session
    notice: Notice

    # --- selecting -----------------------------------------------------------------------------------------------------

    def select_word(self) -> None:
        """The word at the playhead; once it is, the next one as well."""
        session, score = self.session, self.session.score
        chosen, here = session.selection.words, score.word_at(session.player.position) if score else None
        if score is None or (here is None and not chosen):
            self.notice.say("Put the playhead on a word first.")
        elif chosen and (here is None or here in chosen):
            session.select(Selection(words=tuple(range(chosen[0], min(chosen[-1] + 2, len(score.words))))))
        else:
            session.select(Selection(words=(here,)))

    def select_mouth(self) -> None:
        """The mouth at the playhead; once it is, the next one as well."""
        session, exposure, bake = self.session, self.session.exposure(), self.session.bake()
        if exposure is None or bake is None:
            self.notice.say("Open a recording first.")
            return
        chosen, span = session.selection.mouths, session.span_of(exposure)
        following = [
            each for each in map(session.span_of, bake.exposures) if chosen and each.start >= chosen[-1].end - 1e-6
        ]
        if chosen and any(span.overlap(each) > 0 for each in chosen):
            session.select(Selection(mouths=(*chosen, *following[:1])))
        else:
            session.select(Selection(mouths=(span,)))

    def select_all(self) -> None:
        """All words while words are selected, else all mouths."""
        session, bake, score = self.session, self.session.bake(), self.session.score
        if session.selection.words and score is not None:
            session.select(Selection(words=tuple(range(len(score.words)))))
        elif bake is not None:
            session.select(Selection(mouths=tuple(map(session.span_of, bake.exposures))))

    def select_same_mouths(self) -> None:
        """All exposures of the mouth at the playhead."""
        session, here, bake = self.session, self.session.exposure(), self.session.bake()
        if here is None or bake is None:
            self.notice.say("Open a recording first.")
            return
        same = tuple(session.span_of(each) for each in bake.exposures if each.mouth == here.mouth)
        session.select(Selection(mouths=same))
        self.notice.say(f"{_counted(len(same), 'exposure')} of {here.mouth} selected.")

    def select_doubts(self) -> None:
        """All words in doubt."""
        doubts = tuple(self.session.words.doubts())
        self.session.select(Selection(words=doubts))
        self.notice.say(f"{_counted(len(doubts), 'word')} in doubt selected." if doubts else "No word is in doubt.")

    def select_speaker(self) -> None:
        """All that the speaker of the word at the playhead says."""
        session, number = self.session, self._word_at_playhead()
        if number is None:
            return
        words = script_words(session.state.script)
        speaker = words[number].speaker
        session.select(Selection(words=tuple(n for n, word in enumerate(words) if word.speaker == speaker)))
        who = speaker.title() or "nobody by name"
        self.notice.say(f"{_counted(len(session.selection.words), 'word')} of {who} selected.")

    def _word_at_playhead(self) -> int | None:
        """As long as the script is the one that was aligned."""
        session, score = self.session, self.session.score
        number = score.word_at(session.player.position) if score else None
        if number is None or not session.state.is_in_step:
            self.notice.say("Put the playhead on a word of an aligned line first.")
            return None
        return number

    # --- the clipboard -------------------------------------------------------------------------------------------------

    def copy(self) -> None:
        """What is selected, else the mouths of what is marked on the ruler, else the mouth at the playhead."""
        passage = self._passage()
        if passage is None:
            self.notice.say("Open a recording first.")
            return
        data = QMimeData()
        data.setText(passage.plain)
        data.setData(MIME_TYPE, written(passage))
        QGuiApplication.clipboard().setMimeData(data)
        count = (
            _counted(len(passage.mouths), "mouth") if passage.mouths else _counted(len(passage.words.split()), "word")
        )
        self.notice.say(f"{count} copied. {self.key_of('paste')} puts them at the playhead.")

    def cut(self) -> None:
        """Copy, and then give the mouths back to the machine, or take the words out of the script."""
        chosen = self.session.selection.words
        self.copy()
        if chosen:
            self.session.rewording.take_out(chosen)
        else:
            self.session.unpaint()

    def paste(self) -> None:
        """At the playhead: mouths are painted from there on, words are written before the word that is said there."""
        session = self.session
        data = QGuiApplication.clipboard().mimeData()
        passage = parsed(bytes(data.data(MIME_TYPE))) if data is not None and data.hasFormat(MIME_TYPE) else None
        if passage is None or session.recording is None:
            self.notice.say("Copy mouths or words first: select them, or mark them on the ruler.")
        elif passage.words:
            session.rewording.write_in(session.player.position, passage.words)
        else:
            self._paint(passage.mouths)

    def _paint(self, mouths: tuple[Painted, ...]) -> None:
        session, at = self.session, self.session.player.position
        unknown = sorted({each.mouth for each in mouths} - set(session.chart.names))
        if unknown:
            self.notice.say(
                f"Chart {session.chart.name} has no {', '.join(unknown)}. Choose the chart they come from first."
            )
            return
        painted = tuple(Paint(Span(at + p.span.start, at + p.span.end), p.mouth) for p in mouths)
        session.apply(Together(painted, "Paste mouths"))

    def _passage(self) -> Passage | None:
        session, bake = self.session, self.session.bake()
        if bake is None:
            return None
        if session.selection.words:
            words = session.score.words
            return Passage(
                words=" ".join(words[n].text for a, b in neighbours(session.selection.words) for n in range(a, b))
            )
        spans = session.selection.mouths or (
            (session.player.loop,) if session.player.loop else session.painting_spans()
        )
        rate, start, found = session.state.rate, spans[0].start, []
        for exposure in bake.exposures:
            shown = Span(rate.seconds(exposure.start), rate.seconds(exposure.end))
            for span in spans:
                if shown.overlap(span) > 1e-9:
                    part = Span(max(shown.start, span.start) - start, min(shown.end, span.end) - start)
                    found.append(Painted(part, exposure.mouth))
        return Passage(tuple(found))


def _counted(count: int, what: str) -> str:
    return f"{count} {what}{'s' if count != 1 else ''}"
