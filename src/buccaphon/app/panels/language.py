"""What is spoken: chosen from a list that is searched by typing; or a language that is not in it, by its letters."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QComboBox, QCompleter, QPlainTextEdit, QVBoxLayout, QWidget

from buccaphon.app.session.session import Session
from buccaphon.app.timers import later
from buccaphon.app.widgets.fold import Fold
from buccaphon.app.widgets.parts import Fields, label
from buccaphon.errors import BuccaphonError
from buccaphon.project.edits.script import SetLanguage, SetLexicon
from buccaphon.speech.languages import BY_LETTERS, find_language, languages, nearest_listed
from buccaphon.speech.letters import effective, near
from buccaphon.speech.lexicon_text import letters_as_text, parse_letters
from buccaphon.texts import _

_TYPING_STOPS = 1200  # ms without a key
_ROWS = 9


class LanguageSection(QWidget):
    """The language, and the sounds of its letters where it has no other pronunciation."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session, self._document = session, session.document
        self.box = QComboBox()
        self.box.setToolTip(_("Spoken language; type to search"))
        self.box.setEditable(True)
        self.box.setInsertPolicy(QComboBox.InsertPolicy.NoInsert)
        for language in languages().values():
            self.box.addItem(language.name, language.code)
        names = [*(language.name for language in languages().values()), *near()]
        completer = QCompleter(names, self.box)
        completer.setFilterMode(Qt.MatchFlag.MatchContains)
        completer.setCaseSensitivity(Qt.CaseSensitivity.CaseInsensitive)
        self.box.setCompleter(completer)
        self.mapped = label(
            _(
                "Sounds of this language are matched to the closest English sounds; the project keeps the "
                "original symbols."
            ),
            "hint",
        )
        self.letters = QPlainTextEdit()
        self.letters.setAccessibleName(_("Letters and sounds"))
        self.letters.setTabChangesFocus(True)
        self.letters.setFixedHeight(self.letters.fontMetrics().lineSpacing() * _ROWS)
        self.wrong = label("", "hint")
        self.fold = Fold(_("Letters and sounds"), _("How this language is spelled"), is_open=True)
        self.fold.body.addWidget(
            label(_("Letters, two spaces, their sounds in IPA or ARPAbet; - for silent. Longer spellings win."), "hint")
        )
        self.fold.body.addWidget(self.letters)
        self.fold.body.addWidget(self.wrong)
        fields = Fields()
        fields.add(_("Language"), self.box)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        for part in (fields, self.mapped, self.fold):
            column.addWidget(part)
        self._settled = later(self, _TYPING_STOPS, self._take_letters)
        self.box.activated.connect(lambda _row: self._choose(self.box.currentData()))
        line = self.box.lineEdit()
        assert line is not None
        self._line = line
        named = later(self, 0, self._choose_named)  # the line is not changed while it still takes the key
        completer.activated.connect(named.start)
        line.editingFinished.connect(named.start)
        self.letters.textChanged.connect(self._settled.start)

    def refresh(self) -> None:
        state = self._document.state
        if not self._line.hasFocus() or self.box.currentData() != state.language:
            self.box.setCurrentIndex(self.box.findData(state.language))
            self._line.setCursorPosition(0)
        self.mapped.setVisible(find_language(state.language).is_mapped)
        self.fold.setVisible(state.language == BY_LETTERS)
        text = letters_as_text(effective(state.lexicon.letters))
        if not self._is_typed_in() and self.letters.toPlainText().strip() != text.strip():
            self.letters.blockSignals(True)  # what is shown is no typing
            self.letters.setPlainText(text)
            self.letters.blockSignals(False)
            self.wrong.setText("")

    def _is_typed_in(self) -> bool:
        return self._settled.isActive() or self.letters.hasFocus()

    def _choose(self, code: str) -> None:
        if code != self._document.state.language:
            self._document.apply(SetLanguage(code))
            self._session.aligning.align()

    def _choose_named(self) -> None:
        """A name that was typed: of a language in the list, or of another, which is read by its letters then."""
        text, now = self._line.text(), find_language(self._document.state.language)
        if text.strip().lower() in ("", now.name.lower()):
            self.box.setCurrentIndex(self.box.findData(now.code))
            return
        try:
            self._choose(find_language(text).code)
            return
        except BuccaphonError:
            nearest = nearest_listed(text)
        document = self._document
        if nearest is not None:
            if document.state.language != BY_LETTERS:
                self._choose(BY_LETTERS)
            said = _(
                "{language} is read by its letters. The nearest spoken language is {name}.",
                language=text,
                name=nearest.name,
            )
            document.offered.emit(said, _("Use {name}", name=nearest.name), partial(self._choose, nearest.code))
        else:
            said = _("“{language}” is not in the list; any language can be read by its letters.", language=text)
            document.offered.emit(said, _("Read it by its letters"), partial(self._choose, BY_LETTERS))
        self.box.setCurrentIndex(self.box.findData(document.state.language))

    def _take_letters(self) -> None:
        try:
            rules = parse_letters(self.letters.toPlainText())
        except BuccaphonError as problem:
            self.wrong.setText(str(problem))
            return
        self.wrong.setText("")
        lexicon = self._document.state.lexicon
        changed = lexicon.spelled(rules)
        if changed != lexicon:
            self._document.apply(SetLexicon(changed, name=_("Change letters and sounds")))
            self._session.aligning.align()
