"""The mouths of the chart: each a tile with its drawing, name, sounds and key; clicking paints it."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import (
    QColor,
    QDragEnterEvent,
    QDropEvent,
    QEnterEvent,
    QFont,
    QFontMetricsF,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
)
from PyQt6.QtWidgets import QAbstractButton, QGridLayout, QHBoxLayout, QLabel, QVBoxLayout, QWidget

from buccaphon.app.dragging import dragged_drawing
from buccaphon.app.paint_keys import MOST_PAINTED, PAINT_KEYS
from buccaphon.app.session.characters import CharacterLoader
from buccaphon.app.session.session import Session
from buccaphon.app.timers import later
from buccaphon.mouths.chart import Chart, Mouth
from buccaphon.painting.theme import Theme, sans, serif
from buccaphon.project.exposing import shown_as
from buccaphon.texts import _, ngettext

COLUMNS = 3
_HOLD = 350  # ms after which a pressed mouth is tried on


class MouthTile(QAbstractButton):
    """One mouth. Checked while it is on show at the playhead."""

    def __init__(self, mouth: Mouth, key: str, characters: CharacterLoader, theme: Theme, *, rests: bool) -> None:
        super().__init__()
        self.number = ""
        self.mouth, self.key, self._characters, self._theme = mouth, key, characters, theme
        silence = [_("silence")] if rests else []
        self._answers = " ".join((*silence, *mouth.sounds, *mouth.rules)) or _("no sound")
        self._holding = later(self, _HOLD, lambda: characters.try_on(self.mouth.name))
        self.setCheckable(True)
        self.setText(mouth.name)
        paints = _("Press {key}", key=key) if key else _("Click")
        hint = _(
            "{name} covers {answers}. {paints} to paint it from the playhead to the next change",
            name=mouth.name,
            answers=self._answers,
            paints=paints,
        )
        self.setToolTip(_("{hint}; hold the mouse button to preview it.", hint=hint))
        self.setAccessibleName(_("{name}, key {key}", name=mouth.name, key=key) if key else mouth.name)
        self.setMinimumHeight(70)
        self.setAcceptDrops(True)

    def sizeHint(self) -> QSize:
        return QSize(84, 90)

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        """One of the character's drawings may be dropped here, to show this mouth from now on."""
        if dragged_drawing(event):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        if drawing := dragged_drawing(event):
            event.acceptProposedAction()
            self._characters.show_by(self.mouth.name, drawing)

    def enterEvent(self, event: QEnterEvent) -> None:
        super().enterEvent(event)
        self.update()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        super().mousePressEvent(event)
        if event.button() == Qt.MouseButton.LeftButton:
            self._holding.start()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """A mouth that was held was only tried on: it is not painted."""
        self._holding.stop()
        if self._characters.tried:
            self.setDown(False)
            self._characters.try_on("")
        else:
            super().mouseReleaseEvent(event)

    def nextCheckState(self) -> None:
        """The playhead decides what is checked, not the click."""

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        theme, area = self._theme, QRectF(self.rect()).adjusted(1, 1, -1, -1)
        lit = self.isChecked()
        painter.setBrush(QColor(theme.paper))
        edge = theme.playhead if lit or self.hasFocus() else theme.ink_soft if self.underMouse() else theme.edge
        painter.setPen(QPen(QColor(edge), 2 if lit else 1))
        painter.drawRoundedRect(area, 5, 5)
        lower = 34
        box = area.adjusted(8, 6, -8, -lower).toRect()
        picture = self._characters.mouth_picture(self.mouth, box.width(), box.height(), self.devicePixelRatioF(), theme)
        painter.drawPixmap(box.topLeft(), picture)
        painter.setFont(sans(10))
        room = QFontMetricsF(painter.font()).horizontalAdvance(self.key) + 6
        plate = QRectF(area.right() - room - 4, area.top() + 4, room, 14)  # so that the key is read on any picture
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(theme.paper))
        painter.drawRoundedRect(plate, 3, 3)
        painter.setPen(QColor(theme.ink_soft))
        painter.drawText(area.adjusted(0, 4, -7, 0), Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignTop, self.key)
        painter.setFont(sans(12, QFont.Weight.DemiBold))
        painter.setPen(QColor(theme.ink))
        name = area.adjusted(8, area.height() - lower, -4, -17)
        painter.drawText(name, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, self.mouth.name)
        painter.setFont(sans(10))
        painter.setPen(QColor(theme.ink_soft))
        along = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        painter.drawText(name.adjusted(0, 0, -3, 0), along, self.number)
        painter.setFont(serif(13))
        painter.setPen(QColor(theme.ink_soft))
        room = area.width() - 12
        sounds = QFontMetricsF(painter.font()).elidedText(self._answers, Qt.TextElideMode.ElideRight, room)
        bottom = area.adjusted(8, area.height() - 19, -4, -3)
        painter.drawText(bottom, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, sounds)


