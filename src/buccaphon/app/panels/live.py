"""Sending the line while it plays: switched on here, and heard by a stand-in if nobody else is there yet."""

from __future__ import annotations

from PyQt6.QtWidgets import QCheckBox, QLineEdit, QVBoxLayout

from buccaphon.app.session.sending import Sending
from buccaphon.app.widgets.parts import Fields, button, label, quiet_row
from buccaphon.app.widgets.section import Section
from buccaphon.texts import _


class LiveSection(Section):
    """Off until it is switched on."""

    def __init__(self, sending: Sending) -> None:
        super().__init__()
        self._sending = sending
        self.switch = QCheckBox(_("Send while playing"))
        self.switch.setToolTip(_("One OSC bundle per frame while playing, stepping or scrubbing"))
        self.address = QLineEdit()
        self.address.setToolTip(_("host:port/prefix of the receiving program; every address starts with the prefix"))
        self.hear_button = button(_("Monitor"), _("Receive and show what is sent, without another program"), "quiet")
        self.heard = label("", "value")
        self.told = label("", "hint")
        fields = Fields()
        fields.add(_("To"), self.address)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(7)
        for part in (
            label(_("Sends mouth, jaw and weights to a rig, in time with the sound."), "hint"), self.switch, fields,
        ):  # fmt: skip
            column.addWidget(part)
        column.addLayout(quiet_row(self.hear_button))
        column.addWidget(self.heard)
        column.addWidget(self.told)
        self.switch.clicked.connect(lambda on: sending.switch_on() if on else sending.switch_off())
        self.address.editingFinished.connect(self._take_address)
        self.hear_button.clicked.connect(self._hear)
        sending.heard.connect(self.heard.setText)
        self.follow(sending.changed)

    def _take_address(self) -> None:
        if self.address.text() != self._sending.address:
            self._sending.set_address(self.address.text())
            self.refresh()

    def _hear(self) -> None:
        if self._sending.hears_itself:
            self._sending.stop_hearing()
            return
        if not self._sending.is_on:
            self._sending.switch_on()
        self._sending.hear_itself()

    def refresh(self) -> None:
        sending = self._sending
        self.switch.setChecked(sending.is_on)
        if not self.address.hasFocus():
            self.address.setText(sending.address)
        self.hear_button.setText(_("Stop monitoring") if sending.hears_itself else _("Monitor"))
        self.heard.setVisible(sending.hears_itself)
        if not sending.hears_itself:
            self.heard.setText("")
        self.told.setText(sending.told)
        self.told.setVisible(bool(sending.told))
