"""How mouths look in their pictures: measured for drawings whose names say nothing.

The ground is what most drawings of the list have in common; a mouth is what differs from it. Lengths are relative to the
widest and the tallest mouth of the list, so that a mouth is judged beside its neighbours and not by its pixels.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from buccaphon.arrays import Bools, Floats
from buccaphon.mouths.pose import Pose
from buccaphon.numerics import scipy_part

Pixels = npt.NDArray[np.uint8]
"""(height, width, 4): red, green, blue, alpha, 0..255, not multiplied."""

OPAQUE = 127  # alpha from which a pixel covers what is below
_FINE = 360  # pixels: as large as mouths are looked at; full drawings took half a minute
_COARSE = 400  # pixels: as large as the whole is looked at, to find where drawings differ
_DIFFERS = 30  # levels of a colour between two drawings
_MARKED = 36  # levels from the ground
_LIKE_LIPS = 36  # levels from the colour of the lips
_SAME_LIPS, _SAME_SHARE = 45, 0.7  # levels, and the share of the mouths whose rim has that colour
_LIP_DARK, _LIP_LIGHT = 120, 200  # a rim is lips when its brightest colour is above, its darkest below
_RIM = (4, 7)  # pixels within the outline: deeper than a line is drawn
_SMALL_MARK = 0.15  # of the largest mark; smaller ones are dust
_FLAT_RANGE, _FLAT_LIGHT = 60, 0.42  # levels; share of light inside: lines on paper
_TEETH = 0.75  # of the way from the inside's usual tone to the lightest
_TONGUE = (0.2, 0.75)
_MIDDLE_ROWS = (0.3, 0.58)  # of the inside's height, where a raised tongue is seen
_SHUT, _BITE = 0.11, 0.19  # of the tallest
_BITE_WIDTH = (0.45, 0.8)  # of the widest
_ROUND = (0.64, 0.34)  # of the widest: from here down, and over so much
_SPREAD = (0.70, 0.28)
_THIN_LIGHT = 0.25  # share of light in a thin mouth that is teeth on the lip


@dataclass
class _Measured:
    """width, height: in pixels, then as shares of the widest. light: share of the inside as light as teeth. high: of its
    middle rows as bright as a tongue."""

    width: float = 0.0
    height: float = 0.0
    light: float = 0.0
    high: float = 0.0


def cover(picture: Pixels) -> float:
    """The share of the canvas that a picture covers, 0..1."""
    return float((picture[..., 3] > OPAQUE).mean())


def looks_of(pictures: Sequence[Pixels]) -> list[Pose]:
    """How each mouth looks. pictures: of the same size, on one canvas; a list of one is judged alone."""
    if not pictures:
        return []
    stack = np.stack([_on_grey(each) for each in _where_they_differ(pictures)]).astype(np.float32)
    ground = _ground(stack)
    masks = [_drawn(np.abs(image - ground).max(axis=2) > _MARKED) for image in stack]
    lips = _lip_colour(stack, masks)
    insides = [_inside(image, mask, lips) for image, mask in zip(stack, masks, strict=True)]
    shades = [image.mean(axis=2)[inside] for image, inside in zip(stack, insides, strict=True) if inside.sum() > 20]
    tones = _tones(shades)
    found = [
        _measured(i.mean(axis=2), inside, mask, tones) for i, inside, mask in zip(stack, insides, masks, strict=True)
    ]
    widest = max(each.width for each in found) or 1.0
    for each in found:
        each.width /= widest
        each.height /= widest
    tallest = max(each.height for each in found) or 1.0
    return [_pose(each, each.height / tallest, in_lines=tones is None) for each in found]


def has_mouth(face: Pixels, mouths: Sequence[Pixels]) -> bool:
    """Whether a face has a mouth of its own: a line or more is drawn across it where the mouths lie."""
    solid: Bools = np.any([mouth[..., 3] > OPAQUE // 2 for mouth in mouths], axis=0)
    if solid.shape != face.shape[:2] or solid.mean() > 0.5 or not solid.any():
        return False
    ys, xs = np.nonzero(solid)
    high, wide = int(np.ptp(ys)), int(np.ptp(xs))  # its middle: eyes and the rim of the face may reach into the box
    rows = slice(ys.min() + high // 6, ys.max() - high // 6)
    there = face[rows, xs.min() + wide // 6 : xs.max() - wide // 6]
    if not there.size or (there[..., 3] <= OPAQUE).mean() > 0.3:
        return False
    colours = there[..., :3].astype(np.float32)
    other = np.abs(colours - np.median(colours, axis=(0, 1))).max(axis=2) > 40
    return bool(other.mean() > 0.004 and other.any(axis=0).mean() > 0.25)  # across: no dot, no rim of a shadow


# --- where to look ----------------------------------------------------------------------------------------------------


def _where_they_differ(pictures: Sequence[Pixels]) -> list[Pixels]:
    """Cut to where the drawings differ, and no larger than is needed."""
    if len(pictures) < 2:
        return list(pictures)
    step = max(1, max(pictures[0].shape[:2]) // _COARSE)
    few = np.stack([each[::step, ::step] for each in pictures]).astype(np.int16)
    ys, xs = np.nonzero((few.max(axis=0) - few.min(axis=0)).max(axis=2) > _DIFFERS)
    if not len(ys):
        return list(pictures)
    margin = int(max(np.ptp(ys), np.ptp(xs))) // 8 + 2
    rows = slice(max(int(ys.min()) - margin, 0) * step, (int(ys.max()) + margin) * step)
    columns = slice(max(int(xs.min()) - margin, 0) * step, (int(xs.max()) + margin) * step)
    cut = [each[rows, columns] for each in pictures]
    by = -(-max(cut[0].shape[:2]) // _FINE)
    if by <= 1:
        return cut
    high, wide = cut[0].shape[0] // by, cut[0].shape[1] // by
    return [_smaller(each, high, wide, by) for each in cut]


def _smaller(picture: Pixels, high: int, wide: int, by: int) -> Pixels:
    blocks = picture[: high * by, : wide * by].reshape(high, by, wide, by, 4)
    found: Pixels = blocks.mean(axis=(1, 3)).astype(np.uint8)
    return found


def _on_grey(picture: Pixels) -> Floats:
    alpha = picture[..., 3:4].astype(np.float32) / 255
    found: Floats = (picture[..., :3] * alpha + 128.0 * (1 - alpha)).astype(np.float32)
    return found


def _ground(stack: Floats) -> Floats:
    """What lies behind the mouths: the median of each pixel; within the box of all that changes the colour of its rim."""
    ground: Floats = np.median(stack, axis=0).astype(np.float32)
    ys, xs = np.nonzero(np.abs(stack - ground).max(axis=(0, 3)) > _DIFFERS)
    if not len(ys):
        return ground
    margin = max(2, int(xs.max() - xs.min()) // 20)
    top, bottom = max(int(ys.min()) - margin, 0), min(int(ys.max()) + margin, stack.shape[1] - 1)
    left, right = max(int(xs.min()) - margin, 0), min(int(xs.max()) + margin, stack.shape[2] - 1)
    across, down = slice(left, right), slice(top, bottom)
    rim = np.concatenate([ground[top, across], ground[bottom, across], ground[down, left], ground[down, right]])
    ground[top : bottom + 1, left : right + 1] = np.median(rim, axis=0)
    return ground


def _drawn(marks: Bools) -> Bools:
    """All that is drawn of a mouth, with what it encloses; dust beside it left out."""
    ndimage = scipy_part("ndimage")
    closed = ndimage.binary_closing(np.pad(marks, 3), iterations=1)
    filled: Bools = ndimage.binary_fill_holes(closed)[3:-3, 3:-3]
    labels, many = ndimage.label(filled)
    if many:
        sizes = ndimage.sum_labels(filled, labels, range(1, many + 1))
        filled &= np.isin(labels, 1 + np.flatnonzero(sizes >= _SMALL_MARK * sizes.max()))
    return filled


# --- lips, teeth and tongue -------------------------------------------------------------------------------------------


def _lip_colour(stack: Floats, masks: list[Bools]) -> Floats | None:
    """The colour of painted lips: that of most rims, where it is neither a dark line nor paper."""
    ndimage = scipy_part("ndimage")
    rims = []
    for image, mask in zip(stack, masks, strict=True):
        if mask.any():
            outer, inner = (ndimage.binary_erosion(mask, iterations=deep) for deep in _RIM)
            rim = outer & ~inner
            rims.append(np.median(image[rim], axis=0) if rim.any() else np.zeros(3))
    if not rims:
        return None
    usual: Floats = np.median(rims, axis=0).astype(np.float32)
    same = np.mean([np.abs(rim - usual).max() < _SAME_LIPS for rim in rims])
    is_lips = same >= _SAME_SHARE and usual.max() >= _LIP_DARK and usual.min() < _LIP_LIGHT
    return usual if is_lips else None


def _inside(image: Floats, mask: Bools, lips: Floats | None) -> Bools:
    """What is between the lips: all but what has their colour and reaches the rim (a tongue of that colour does not)."""
    if lips is None:
        return mask
    ndimage = scipy_part("ndimage")
    like_lips = mask & (np.abs(image - lips).max(axis=2) < _LIKE_LIPS)
    labels, _many = ndimage.label(like_lips | ~mask)
    outside = labels == labels[0, 0] if not mask[0, 0] else ~mask
    found: Bools = ndimage.binary_opening(mask & ~outside, iterations=1)
    return found


def _tones(shades: list[Floats]) -> tuple[float, float] | None:
    """The usual dark and the lightest of the insides; None for lines on paper, in which neither teeth nor tongue are told."""
    every = np.concatenate(shades) if shades else np.zeros(1, np.float32)
    least, light = np.percentile(every, 3), np.percentile(every, 99.5)
    below = every[every <= 0.5 * (least + light)]  # the inside, not the lines
    dark = float(np.median(below)) if len(every) > 1 and len(below) else 0.0
    if not shades or light - dark < _FLAT_RANGE:
        return None
    share = np.median([(each > dark + _TEETH * (light - dark)).mean() for each in shades])
    return None if share > _FLAT_LIGHT else (dark, float(light))


def _measured(grey: Floats, inside: Bools, mask: Bools, tones: tuple[float, float] | None) -> _Measured:
    found = _Measured()
    _ys, xs = np.nonzero(mask)
    if not len(xs):
        return found
    first, last = int(xs.min()), int(xs.max())
    found.width = float(last - first + 1)
    left, right = first + (last - first) // 3, last - (last - first) // 3 + 1
    found.height = float(np.median(inside[:, left:right].sum(axis=0)))
    core = scipy_part("ndimage").binary_erosion(inside, iterations=max(1, round(0.02 * found.width)))
    rows, columns = np.nonzero(core)
    if tones is None or len(rows) < 12:
        return found
    dark, light = tones
    level = (grey[core] - dark) / (light - dark)
    found.light = float((level > _TEETH).mean())
    top, high = rows.min(), np.ptp(rows)
    among = (rows > top + _MIDDLE_ROWS[0] * high) & (rows < top + _MIDDLE_ROWS[1] * high)
    among &= (columns > left) & (columns < right)
    if among.sum() > 5:
        found.high = float(((level > _TONGUE[0]) & (level <= _TONGUE[1]))[among].mean())
    return found


def _pose(seen: _Measured, opening: float, *, in_lines: bool) -> Pose:
    if opening < _SHUT:  # a thin light line between the lips is teeth on the lower one
        if seen.light < _THIN_LIGHT:
            return Pose(spread=0.1, press=1.0)
        return Pose(jaw=0.08, spread=0.1, bite=1.0, teeth=0.6)
    return Pose(
        jaw=float(np.clip(opening, 0.06, 1)),
        spread=float(np.clip((seen.width - _SPREAD[0]) / _SPREAD[1], 0, 1)),
        round=float(np.clip((_ROUND[0] - seen.width) / _ROUND[1], 0, 1)),
        bite=1.0 if opening < _BITE and _BITE_WIDTH[0] < seen.width < _BITE_WIDTH[1] else 0.0,
        tongue=1.0 if seen.high > 0.5 and opening < 0.7 and seen.light < 0.5 else 0.0,
        teeth=0.4 if in_lines else float(np.clip(seen.light * 1.7, 0, 1)),
    )
