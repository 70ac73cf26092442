"""Pictures decoded within limits, cropped to what is drawn on them, and kept no larger than they are ever shown."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt
from PyQt6.QtCore import QBuffer, QByteArray, QIODevice, QRect, QSize, Qt
from PyQt6.QtGui import QImage, QImageReader, QPaintDevice, QPainter

from buccaphon.errors import KitError
from buccaphon.kits.limits import require_size
from buccaphon.texts import _

IN_FULL = 1 << 20  # pixels: nothing is made smaller
LARGEST_SHOWN = 2048  # pixels on the longer side of what is kept in memory
_KINDS = ((b"\x89PNG\r\n\x1a\n", b"png"), (b"\xff\xd8\xff", b"jpeg"), (b"GIF8", b"gif"), (b"BM", b"bmp"))
_FORMAT = QImage.Format.Format_ARGB32_Premultiplied


@dataclass(frozen=True, eq=False)
class Picture:
    """Pixels that lie at a place of the canvas; empty borders are cut off."""

    image: QImage
    x: int
    y: int

    @property
    def is_empty(self) -> bool:
        return self.image.isNull()


def picture_size(data: bytes, subject: str) -> tuple[int, int]:
    """Width and height as the file says them, before any memory is given to it. Raises KitError."""
    size = _reader(data, subject).size()
    require_size(size.width(), size.height(), subject)
    return size.width(), size.height()


def decode(data: bytes, subject: str) -> QImage:
    """A picture of any kind that Qt reads, by its content and not its suffix. Raises KitError."""
    reader = _reader(data, subject)
    size = reader.size()
    require_size(size.width(), size.height(), subject)
    image = reader.read()
    if image.isNull():
        raise KitError(subject, _("it is damaged"), _("Save it again as PNG"))
    return image.convertToFormat(_FORMAT)


def _reader(data: bytes, subject: str) -> QImageReader:
    """Told what it reads: left to find out it would ask every plugin, one of which connects objects. That waits for a lock
    which the window's thread may hold while it waits for Python, which this thread would not let go."""
    buffer = QBuffer()
    buffer.setData(QByteArray(data))
    buffer.open(QIODevice.OpenModeFlag.ReadOnly)
    reader = QImageReader(buffer, QByteArray(_kind_of(data)))
    reader.buffer = buffer  # type: ignore[attr-defined]  # lives as long as its reader
    reader.setAutoDetectImageFormat(False)
    if not _kind_of(data) or not reader.canRead():
        raise KitError(subject, _("it is not a readable picture"), _("Save it as PNG"))
    return reader


def _kind_of(data: bytes) -> bytes:
    """What Qt calls a picture's format, by its first bytes; empty for what is no picture."""
    if data[:4] == b"RIFF" and data[8:12] == b"WEBP":
        return b"webp"
    return next((kind for begins, kind in _KINDS if data.startswith(begins)), b"")


def as_png(image: QImage) -> bytes:
    """The picture as a PNG file."""
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    image.save(buffer, "PNG")
    return bytes(buffer.data().data())


def blank_image(width: int, height: int) -> QImage:
    image = QImage(max(width, 1), max(height, 1), _FORMAT)
    if image.isNull():
        raise KitError(
            _("a picture of {width} x {height}", width=width, height=height),
            _("there is not enough memory for it"),
            _("Use a smaller one"),
        )
    image.fill(0)
    return image


def painted(width: int, height: int, paint: Callable[[QPainter], None]) -> QImage:
    """A transparent picture on which something was painted."""
    image = blank_image(width, height)
    with painting_on(image) as painter:
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
        paint(painter)
    return image


@contextmanager
def painting_on(device: QPaintDevice) -> Iterator[QPainter]:
    """A painter that is ended whatever happens. One that is kept alive by the traceback of an error, and outlives what it
    paints on, ends the process."""
    painter = QPainter(device)
    try:
        yield painter
    finally:
        painter.end()


def _memory(image: QImage) -> npt.NDArray[np.uint8]:
    """The picture's own bytes; to be copied from before it goes."""
    bits = image.constBits()
    assert bits is not None
    memory: Any = bits.asarray(image.sizeInBytes())
    found: npt.NDArray[np.uint8] = np.frombuffer(memory, np.uint8)
    return found


def as_array(image: QImage) -> npt.NDArray[np.uint8]:
    """(height, width, 4) of a picture, a copy: red, green, blue, alpha 0..255, not multiplied."""
    plain = image.convertToFormat(QImage.Format.Format_RGBA8888)
    lines = _memory(plain).reshape(plain.height(), plain.bytesPerLine() // 4, 4)
    return lines[:, : plain.width()].copy()


def from_array(pixels: npt.NDArray[np.uint8]) -> QImage:
    """The picture of such an array."""
    height, width, _rest = pixels.shape
    kept = np.ascontiguousarray(pixels)
    return QImage(kept.tobytes(), width, height, 4 * width, QImage.Format.Format_RGBA8888).convertToFormat(_FORMAT)


def drawn_box(image: QImage) -> QRect:
    """The smallest box with all that is drawn; empty when nothing is."""
    if not image.hasAlphaChannel():
        return image.rect()
    words = _memory(image).view(np.uint32).reshape(image.height(), image.bytesPerLine() // 4)
    rows = np.flatnonzero(words.any(axis=1))
    if not rows.size:
        return QRect()
    columns = np.flatnonzero(words[rows[0] : rows[-1] + 1, : image.width()].any(axis=0))
    return QRect(int(columns[0]), int(rows[0]), int(columns[-1] - columns[0] + 1), int(rows[-1] - rows[0] + 1))


def cropped(image: QImage, x: int = 0, y: int = 0) -> Picture:
    """Only what is drawn, at its place."""
    box = drawn_box(image)
    if box.isEmpty():
        return Picture(QImage(), x, y)
    if box == image.rect():
        return Picture(image, x, y)
    return Picture(image.copy(box), x + box.x(), y + box.y())


def shrink_by(width: int, height: int, longest: int = LARGEST_SHOWN) -> float:
    """By how much a canvas is made smaller to be kept; 1 when no side is longer than so many pixels."""
    return min(1.0, longest / max(width, height, 1))


def scaled(image: QImage, share: float) -> QImage:
    if share == 1.0 or image.isNull():
        return image
    size = QSize(max(round(image.width() * share), 1), max(round(image.height() * share), 1))
    return image.scaled(size, Qt.AspectRatioMode.IgnoreAspectRatio, Qt.TransformationMode.SmoothTransformation)
