"""Makes Timo, the beetroot of the next stall, anew: drawings, in the manner of Marigold's. All of him is our own.

    .venv/bin/python -m tools.make_timo

Writes demo/media/timo_drawn.ora inside the package, and a kit for it.
"""

from PyQt6.QtGui import QGuiApplication
from tools.make_marigold import MEDIA, as_svg, layered

from buccaphon.kits.kit import Drawn, Kit, OtherFile
from buccaphon.kits.store import save_kit
from buccaphon.mouths.chart_file import shipped_charts
from buccaphon.mouths.drawing import Shape, ellipse
from buccaphon.painting.characters.loading import as_read, load

_SKIN, _SHADE, _GLOW, _DEEP = "#8f2f5b", "#75244a", "#b2527c", "#571a37"
_LEAF, _RIB = "#5f7f3f", "#a3324f"


def head() -> tuple[Shape, ...]:
    """Everything but the mouth, back to front: a round root with a tail, leaves on red ribs, small sleepy eyes."""
    body = (
        ("M", 0.0, 0.94),
        ("C", -0.10, 0.88, -0.20, 0.86, -0.40, 0.78),
        ("C", -0.86, 0.58, -0.78, -0.30, -0.16, -0.36),
        ("C", -0.05, -0.38, 0.05, -0.38, 0.16, -0.36),
        ("C", 0.78, -0.30, 0.86, 0.58, 0.40, 0.78),
        ("C", 0.20, 0.86, 0.10, 0.88, 0.0, 0.94),
        ("Z",),
    )
    shapes = [*_leaves(), Shape(_SKIN, body)]
    shapes.append(Shape(_SHADE, ellipse(0.40, 0.26, 0.20, 0.42), alpha=0.45))
    shapes.append(Shape(_GLOW, ellipse(-0.40, -0.02, 0.13, 0.22), alpha=0.45))
    for side in (-1, 1):
        x = side * 0.23
        lid = (("M", x - 0.13, -0.03), ("C", x - 0.07, -0.14, x + 0.07, -0.14, x + 0.13, -0.03), ("Z",))
        brow = (("M", x - 0.13, -0.17), ("C", x - 0.05, -0.21, x + 0.05, -0.21, x + 0.13, -0.17))
        shapes += [
            Shape("#fff4dd", ellipse(x, 0.0, 0.12, 0.12)),
            Shape("#2c1a35", ellipse(x, 0.025, 0.065, 0.075)),
            Shape("#fff9ec", ellipse(x + 0.02, -0.005, 0.02, 0.026)),
            Shape(_SHADE, lid),
            Shape(_DEEP, brow, stroke=0.04),
        ]
    return (*shapes, *(Shape("#e0708f", ellipse(side * 0.46, 0.22, 0.10, 0.06), alpha=0.28) for side in (-1, 1)))


def _leaves() -> list[Shape]:
    shapes = []
    for lean, high in ((-0.36, 0.80), (0.36, 0.82), (0.02, 0.92)):
        tip = (lean, -high)
        rib = (("M", 0.0, -0.34), ("C", 0.3 * lean, -0.50, 0.7 * lean, -0.66, *tip))
        leaf = (
            ("M", 0.2 * lean, -0.44),
            ("C", lean - 0.22, -0.56, lean - 0.16, -high, *tip),
            ("C", lean + 0.16, -high, lean + 0.22, -0.56, 0.2 * lean, -0.44),
            ("Z",),
        )
        shapes += [Shape(_LEAF, leaf), Shape(_RIB, rib, stroke=0.035)]
    return shapes


def main() -> None:
    app = QGuiApplication([])
    path = MEDIA / "timo_drawn.ora"
    path.write_bytes(layered("".join(as_svg(shape) for shape in head())))
    kit = Kit("Timo, drawn", OtherFile(path), Drawn())
    kit = as_read(kit, load(kit), shipped_charts()["Ten"])
    save_kit(kit, MEDIA / "timo_drawn.buccakit")
    del app


if __name__ == "__main__":
    main()
