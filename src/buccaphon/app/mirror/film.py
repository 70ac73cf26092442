"""The actor's own picture, when the take is a film: decoded in a thread of its own, always the newest moment asked for."""

from __future__ import annotations

import threading
from pathlib import Path

from PyQt6.QtCore import QObject, QRectF, QSize, QSizeF, Qt, QThread, pyqtSignal
from PyQt6.QtGui import QColor, QImage, QPainter, QPainterPath, QPaintEvent
from PyQt6.QtWidgets import QWidget

from buccaphon.app.session.document import Document
from buccaphon.audio.film import Film
from buccaphon.audio.reading import FILM_SUFFIXES
from buccaphon.choice import Choice
from buccaphon.painting.theme import Theme
from buccaphon.texts import N_, _

_WIDTH = 540  # pixels


class _Projectionist(QThread):
    shown = pyqtSignal(QImage, float)

    def __init__(self, path: Path, parent: QObject) -> None:
        super().__init__(parent)
        self._path = path
        self._wanted: float | None = None
        self._wake = threading.Condition()
        self._over = False

    def ask(self, seconds: float) -> None:
        with self._wake:
            self._wanted = seconds
            self._wake.notify()

    def finish(self) -> None:
        with self._wake:
            self._over = True
            self._wake.notify()
        self.wait(5000)

    def run(self) -> None:
        try:
            film = Film(self._path, _WIDTH)
        except (OSError, ValueError):
            return
        while True:
            with self._wake:
                self._wake.wait_for(lambda: self._over or self._wanted is not None)
                if self._over:
                    break
                seconds, self._wanted = self._wanted or 0.0, None
            picture = film.picture_at(seconds)
            if picture is not None:
                height, width, _rest = picture.shape
                image = QImage(picture.tobytes(), width, height, 3 * width, QImage.Format.Format_RGB888).copy()
                self.shown.emit(image, seconds)
        film.close()


class FilmPlace(Choice):
    """Where the actor's picture goes when the take is a film."""

    FACE = "face", N_("beside the face")
    INSTEAD = "instead", N_("in place of the face")
    NOWHERE = "nowhere", N_("not shown")


class FilmView(QWidget):
    """Shows the film's frame at the playhead; hides itself when the take has no picture. arranged: it came, went, or takes
    another place."""

    arranged = pyqtSignal()

    def __init__(self, document: Document, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._document, self._theme = document, theme
        self._thread: _Projectionist | None = None
        self._path: Path | None = None
        self.image: QImage | None = None
        self.shown_at = -1.0
        self.place = FilmPlace.FACE
        self.setMinimumHeight(110)
        self.setMaximumHeight(220)
        self.setAccessibleName(_("The actor's picture"))
        for signal in (document.opened, document.sound_ready, document.changed):
            signal.connect(self._meet_take)
        document.player.moved.connect(self._follow)
        self.hide()

    def sizeHint(self) -> QSize:
        return QSize(268, 152)

    def _meet_take(self, _what: object = None) -> None:
        take = self._document.state.take
        path = (
            take.path
            if take and self.place is not FilmPlace.NOWHERE and take.path.suffix.lower() in FILM_SUFFIXES
            else None
        )
        if path == self._path:
            return
        self.close_film()
        self._path = path
        self.arranged.emit()
        if path is not None:
            self._thread = _Projectionist(path, self)
            self._thread.shown.connect(self._show)
            self._thread.start()
            self._thread.ask(self._document.player.position)

    def next_place(self) -> None:
        """Beside the face, instead of it, nowhere."""
        order = list(FilmPlace)
        self.place = order[(order.index(self.place) + 1) % len(order)]
        self._meet_take()
        self.arranged.emit()

    @property
    def replaces_face(self) -> bool:
        return self.place is FilmPlace.INSTEAD and self._path is not None

    def close_film(self) -> None:
        """Stop decoding; to be called before the window goes."""
        if self._thread is not None:
            self._thread.finish()
        self._thread, self._path, self.image = None, None, None
        self.hide()

    def _follow(self, seconds: float) -> None:
        if self._thread is not None:
            self._thread.ask(seconds)

    def _show(self, image: QImage, seconds: float) -> None:
        if self._thread is not None:
            self.image, self.shown_at = image, seconds
            self.show()
            self.update()

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
        frame = QPainterPath()
        frame.addRoundedRect(QRectF(self.rect()), 8, 8)
        painter.setClipPath(frame)
        painter.fillPath(frame, QColor(self._theme.mirror))
        if self.image is not None:
            size = QSizeF(self.image.size()).scaled(QSizeF(self.size()), Qt.AspectRatioMode.KeepAspectRatio)
            box = QRectF(0, 0, size.width(), size.height())
            box.moveCenter(QRectF(self.rect()).center())
            painter.drawImage(box, self.image)
