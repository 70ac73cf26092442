"""All roles of the scene side by side, each with its name; those who say nothing are at rest."""

from __future__ import annotations

import math

from PyQt6.QtCore import QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from buccaphon.app.session.characters import what_is_read
from buccaphon.app.session.jobs import Slot
from buccaphon.app.session.session import Session
from buccaphon.app.timers import later
from buccaphon.errors import BuccaphonError
from buccaphon.formats.pictures import Shot
from buccaphon.kits.casting import for_chart
from buccaphon.kits.kit import Kit
from buccaphon.painting.characters.character import Character
from buccaphon.painting.characters.loading import load
from buccaphon.painting.pictures.frames import FramePainter
from buccaphon.painting.theme import Theme, sans
from buccaphon.progress import Progress
from buccaphon.project.delivering import called
from buccaphon.project.state import chart_of
from buccaphon.texts import _

MOST = 6  # roles that are seen
_NAME, _GAP = 18, 4  # pixels under each for its name, and between two
_SETTLES = 60  # ms after the last change until all are made over


class Company(QWidget):
    """chosen: the name of a role that was clicked."""

    chosen = pyqtSignal(str)

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self._session, self._document, self._theme = session, session.document, theme
        self._painters: dict[str, FramePainter] = {}
        self._characters: dict[str, tuple[object, Character]] = {}  # with what was read for each, by name
        self._unread: list[object] = []  # what could not be read
        self._of: object = None  # the scene that the painters are of
        self._soon = later(self, _SETTLES, self._make_over)
        self.setMinimumHeight(150)
        self.setMaximumHeight(300)
        self.setAccessibleName(_("All roles"))
        self.setToolTip(_("Click a role to show its mouth in the galley · Ctrl+F9 shows one again"))
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        for signal in (
            session.document.changed,
            session.document.opened,
            session.document.sound_ready,
            session.lines.heard,
        ):
            signal.connect(self._soon.start)
        session.document.player.moved.connect(lambda _seconds: self.update() if self.isVisible() else None)

    def sizeHint(self) -> QSize:
        return QSize(268, 236)

    @property
    def roles(self) -> tuple[str, ...]:
        """Those that are seen."""
        return self._session.lines.ensemble().roles()[:MOST]

    def look(self) -> None:
        """Show all as they are now."""
        self._make_over()
        self.update()

    def _make_over(self) -> None:
        ensemble = self._session.lines.ensemble()
        if not self.isVisible() or self._of is ensemble:
            return
        if not ensemble.sounds:  # nothing is heard yet
            self._of, self._painters = None, {}
            self.update()
            return
        self._of, state = ensemble, ensemble.state
        painters, missing = dict[str, FramePainter](), list[Kit]()
        for name in self.roles:
            role = state.role_named(name)
            kit = next((kit for kit in state.kits if kit.name == role.kit), None)
            chart = chart_of(role.chart, state.charts)
            shown = for_chart(kit, chart) if kit is not None else None
            known = self._characters.get(kit.name) if kit is not None else None
            character = known[1] if kit is not None and known is not None and known[0] == what_is_read(kit) else None
            if shown is None or character is not None:
                painters[name] = FramePainter(ensemble.bake(name), shown, character, self._theme)
            elif kit is not None:
                missing.append(kit)
        self._painters = painters
        self._read(missing)
        self.update()

    def _read(self, kits: list[Kit]) -> None:
        """Characters that were not read yet. The mirror says why one cannot be, once it is that role's."""
        jobs = self._session.jobs
        wanted = {kit.name: kit for kit in kits if what_is_read(kit) not in self._unread}
        if not wanted or jobs.busy(Slot.COMPANY):
            return

        def work(_progress: Progress) -> dict[str, Character | None]:
            return {name: _loaded(kit) for name, kit in wanted.items()}

        def done(found: dict[str, Character | None]) -> None:
            for name, character in found.items():
                if character is None:
                    self._unread.append(what_is_read(wanted[name]))
                else:
                    self._characters[name] = what_is_read(wanted[name]), character
            self._of = None
            self._make_over()

        jobs.start(Slot.COMPANY, _("Reading the characters"), work, done)

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter, theme = QPainter(self), self._theme
        painter.fillRect(self.rect(), QColor(theme.panel))
        ratio, lines, state = self.devicePixelRatioF(), self._session.lines, self._document.state
        numbers = lines.ensemble().numbers
        frame = state.start_frame + state.rate.containing(lines.here + 1e-4) - numbers.start
        for name, box in self._boxes():
            inner = box.adjusted(0, 0, 0, -_NAME)
            painter.fillRect(inner, QColor(theme.mirror))
            found = self._painters.get(name)
            if found is not None and len(numbers):
                at = min(max(frame, 0), found.frames - 1)
                image = found.image(at, Shot(round(inner.width() * ratio), round(inner.height() * ratio)))
                painter.drawImage(inner, image)
            is_shown = name == state.role.name
            painter.setPen(QColor(theme.ink if is_shown else theme.ink_soft))
            font = sans(12)
            font.setBold(is_shown)
            painter.setFont(font)
            text = painter.fontMetrics().elidedText(called(state, name), Qt.TextElideMode.ElideRight, int(box.width()))
            painter.drawText(QRectF(box.left(), inner.bottom(), box.width(), _NAME), Qt.AlignmentFlag.AlignCenter, text)

    def _boxes(self) -> list[tuple[str, QRectF]]:
        """Where each role is seen: beside each other, in two or three columns."""
        names = self.roles
        columns = min(len(names), 2 if len(names) in (2, 4) else 3) or 1
        rows = math.ceil(len(names) / columns)
        wide = (self.width() - _GAP * (columns - 1)) / columns
        high = (self.height() - _GAP * (rows - 1)) / rows
        return [
            (name, QRectF((n % columns) * (wide + _GAP), (n // columns) * (high + _GAP), wide, high))
            for n, name in enumerate(names)
        ]

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        found = [name for name, box in self._boxes() if box.contains(event.position())]
        if found:
            self.chosen.emit(found[0])


def _loaded(kit: Kit) -> Character | None:
    try:
        return load(kit)
    except BuccaphonError:
        return None
