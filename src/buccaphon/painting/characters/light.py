"""Triangles as pixels: by OpenGL without a screen (EGL), or where there is none by Qt's painter.

OpenGL's context belongs to one thread, which is kept for it; whoever wants a picture waits for it there.
"""

from __future__ import annotations

import logging
import threading
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from typing import Any, Protocol, TypeVar

import numpy as np
import numpy.typing as npt
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QColor, QImage, QPolygonF

from buccaphon.kits.model.head import Head, Points
from buccaphon.painting.artwork.pixels import painted

View = npt.NDArray[
    np.float32
]  # (4, 4): so that the square that is shown goes from -1 to 1; x to the right, y up, z to us
Result = TypeVar("Result")

_LIGHT = (0.3, 0.5, 0.81)
_AMBIENT = 0.38
_MOST_PAINTED = 900  # triangles that the painter is given while something moves
_VERTEX = """
#version 330
in vec3 at; uniform mat4 view; uniform vec2 shape; out vec3 seen;
void main() {
    seen = (view * vec4(at, 1.0)).xyz;
    gl_Position = vec4(seen.x * shape.x, -seen.y * shape.y, -seen.z / 64.0, 1.0);
}
"""
_FRAGMENT = """
#version 330
in vec3 seen; uniform vec3 color; uniform vec3 light; uniform float ambient; out vec4 ink;
void main() {
    vec3 n = normalize(cross(dFdx(seen) , dFdy(seen)));
    n *= sign(n.z);
    float shade = clamp(ambient + (1.0 - ambient) * dot(n, light), 0.0, 1.0);
    ink = vec4(color * shade, 1.0);
}
"""


class Renderer(Protocol):
    """Draws a head's points; `finer` takes longer."""

    def draw(self, points: Sequence[Points], view: View, width: int, height: int, *, finer: bool) -> QImage: ...


def renderer_of(head: Head) -> Renderer:
    """The best that works here."""
    try:
        return _OpenGl(head)
    except Exception as problem:  # drivers fail in many ways, and each kind of theirs is an own class
        _log.warning("models are drawn without OpenGL, slower and plainer: %s", problem)
        return Polygons(head)


def opengl_name() -> str:
    """What draws models here: vendor and renderer of OpenGL, or why it is not used."""
    try:
        info = _there(lambda: _the_context().info)
    except Exception as problem:
        return f"without OpenGL ({problem})"
    return f"OpenGL, {info['GL_VENDOR']}, {info['GL_RENDERER']}"


# --- OpenGL -----------------------------------------------------------------------------------------------------------

_log = logging.getLogger("buccaphon.painting.characters")
_thread = ThreadPoolExecutor(1, thread_name_prefix="light")
_lock = threading.Lock()
_context: Any = None


def _there(work: Callable[[], Result]) -> Result:
    """Do something in OpenGL's thread, and wait for it."""
    return _thread.submit(work).result()


def _the_context() -> Any:
    global _context  # noqa: PLW0603  (one for the process, in its one thread)
    import moderngl  # noqa: PLC0415  (slow, and rarely needed)

    if _context is None:
        _context = moderngl.create_context(standalone=True, backend="egl")  # type: ignore[arg-type]  # as its stubs are
        _context.enable(moderngl.DEPTH_TEST)
    return _context


class _OpenGl:
    """No multisampling: without a graphics card it takes three times as long. A still picture is drawn twice as large."""

    def __init__(self, head: Head) -> None:
        self._head = head
        self._size = (0, 0)
        _there(self._set_up)

    def _set_up(self) -> None:
        context = _the_context()
        self._program = context.program(vertex_shader=_VERTEX, fragment_shader=_FRAGMENT)
        self._program["light"], self._program["ambient"] = _LIGHT, _AMBIENT
        self._buffers = []
        for part in self._head.parts:
            points = context.buffer(reserve=max(part.points.nbytes, 12), dynamic=True)
            corners = context.buffer(np.ascontiguousarray(part.triangles).tobytes())
            array = context.vertex_array(self._program, [(points, "3f", "at")], corners)
            self._buffers.append((points, array))

    def draw(self, points: Sequence[Points], view: View, width: int, height: int, *, finer: bool) -> QImage:
        times = 2 if finer else 1
        raw = _there(lambda: self._draw(points, view, times * width, times * height))
        image = QImage(raw, times * width, times * height, 4 * times * width, _FORMAT).copy()
        if times == 1:
            return image
        return image.scaled(width, height, transformMode=Qt.TransformationMode.SmoothTransformation)

    def _draw(self, points: Sequence[Points], view: View, width: int, height: int) -> bytes:
        context = _the_context()
        if self._size != (width, height):
            self._size = (width, height)
            self._target = context.framebuffer(
                [context.renderbuffer((width, height), 4)], context.depth_renderbuffer((width, height))
            )
        self._target.use()
        self._target.clear(0.0, 0.0, 0.0, 0.0)
        least = min(width, height)
        self._program["shape"] = least / width, least / height
        self._program["view"].write(np.ascontiguousarray(view.T).tobytes())
        for part, at, (buffer, array) in zip(self._head.parts, points, self._buffers, strict=True):
            buffer.write(np.ascontiguousarray(at, np.float32).tobytes())
            self._program["color"] = part.color
            array.render()
        raw: bytes = self._target.read(components=4)
        return raw


_FORMAT = QImage.Format.Format_RGBA8888_Premultiplied


# --- the painter ------------------------------------------------------------------------------------------------------


class Polygons:
    """Each triangle as a polygon, those behind first; of many only those that are nearest to the middle are drawn."""

    def __init__(self, head: Head) -> None:
        self._head = head

    def draw(self, points: Sequence[Points], view: View, width: int, height: int, *, finer: bool) -> QImage:
        corners, colors = [], []
        for part, at in zip(self._head.parts, points, strict=True):
            seen = at @ view[:3, :3].T + view[:3, 3]
            triangle = seen[part.triangles]
            across = np.cross(triangle[:, 1] - triangle[:, 0], triangle[:, 2] - triangle[:, 0])
            across /= np.maximum(np.linalg.norm(across, axis=1, keepdims=True), 1e-9)
            faces_us = across[:, 2] > 0
            shade = np.clip(_AMBIENT + (1 - _AMBIENT) * (across[faces_us] @ np.array(_LIGHT)), 0, 1)
            corners.append(triangle[faces_us])
            colors.append(shade[:, None] * np.array(part.color))
        triangles, inks = np.concatenate(corners), np.concatenate(colors)
        if len(triangles) > _MOST_PAINTED and not finer:
            near = np.argsort(np.linalg.norm(triangles[:, :, :2].mean(axis=1), axis=1))[:_MOST_PAINTED]
            triangles, inks = triangles[near], inks[near]
        order = np.argsort(triangles[:, :, 2].mean(axis=1))
        half = min(width, height) / 2
        x, y = width / 2 + triangles[:, :, 0] * half, height / 2 - triangles[:, :, 1] * half
        rgb = np.clip(inks * 255, 0, 255).astype(int)

        def paint(painter: Any) -> None:
            painter.setPen(Qt.PenStyle.NoPen)
            for n in order.tolist():
                painter.setBrush(QColor(*rgb[n].tolist()))
                painter.drawConvexPolygon(
                    QPolygonF([QPointF(*c) for c in zip(x[n].tolist(), y[n].tolist(), strict=True)])
                )

        return painted(width, height, paint)
