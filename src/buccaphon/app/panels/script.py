"""Step two: the words, and where they were found."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import QEvent
from PyQt6.QtGui import QColor, QKeyEvent, QKeySequence, QTextCursor
from PyQt6.QtWidgets import (
    QHBoxLayout,
    QPlainTextEdit,
    QTextEdit,
    QVBoxLayout,
)

from buccaphon.app.panels.findings import FindingsSection, clear_rows, place_row
from buccaphon.app.panels.language import LanguageSection
from buccaphon.app.panels.pronunciation import PronunciationSection
from buccaphon.app.panels.roles import RolesSection
from buccaphon.app.session.jobs import Slot
from buccaphon.app.session.session import Session
from buccaphon.app.timers import later
from buccaphon.app.widgets.parts import Panel, PlaceLabel, button, label, quiet_row
from buccaphon.painting.theme import Theme
from buccaphon.project.edits import Touched
from buccaphon.project.edits.script import SetScript
from buccaphon.project.project import Changes
from buccaphon.project.state import Line
from buccaphon.speech.script import ScriptWord, script_words
from buccaphon.texts import _, ngettext
from buccaphon.timing import clock

_MOST_DOUBTS = 6
_BREATH = 60  # ms
_MOST_FOLDED, _MOST_LETTERS = 3, 34  # lines before and after the open one, and letters of each
_TYPING_STOPS = 900  # ms without a key


class ScriptEdit(QPlainTextEdit):
    """Plain text whose undo is the project's."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("script")
        self.setUndoRedoEnabled(False)
        self.setAcceptDrops(False)  # files may be dropped anywhere; the window takes them
        self.setPlaceholderText(
            _("Type or paste what is said.\n\nNAME: at the start of a line and anything in brackets are not spoken.")
        )
        self.setAccessibleName(_("Script"))
        self.setTabChangesFocus(True)

    def event(self, event: QEvent) -> bool:
        ours = (QKeySequence.StandardKey.Undo, QKeySequence.StandardKey.Redo)
        if (
            isinstance(event, QKeyEvent)
            and event.type() == QEvent.Type.ShortcutOverride
            and any(event.matches(key) for key in ours)
        ):
            return False
        return super().event(event)


