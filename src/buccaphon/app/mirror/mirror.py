"""The Mirror: the face at the playhead, what is heard there, and the transport."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSettings, QSize, QSizeF, Qt
from PyQt6.QtGui import QColor, QFont, QPainter, QPainterPath, QPaintEvent, QPixmap
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from buccaphon.app.icons import icon, two_state_icon
from buccaphon.app.mirror.actor import Actor
from buccaphon.app.mirror.player import SPEEDS
from buccaphon.app.painting import blank, mouth_picture, paint_shapes
from buccaphon.app.session import Session
from buccaphon.app.theme import Theme, sans
from buccaphon.demo import marigold
from buccaphon.timing import Reading, clock, read_out


class Face(QWidget):
    """Marigold with the mouth that is on show."""

    def __init__(self, session: Session, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self._theme = session, theme
        self.mouth = ""
        self._kept: QPixmap | None = None
        self.setMinimumHeight(150)
        self.setMaximumHeight(300)
        self.setAccessibleName("Mirror")

    def sizeHint(self) -> QSize:
        return QSize(268, 236)

    def look(self) -> None:
        """Take up the mouth at the playhead; repaint only if it is another."""
        exposure = self._session.exposure()
        mouth = exposure.mouth if exposure else self._session.chart.rest.name
        if mouth != self.mouth:
            self.mouth = mouth
            self.update()

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.drawPixmap(0, 0, self._head())
        chart = self._session.chart
        name = self.mouth if self.mouth in chart.names else chart.rest.name
        (x, y), half = marigold.MOUTH_AT, marigold.MOUTH_SIZE
        scale, middle = self._box()
        box = QRectF(0, 0, 2 * half * scale, 2 * half * 0.66 * scale)
        box.moveCenter(middle + QPointF(x, y) * scale)
        pose, ratio = chart.mouths[chart.index(name)].pose, self.devicePixelRatioF()
        painter.drawPixmap(
            box.topLeft(), mouth_picture(pose, round(box.width()), round(box.height()), ratio, self._theme)
        )

    def forget_pictures(self) -> None:
        self._kept = None

    def _head(self) -> QPixmap:
        """Everything but the mouth, drawn once for each size."""
        ratio = self.devicePixelRatioF()
        if self._kept is not None and self._kept.deviceIndependentSize() == QSizeF(self.size()):
            return self._kept
        self._kept = blank(self.width(), self.height(), ratio)
        painter = QPainter(self._kept)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        frame = QPainterPath()
        frame.addRoundedRect(QRectF(self.rect()), 8, 8)
        painter.setClipPath(frame)
        painter.fillPath(frame, QColor(self._theme.mirror))
        scale, middle = self._box()
        painter.translate(middle)
        painter.scale(scale, scale)
        paint_shapes(painter, marigold.backdrop(), self._theme)
        paint_shapes(painter, marigold.face(), self._theme)
        painter.end()
        return self._kept

    def _box(self) -> tuple[float, QPointF]:
        """The box in which the face is drawn: pixels of a half of it, and where its middle lies."""
        scale = min(self.width() / 1.9, self.height() / 1.86)
        return scale, QPointF(self.width() / 2, self.height() / 2 - 0.01 * scale)


class Mirror(QWidget):
    """Face, readout and transport buttons."""

    def __init__(self, session: Session, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self._theme = session, theme
        self.face, self.actor = Face(session, theme), Actor(session, theme)
        self.frame_label, self.place_label = QPushButton("–"), QLabel("")
        self.frame_label.setProperty("role", "reading")
        self.frame_label.setToolTip("Frames, timecode, feet and frames, seconds: click for the next · T")
        self.frame_label.clicked.connect(self.next_reading)
        self._reading = Reading(str(QSettings().value("reading", Reading.FRAMES.value)))
        self.frame_label.setFont(sans(19, QFont.Weight.DemiBold))
        self.place_label.setProperty("role", "hint")
        self.place_label.setFocusPolicy(Qt.FocusPolicy.TabFocus)  # so that a screen reader can follow the playhead
        self.play_button = self._button("play", "Play from the playhead · Space")
        self.play_button.setFixedWidth(48)
        self.back_button = self._button("back", "One frame back, and hear it · Left")
        self.forward_button = self._button("forward", "One frame on, and hear it · Right")
        self.loop_button = self._button("loop", "Loop what is marked on the ruler, or everything · L")
        self.loop_button.setCheckable(True)
        self.speed_box = QComboBox()
        for speed in SPEEDS:
            self.speed_box.addItem(f"{speed:.0%}", speed)
        self.speed_box.setCurrentIndex(len(SPEEDS) - 1)
        self.speed_box.setToolTip("How fast it plays; the pitch stays · S goes through them")
        self.speed_box.setAccessibleName("Speed")
        self._lay_out()
        self.speed_box.activated.connect(lambda _: session.player.set_speed(self.speed_box.currentData()))
        self.actor.arranged.connect(self._arrange)
        session.player.moved.connect(self.refresh)
        session.player.playing_changed.connect(self._show_playing)
        for signal in (session.changed, session.opened, session.sound_ready, session.selected):
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
        self._show_playing(self._session.player.playing)
        self.face.forget_pictures()

    def _lay_out(self) -> None:
        readout = QHBoxLayout()
        readout.addWidget(self.frame_label)
        readout.addWidget(self.place_label, 1, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
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
        column.addWidget(self.actor)
        column.addLayout(readout)
        column.addLayout(buttons)

    def refresh(self, _what: object = None) -> None:
        session = self._session
        self.face.look()
        ready = session.recording is not None
        for button in (self.play_button, self.back_button, self.forward_button, self.loop_button):
            button.setEnabled(ready)
        self.speed_box.setCurrentIndex(SPEEDS.index(session.player.speed))
        self.loop_button.setChecked(session.player.loops)
        if not ready:
            self.frame_label.setText("–")
            self.place_label.setText("")
            return
        rate, frame = session.state.rate, session.frame + session.state.first_number
        self.frame_label.setText(read_out(frame, rate, self._reading))
        parts = [f"{rate.label} fps"]
        phone = session.score.phone_at(session.player.position) if session.score else None
        if phone is not None:
            parts.append(f"/{phone.symbol}/")
        parts.append(self.face.mouth)
        self.place_label.setText("  ·  ".join(parts))
        self.place_label.setAccessibleName(self._spoken(read_out(frame, rate, self._reading)))

    def _spoken(self, place: str) -> str:
        """What is at the playhead, as a sentence: frame, word, sound and mouth; and what is selected."""
        score, position = self._session.score, self._session.player.position
        number = score.word_at(position) if score else None
        phone = score.phone_at(position) if score else None
        said = f"word {score.words[number].text}" if number is not None else "no word"
        sound = f", sound {phone.symbol}" if phone else ""
        return f"{place}: {said}{sound}, mouth {self.face.mouth}{self._selected()}"

    def _selected(self) -> str:
        selection, span = self._session.selection, self._session.selected_span
        if span is None:
            return ""
        count = len(selection.words or selection.mouths)
        what = "word" if selection.words else "exposure"
        return f"; {count} {what}{'s' if count != 1 else ''} selected, from {clock(span.start)} to {clock(span.end)}"

    def _arrange(self) -> None:
        self.face.setVisible(not self.actor.replaces_face)

    def next_reading(self) -> None:
        """Show the playhead's place in another unit, and remember it."""
        order = list(Reading)
        self._reading = order[(order.index(self._reading) + 1) % len(order)]
        QSettings().setValue("reading", self._reading.value)
        self.refresh()

    def _show_playing(self, playing: bool) -> None:
        self.play_button.setIcon(icon("stop" if playing else "play", self._theme.ink, 17))
        self.play_button.setToolTip("Stop · Space" if playing else "Play from the playhead · Space")
