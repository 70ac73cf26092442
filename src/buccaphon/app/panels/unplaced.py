"""What was made by hand in another take and has no place in this one: played, placed or removed."""

from __future__ import annotations

from functools import partial

from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from buccaphon.app.session.session import Session
from buccaphon.app.session.take_sound import key_of
from buccaphon.app.widgets.parts import PlaceLabel, button, label
from buccaphon.project.edits.motion import DropLeftOver, PlaceLeftOver
from buccaphon.project.take import UnplacedCorrection
from buccaphon.texts import _
from buccaphon.timing import Span, clock

_MOST = 8
_AROUND = 0.25  # seconds that are heard before and after


class UnplacedSection(QWidget):
    """One row each; the list is gone when it is empty."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session, self._document = session, session.document
        self._shown: tuple[UnplacedCorrection, ...] = ()
        self.rows = QVBoxLayout()
        self.rows.setSpacing(2)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 6, 0, 0)
        column.setSpacing(4)
        column.addWidget(label(_("Leftover corrections"), "heading"))
        column.addWidget(label(_("Their words are not said in this take. Click one to hear where it was."), "hint"))
        column.addLayout(self.rows)
        for signal in (self._document.opened, self._document.changed):
            signal.connect(self.refresh)
        self.refresh()

    def refresh(self, _what: object = None) -> None:
        take = self._document.state.take
        pieces = take.unplaced if take is not None else ()
        self.setVisible(bool(pieces))
        if pieces == self._shown:
            return
        self._shown = pieces
        while (row := self.rows.takeAt(0)) is not None:
            if (gone := row.widget()) is not None:
                gone.hide()
                gone.deleteLater()
        for number, piece in enumerate(pieces[:_MOST]):
            self.rows.addWidget(self._row(number, piece))
        if len(pieces) > _MOST:
            self.rows.addWidget(label(_("… and {count} more", count=len(pieces) - _MOST), "hint"))

    def _row(self, number: int, piece: UnplacedCorrection) -> QWidget:
        row = QWidget()
        place = PlaceLabel(
            _("{label} on “{word}”, {start}", label=piece.label, word=piece.word, start=clock(piece.span.start)),
            _("Hear where it was"),
        )
        place.gone.connect(partial(self.hear, piece))
        put = button(_("Place here"), _("Place it at the playhead"), "quiet")
        put.clicked.connect(lambda: self._document.attempt(PlaceLeftOver(number, self._document.player.position)))
        strike = button(_("Remove"), _("Remove from the list"), "quiet")
        strike.clicked.connect(lambda: self._document.attempt(DropLeftOver(number)))
        line = QHBoxLayout(row)
        line.setContentsMargins(0, 0, 0, 0)
        line.setSpacing(0)
        line.addWidget(place, 1)
        line.addWidget(put)
        line.addWidget(strike)
        return row

    def hear(self, piece: UnplacedCorrection) -> None:
        """Play where it was, in the take that it comes from."""
        number, document = self._session.replacing.other, self._document
        take = document.state.takes[number] if number is not None else None
        derived = self._session.takes.sounds.get(key_of(take)) if take is not None else None
        if derived is None:
            document.said.emit(_("The take it comes from is not open. F12 switches between the two takes."))
            return
        around = Span(max(piece.span.start - _AROUND, 0.0), min(piece.span.end + _AROUND, derived.recording.duration))
        document.player.hear_other(derived.recording.part(around))