class ScriptPanel(Panel):
    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(_("Script"))
        self._session, self._document, self._theme = session, session.document, theme
        self.text = ScriptEdit()
        self.text.setMinimumHeight(120)
        self.align_button = button(_("Align    Ctrl+R"), _("Find when each word and sound is spoken"), "main")
        self.status = label("", "hint")
        self.language = LanguageSection(session)
        self.roles = RolesSection(session)
        self._before, self._after = QVBoxLayout(), QVBoxLayout()  # the other lines, folded to their first words
        self._folded: tuple[object, ...] = ()
        self._doubts = QVBoxLayout()
        self._doubts_title = label(_("Uncertain words"), "heading")
        self._doubts_title.setToolTip(_("Words with uncertain timing · D next, Shift+D previous"))
        self.words_button = button(
            _("Import words…"), _("A script as text, Fountain or subtitles, or known word times"), "quiet"
        )
        self.sounds_button = button(_("Without a script"), _("Recognise the sounds and leave the words blank"), "quiet")
        self.pronunciation = PronunciationSection(session)
        self.findings = FindingsSection(session, theme)
        self._settled = later(self, _TYPING_STOPS, self._align_changes)
        self._shown = ""  # the script that the text shows; the text says some characters in its own way
        self._filling = False
        self._spoken: tuple[ScriptWord, ...] = ()
        self._lit: tuple[int | None, tuple[ScriptWord, ...], str] = (None, (), "")
        self._lay_out()
        self.text.textChanged.connect(self._typed)
        self.align_button.clicked.connect(self._align)
        self.sounds_button.clicked.connect(session.aligning.recognise)
        session.jobs.changed.connect(self._show_standing)
        self._soon = later(self, _BREATH, self.refresh)
        self._document.changed.connect(self._refresh_when_due)
        for signal in (self._document.opened, self._document.sound_ready):
            signal.connect(self.refresh)
        session.comparing.compared.connect(self.refresh)
        self._document.player.moved.connect(self._follow)
        self.refresh()

    def _lay_out(self) -> None:
        self.column.addLayout(self._before)
        self.column.addWidget(self.text, 1)
        self.column.addLayout(self._after)
        self.column.addWidget(self.roles)
        self.column.addWidget(self.language)
        row = QHBoxLayout()
        row.addWidget(self.align_button)
        row.addStretch(1)
        self.column.addLayout(row)
        self.column.addLayout(quiet_row(self.words_button, self.sounds_button))
        self.column.addWidget(self.status)
        self.column.addWidget(self.pronunciation)
        self.column.addWidget(self.findings)
        self.column.addSpacing(4)
        self.column.addWidget(self._doubts_title)
        self._doubts.setSpacing(2)
        self.column.addLayout(self._doubts)
        self.column.addStretch(1)

    def _refresh_when_due(self, changes: Changes) -> None:
        """At once when words changed; a little later when only times did, as they do on every move of a drag."""
        if changes.touched & ~(Touched.TIMING | Touched.MOUTHS):
            self.refresh()
        else:
            self._soon.start()

    def refresh(self, _what: object = None) -> None:
        state = self._document.state
        if self._shown != state.script:
            self._shown, self._filling = state.script, True
            self.text.setPlainText(state.script)
            self._filling = False
        self.language.refresh()
        self._fold_others()
        self._spoken = script_words(state.script) if state.score and not state.needs_aligning else ()
        self.align_button.setEnabled(self._document.recording is not None and bool(state.script.strip()))
        self._show_standing()
        self._list_doubts()
        self._follow(self._document.player.position)

    def _fold_others(self) -> None:
        """The lines before and after the open one, each as its first words."""
        state = self._document.state
        shown = tuple((line.key, line.title, line.script[:_MOST_LETTERS]) for line in state.lines), state.open_line
        if shown == self._folded:
            return
        self._folded = shown
        first = max(state.open_line - _MOST_FOLDED, 0)
        last = min(state.open_line + _MOST_FOLDED + 1, len(state.lines))
        for rows, numbers in (
            (self._before, range(first, state.open_line)),
            (self._after, range(state.open_line + 1, last)),
        ):
            clear_rows(rows)
            for number in numbers if len(state.lines) > 1 else ():
                row = PlaceLabel(_first_words(state.lines[number]), _("Open this line · Page Up, Page Down"))
                row.setWordWrap(False)
                row.gone.connect(partial(self._session.lines.open, number))
                rows.addWidget(row)

    def _show_standing(self) -> None:
        self.status.setText(self._standing())

    def _standing(self) -> str:
        state = self._document.state
        if self._document.recording is None:
            return _("Open a recording first.")
        if not state.script.strip():
            return _("Type the script, then align it.")
        if state.score is None:
            return _("Not aligned yet; until then the mouth follows the loudness.")
        count = len(state.score.words)
        if not any(word.text for word in state.score.words):
            sounds = sum(1 for _phone in state.score.phones())
            return ngettext(
                "{count} sound recognised, words left blank.", "{count} sounds recognised, words left blank.", sounds
            )
        if state.needs_aligning:
            return _("The script has changed since it was aligned.")
        return ngettext("{count} word aligned.", "{count} words aligned.", count)

    def _align(self) -> None:
        self._session.aligning.align()

    def _typed(self) -> None:
        if not self._filling:  # an edit amid an undo would end it
            self._shown = self.text.toPlainText()
            self._document.apply(SetScript(self._shown))
        self._settled.start()

    def _align_changes(self) -> None:
        """The hand rests: what was typed anew is aligned, if the line was aligned before."""
        session = self._session
        if session.jobs.busy(Slot.TAKE):
            self._settled.start()
        elif self._document.score is not None and (
            self._document.state.needs_aligning or self._document.state.was_emptied
        ):
            session.aligning.align_changes()

    def _list_doubts(self) -> None:
        clear_rows(self._doubts)
        unsure = self._session.comparing.doubts()
        self._doubts_title.setVisible(bool(unsure))
        for number in sorted(unsure, key=lambda n: self._document.score.words[n].confidence)[:_MOST_DOUBTS]:
            word = self._document.score.words[number]
            name = word.text or _("sounds")
            text = _("{name}   {start}   {share:.2f} sure", name=name, start=clock(word.start), share=word.confidence)
            self._doubts.addWidget(place_row(text, self._theme.doubt, partial(self._document.player.seek, word.start)))

    def _follow(self, seconds: float) -> None:
        """Light up the word that is being said."""
        score = self._document.score
        number = score.word_at(seconds) if score else None
        if (number, self._spoken, self._theme.loop) == self._lit:
            return
        self._lit = (number, self._spoken, self._theme.loop)
        marks = []
        if number is not None and number < len(self._spoken):
            word = self._spoken[number]
            mark = QTextEdit.ExtraSelection()
            mark.format.setBackground(QColor(self._theme.loop))
            mark.cursor = QTextCursor(self.text.document())
            mark.cursor.setPosition(word.start)
            mark.cursor.setPosition(word.end, QTextCursor.MoveMode.KeepAnchor)
            marks.append(mark)
        self.text.setExtraSelections(marks)


def _first_words(line: Line) -> str:
    text = " ".join(line.script.split())
    if line.heard_only or not text:
        kind = _("heard only") if line.heard_only else _("no words yet")
        return f"{line.title} · {kind}"
    return text if len(text) <= _MOST_LETTERS else f"{text[:_MOST_LETTERS].rsplit(' ', 1)[0]} …"
