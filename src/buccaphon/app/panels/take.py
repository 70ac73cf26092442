"""Step one: the recordings, and the scene they are for."""

from __future__ import annotations

import math
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QComboBox, QDoubleSpinBox, QLineEdit, QListWidget, QListWidgetItem, QSpinBox

from buccaphon.app.panels.sound import SoundSection
from buccaphon.app.panels.unplaced import UnplacedSection
from buccaphon.app.session.session import Session
from buccaphon.app.widgets.parts import Fields, Panel, button, fit_rows, label, quiet_row
from buccaphon.audio.recording import Listen
from buccaphon.errors import BuccaphonError
from buccaphon.project.edits import Touched
from buccaphon.project.edits.scene import SetScene
from buccaphon.project.edits.takes import ChangeTake, RemoveTake, ShowTake
from buccaphon.project.project import Changes
from buccaphon.project.state import FIRST_FRAMES
from buccaphon.texts import _
from buccaphon.timing import FASTEST, FURTHEST, FrameRate, Span, clock

RATES = ("12", "23.976", "24", "25", "29.97", "30", "48", "50", "59.94", "60")
_MOST_TAKES = 4  # rows


class TakePanel(Panel):
    def __init__(self, session: Session) -> None:
        super().__init__(_("Take"))
        self._session, self._document = session, session.document
        self._shown: dict[QSpinBox | QDoubleSpinBox, float] = {}
        self._channels: dict[Path, int] = {}
        self.takes = QListWidget()
        self.takes.setAccessibleName(_("Takes"))
        self.takes.setToolTip(_("The selected take is played and drives the mouth"))
        self.open_button = button(_("Open a recording…"), _("Sound files, or the sound of a film · Ctrl+O"))
        self.mute_button = button(_("Mute"), _("Play silently"), "quiet")
        self.mute_button.setCheckable(True)
        self.remove_button = button(_("Remove"), _("Remove it from the project; the file stays on disk"), "quiet")
        self.rate = QComboBox()
        self.rate.setEditable(True)
        self.rate.addItems(RATES)
        self.rate.setToolTip(_("Frame rate of your scene. Changing it never shifts the sound."))
        self.start_frame = _frame_number()
        self.start_frame.setRange(*FIRST_FRAMES)
        self.start_frame.setToolTip(_("The number of the scene's first frame"))
        self.replace_button = button(
            _("Replace this take…"),
            _("The new recording is aligned and your corrections are carried over · F12 switches between the two"),
            "quiet",
        )
        self.unplaced = UnplacedSection(session)
        self.take_name = QLineEdit()
        self.channel = QComboBox()
        self.offset, self.trim_in, self.trim_out = (_seconds() for _ in range(3))
        self.offset.setToolTip(_("When the used part begins in the scene"))
        self.offset_frame = _frame_number()
        self.offset_frame.setToolTip(_("The scene's frame on which the used part begins"))
        self.trim_in.setToolTip(_("Everything before this is ignored; the file is not changed"))
        self.trim_out.setToolTip(_("Everything after this is ignored; the file is not changed"))
        self.facts = label("", "hint")
        self.sound = SoundSection(session)
        self.rate_hint = label(_("Is this the frame rate of your scene? Every file will use it."), "hint")
        self.rate_hint.setObjectName("asking")
        self.rate_hint.hide()
        self._lay_out()
        self._connect()
        self.refresh()

    def _lay_out(self) -> None:
        self.column.setSpacing(8)
        self.column.addWidget(self.open_button)
        self.column.addWidget(self.takes)
        self.column.addLayout(quiet_row(self.mute_button, self.remove_button))
        self.column.addLayout(quiet_row(self.replace_button))
        self.column.addWidget(self.unplaced)
        take = Fields()
        for name, widget in (
            (_("Name"), self.take_name), (_("Channel"), self.channel), (_("Begins at"), self.offset),
            (_("Begins at frame"), self.offset_frame),
            (_("Use from"), self.trim_in), (_("Use until"), self.trim_out),
        ):  # fmt: skip
            take.add(name, widget)
        self.column.addWidget(take)
        self.column.addWidget(self.facts)
        self.column.addSpacing(2)
        self.column.addWidget(label(_("The scene"), "heading"))
        self.column.addWidget(self.rate_hint)
        scene = Fields()
        scene.add(_("Frame rate"), self.rate)
        scene.add(_("First frame"), self.start_frame)
        self.column.addWidget(scene)
        self.column.addSpacing(2)
        self.column.addWidget(label(_("The sound"), "heading"))
        self.column.addWidget(self.sound)
        self.column.addStretch(1)

    def _connect(self) -> None:
        session = self._session
        self.takes.itemClicked.connect(self._show)
        self.takes.itemActivated.connect(self._show)
        self.mute_button.clicked.connect(
            lambda on: self._document.apply(ChangeTake(muted=on, name=_("Mute") if on else _("Unmute")))
        )
        self.remove_button.clicked.connect(lambda: self._document.apply(RemoveTake(self._document.state.shown)))
        self.rate.activated.connect(lambda _value: self._set_rate())
        self.rate.lineEdit().editingFinished.connect(self._set_rate)
        self.start_frame.valueChanged.connect(lambda number: self._document.apply(SetScene(start_frame=number)))
        self.take_name.editingFinished.connect(self._rename)
        self.channel.activated.connect(
            lambda _value: self._document.apply(
                ChangeTake(channel=self.channel.currentData(), name=_("Change the channel"))
            )
        )
        self.offset.editingFinished.connect(self._move)
        self.offset_frame.editingFinished.connect(self._move_to_frame)
        for box in (self.trim_in, self.trim_out):
            box.editingFinished.connect(self._trim)
        for signal in (self._document.opened, self._document.sound_ready, session.takes.measured):
            signal.connect(self.refresh)
        self._document.changed.connect(self._refresh_if_due)

    def _refresh_if_due(self, changes: Changes) -> None:
        """Not on every move of a drag: when words are said and which mouths are shown is nothing of this panel's."""
        if changes.touched & ~(Touched.TIMING | Touched.MOUTHS) or not changes.touched:
            self.refresh()

    def ask_for_rate(self) -> None:
        """A project begins: ask for the scene's frame rate, without getting in the way."""
        self.rate_hint.show()
        self.rate.setFocus()
        self.rate.lineEdit().selectAll()  # what is typed takes its place

    # --- showing -------------------------------------------------------------------------------------------------------

    def refresh(self, _what: object = None) -> None:
        state = self._document.state
        if not self.rate.lineEdit().hasFocus():
            self.rate.setEditText(state.rate.label)
        self.start_frame.setValue(state.start_frame)
        self._list_takes()
        self._show_take()

    def _list_takes(self) -> None:
        state = self._document.state
        titles = [take.title + ("  (muted)" if take.muted else "") for take in state.takes]
        if titles != [self.takes.item(row).text() for row in range(self.takes.count())]:
            self.takes.clear()
            for title, take in zip(titles, state.takes, strict=True):
                item = QListWidgetItem(title)
                item.setToolTip(str(take.path))
                self.takes.addItem(item)
        fit_rows(self.takes, _MOST_TAKES)
        self.takes.setVisible(bool(titles))
        if titles:
            self.takes.setCurrentRow(state.shown)

    def _show_take(self) -> None:
        take, recording = self._document.state.take, self._document.recording
        for widget in (self.take_name, self.channel, self.offset, self.offset_frame, self.trim_in, self.trim_out):
            widget.setEnabled(take is not None)
        self.mute_button.setVisible(take is not None)
        self.remove_button.setVisible(take is not None)
        if take is None:
            self.facts.setText(_("Open a recording, or drop one anywhere in the window."))
            return
        self.mute_button.setChecked(take.muted)
        self.take_name.setText(take.title)
        self._put(self.offset, take.offset)
        state = self._document.state
        self._put(self.offset_frame, state.rate.nearest(take.offset) + state.start_frame)
        if recording is None:
            self.facts.setText(_("Reading the sound …"))
            return
        self._list_channels(recording.channels)
        used = take.used(recording.duration)
        self._put(self.trim_in, used.start)
        self._put(self.trim_out, used.end)
        self.facts.setText(self._facts())

    def _put(self, box: QSpinBox | QDoubleSpinBox, value: float) -> None:
        """Show a value; only another one than is shown then was changed by a person."""
        box.setValue(value)  # type: ignore[arg-type]  # of frames it is whole
        self._shown[box] = box.value()

    def _list_channels(self, count: int) -> None:
        take = self._document.state.take
        if take is None:
            return
        # of a take that is listened to in one channel only that one was read: what its file has was seen before
        chosen = 1 + take.channel if isinstance(take.channel, int) else 1
        whole = self._channels[take.path] = max(count, chosen, self._channels.get(take.path, 1))
        names = (
            ["Left", "Right"] if whole == 2 else [_("Channel {number}", number=number + 1) for number in range(whole)]
        )
        choices = [
            (_("All channels"), Listen.MIX),
            (_("Loudest channel"), Listen.LOUDEST),
            *zip(names, range(whole), strict=True),
        ]
        if self.channel.count() != len(choices):
            self.channel.clear()
            for name, channel in choices:
                self.channel.addItem(name, channel)
        wanted = [row for row in range(self.channel.count()) if self.channel.itemData(row) == take.channel]
        self.channel.setCurrentIndex(wanted[0] if wanted else 0)

    def _facts(self) -> str:
        recording, peaks = self._document.recording, self._document.derived.peaks
        frames = self._document.state.rate.covering(recording.duration)
        loudest = peaks.loudest()
        level = _("silent") if loudest == 0 else _("peak {peak:.1f} dB", peak=20 * math.log10(loudest))
        if (lufs := self._document.derived.lufs) is not None and math.isfinite(lufs):
            level += _(", {lufs:.1f} LUFS", lufs=lufs)
        channels = {1: "mono", 2: "stereo"}.get(recording.channels, f"{recording.channels} channels")
        missing = _("\n{missing:.1f} s are missing at the end", missing=recording.missing) if recording.missing else ""
        return _(
            "{duration}, {frames} frames\n{rate:g} kHz, {channels}\n{level}{missing}",
            duration=clock(recording.duration),
            frames=frames,
            rate=recording.rate / 1000,
            channels=channels,
            level=level,
            missing=missing,
        )

    # --- changing ------------------------------------------------------------------------------------------------------

    def _show(self, item: QListWidgetItem) -> None:
        row = self.takes.row(item)
        if 0 <= row < len(self._document.state.takes) and row != self._document.state.shown:
            self._document.apply(ShowTake(row))

    def _is_changed(self, box: QSpinBox | QDoubleSpinBox) -> bool:
        """Whether a person changed it: a field that only had the focus moves nothing."""
        return box.value() != self._shown.get(box)

    def _rename(self) -> None:
        take = self._document.state.take
        if take is not None and self.take_name.text().strip() not in ("", take.title):
            self._document.apply(ChangeTake(title=self.take_name.text().strip(), name=_("Rename the take")))

    def _move(self) -> None:
        take = self._document.state.take
        if take is not None and self._is_changed(self.offset):
            self._document.apply(ChangeTake(offset=self.offset.value(), name=_("Move the take")))

    def _move_to_frame(self) -> None:
        state = self._document.state
        frame = self.offset_frame.value() - state.start_frame
        if state.take is not None and self._is_changed(self.offset_frame):
            self._document.apply(ChangeTake(offset=state.rate.seconds(frame), name=_("Move the take")))

    def _trim(self) -> None:
        take, recording = self._document.state.take, self._document.recording
        if take is None or recording is None or not (self._is_changed(self.trim_in) or self._is_changed(self.trim_out)):
            return
        low = max(min(self.trim_in.value(), recording.duration - 0.1), 0.0)
        high = min(max(self.trim_out.value(), low + 0.1), recording.duration)
        now = take.used(recording.duration)
        if abs(now.start - low) > 5e-4 or abs(now.end - high) > 5e-4:
            self._document.apply(ChangeTake(used=Span(low, high), name=_("Trim the take")))
        self._show_take()

    def _set_rate(self) -> None:
        try:
            rate = FrameRate.parse(self.rate.currentText())
        except BuccaphonError as problem:
            self._document.report(problem)
            self.rate.setEditText(self._document.state.rate.label)
            return
        self.rate_hint.hide()
        if rate != self._document.state.rate:
            self._document.apply(SetScene(rate=rate, name=_("Frame rate {label}", label=rate.label)))


def _frame_number() -> QSpinBox:
    box = QSpinBox()
    box.setButtonSymbols(QSpinBox.ButtonSymbols.NoButtons)
    furthest = round(FURTHEST * float(FASTEST))
    box.setRange(FIRST_FRAMES[0] - furthest, FIRST_FRAMES[1] + furthest)
    return box


def _seconds() -> QDoubleSpinBox:
    box = QDoubleSpinBox()
    box.setButtonSymbols(QDoubleSpinBox.ButtonSymbols.NoButtons)
    box.setRange(-FURTHEST, FURTHEST)
    box.setDecimals(3)
    box.setSuffix(" s")
    box.setAlignment(Qt.AlignmentFlag.AlignLeft)
    return box
