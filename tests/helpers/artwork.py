"""Small drawings, made for tests: pictures, folders, layered files, sheets."""

import struct
import zipfile
import zlib
from pathlib import Path

from PyQt6.QtCore import QBuffer, QIODevice
from PyQt6.QtGui import QColor, QImage, QPainter

NAMES = ("rest", "mbp", "fv", "th", "s", "uh", "ah", "ee", "oh", "oo")  # of chart Ten, as people call them


def picture(width: int, height: int, box: tuple[int, int, int, int] | None = None, color: str = "#902030") -> QImage:
    """Transparent but for a box."""
    image = QImage(width, height, QImage.Format.Format_ARGB32)
    image.fill(0)
    if box:
        fill(image, box, color)
    return image


def fill(image: QImage, box: tuple[int, int, int, int], color: str) -> None:
    painter = QPainter(image)
    painter.fillRect(*box, QColor(color))
    painter.end()


def as_png(image: QImage) -> bytes:
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    image.save(buffer, "PNG")
    return buffer.data().data()


def box_of(number: int) -> tuple[int, int, int, int]:
    return 30, 40, 20, 2 + 2 * number


def drawings(folder: Path, names: tuple[str, ...] = NAMES, size: tuple[int, int] = (80, 80)) -> Path:
    """A folder with a PNG for each name; the mouths grow."""
    folder.mkdir(parents=True, exist_ok=True)
    for number, name in enumerate(names):
        (folder / f"{name}.png").write_bytes(as_png(picture(*size, box_of(number))))
    return folder


def layered(path: Path, stack: str, mimetype: bytes = b"image/openraster", **entries: bytes) -> Path:
    """An OpenRaster file with this stack.xml; entries by their names without .png."""
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as file:
        file.writestr("mimetype", mimetype)
        file.writestr("stack.xml", stack)
        for name, data in entries.items():
            file.writestr(f"{name}.png", data)
    return path


def png_that_says(width: int, height: int) -> bytes:
    """A PNG with a size in its head and hardly anything behind it."""

    def chunk(kind: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))

    head = struct.pack(">IIBBBBB", width, height, 8, 6, 0, 0, 0)
    body = chunk(b"IHDR", head) + chunk(b"IDAT", zlib.compress(b"\0" * 1000)) + chunk(b"IEND", b"")
    return b"\x89PNG\r\n\x1a\n" + body


def sheet(columns: int, rows: int, cell: int = 20, used: int | None = None) -> QImage:
    """A sprite sheet with a box in each cell."""
    image = QImage(columns * cell, rows * cell, QImage.Format.Format_ARGB32)
    image.fill(0)
    for number in range(columns * rows if used is None else used):
        left, top = number % columns * cell, number // columns * cell
        fill(image, (left + 4, top + 5, 8, 2 + number % 5), "#902030")
    return image
