"""How the chosen word is said: the ways that were weighed, and one's own."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QComboBox, QLineEdit, QListWidgetItem, QVBoxLayout, QWidget

from buccaphon.app.session.pronouncing import Scope, Way
from buccaphon.app.session.session import Session
from buccaphon.app.timers import later
from buccaphon.app.widgets.noted_list import NotedList
from buccaphon.app.widgets.parts import button, fit_rows, label, quiet_row
from buccaphon.audio.recording import Recording
from buccaphon.errors import BuccaphonError
from buccaphon.painting.theme import serif
from buccaphon.speech.languages import ENGLISH
from buccaphon.speech.lexicon import Pronunciation, wordings
from buccaphon.speech.lexicon_text import parse_pronunciation, pronunciation_as_text
from buccaphon.speech.saying import saying
from buccaphon.speech.script import ScriptWord, script_words
from buccaphon.texts import _

_MOST_ROWS = 5
_WAY = Qt.ItemDataRole.UserRole
_PATIENCE = 150  # ms between the last key and the check


class PronunciationSection(QWidget):
    """Shown while a word is chosen: double-click it in the galley, or press H."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self._document = session, session.document
        self._number: int | None = None
        self._asked: object = None  # what the ways were weighed for
        self._typed: Pronunciation | None = None
        self.title, self.said_as = label("", "heading"), label("", "hint")
        self.ways = NotedList()
        self.ways.setAccessibleName(_("Pronunciations"))
        self.ways.setToolTip(
            _("Pronunciations, and how well each fits the recording. Return or double-click uses one.")
        )
        self.own = QLineEdit()
        self.own.setPlaceholderText(_("p l ˈʌ m z   or   P L AH1 M Z   or   = plums"))
        self.own.setAccessibleName(_("Your own pronunciation"))
        self.check = label("", "hint")
        self.keep = QComboBox()
        self.keep.setAccessibleName(_("Use it for"))
        for scope in Scope:
            self.keep.addItem(scope.label, scope)
        self.use_button = button(_("Use this pronunciation"), _("Align the word again with this pronunciation"))
        self.hear_button = button(_("Hear"), _("Hear the word as it is in the recording"), "quiet")
        self.said_button = button(
            _("Hear this pronunciation"), _("Play what you typed, or the selected pronunciation"), "quiet"
        )
        self.close_button = button(_("Close"), _("Deselect the word"), "quiet")
        self._lay_out()
        self._checking = later(self, _PATIENCE, self._check)
        self.own.textChanged.connect(self._checking.start)
        self.own.returnPressed.connect(self._use)
        self.ways.itemActivated.connect(self._take)
        self.use_button.clicked.connect(self._use)
        self.hear_button.clicked.connect(self._hear)
        self.said_button.clicked.connect(self._hear_way)
        self.ways.currentItemChanged.connect(self._hear_item)
        self.close_button.clicked.connect(self._close)
        for signal in (self._document.changed, self._document.opened, self._document.sound_ready):
            signal.connect(self.refresh)
        self._document.word_chosen.connect(self._meet_word)
        session.pronouncing.weighed.connect(self._list_ways)
        self.refresh()

    def _lay_out(self) -> None:
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 6, 0, 0)
        column.setSpacing(6)
        for part in (self.title, self.said_as, self.ways, self.own, self.check, self.keep):
            column.addWidget(part)
        column.addLayout(quiet_row(self.hear_button, self.said_button))
        row = quiet_row(self.close_button)
        row.insertWidget(0, self.use_button)
        column.addLayout(row)

    def _meet_word(self) -> None:
        self.refresh()
        if self._number is not None:
            self.ways.setFocus()

    def refresh(self, _what: object = None) -> None:
        number, words = self._document.word, script_words(self._document.state.script)
        score = self._document.score
        if (
            number is None
            or score is None
            or number >= min(len(words), len(score.words))
            or self._document.state.needs_aligning
        ):
            self._number = self._asked = None
            self.hide()
            return
        if number != self._number:
            self.own.clear()
            self.own.setStyleSheet("")
            self.check.hide()
        self._number = number
        word = words[number]
        self.title.setText(f"“{word.bare}”")
        meant = _meant(word, self._document.state.language)
        now = tuple(phone.symbol for phone in score.words[number].phones)
        said = next((" ".join(words) for way, words in meant.items() if way.sounds == now), word.bare.lower())
        self.said_as.setText(_("read as “{said}”", said=said))
        self.said_as.setVisible(said != word.bare.lower())
        self.show()
        asked = (number, score.words[number], self._document.state.lexicon, self._document.recording)
        if asked != self._asked:
            self._asked = asked
            self._session.pronouncing.weigh(number)

    def _list_ways(self, number: int, ways: list[Way]) -> None:
        """Each with how well it fits; before it the words, where what is written can be meant in several ways."""
        document, typed = self._document, script_words(self._document.state.script)
        if number != self._number or document.score is None or number >= min(len(typed), len(document.score.words)):
            return
        now = tuple(phone.symbol for phone in document.score.words[number].phones)
        meant = _meant(typed[number], document.state.language)
        self.ways.clear()
        several = len(set(meant.values())) > 1
        for way in ways:
            sounds = pronunciation_as_text(way.way)
            words = f"{' '.join(meant[way.way])}    " if several and way.way in meant else ""
            item = self.ways.add(
                f"{words}{sounds}", f"{way.share:.0%}" if several else _("fits {share:.0%}", share=way.share)
            )
            item.setToolTip(f"{words}{sounds}")
            item.setData(_WAY, way.way)
            item.setFont(serif(15))
            if way.way.sounds == now:
                self.ways.setCurrentItem(item)
        fit_rows(self.ways, _MOST_ROWS)

    def _check(self) -> None:
        """Say while typing whether it can be understood."""
        self._typed = None
        text = self.own.text().strip()
        self.check.setVisible(bool(text))
        if not text:
            return
        try:
            self._typed = parse_pronunciation(text, self._document.state.language)
        except BuccaphonError as problem:
            self.check.setText(f"{problem.subject}: {problem.reason}.")
            return
        self.check.setText(f"/{' '.join(self._typed.sounds)}/")

    def _use(self) -> None:
        """The typed pronunciation if there is one, else the one chosen in the list."""
        self._check()
        if self.own.text().strip():
            if self._typed is not None:
                self._pronounce(self._typed)
        elif (item := self.ways.currentItem()) is not None:
            self._take(item)

    def _take(self, item: QListWidgetItem) -> None:
        self._pronounce(item.data(_WAY))

    def _pronounce(self, way: Pronunciation) -> None:
        if self._number is not None:
            self.own.clear()
            self._session.pronouncing.pronounce(self._number, way, self.keep.currentData())

    def _hear(self) -> None:
        if self._number is not None and self._document.score is not None:
            self._document.player.hear(self._document.score.words[self._number].span)

    def _hear_way(self) -> None:
        """What is typed if it can be said, else the way that is chosen in the list."""
        self._check()
        item = self.ways.currentItem()
        way = self._typed or (item.data(_WAY) if item is not None else None)
        if way is not None:
            self._say(way)

    def _hear_item(self, item: QListWidgetItem | None, _before: QListWidgetItem | None) -> None:
        """Going through the list says each way aloud."""
        if item is not None and self.ways.hasFocus():
            self._say(item.data(_WAY))

    def _say(self, way: Pronunciation) -> None:
        samples, rate = saying(way)
        self._document.player.hear_other(Recording(samples[:, None], rate, _("said aloud")))

    def _close(self) -> None:
        self._document.choose_word(None)


def _meant(word: ScriptWord, language: str) -> dict[Pronunciation, tuple[str, ...]]:
    """The words that a written one may stand for, by how they are said."""
    return wordings(word.bare) if language == ENGLISH else {}
