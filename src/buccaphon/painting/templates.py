"""Drawings to start from: a chart's mouths as SVG layers and as pictures of one size, with a guide, to be drawn over in any
paint program and brought in as a character."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass
from html import escape

from PyQt6.QtGui import QColor, QPainter

from buccaphon.mouths.chart import ChartDocument
from buccaphon.mouths.drawing import Path, Shape, lips
from buccaphon.mouths.pose import Pose
from buccaphon.painting.artwork.pixels import as_png, painted
from buccaphon.painting.artwork.shapes import paint_shapes
from buccaphon.painting.artwork.svg import LAYERS, svg_picture

_CORNERS = 0.9  # of half the box that mouths are drawn in: how far the corners of the widest reach
_NO_NAME = re.compile(r"[\\/:*?\"<>|\x00-\x1f]")  # what no file's name may hold everywhere

Color = Callable[[str], str]  # of a role, as '#rrggbb'


@dataclass(frozen=True, slots=True)
class Sheet:
    """What they are drawn on, in pixels. x, y: where shut lips meet. half: half the width of the box that mouths are drawn
    in."""

    width: int = 640
    height: int = 480
    x: float = 320.0
    y: float = 201.6
    half: float = 260.0


def sheet_for(width: float, height: float, mouth: tuple[float, float, float]) -> Sheet:
    """A sheet of a face's own size. mouth: where the middle of its mouth is, and how wide that is."""
    x, y, wide = mouth
    return Sheet(round(width), round(height), x, y, max(wide, 1.0) / 2 / _CORNERS)


def templates(chart: ChartDocument, color: Color, sheet: Sheet = Sheet()) -> dict[str, bytes]:
    """Files by name: one SVG with a layer a mouth, and a PNG of each and of the guide, all of one size. The application must
    exist, for its pictures."""
    names = _file_names([mouth.name for mouth in chart.mouths])
    layers = [
        _layer(mouth.name, _mouth(mouth.pose, color, number, sheet), hidden=number != chart.rests)
        for number, mouth in enumerate(chart.mouths)
    ]
    guide = _guide(color, sheet)
    whole = _svg(_layer("guide", guide, hidden=False) + _layer("mouths", "".join(layers), hidden=False), sheet)
    drawn = svg_picture(_svg(guide, sheet).encode(), 0.0, "the guide", (sheet.width, sheet.height))
    files = {f"{_file_names([chart.name])[0]}.svg": whole.encode(), "guide.png": as_png(drawn)}
    for name, mouth in zip(names, chart.mouths, strict=True):
        files[f"{name}.png"] = _png(mouth.pose, color, sheet)
    return files


def _svg(inner: str, sheet: Sheet) -> str:
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" xmlns:l="{LAYERS[1:-1]}" width="{sheet.width}" height="{sheet.height}" '
        f'viewBox="0 0 {sheet.width} {sheet.height}">\n{inner}</svg>\n'
    )


def _layer(name: str, inner: str, *, hidden: bool) -> str:
    look = ' style="display:none"' if hidden else ""
    return f'<g l:groupmode="layer" l:label="{escape(name)}"{look}>{inner}</g>\n'


def _png(pose: Pose, color: Color, sheet: Sheet) -> bytes:
    def paint(painter: QPainter) -> None:
        painter.translate(sheet.x, sheet.y)
        painter.scale(sheet.half, sheet.half)
        paint_shapes(painter, lips(pose), lambda role: QColor(color(role)))

    return as_png(painted(sheet.width, sheet.height, paint))


def _guide(color: Color, sheet: Sheet) -> str:
    """Where shut lips meet, how far corners and jaw go, and the middle."""
    x, y, tall = sheet.x, sheet.y, 0.23 * sheet.half
    ink = f'fill="none" stroke="{color("wave")}" stroke-width="2" stroke-dasharray="8 6"'
    lines = [f"M0 {y:g}H{sheet.width}", f"M{x:g} 0V{sheet.height}"]
    lines += [f"M{x + side * sheet.half * _CORNERS:.1f} {y - tall:.1f}v{2 * tall:.1f}" for side in (-1, 1)]
    return "".join(f'<path d="{line}" {ink}/>' for line in lines)


def _mouth(pose: Pose, color: Color, number: int, sheet: Sheet) -> str:
    return "".join(_shape(shape, color, f"m{number}s{n}", sheet) for n, shape in enumerate(lips(pose)))


def _shape(shape: Shape, color: Color, ident: str, sheet: Sheet) -> str:
    paint = color(shape.paint)
    look = f'fill="none" stroke="{paint}" stroke-width="{shape.stroke * sheet.half:.2f}" stroke-linecap="round"'
    look = look if shape.stroke else f'fill="{paint}"'
    fade = f' opacity="{shape.alpha:g}"' if shape.alpha < 1 else ""
    drawn = f'<path d="{_steps(shape.path, sheet)}" {look}{fade}/>'
    if shape.clip is None:
        return drawn
    clip = f'<clipPath id="{ident}"><path d="{_steps(shape.clip, sheet)}"/></clipPath>'
    return f'{clip}<g clip-path="url(#{ident})">{drawn}</g>'


def _steps(path: Path, sheet: Sheet) -> str:
    found = []
    for name, *numbers in path:
        values = [float(number) * sheet.half + (sheet.x, sheet.y)[n % 2] for n, number in enumerate(numbers)]
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
