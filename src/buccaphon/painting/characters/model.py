"""A 3D head on show: posed by the mouths that fade into each other, its jaw dropped, turned and plainly lit."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

import numpy as np
from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QImage, QPainter

from buccaphon.arrays import Doubles
from buccaphon.kits.kit import Kit, Model
from buccaphon.kits.model.head import Head, Points
from buccaphon.kits.model.playing import jaw_of, played
from buccaphon.kits.model.skeleton import Jaw, turn
from buccaphon.kits.model.solving import Solver
from buccaphon.mouths.chart import Chart, Mouth
from buccaphon.painting.characters.character import Moment, PaintPlainly
from buccaphon.painting.characters.light import Renderer, View, renderer_of

_SIDE = 1000.0  # of its picture, in pixels of its own
_FIGURE = 0.6
_AROUND_FACE = 2.3  # times what the shapes move is shown of a larger figure
_AROUND_MOUTH = 1.05
_MARGIN = 1.1


class ModelCharacter:
    """Solved once for each mouth of the chart; frames blend the solutions by the mouths' shares."""

    def __init__(self, head: Head, renderer: Renderer | None = None) -> None:
        self._head, self._renderer = head, renderer or renderer_of(head)
        self.told, self.own = head.told, head.shapes
        self._look, self.jaw = Model(), head.jaw
        self._weights: Mapping[str, Mapping[str, float]] = {}
        self._solver: Solver | None = None
        self._drops: Mapping[str, float] | None = None
        self._solved_for: object = None
        rest = head.pose({})
        self._frame = _face_of(head, rest)
        self._mouth = self._frame
        self._drawn: tuple[object, QImage] | None = None

    def play(self, kit: Kit, chart: Chart) -> None:
        assert isinstance(kit.look, Model)
        self._look = kit.look
        self.jaw = jaw_of(self._head, kit.look)
        wanted = (kit.shows, kit.names, kit.weights, chart, self.jaw is not None)
        if wanted == self._solved_for:
            return
        self._solved_for = wanted
        found = played(self._head, kit, chart)
        self._weights, self._solver, self._drops = found.weights, found.solver, found.drops
        self._mouth = _mouth_of(self._head, found.solver, self._frame)

    @property
    def nodes(self) -> tuple[str, ...]:
        """The names of its nodes, among which the jaw can be chosen."""
        return self._head.skeleton.names

    @property
    def found_jaw(self) -> Jaw | None:
        """The automatic jaw."""
        return self._head.jaw

    def size(self) -> tuple[float, float]:
        return _SIDE, _SIDE

    def jaw_line(self) -> tuple[tuple[float, float], tuple[float, float]] | None:
        """Where the jaw's axis lies in its picture: the pivot, and a place along the axis; None without one."""
        if self.jaw is None:
            return None
        world = self._head.skeleton.world(self.jaw.node)
        _, radius = self._frame
        along = world[:3, :3] @ np.array(self.jaw.axis)
        end = world[:3, 3] + 0.5 * radius * along / max(float(np.linalg.norm(along)), 1e-9)
        view = _view(self._frame, self._look, back=self._head.looks_back)

        def seen(point: Doubles) -> tuple[float, float]:
            x, y, _ = view[:3, :3] @ point + view[:3, 3]
            return _SIDE * (1 + float(x)) / 2, _SIDE * (1 - float(y)) / 2

        return seen(world[:3, 3]), seen(end)

    def draws(self, mouth: str) -> bool:
        return bool(self._weights.get(mouth)) or self.jaw is not None or self._solver is not None

    def weights_at(self, moment: Moment) -> dict[str, float]:
        """The weights of the shapes at a moment: those of the mouths by their shares."""
        shares = moment.shares or ((moment.mouth, 1.0),)
        found: dict[str, float] = {}
        for mouth, share in shares:
            for name, weight in self._weights.get(mouth, {}).items():
                found[name] = found.get(name, 0.0) + share * weight
        for name, (value, unit) in moment.own.items():
            if name in self.own:
                found[name] = value / 100 if unit == "%" else value
        return found

    def _jaw_at(self, moment: Moment) -> float:
        """How far the jaw is down: as the mouths have it that are there in full, else as its own curve says."""
        if self._drops is None or not moment.shares:
            return moment.jaw
        return sum(share * self._drops.get(mouth, 0.0) for mouth, share in moment.shares)

    def paint(self, painter: QPainter, box: QRectF, moment: Moment, plain: PaintPlainly) -> None:
        del plain
        device = painter.device()
        ratio = device.devicePixelRatioF() if device is not None else 1.0
        width, height = max(round(box.width() * ratio), 1), max(round(box.height() * ratio), 1)
        jaw = self._jaw_at(moment)
        key = (moment, self._look, width, height, id(self._solver))
        if self._drawn is None or self._drawn[0] != key:
            look = self._look
            image = self._render(self.weights_at(moment), jaw, self._frame, look, width, height, finer=moment.still)
            self._drawn = (key, image)
        painter.drawImage(box, self._drawn[1])

    def mouth_image(self, mouth: Mouth, width: int, height: int, plain: PaintPlainly) -> QImage:
        del plain
        front = replace(self._look, yaw=0.0, pitch=0.0, zoom=1.0)
        weights = self._weights.get(mouth.name, {})
        return self._render(weights, mouth.pose.jaw, self._mouth, front, width, height, finer=True)

    def _render(
        self,
        weights: Mapping[str, float],
        jaw: float,
        frame: _Frame,
        look: Model,
        width: int,
        height: int,
        *,
        finer: bool,
    ) -> QImage:
        over = self._head.drop(jaw * look.jaw_degrees, self.jaw)
        points = self._head.pose(weights, over)
        view = _view(frame, look, back=self._head.looks_back)
        return self._renderer.draw(points, view, width, height, finer=finer)


