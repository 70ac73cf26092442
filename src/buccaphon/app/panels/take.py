"""Step one: the recordings, and the scene they are for."""

from __future__ import annotations

import math
from pathlib import Path
from typing import Any

from PyQt6.QtWidgets import QComboBox, QListWidget, QListWidgetItem

from buccaphon.app.panels.lines import LinesSection
from buccaphon.app.panels.sound import SoundSection
from buccaphon.app.panels.unplaced import UnplacedSection
from buccaphon.app.session.session import Session
from buccaphon.app.widgets.form import Form
from buccaphon.app.widgets.parts import Panel, button, fit_rows, label, quiet_row
from buccaphon.errors import BuccaphonError
from buccaphon.project.edits import Touched
from buccaphon.project.edits.scene import SetScene
from buccaphon.project.edits.takes import ChangeTake, RemoveTake, ShowTake
from buccaphon.project.project import Changes
from buccaphon.project.state import FIRST_FRAMES, State
from buccaphon.project.take import Take
from buccaphon.setting import Setting, settings_of
from buccaphon.texts import N_, _, ngettext
from buccaphon.timing import FASTEST, FURTHEST, FrameRate, Span, clock

_MOST_TAKES = 4  # rows
_SHORTEST = 0.1  # seconds of a part that is used


_TAKE, _SCENE = settings_of(Take), settings_of(State)
_OFFSET_FRAME = Setting(
    label=N_("Begins at frame"),
    hint=N_("The scene's frame on which the used part begins"),
    least=FIRST_FRAMES[0] - FURTHEST * float(FASTEST),
    most=FIRST_FRAMES[1] + FURTHEST * float(FASTEST),
)  # the offset as a number of the scene
_OF_A_TAKE = {
    **{name: _TAKE[name] for name in ("name", "channel", "offset")},
    "offset_frame": _OFFSET_FRAME,
    **{name: _TAKE[name] for name in ("trim_in", "trim_out")},
}


