"""The window's commands for the words: aligning them, and how they are said."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QFileDialog

from buccaphon.app.notice import Notice
from buccaphon.app.session import Session
from buccaphon.errors import BuccaphonError
from buccaphon.files import write_whole
from buccaphon.formats.words import SUFFIXES, read_wording
from buccaphon.project.edits.script import SetLexicon
from buccaphon.speech.lexicon_text import parse_lexicon, written_lexicon


class WordCommands:
    """Mixed into the window, which has these parts."""

    session: Session
    notice: Notice

    def align(self) -> None:
        self.session.words.align()

    def align_changes(self) -> None:
        self.session.words.align_changes()

    def recognise(self) -> None:
        self.session.words.recognise()

    def show_pronunciation(self) -> None:
        """Of the word at the playhead."""
        score = self.session.score
        number = score.word_at(self.session.player.position) if score else None
        if number is None:
            self.notice.say("Put the playhead on a word first.")
            return
        self.pronounce_word(number)

    def pronounce_word(self, number: int) -> None:
        self.session.choose_word(number)
        self.show_step(1)
        self.script.pronunciation.ways.setFocus()

    def ask_for_words(self) -> None:
        kinds = " ".join(f"*{suffix}" for suffix in SUFFIXES)
        name, _ = QFileDialog.getOpenFileName(
            self,
            "Bring in words",
            str(self._folder()),
            f"Scripts, subtitles and times ({kinds});;A lexicon (*.lexicon *.txt)",
        )
        if name:
            self.bring_in_words(Path(name))

    def bring_in_words(self, path: Path) -> None:
        """A script, times that are known, or a lexicon."""
        try:
            if path.suffix.lower() == ".lexicon":
                lexicon = parse_lexicon(path.read_text("utf-8-sig"), str(path))
                self.session.apply(SetLexicon(lexicon.over(self.session.state.lexicon), name="Bring in a lexicon"))
            else:
                self.session.words.bring_in(read_wording(path))
        except BuccaphonError as problem:
            self.session.report(problem)
        except (OSError, UnicodeDecodeError) as problem:
            self.notice.say(f"{path}: it cannot be read ({problem}).")

    def write_lexicon(self) -> None:
        """The project's pronunciations and one's own, as text."""
        lexicon = self.session.state.lexicon.over(self.session.pronouncing.always)
        if not lexicon.entries:
            self.notice.say("There is no pronunciation of your own yet. Double-click a word to give it one.")
            return
        begin = self._folder() / "words.lexicon"
        name, _ = QFileDialog.getSaveFileName(self, "Write the lexicon", str(begin), "Lexicon (*.lexicon)")
        if not name:
            return
        try:
            write_whole(Path(name), written_lexicon(lexicon).encode())
        except BuccaphonError as problem:
            self.session.report(problem)
