"""The user's own lexicon: pronunciations that hold in every project."""

from __future__ import annotations

from buccaphon.app.places import lexicon_path
from buccaphon.app.session.document import Document
from buccaphon.errors import BuccaphonError
from buccaphon.files import write_whole
from buccaphon.speech.lexicon import NO_ENTRIES, Lexicon
from buccaphon.speech.lexicon_text import lexicon_as_text, parse_lexicon
from buccaphon.texts import _


class OwnLexicon:
    """always: what it holds."""

    def __init__(self, document: Document) -> None:
        self._document = document
        self.always = _read() or NO_ENTRIES

    def keep(self, lexicon: Lexicon) -> None:
        """Hold other pronunciations from now on."""
        path = lexicon_path()
        try:
            path.parent.mkdir(parents=True, exist_ok=True)
            if path.exists() and _read() is None:  # what cannot be read is not written over
                path.replace(path.with_suffix(".unread.txt"))
                self._document.said.emit(
                    _("Your lexicon could not be read; it was kept as {path}.unread.txt.", path=path.stem)
                )
            write_whole(path, lexicon_as_text(lexicon).encode())
        except (BuccaphonError, OSError) as problem:
            self._document.said.emit(
                _("The pronunciation could not be saved for all projects: {reason}", reason=problem)
            )
        self.always = lexicon


def _read() -> Lexicon | None:
    """None when there is none, or none that can be read."""
    try:
        return parse_lexicon(lexicon_path().read_text("utf-8"), str(lexicon_path()))
    except (OSError, UnicodeDecodeError, BuccaphonError):
        return None