class TakePanel(Panel):
    def __init__(self, session: Session) -> None:
        super().__init__(_("Take"))
        self._session, self._document = session, session.document
        self._channels: dict[Path, int] = {}
        self.takes = QListWidget()
        self.takes.setAccessibleName(_("Takes"))
        self.takes.setToolTip(_("The selected take is played and drives the mouth"))
        self.open_button = button(_("Open a recording…"), _("Sound files, or the sound of a film · Ctrl+O"))
        self.mute_button = button(_TAKE["muted"].name, _(_TAKE["muted"].hint), "quiet")
        self.mute_button.setCheckable(True)
        self.remove_button = button(_("Remove"), _("Remove it from the project; the file stays on disk"), "quiet")
        self.replace_button = button(
            _("Replace this take…"),
            _("The new recording is aligned and your corrections are carried over · F12 switches between the two"),
            "quiet",
        )
        self.unplaced = UnplacedSection(session)
        self.lines = LinesSection(session)
        self.takes_heading = label(_("Takes of this line"), "heading")
        self.form = Form(_OF_A_TAKE)
        self.facts = label("", "hint")
        self.scene = Form(_SCENE)
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
        self.column.addWidget(self.lines)
        self.column.addWidget(self.takes_heading)
        self.column.addWidget(self.takes)
        self.column.addLayout(quiet_row(self.mute_button, self.remove_button))
        self.column.addLayout(quiet_row(self.replace_button))
        self.column.addWidget(self.unplaced)
        self.column.addWidget(self.form)
        self.column.addWidget(self.facts)
        self.column.addSpacing(2)
        self.column.addWidget(label(_("The scene"), "heading"))
        self.column.addWidget(self.rate_hint)
        self.column.addWidget(self.scene)
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
        self.scene.changed.connect(self._change_scene)
        self.form.changed.connect(self._change)
        for form in (self.form, self.scene):
            form.let_go.connect(self._document.end_gesture)
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
        self.scene.fill({"rate": state.rate.label, "start_frame": state.start_frame, "length": state.length})
        self._list_takes()
        self._show_take()
        self.takes_heading.setVisible(len(state.lines) > 1)

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
        self.form.setEnabled(take is not None)
        self.mute_button.setVisible(take is not None)
        self.remove_button.setVisible(take is not None)
        if take is None:
            self.facts.setText(_("Open a recording, or drop one anywhere in the window."))
            return
        self.mute_button.setChecked(take.muted)
        frame = self._document.state.rate.nearest(take.offset) + self._document.state.start_frame
        self.form.fill({"name": take.title, "offset": take.offset, "offset_frame": frame})
        if recording is None:
            self.facts.setText(_("Reading the sound …"))
            return
        self._list_channels(recording.channels)
        used = take.used(recording.duration)
        self.form.fill({"channel": take.channel, "trim_in": used.start, "trim_out": used.end})
        self.facts.setText(self._facts())

    def _list_channels(self, count: int) -> None:
        take = self._document.state.take
        if take is None:
            return
        # of a take that is listened to in one channel only that one was read: what its file has was seen before
        chosen = 1 + take.channel if isinstance(take.channel, int) else 1
        whole = self._channels[take.path] = max(count, chosen, self._channels.get(take.path, 1))
        names = (
            [_("Left"), _("Right")]
            if whole == 2
            else [_("Channel {number}", number=number + 1) for number in range(whole)]
        )
        every = [(text, value) for value, text in _TAKE["channel"].options]
        self.form.offer("channel", [*every, *zip(names, range(whole), strict=True)])

    def _facts(self) -> str:
        recording, peaks = self._document.recording, self._document.derived.peaks
        frames = self._document.state.rate.covering(recording.duration)
        loudest = peaks.loudest()
        level = [_("silent") if loudest == 0 else _("peak {peak:.1f} dB", peak=20 * math.log10(loudest))]
        if (lufs := self._document.derived.lufs) is not None and math.isfinite(lufs):
            level.append(f"{lufs:.1f} LUFS")
        several = ngettext("{count} channel", "{count} channels", recording.channels)
        channels = {1: _("mono"), 2: _("stereo")}.get(recording.channels, several)
        told = [
            ", ".join((clock(recording.duration), ngettext("{count} frame", "{count} frames", frames))),
            f"{recording.rate / 1000:g} kHz, {channels}",
            ", ".join(level),
        ]
        if recording.missing:
            told.append(_("{seconds:.1f} s are missing at the end", seconds=recording.missing))
        return "\n".join(told)

    # --- changing ------------------------------------------------------------------------------------------------------

    def _show(self, item: QListWidgetItem) -> None:
        row = self.takes.row(item)
        if 0 <= row < len(self._document.state.takes) and row != self._document.state.shown:
            self._document.apply(ShowTake(row))

    def _change(self, name: str, value: Any) -> None:
        state = self._document.state
        if state.take is None:
            return
        if name in ("trim_in", "trim_out"):
            self._trim(name, value)
        elif name == "name":
            if value.strip() not in ("", state.take.title):
                self._apply(name, title=value.strip())
        elif name == "offset_frame":
            self._apply("offset", offset=state.rate.seconds(round(value) - state.start_frame))
        else:
            self._apply(name, **{name: value})
        self._show_take()

    def _apply(self, setting: str, **change: Any) -> None:
        self._document.apply(ChangeTake(**change, name=_(_TAKE[setting].change), gesture=f"take {setting}"))

    def _trim(self, name: str, value: float) -> None:
        take, recording = self._document.state.take, self._document.recording
        if take is None or recording is None:
            return
        now = take.used(recording.duration)
        start, end = (value, now.end) if name == "trim_in" else (now.start, value)
        start = max(min(start, recording.duration - _SHORTEST), 0.0)
        self._apply(name, used=Span(start, min(max(end, start + _SHORTEST), recording.duration)))

    def _change_scene(self, name: str, value: Any) -> None:
        if name == "rate":
            self._set_rate(value)
        else:
            number: dict[str, Any] = {name: 0 if value is None else round(value)}
            self._document.apply(SetScene(**number, name=_(_SCENE[name].change), gesture=f"scene {name}"))

    def _set_rate(self, text: str) -> None:
        try:
            rate = FrameRate.parse(text)
        except BuccaphonError as problem:
            self._document.report(problem)
            self.rate.setEditText(self._document.state.rate.label)
            return
        self.rate_hint.hide()
        if rate != self._document.state.rate:
            self._document.apply(SetScene(rate=rate, name=_("Frame rate {label}", label=rate.label)))

    @property
    def rate(self) -> QComboBox:
        made = self.scene.inputs["rate"]
        assert isinstance(made, QComboBox)
        return made
