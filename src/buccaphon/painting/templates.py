"""Drawings to start from: a chart's mouths as SVG layers and as pictures of one size, with a guide, to be drawn over in any
paint program and brought in as a character."""

from __future__ import annotations

import re
from collections.abc import Callable
from html import escape

from PyQt6.QtGui import QColor, QPainter

from buccaphon.mouths.chart import ChartDocument
from buccaphon.mouths.drawing import Path, Shape, lips
from buccaphon.mouths.pose import Pose
from buccaphon.painting.artwork.pixels import as_png, painted
from buccaphon.painting.artwork.shapes import paint_shapes
from buccaphon.painting.artwork.svg import LAYERS, svg_picture

WIDTH, HEIGHT = 640, 480  # pixels
_SCALE = 260.0  # pixels for half the box that mouths are drawn in
_MIDDLE = (WIDTH / 2, 0.42 * HEIGHT)  # where shut lips meet
_NO_NAME = re.compile(r"[\\/:*?\"<>|\x00-\x1f]")  # what no file's name may hold everywhere

Color = Callable[[str], str]  # of a role, as '#rrggbb'


def templates(chart: ChartDocument, color: Color) -> dict[str, bytes]:
    """Files by name: one SVG with a layer a mouth, and a PNG of each and of the guide, all of one size. The application must
    exist, for its pictures."""
    names = _file_names([mouth.name for mouth in chart.mouths])
    layers = [
        _layer(mouth.name, _mouth(mouth.pose, color, number), hidden=number > 0)
        for number, mouth in enumerate(chart.mouths)
    ]
    guide = _guide(color)
    whole = _svg(_layer("guide", guide, hidden=False) + _layer("mouths", "".join(layers), hidden=False))
    drawn = svg_picture(_svg(guide).encode(), 0.0, "the guide", (WIDTH, HEIGHT))
    files = {f"{_file_names([chart.name])[0]}.svg": whole.encode(), "guide.png": as_png(drawn)}
    for name, mouth in zip(names, chart.mouths, strict=True):
        files[f"{name}.png"] = _png(mouth.pose, color)
    return files


def _svg(inner: str) -> str:
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" xmlns:l="{LAYERS[1:-1]}" width="{WIDTH}" height="{HEIGHT}" '
        f'viewBox="0 0 {WIDTH} {HEIGHT}">\n{inner}</svg>\n'
    )


def _layer(name: str, inner: str, *, hidden: bool) -> str:
    look = ' style="display:none"' if hidden else ""
    return f'<g l:groupmode="layer" l:label="{escape(name)}"{look}>{inner}</g>\n'


def _png(pose: Pose, color: Color) -> bytes:
    def paint(painter: QPainter) -> None:
        painter.translate(*_MIDDLE)
        painter.scale(_SCALE, _SCALE)
        paint_shapes(painter, lips(pose), lambda role: QColor(color(role)))

    return as_png(painted(WIDTH, HEIGHT, paint))


def _guide(color: Color) -> str:
    """Where shut lips meet, how far corners and jaw go, and the middle."""
    x, y = _MIDDLE
    ink = f'fill="none" stroke="{color("wave")}" stroke-width="2" stroke-dasharray="8 6"'
    lines = [f"M0 {y}H{WIDTH}", f"M{x} 0V{HEIGHT}"]
    lines += [f"M{x + side * _SCALE * 0.9:.1f} {y - 60}v120" for side in (-1, 1)]
    return "".join(f'<path d="{line}" {ink}/>' for line in lines)


def _mouth(pose: Pose, color: Color, number: int) -> str:
    return "".join(_shape(shape, color, f"m{number}s{n}") for n, shape in enumerate(lips(pose)))


def _shape(shape: Shape, color: Color, ident: str) -> str:
    paint = color(shape.paint)
    look = f'fill="none" stroke="{paint}" stroke-width="{shape.stroke * _SCALE:.2f}" stroke-linecap="round"'
    look = look if shape.stroke else f'fill="{paint}"'
    fade = f' opacity="{shape.alpha:g}"' if shape.alpha < 1 else ""
    drawn = f'<path d="{_steps(shape.path)}" {look}{fade}/>'
    if shape.clip is None:
        return drawn
    clip = f'<clipPath id="{ident}"><path d="{_steps(shape.clip)}"/></clipPath>'
    return f'{clip}<g clip-path="url(#{ident})">{drawn}</g>'


def _steps(path: Path) -> str:
    found = []
    for name, *numbers in path:
        values = [float(number) * _SCALE + _MIDDLE[n % 2] for n, number in enumerate(numbers)]
        found.append(str(name) + " ".join(f"{value:.2f}" for value in values))
    return " ".join(found)


def _file_names(names: list[str]) -> list[str]:
    """Names that files can have, each once."""
    found: list[str] = []
    for name in names:
        plain = _NO_NAME.sub("_", name).strip(" .")[:80] or "mouth"
        taken = {each.lower() for each in found}
        tried = (plain, *(f"{plain} {n}" for n in range(2, 10_000)))
        found.append(next(each for each in tried if each.lower() not in taken))
    return found