class ChartGrid(QWidget):
    """Tiles for the chart in use, set anew when another chart is chosen."""

    def __init__(self, session: Session, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._document, self._characters, self._theme = session.document, session.characters, theme
        self.tiles: list[MouthTile] = []
        self._chart: Chart | None = None
        self._numbered: object = None
        self._keys: Sequence[str] = PAINT_KEYS
        title, self._chart_label = QLabel(_("Mouths")), QLabel()
        title.setProperty("role", "heading")
        self._chart_label.setProperty("role", "hint")
        head = QHBoxLayout()
        head.addWidget(title)
        head.addWidget(self._chart_label, 1, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignBottom)
        self._grid = QGridLayout()
        self._grid.setSpacing(6)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.target = QLabel()
        self.target.setProperty("role", "hint")
        column.addLayout(head)
        column.addWidget(self.target)
        column.addLayout(self._grid)
        for signal in (
            self._document.changed,
            self._document.opened,
            self._document.sound_ready,
            self._document.selected,
            self._document.player.moved,
            self._document.player.playing_changed,
        ):
            signal.connect(self.refresh)
        session.characters.redrawn.connect(self._draw_anew)
        self.refresh()

    def use_keys(self, keys: Sequence[str]) -> None:
        """The keys of the mouths, in their order; '' for none."""
        if tuple(keys) != tuple(self._keys):
            self._keys = keys
            self._chart = None
            self.refresh()

    def _draw_anew(self) -> None:
        for tile in self.tiles:
            tile.update()

    def refresh(self, _what: object = None) -> None:
        chart = self._document.chart
        if chart is not self._chart:
            self._show_chart(chart)
        exposure = self._document.exposure()
        shown = exposure.mouth if exposure else ""
        told = self._target_told()
        if self.target.text() != told:
            self.target.setText(told)
        self._number_tiles()
        for tile in self.tiles:
            if tile.isChecked() != (tile.mouth.name == shown):
                tile.setChecked(tile.mouth.name == shown)

    def _number_tiles(self) -> None:
        """As sheet and files number them."""
        state, chart = self._document.state, self._document.chart
        if self._numbered == (state.kit_in_use, chart):
            return
        self._numbered = state.kit_in_use, chart
        shown = shown_as(state)
        for tile in self.tiles:
            number, called = shown.get(tile.mouth.name, ("", tile.mouth.name))
            tile.number = _("no. {number}", number=number)
            tile.setStatusTip(called)
            tile.update()

    def _target_told(self) -> str:
        """Which frames a key would paint now."""
        if self._document.player.playing:
            return _("A key paints from the frame that is heard")
        state, spans = self._document.state, self._document.painting_spans()
        if not spans:
            return ""
        first, last = (state.rate.nearest(edge) for edge in (spans[0].start, spans[-1].end))
        first, last = first + state.first_number, last - 1 + state.first_number
        if len(spans) > 1:
            return ngettext(
                "A key paints {count} place from frame {first} to {last}",
                "A key paints {count} places from frame {first} to {last}",
                len(spans),
                first=first,
                last=last,
            )
        return (
            _("A key paints frame {first}", first=first)
            if first == last
            else _("A key paints frames {first} to {last}", first=first, last=last)
        )

    def _show_chart(self, chart: Chart) -> None:
        """Other poses on the same tiles, or other tiles."""
        before, self._chart = self._chart, chart
        if before is not None and [_called(mouth) for mouth in before.mouths] == [_called(m) for m in chart.mouths]:
            for tile, mouth in zip(self.tiles, chart.mouths, strict=False):
                if tile.mouth != mouth:
                    tile.mouth = mouth
                    tile.update()
        else:
            self._set_tiles(chart)

    def _set_tiles(self, chart: Chart) -> None:
        self._chart_label.setText(_("chart: {name}", name=chart.name))
        for tile in self.tiles:
            self._grid.removeWidget(tile)
            tile.hide()
            tile.deleteLater()
        self.tiles, self._numbered = [], None
        for number, mouth in enumerate(chart.mouths[:MOST_PAINTED]):
            key = self._keys[number] if number < len(self._keys) else ""
            tile = MouthTile(mouth, key, self._characters, self._theme, rests=number == chart.rests)
            tile.clicked.connect(lambda _checked, name=mouth.name: self._document.paint(name))
            self._grid.addWidget(tile, number // COLUMNS, number % COLUMNS)
            self.tiles.append(tile)


def _called(mouth: Mouth) -> tuple[object, ...]:
    """All that a tile says of a mouth in words."""
    return mouth.name, mouth.sounds, mouth.rules
