"""The Mirror: the face at the playhead, what is heard there, and the transport."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QFont
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from buccaphon.app.mirror.apart import MirrorWindow
from buccaphon.app.mirror.company import Company
from buccaphon.app.mirror.face import Face
from buccaphon.app.mirror.film import FilmView
from buccaphon.app.mirror.look import MirrorLook
from buccaphon.app.session.session import Session
from buccaphon.app.settings import READING
from buccaphon.app.sound.player import SPEEDS
from buccaphon.app.style.icons import icon, two_state_icon
from buccaphon.app.timers import later
from buccaphon.app.widgets.parts import Steady
from buccaphon.painting.theme import Theme, sans
from buccaphon.texts import _, ngettext
from buccaphon.timing import TimeDisplay, clock, read_out


class Mirror(QWidget):
    """Face, readout and transport buttons. read_otherwise: places are said in another unit from now on."""

    read_otherwise = pyqtSignal()

    def __init__(self, session: Session, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        document = session.document
        self._session, self._document, self._theme = session, document, theme
        self.apart: MirrorWindow | None = None
        self.face, self.film = Face(document, session.characters, theme), FilmView(document, theme)
        self.company = Company(session, theme)
        self.company.hide()
        self.company.chosen.connect(self._show_role)
        self.frame_label, self.place_label = QPushButton("–"), QLabel("")
        self.frame_label.setProperty("role", "reading")
        self.frame_label.setToolTip(_("Frames, timecode, feet and frames, seconds: click for the next · T"))
        self.frame_label.clicked.connect(self.next_reading)
        self._reading = READING.read()
        self.frame_label.setFont(sans(19, QFont.Weight.DemiBold))
        self.place_label.setProperty("role", "hint")
        self.place_label.setTextFormat(Qt.TextFormat.PlainText)
        self.place_label.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        self.place_label.setFocusPolicy(Qt.FocusPolicy.TabFocus)  # so that a screen reader can follow the playhead
        self.play_button = self._button("play", _("Play from the playhead · Space"))
        self.play_button.setFixedWidth(48)
        self.back_button = self._button("back", _("Back one frame, with sound · Left"))
        self.forward_button = self._button("forward", _("Forward one frame, with sound · Right"))
        self.loop_button = self._button("loop", _("Loop the marked range, or everything · L"))
        self.loop_button.setCheckable(True)
        self.scene_button = QPushButton(_("Play the whole scene"))
        self.scene_button.setCheckable(True)
        self.scene_button.setToolTip(
            _("Play all lines of the scene together, and not this line alone · Ctrl+Alt+Space")
        )
        self.speed_box = QComboBox()
        for speed in SPEEDS:
            self.speed_box.addItem(f"{speed:.0%}", speed)
        self.speed_box.setCurrentIndex(len(SPEEDS) - 1)
        self.speed_box.setToolTip(_("Playback speed; the pitch is kept · S for the next"))
        self.speed_box.setAccessibleName(_("Speed"))
        self._lay_out()
        self.speed_box.activated.connect(lambda _value: document.player.set_speed(self.speed_box.currentData()))
        self.scene_button.clicked.connect(session.scene_playing.switch)
        session.scene_playing.switched.connect(self.refresh)
        self.film.arranged.connect(self._arrange)
        self._soon = later(self, 0, self.refresh)  # under a hand that drags the playhead moves right after the change
        document.changed.connect(lambda _changes: self._soon.start())
        document.player.playing_changed.connect(self._show_playing)
        for signal in (document.player.moved, document.opened, document.sound_ready, document.selected):
            signal.connect(self.refresh)
        self.refresh()

    def _button(self, name: str, hint: str) -> QPushButton:
        button = QPushButton(two_state_icon(name, self._theme.ink, self._theme.playhead, 17), "")
        button.setProperty("role", "icon")
        button.setToolTip(hint)
        button.setAccessibleName(hint.split(" · ", maxsplit=1)[0])
        return button

    def draw_icons(self) -> None:
        """In the theme's colours."""
        buttons = {"back": self.back_button, "forward": self.forward_button, "loop": self.loop_button}
        for name, button in buttons.items():
            button.setIcon(two_state_icon(name, self._theme.ink, self._theme.playhead, 17))
        self._show_playing(self._document.player.playing)
        for face in (self.face, *([self.apart.face] if self.apart else [])):
            face.forget_pictures()

    def _lay_out(self) -> None:
        readout = QHBoxLayout()
        readout.addWidget(self.frame_label)
        readout.addWidget(Steady(self.place_label), 1)
        buttons = QHBoxLayout()
        buttons.setSpacing(5)
        for button in (self.back_button, self.play_button, self.forward_button):
            buttons.addWidget(button)
        buttons.addWidget(self.loop_button)
        buttons.addWidget(self.speed_box)
        buttons.addStretch(1)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(8)
        column.addWidget(self.face)
        column.addWidget(self.company)
        column.addWidget(self.film)
        column.addLayout(readout)
        column.addLayout(buttons)
        column.addWidget(self.scene_button, 0, Qt.AlignmentFlag.AlignLeft)

    def refresh(self, _what: object = None) -> None:
        document = self._document
        self._soon.stop()
        self.face.look()
        ready = document.recording is not None
        for button in (self.play_button, self.back_button, self.forward_button, self.loop_button):
            button.setEnabled(ready)
        self.speed_box.setCurrentIndex(SPEEDS.index(document.player.speed))
        self.loop_button.setChecked(document.player.loops)
        self.scene_button.setVisible(len(document.state.lines) > 1)
        self.scene_button.setChecked(self._session.scene_playing.is_on)
        if not ready:
            self.frame_label.setText("–")
            self.place_label.setText("")
            return
        rate, frame = document.state.rate, document.frame + document.state.first_number
        self.frame_label.setText(read_out(frame, rate, self._reading))
        parts = [_("{label} fps", label=rate.label)]
        phone = document.score.phone_at(document.player.position) if document.score else None
        if phone is not None:
            parts.append(f"/{phone.symbol}/")
        parts.append(self.face.mouth)
        self.place_label.setText("  ·  ".join(parts))
        self.place_label.setAccessibleName(self._spoken(read_out(frame, rate, self._reading)))

    def _spoken(self, place: str) -> str:
        """What is at the playhead, as a sentence: frame, word, sound and mouth; and what is selected."""
        score, position = self._document.score, self._document.player.position
        number = score.word_at(position) if score else None
        phone = score.phone_at(position) if score else None
        said = _("word {text}", text=score.words[number].text) if number is not None else _("no word")
        sound = _("sound {sound}", sound=phone.symbol) if phone else ""
        mouth = _("mouth {mouth}", mouth=self.face.mouth)
        told = ", ".join(part for part in (said, sound, mouth) if part)
        return "; ".join(part for part in (f"{place}: {told}", self._selected()) if part)

    def _selected(self) -> str:
        selection, span = self._document.selection, self._document.selected_span
        if span is None:
            return ""
        count = len(selection.words or selection.mouths)
        start, end = clock(span.start), clock(span.end)
        if selection.words:
            return ngettext(
                "{count} word selected, from {start} to {end}", "{count} words selected, from {start} to {end}",
                count, start=start, end=end,
            )  # fmt: skip
        return ngettext(
            "{count} exposure selected, from {start} to {end}", "{count} exposures selected, from {start} to {end}",
            count, start=start, end=end,
        )  # fmt: skip

    def set_view(self, view: MirrorLook) -> None:
        """Show the face otherwise, here and in the window of its own."""
        self.face.set_view(view)
        if self.apart is not None:
            self.apart.face.set_view(view)

    def toggle_window(self) -> None:
        """The face in a window of its own, too, or no longer."""
        if self.apart is None:
            self.apart = MirrorWindow(self._session, self._theme, self.window())
        self.apart.setVisible(self.apart.isHidden())
        self.apart.face.look()

    def toggle_company(self) -> None:
        """All roles side by side, or the one of the line again."""
        self.company.setVisible(self.company.isHidden())
        self._arrange()
        self.company.look()

    def _show_role(self, role: str) -> None:
        lines = self._session.lines
        lines.open(lines.where_speaking(role), role)

    def close_films(self) -> None:
        """Stop decoding; to be called before the window goes."""
        self.film.close_film()
        if self.apart is not None:
            self.apart.film.close_film()

    def _arrange(self) -> None:
        self.face.setVisible(not self.film.replaces_face and self.company.isHidden())

    def next_reading(self) -> None:
        """Show the playhead's place in another unit, and remember it."""
        order = list(TimeDisplay)
        self._reading = order[(order.index(self._reading) + 1) % len(order)]
        READING.write(self._reading)
        self.read_otherwise.emit()
        self.refresh()

    def _show_playing(self, playing: bool) -> None:
        self.play_button.setIcon(icon("stop" if playing else "play", self._theme.ink, 17))
        self.play_button.setToolTip(_("Stop · Space") if playing else _("Play from the playhead · Space"))
