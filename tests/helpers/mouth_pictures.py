"""Mouths as plain pictures, for whatever looks at them: an ellipse with lips, teeth and tongue on a clear canvas."""

import numpy as np

WIDTH, HEIGHT = 240, 188
INK, INSIDE, TEETH, TONGUE, SKIN = (40, 10, 10), (90, 20, 30), (250, 250, 240), (215, 90, 100), (226, 178, 142)


def blank(color=(0, 0, 0), alpha=0):
    picture = np.zeros((HEIGHT, WIDTH, 4), np.uint8)
    picture[..., :3], picture[..., 3] = color, alpha
    return picture


def mouth(wide, high, *, teeth=0.0, tongue=False, on=None):
    """wide, high: pixels. teeth: share of the height from above that they fill. on: what it is drawn upon."""
    picture = blank() if on is None else on.copy()
    ys, xs = np.mgrid[:HEIGHT, :WIDTH]
    x, y = xs - WIDTH / 2, ys - HEIGHT / 2
    outer = (x / (wide / 2)) ** 2 + (y / max(high / 2, 2)) ** 2 <= 1
    inner = (x / (wide / 2 - 3)) ** 2 + (y / max(high / 2 - 3, 0.5)) ** 2 <= 1
    _put(picture, outer, INK)
    if high > 8:
        _put(picture, inner, INSIDE)
        _put(picture, inner & (y < -high / 2 + teeth * high), TEETH)
        if tongue:
            _put(picture, inner & (abs(x) < wide * 0.3) & (y > -high / 2 + 0.25 * high), TONGUE)
    return picture


def face(*, with_mouth=False):
    """An oval of skin, larger than any mouth, with eyes; with_mouth: a line where mouths lie."""
    picture = blank()
    ys, xs = np.mgrid[:HEIGHT, :WIDTH]
    x, y = xs - WIDTH / 2, ys - HEIGHT / 2
    _put(picture, (x / 110) ** 2 + (y / 86) ** 2 <= 1, SKIN)
    for side in (-40, 40):
        _put(picture, (x - side) ** 2 + (y + 50) ** 2 <= 60, (20, 20, 20))
    if with_mouth:
        _put(picture, (abs(x) < 30) & (abs(y) < 2), INK)
    return picture


def _put(picture, where, color):
    picture[where] = (*color, 255)
