"""Draw the small pictures that the style sheet needs as files: python tools/draw_widget_pictures.py"""

import os
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QColor, QGuiApplication, QImage, QPainter, QPen, QPolygonF

from buccaphon.painting import theme

SHAPES = {"chevron": ("ink_soft", ((6, 9), (12, 15), (18, 9))), "tick": ("ink", ((5, 12), (10, 17), (19, 6)))}
PICTURES = {
    f"{name}{colours.pictures}": (getattr(colours, role), points)
    for colours in (theme.PAPER, theme.NIGHT)
    for name, (role, points) in SHAPES.items()
}


def main() -> None:
    app = QGuiApplication([])
    folder = Path(theme.__file__).parents[1] / "app" / "style" / "pictures"
    for name, (color, points) in PICTURES.items():
        picture = QImage(24, 24, QImage.Format.Format_ARGB32)
        picture.fill(Qt.GlobalColor.transparent)
        painter = QPainter(picture)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        cap, join = Qt.PenCapStyle.RoundCap, Qt.PenJoinStyle.RoundJoin
        painter.setPen(QPen(QColor(color), 2.6, Qt.PenStyle.SolidLine, cap, join))
        painter.drawPolyline(QPolygonF([QPointF(x, y) for x, y in points]))
        painter.end()
        picture.save(str(folder / f"{name}.png"))
    del app


if __name__ == "__main__":
    main()