_Frame = tuple[tuple[float, float, float], float]  # the middle of what is shown, and half its size


def _view(frame: _Frame, look: Model, *, back: bool) -> View:
    middle, radius = frame
    turned = turn((1.0, 0.0, 0.0), look.pitch) @ turn((0.0, 1.0, 0.0), look.yaw + (180.0 if back else 0.0))
    moved = np.eye(4)
    moved[:3, 3] = [-value for value in middle]
    grown = np.diag([look.zoom / max(radius, 1e-9)] * 3 + [1.0])
    return np.asarray(grown @ turned @ moved, np.float32)


def _box(points: Points) -> _Frame:
    low, high = points.min(axis=0), points.max(axis=0)
    middle = (low + high) / 2
    return (float(middle[0]), float(middle[1]), float(middle[2])), float((high - low).max()) / 2


def _face_of(head: Head, rest: list[Points]) -> _Frame:
    """All of a head; of a whole figure what its shapes move, and as much again around that."""
    middle, radius = _box(np.concatenate(rest))
    moved = [
        points[head.strongly_moved(part, target)]
        for part, points in zip(head.parts, rest, strict=True)
        for target in range(len(part.moved))
    ]
    if sum(map(len, moved)):
        face, small = _box(np.concatenate(moved))
        if small * _AROUND_FACE < _FIGURE * radius:  # a whole figure, and not a head
            return face, small * _AROUND_FACE
    return middle, radius * _MARGIN


def _mouth_of(head: Head, solver: Solver, face: _Frame) -> _Frame:
    """What the mouth's shapes move; the face where nothing is known."""
    binds = {(node, target) for name in solver.shapes for node, target, _ in head.binds.get(name, ())}
    moved = []
    for part, points in zip(head.parts, head.pose({}), strict=True):
        for number, name in enumerate(part.targets):
            if (name in solver.shapes or (part.node, number) in binds) and len(part.moved[number]):
                moved.append(points[head.strongly_moved(part, number)])
    if not moved:
        return face
    middle, radius = _box(np.concatenate(moved))
    return middle, radius * _AROUND_MOUTH
