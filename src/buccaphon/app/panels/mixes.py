"""Channels of one's own, as they are written, and a line to write another."""

from __future__ import annotations

from functools import partial

from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QScrollArea, QVBoxLayout, QWidget

from buccaphon.app.session.document import Document
from buccaphon.app.widgets.parts import PlaceLabel, button, label
from buccaphon.errors import ChannelError
from buccaphon.motion.mixes import Mix, read_mix
from buccaphon.motion.pose_channels import POSE_CHANNELS
from buccaphon.project.edits.channels import DropMix, PutMix
from buccaphon.texts import _

_MOST_LETTERS = 1000


class MixesSection(QWidget):
    """A click on a channel puts it into the line, to be changed; writing one of a name that is there replaces it."""

    def __init__(self, document: Document, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._document = document
        self._shown: tuple[Mix, ...] = ()
        self.field = QLineEdit()
        self.field.setPlaceholderText("smile = spread - 0.3 jaw")
        self.field.setToolTip(
            _(
                "A name, =, and a sum of {channels} · Enter adds the channel · Enter makes the channel",
                channels=", ".join(POSE_CHANNELS),
            )
        )
        self.field.setAccessibleName(_("Custom channel"))
        self.field.setMaxLength(_MOST_LETTERS)
        self.told = label("", "hint")
        self.rows = QVBoxLayout()
        self.rows.setSpacing(2)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 8, 0, 8)
        column.setSpacing(5)
        column.addWidget(label(_("Custom channels"), "heading"))
        column.addLayout(self.rows)
        column.addWidget(self.field)
        column.addWidget(self.told)
        self.field.returnPressed.connect(self._make)
        self.field.textEdited.connect(lambda _text: self._tell(""))
        self._tell("")
        for signal in (document.opened, document.changed):
            signal.connect(self.refresh)
        self.refresh()

    def refresh(self, _what: object = None) -> None:
        self.field.setEnabled(self._document.state.take is not None)
        mixes = self._document.state.mixes
        if mixes == self._shown:
            return
        self._shown = mixes
        while (row := self.rows.takeAt(0)) is not None:
            if (gone := row.widget()) is not None:
                gone.hide()
                gone.deleteLater()
        for mix in mixes:
            self.rows.addWidget(self._row(mix))

    def _row(self, mix: Mix) -> QWidget:
        row = QWidget()
        place = PlaceLabel(mix.says, _("Edit"))
        place.gone.connect(partial(self._change, mix))
        drop = button(_("Remove"), _("Remove channel {name}", name=mix.name), "quiet")
        drop.clicked.connect(lambda: self._document.apply(DropMix(mix.name)))
        line = QHBoxLayout(row)
        line.setContentsMargins(0, 0, 0, 0)
        line.addWidget(place, 1)
        line.addWidget(drop)
        return row

    def write(self) -> None:
        """Put the hand on the line, and have it in view."""
        self.field.setFocus()
        above = self.parentWidget()
        while above is not None and not isinstance(above, QScrollArea):
            above = above.parentWidget()
        if above is not None:
            above.ensureWidgetVisible(self)

    def _change(self, mix: Mix) -> None:
        self.field.setText(mix.says)
        self.write()

    def _make(self) -> None:
        if not self.field.text().strip():
            return
        try:
            self._document.apply(PutMix(read_mix(self.field.text())))
        except ChannelError as problem:
            self._tell(str(problem))
            return
        self.field.clear()
        self._tell("")

    def _tell(self, text: str) -> None:
        self.told.setText(text)
        self.told.setVisible(bool(text))
