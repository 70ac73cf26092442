"""Lips drawn from a pose: flat shapes made of curves, for any painter.

The mouth lies in a box from -1 to 1 across, 0 at the line where closed lips meet, y downwards.
"""

from __future__ import annotations

from dataclasses import dataclass

from buccaphon.mouths.pose import Pose

# A path is a list of steps: ('M', x, y), ('L', x, y), ('C', x1, y1, x2, y2, x, y) or ('Z',), as in SVG.
Step = tuple[str | float, ...]
Path = tuple[Step, ...]

_KAPPA = 0.5523  # control arm of a quarter circle


@dataclass(frozen=True, slots=True)
class Shape:
    """One filled or stroked shape. paint: a role ('lip', 'teeth' ...) or a colour '#rrggbb'. clip: drawn only inside
    this path. stroke: line width instead of a fill, 0 for none. alpha: 0..1."""

    paint: str
    path: Path
    clip: Path | None = None
    stroke: float = 0.0
    alpha: float = 1.0


def ellipse(x: float, y: float, across: float, down: float) -> Path:
    """An ellipse around (x, y) with half axes `across` and `down`."""
    a, d = across * _KAPPA, down * _KAPPA
    return (
        ("M", x - across, y),
        ("C", x - across, y - d, x - a, y - down, x, y - down),
        ("C", x + a, y - down, x + across, y - d, x + across, y),
        ("C", x + across, y + d, x + a, y + down, x, y + down),
        ("C", x - a, y + down, x - across, y + d, x - across, y),
        ("Z",),
    )


def lips(pose: Pose) -> tuple[Shape, ...]:
    """The shapes of a mouth, back to front."""
    width = 0.76 + 0.22 * pose.spread - 0.34 * pose.round
    gap = max(0.82 * pose.jaw, 0.15 * pose.teeth * (pose.jaw > 0)) * (1 - pose.press)
    upper_line, lower_line = -0.28 * gap, 0.72 * gap  # where the insides of the lips are in the middle
    upper_thick = 0.20 - 0.09 * pose.press - 0.05 * pose.spread + 0.03 * pose.round
    lower_thick = 0.26 - 0.12 * pose.press - 0.06 * pose.spread - 0.10 * pose.bite + 0.02 * pose.round
    corner = -0.05 * pose.spread + 0.10 * gap
    inner_width = width * (0.96 - 0.26 * pose.round)
    inside = _inside(inner_width, corner, upper_line, lower_line, 0.62 + 0.1 * pose.round)
    shapes = [
        Shape(
            "lip_lower",
            (*_upper_rim(width, corner, upper_line, upper_thick), *_lower_rim(width, corner, lower_line + lower_thick)),
        ),
        Shape(
            "lip_upper",
            (*_upper_rim(width, corner, upper_line, upper_thick), *_curve(-width, corner, upper_line, 0.6), ("Z",)),
        ),
    ]
    if gap > 0.02:
        shapes.append(Shape("cavity", inside))
        shapes += _within(pose, inner_width, inside, upper_line, lower_line, gap)
    if pose.bite > 0:
        shapes += _biting_teeth(pose, width, upper_line)
    if gap <= 0.02:
        line = (("M", -width * 0.97, corner), *_curve(width * 0.97, corner, 0.03 + 0.03 * pose.spread, 0.6))
        shapes.append(Shape("line", line, stroke=0.035 + 0.02 * pose.press))
    return tuple(shapes)


def _curve(to: float, corner: float, middle: float, full: float) -> tuple[Step, ...]:
    """From the corner on the other side, through (0, middle), to (to, corner)."""
    arm = abs(to) * full
    sign = 1.0 if to > 0 else -1.0
    return (
        ("C", -sign * arm, middle, -sign * arm * 0.5, middle, 0.0, middle),
        ("C", sign * arm * 0.5, middle, sign * arm, middle, to, corner),
    )


def _inside(width: float, corner: float, upper: float, lower: float, full: float) -> Path:
    return (("M", -width, corner), *_curve(width, corner, upper, full), *_curve(-width, corner, lower, full), ("Z",))


def _upper_rim(width: float, corner: float, inner: float, thick: float) -> Path:
    """The upper edge of the lips from corner to corner: two peaks and a dip between them."""
    peak, dip = inner - thick, inner - thick * 0.76
    reach = width * 0.30
    return (
        ("M", -width, corner),
        ("C", -width * 0.78, peak + thick * 0.42, -reach * 1.7, peak, -reach, peak),
        ("C", -reach * 0.55, peak, -reach * 0.35, dip, 0.0, dip),
        ("C", reach * 0.35, dip, reach * 0.55, peak, reach, peak),
        ("C", reach * 1.7, peak, width * 0.78, peak + thick * 0.42, width, corner),
    )


def _lower_rim(width: float, corner: float, lowest: float) -> Path:
    """The lower edge, back from the right corner to the left one, which closes the outline."""
    return (
        ("C", width * 0.84, lowest * 0.74, width * 0.46, lowest, 0.0, lowest),
        ("C", -width * 0.46, lowest, -width * 0.84, lowest * 0.74, -width, corner),
        ("Z",),
    )


def _within(pose: Pose, width: float, inside: Path, upper: float, lower: float, gap: float) -> list[Shape]:
    """Tongue and teeth, cut off by the lips."""
    shapes = []
    if pose.tongue > 0:
        top = lower - gap * (0.35 + 0.45 * pose.tongue)
        tip = ellipse(0.0, top + gap * 0.42, width * 0.42, gap * 0.42)
        shapes.append(Shape("tongue", tip, inside))
    elif gap > 0.2:
        shapes.append(Shape("tongue", ellipse(0.0, lower + 0.04, width * 0.55, gap * 0.30), inside))
    if pose.teeth > 0:
        edge = upper + min(gap * 0.55, 0.10 + 0.14 * pose.teeth)
        shapes.append(Shape("teeth", _plate(width, upper - 0.1, edge), inside))
    if pose.teeth > 0.6:
        shapes.append(Shape("teeth", _plate(width * 0.9, lower - gap * 0.36, lower + 0.1), inside))
        shapes.append(Shape("line", (("M", -width, edge), ("L", width, edge)), inside, stroke=0.02))
    return shapes


def _biting_teeth(pose: Pose, width: float, upper: float) -> list[Shape]:
    bottom = upper + 0.06 + 0.09 * pose.bite
    return [
        Shape("teeth", _plate(width * 0.46, upper - 0.03, bottom)),
        Shape("line", (("M", 0.0, upper), ("L", 0.0, bottom - 0.03)), stroke=0.012, alpha=0.5),
    ]


def _plate(half: float, top: float, bottom: float) -> Path:
    """A row of teeth: straight above, rounded below."""
    soft = min(0.06, (bottom - top) / 2)
    return (
        ("M", -half, top),
        ("L", half, top),
        ("L", half, bottom - soft),
        ("C", half, bottom, half - soft, bottom, half - 2 * soft, bottom),
        ("L", -half + 2 * soft, bottom),
        ("C", -half + soft, bottom, -half, bottom, -half, bottom - soft),
        ("Z",),
    )
