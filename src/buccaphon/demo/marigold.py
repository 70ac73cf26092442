"""Marigold's face: a pumpkin by lantern light, drawn in a box from -1 to 1. Her mouth is put at MOUTH_AT."""

from __future__ import annotations

from buccaphon.mouths.drawing import Shape, ellipse

MOUTH_AT = (0.0, 0.36)
MOUTH_SIZE = 0.36  # half its width in the face's box

_SKIN, _SHADE, _DEEP, _GLOW = "#e08a2e", "#cf7721", "#b5611a", "#eea04a"
_STEM, _STEM_DARK = "#6c7a35", "#4e5a26"
_LANTERN, _CORD = "#f3c66b", "#5d4a63"


def backdrop() -> tuple[Shape, ...]:
    """The night market behind her: a string of lanterns out of focus."""
    shapes = [Shape(_CORD, (("M", -1.3, -0.86), ("C", -0.5, -0.62, 0.5, -0.62, 1.3, -0.86)), stroke=0.012)]
    for x, y, size in ((-0.86, -0.66, 0.07), (-0.45, -0.58, 0.05), (0.46, -0.58, 0.05), (0.86, -0.66, 0.075)):
        shapes.append(Shape(_LANTERN, ellipse(x, y, size * 2.1, size * 2.1), alpha=0.10))
        shapes.append(Shape(_LANTERN, ellipse(x, y, size * 0.8, size), alpha=0.75))
    return tuple(shapes)


def face() -> tuple[Shape, ...]:
    """Everything but the mouth, back to front."""
    return (*_body(), *_stem(), *_eyes(), *_cheeks())


def _body() -> list[Shape]:
    lobes = ((-0.52, 0.34, _DEEP), (0.52, 0.34, _DEEP), (-0.31, 0.38, _SHADE), (0.31, 0.38, _SHADE), (0.0, 0.36, _SKIN))
    shapes = [Shape(paint, ellipse(x, 0.16, across, 0.68)) for x, across, paint in lobes]
    shapes.append(Shape(_GLOW, ellipse(-0.10, -0.16, 0.15, 0.24), alpha=0.35))
    return shapes


def _stem() -> list[Shape]:
    stem = (
        ("M", -0.09, -0.46),
        ("C", -0.06, -0.60, -0.10, -0.68, -0.02, -0.76),
        ("L", 0.11, -0.71),
        ("C", 0.05, -0.63, 0.07, -0.56, 0.11, -0.46),
        ("C", 0.05, -0.41, -0.04, -0.41, -0.09, -0.46),
        ("Z",),
    )
    leaf = (
        ("M", 0.07, -0.50),
        ("C", 0.20, -0.72, 0.42, -0.68, 0.47, -0.55),
        ("C", 0.36, -0.50, 0.24, -0.42, 0.07, -0.50),
        ("Z",),
    )
    vein = (("M", 0.09, -0.51), ("C", 0.2, -0.58, 0.32, -0.59, 0.43, -0.56))
    return [Shape(_STEM_DARK, stem), Shape(_STEM, leaf), Shape(_STEM_DARK, vein, stroke=0.014)]


def _eyes() -> list[Shape]:
    shapes: list[Shape] = []
    for side in (-1, 1):
        x = side * 0.25
        brow = (
            ("M", x - 0.14, -0.20 - 0.02 * side),
            ("C", x - 0.06, -0.29, x + 0.06, -0.29, x + 0.14, -0.20 + 0.02 * side),
        )
        shapes += [
            Shape("#fff4dd", ellipse(x, -0.03, 0.125, 0.15)),
            Shape("#3a2440", ellipse(x - 0.015 * side, -0.01, 0.075, 0.1)),
            Shape("#fff9ec", ellipse(x + 0.02, -0.055, 0.025, 0.032)),
            Shape(_DEEP, brow, stroke=0.035),
        ]
    return shapes


def _cheeks() -> list[Shape]:
    return [Shape("#d9542f", ellipse(side * 0.46, 0.22, 0.11, 0.075), alpha=0.30) for side in (-1, 1)]
