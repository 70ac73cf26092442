"""What can be dragged on a character: points of its picture, each with the kit that a drag makes. Without widgets."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from enum import Enum, auto

from buccaphon.kits.kit import CutOut, Drawn, Kit, Move, Moving, Part, Point
from buccaphon.texts import _

_LEAST_APART = 1e-3
_SHARP = 50.0  # degrees: a turn of the hand that is a corner


class Mark(Enum):
    """How a handle is drawn."""

    POINT = auto()
    MIDDLE = auto()
    CORNER = auto()
    PIVOT = auto()
    END = auto()


@dataclass(frozen=True, slots=True)
class Handle:
    """at: in the kit's pixels. says: what dragging it does, for people. drag: the kit after it was dragged somewhere. remove:
    the kit without it; None where it cannot go. turn: the kit in which a smooth point is a corner, or a corner smooth."""

    at: Point
    mark: Mark
    says: str
    drag: Callable[[Kit, Point], Kit]
    remove: Callable[[Kit], Kit] | None = None
    turn: Callable[[Kit], Kit] | None = None


@dataclass(frozen=True, slots=True)
class Curve:
    """A line on the picture. add: the kit with one more point on it."""

    points: tuple[Point, ...]
    closed: bool
    add: Callable[[Kit, Point], Kit]


def handles_of(kit: Kit, mouths: tuple[float, float, float, float], part: int | None = None) -> list[Handle]:
    """mouths: left, top, width, height of where the mouths are, in the kit's pixels. part: the one of a cut-out's parts that
    is worked on; None for the lip line and its piece."""
    if isinstance(kit.look, Drawn):
        return _of_drawn(mouths)
    if isinstance(kit.look, CutOut):
        return _of_cut_out(kit.look) if part is None else _of_part(kit.look, part)
    return []


def curves_of(kit: Kit, part: int | None = None) -> list[Curve]:
    """The lines that are drawn over a cut-out."""
    look = kit.look
    if not isinstance(look, CutOut):
        return []
    if part is not None:
        outline = look.parts[part].outline if part < len(look.parts) else ()
        return [Curve(outline, True, lambda kit, at: _with_outline(kit, part, inserted(outline, at, closed=True)))]
    found = [Curve(look.lip_line, False, lambda kit, at: _cut(kit, lip_line=inserted(look.lip_line, at)))]
    if look.chin:
        found.append(Curve(look.chin, False, lambda kit, at: _cut(kit, chin=inserted(look.chin, at))))
    return found


# --- drawn ------------------------------------------------------------------------------------------------------------


def _of_drawn(mouths: tuple[float, float, float, float]) -> list[Handle]:
    left, top, width, height = mouths
    middle, corner = (left + width / 2, top + height / 2), (left + width, top + height)

    def move(kit: Kit, to: Point) -> Kit:
        assert isinstance(kit.look, Drawn)
        place = kit.look.place
        moved = replace(place, x=place.x + to[0] - middle[0], y=place.y + to[1] - middle[1])
        return replace(kit, look=replace(kit.look, place=moved))

    def grow(kit: Kit, to: Point) -> Kit:
        assert isinstance(kit.look, Drawn)
        place, before = kit.look.place, max(math.dist(middle, corner), _LEAST_APART)
        scale = min(max(place.scale * math.dist(middle, to) / before, 0.02), 50.0)
        return replace(kit, look=replace(kit.look, place=replace(place, scale=scale)))

    return [
        Handle(middle, Mark.MIDDLE, _("Drag to move the mouths"), move),
        Handle(corner, Mark.CORNER, _("Drag to make the mouths larger or smaller"), grow),
    ]


# --- cut-out ----------------------------------------------------------------------------------------------------------


def _of_cut_out(look: CutOut) -> list[Handle]:
    found = [
        *_points(look.lip_line, "lip_line", _("The lip line")),
        *_points(look.chin, "chin", _("Lower edge of the piece")),
    ]
    if len(look.lip_line) < 2:
        return found
    return [*found, *_of_move(look.move, _middle(look.lip_line), lambda kit, move: _cut(kit, move=move))]


Put = Callable[[Kit, tuple[Point, ...]], Kit]


def _points(points: tuple[Point, ...], name: str, says: str) -> list[Handle]:
    return _of_line(points, says, lambda kit, line: _cut(kit, **{name: line}), least=2 if name == "lip_line" else 0)


def _of_line(points: tuple[Point, ...], says: str, put: Put, *, least: int) -> list[Handle]:
    """A handle for each point of a line; a corner, which stands twice in it, has one. least: points that must stay."""
    places = [number for number in range(len(points)) if number == 0 or points[number] != points[number - 1]]
    return [_at(points, number, says, put, can_go=len(places) > least) for number in places]


def _at(points: tuple[Point, ...], number: int, says: str, put: Put, *, can_go: bool) -> Handle:
    count = 2 if points[number + 1 : number + 2] == points[number : number + 1] else 1
    before, point, after = points[:number], points[number], points[number + count :]

    def drag(kit: Kit, to: Point) -> Kit:
        return put(kit, (*before, *[to] * count, *after))

    def remove(kit: Kit) -> Kit:
        return put(kit, (*before, *after))

    def turn(kit: Kit) -> Kit:
        return put(kit, (*before, *[point] * (3 - count), *after))

    mark = Mark.CORNER if count == 2 else Mark.POINT
    return Handle(point, mark, says, drag, remove if can_go else None, turn)


def _of_part(look: CutOut, number: int) -> list[Handle]:
    if number >= len(look.parts):
        return []
    part = look.parts[number]
    says = _("Outline of {name}", name=part.name)
    found = _of_line(part.outline, says, lambda kit, line: _with_outline(kit, number, line), least=3)
    if not part.outline:
        return found
    moves = _of_move(
        part.move, _middle(part.outline), lambda kit, move: with_part(kit, number, replace(part, move=move))
    )
    return [*found, *moves]


def _of_move(move: Move, middle: Point, put: Callable[[Kit, Move], Kit]) -> list[Handle]:
    """Where a piece goes to at a dropped jaw: the end of its way; or its pivot, and how far it turns."""
    if move.moving is Moving.SLIDES:
        end = middle[0] + move.x, middle[1] + move.y

        def slide(kit: Kit, to: Point) -> Kit:
            return put(kit, replace(move, x=to[0] - middle[0], y=to[1] - middle[1]))

        return [Handle(end, Mark.END, _("Drag to its position with the jaw fully open"), slide)]
    pivot = move.pivot
    way = math.atan2(middle[1] - pivot[1], middle[0] - pivot[0])
    reach = max(math.dist(middle, pivot), 1.0)
    turned = way + math.radians(move.degrees)

    def turn(kit: Kit, to: Point) -> Kit:
        degrees = math.degrees(math.atan2(to[1] - pivot[1], to[0] - pivot[0]) - way)
        return put(kit, replace(move, degrees=(degrees + 180) % 360 - 180))

    def shift(kit: Kit, to: Point) -> Kit:
        return put(kit, replace(move, pivot=to))

    return [
        Handle(pivot, Mark.PIVOT, _("Drag the pivot"), shift),
        Handle(
            (pivot[0] + reach * math.cos(turned), pivot[1] + reach * math.sin(turned)),
            Mark.END,
            _("Drag to its angle with the jaw fully open"),
            turn,
        ),
    ]


# --- making -----------------------------------------------------------------------------------------------------------


def inserted(points: Sequence[Point], at: Point, *, closed: bool = False) -> tuple[Point, ...]:
    """The points with one more where it makes the line longest the least."""
    count = len(points)
    if count < 2:
        return (*points, at)

    def detour(k: int) -> float:
        a, b = points[k], points[(k + 1) % count]
        return math.dist(a, at) + math.dist(at, b) - math.dist(a, b)

    ways = [(detour(k), k + 1) for k in range(count if closed else count - 1)]
    if not closed:  # or beyond an end
        ways += [(math.dist(points[0], at), 0), (math.dist(points[-1], at), count)]
    where = min(ways)[1]
    return (*points[:where], at, *points[where:])


def simplified(points: Sequence[Point], tolerance: float) -> tuple[Point, ...]:
    """A drawn line with as few of its points as keep it within a distance (Ramer 1972; Douglas and Peucker 1973)."""
    if len(points) < 3:
        return tuple(points)
    first, last = points[0], points[-1]
    along = max(math.dist(first, last), _LEAST_APART)

    def away(p: Point) -> float:
        cross = (last[0] - first[0]) * (p[1] - first[1]) - (last[1] - first[1]) * (p[0] - first[0])
        return abs(cross) / along if along > _LEAST_APART else math.dist(first, p)

    far, where = max((away(p), k) for k, p in enumerate(points[1:-1], 1))
    if far <= tolerance:
        return first, last
    return (*simplified(points[: where + 1], tolerance)[:-1], *simplified(points[where:], tolerance))


def with_corners(line: Sequence[Point], kept: Sequence[Point], tolerance: float) -> tuple[Point, ...]:
    """Points that were kept of a drawn line, those twice where the hand turned sharply: sides that were drawn straight stay
    so. A circle of three times the tolerance or more has none."""
    found: list[Point] = []
    for point in kept:
        beside = [n for n, each in enumerate(line) if math.dist(each, point) < 2 * tolerance]
        turns = {n: _turn_at(line, n, tolerance) for n in beside}
        sharpest = max(beside, key=turns.__getitem__)
        found += [line[sharpest]] * 2 if turns[sharpest] > _SHARP else [point]
    return tuple(found)


def _turn_at(line: Sequence[Point], number: int, tolerance: float) -> float:
    """By how many degrees a drawn line turns about one of its points, seen from a few tolerances away; 0 at its ends."""
    point = line[number]
    before = next((each for each in reversed(line[:number]) if math.dist(each, point) >= 3 * tolerance), None)
    after = next((each for each in line[number + 1 :] if math.dist(each, point) >= 3 * tolerance), None)
    return 0.0 if before is None or after is None else _turned(before, point, after)


def _turned(before: Point, at: Point, after: Point) -> float:
    """By how many degrees a line turns at a point, 0..180."""
    first = math.atan2(at[1] - before[1], at[0] - before[0])
    second = math.atan2(after[1] - at[1], after[0] - at[0])
    return abs((math.degrees(second - first) + 180) % 360 - 180)


def with_part(kit: Kit, number: int, part: Part) -> Kit:
    assert isinstance(kit.look, CutOut)
    parts = list(kit.look.parts)
    parts[number : number + 1] = [part]
    return _cut(kit, parts=tuple(parts))


def _with_outline(kit: Kit, number: int, outline: tuple[Point, ...]) -> Kit:
    assert isinstance(kit.look, CutOut)
    return with_part(kit, number, replace(kit.look.parts[number], outline=outline))


def _cut(kit: Kit, **changes: object) -> Kit:
    assert isinstance(kit.look, CutOut)
    return replace(kit, look=replace(kit.look, **changes))  # type: ignore[arg-type]  # as the fields are


def _middle(points: Sequence[Point]) -> Point:
    return sum(x for x, _ in points) / len(points), sum(y for _, y in points) / len(points)
