"""Makes Marigold in all three kinds anew: drawings, a cut-out and a small head. All of her is our own.

    .venv/bin/python tools/make_marigold.py

Writes demo/media/marigold_drawn.ora, marigold_cut.png and marigold_head.glb inside the package, and a kit for each.
"""

import io
import json
import os
import struct
import zipfile
from dataclasses import dataclass
from pathlib import Path

import numpy as np

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PyQt6.QtCore import QBuffer, QByteArray, QIODevice, QRectF
from PyQt6.QtGui import QGuiApplication, QImage
from PyQt6.QtSvg import QSvgRenderer

from buccaphon.demo.marigold import face
from buccaphon.kits.casting import with_own_names
from buccaphon.kits.kit import CutOut, Drawn, Kit, Model, Move, Moving, OtherFile, Part
from buccaphon.kits.store import save_kit
from buccaphon.mouths.chart_file import shipped_charts
from buccaphon.mouths.drawing import Shape
from buccaphon.painting.artwork.pixels import cropped, painted
from buccaphon.painting.artwork.svg import svg_picture
from buccaphon.painting.characters.loading import load

MEDIA = Path(__file__).parents[1] / "src" / "buccaphon" / "demo" / "media"
SIDE = 800  # pixels of the square she is drawn in
INK, CAVITY, TONGUE, TEETH, LIP = "#3a1b12", "#43151b", "#c65b52", "#fbf1dc", "#a8452a"


# --- drawings ---------------------------------------------------------------------------------------------------------


@dataclass(frozen=True)
class Inked:
    """A mouth as it is inked: half its width, how far its upper and lower edge lie from the line, how much its corners rise,
    and what is seen in it. In parts of her face."""

    name: str
    wide: float
    upper: float
    lower: float
    smile: float = 0.03
    teeth: float = 0.0
    lower_teeth: float = 0.0
    tongue: float = 0.0
    ring: float = 0.0


MOUTHS = (
    Inked("Rest", 0.26, 0.0, 0.0, 0.07),
    Inked("Press", 0.22, 0.0, 0.0, 0.0, ring=0.05),
    Inked("Bite", 0.22, 0.05, 0.035, 0.03, teeth=0.075),
    Inked("Tip", 0.24, 0.05, 0.10, 0.03, teeth=0.045, tongue=0.12),
    Inked("Teeth", 0.27, 0.055, 0.065, 0.05, teeth=0.055, lower_teeth=0.05),
    Inked("Ajar", 0.22, 0.04, 0.09, 0.03, teeth=0.03),
    Inked("Open", 0.26, 0.08, 0.28, 0.04, teeth=0.05, tongue=0.09),
    Inked("Spread", 0.33, 0.06, 0.14, 0.09, teeth=0.07, tongue=0.04),
    Inked("Round", 0.17, 0.12, 0.20, 0.0, ring=0.03),
    Inked("Pucker", 0.10, 0.07, 0.09, 0.0, ring=0.045),
)


def px(value: float) -> float:
    return round((value + 1) / 2 * SIDE, 1)


def length(value: float) -> float:
    return round(value / 2 * SIDE, 1)


def opening(m: Inked, grow: float = 0.0) -> str:
    """The edge of a mouth as an SVG path, `grow` further out."""
    x, y, wide = 0.0, 0.36, m.wide + grow
    up, down, rise = m.upper + grow, m.lower + grow, m.smile
    left, right, corner = px(x - wide), px(x + wide), px(y - rise)
    top, bottom = px(y - up + 0.4 * rise), px(y + down + 0.5 * rise)
    bow = length(0.55 * wide)
    return (
        f"M{left} {corner} C{left + bow * 0.5} {top} {px(x) - bow * 0.5} {top} {px(x)} {top} "
        f"S{right - bow * 0.5} {top} {right} {corner} C{right - bow * 0.3} {bottom} {px(x) + bow} {bottom} {px(x)} {bottom} "
        f"S{left + bow * 0.3} {bottom} {left} {corner} Z"
    )


def inked(m: Inked) -> str:
    """One mouth: an ink line over what is seen in it."""
    line = length(0.022)
    parts = []
    if m.ring:
        parts.append(f'<path d="{opening(m, m.ring)}" fill="{LIP}" stroke="{INK}" stroke-width="{length(0.012)}"/>')
    if m.upper + m.lower < 0.01:
        y, wide, rise = 0.36, m.wide, m.smile
        parts.append(
            f'<path d="M{px(-wide)} {px(y - rise)} Q{px(0)} {px(y + 1.2 * rise)} {px(wide)} {px(y - rise)}" fill="none" '
            f'stroke="{INK}" stroke-width="{line}" stroke-linecap="round"/>'
        )
        dimple = 0.045
        for side in (-1, 1) if rise > 0 else ():
            at = side * wide
            begin = f"M{px(at - dimple / 2 * side)} {px(y - rise - dimple / 2)}"
            parts.append(
                f'<path d="{begin} Q{px(at + dimple / 2 * side)} {px(y - rise)} '
                f'{px(at)} {px(y - rise + dimple / 2)}" fill="none" stroke="{INK}" stroke-width="{length(0.014)}" '
                'stroke-linecap="round"/>'
            )
        return "".join(parts)
    edge, clip = opening(m), f"in-{m.name}"
    parts.append(f'<path d="{edge}" fill="{CAVITY}"/>')
    seen = []
    if m.tongue:
        seen.append(
            f'<ellipse cx="{px(0)}" cy="{px(0.36 + m.lower - m.tongue * 0.45)}" rx="{length(m.wide * 0.62)}" '
            f'ry="{length(m.tongue)}" fill="{TONGUE}"/>'
        )
    tooth = length(0.13)
    for number in range(-3, 3) if m.teeth else ():
        x, top = px(0) + number * tooth, px(0.36 - m.upper)
        high = length(m.teeth + 0.02) * (1.0 if number in (-1, 0) else 0.8)
        seen.append(
            f'<rect x="{x:.1f}" y="{top}" width="{tooth:.1f}" height="{high:.1f}" rx="{length(0.015)}" fill="{TEETH}" '
            f'stroke="{INK}" stroke-width="{length(0.006)}"/>'
        )
    for number in range(-2, 2) if m.lower_teeth else ():
        x, top = px(0) + number * tooth, px(0.36 + m.lower - m.lower_teeth)
        seen.append(
            f'<rect x="{x:.1f}" y="{top}" width="{tooth:.1f}" height="{length(0.1)}" rx="{length(0.015)}" fill="{TEETH}" '
            f'stroke="{INK}" stroke-width="{length(0.006)}"/>'
        )
    if seen:
        parts.append(
            f'<clipPath id="{clip}"><path d="{edge}"/></clipPath><g clip-path="url(#{clip})">{"".join(seen)}</g>'
        )
    parts.append(f'<path d="{edge}" fill="none" stroke="{INK}" stroke-width="{line}" stroke-linejoin="round"/>')
    return "".join(parts)


def as_svg(shape: Shape) -> str:
    steps = []
    for name, *numbers in shape.path:
        steps.append(name + " ".join(str(px(float(number))) for number in numbers))
    look = (
        f'fill="none" stroke="{shape.paint}" stroke-width="{length(shape.stroke)}"'
        if shape.stroke
        else f'fill="{shape.paint}"'
    )
    return f'<path d="{" ".join(steps)}" {look} opacity="{shape.alpha:g}"/>'


def head_svg() -> str:
    return "".join(as_svg(shape) for shape in face())


def svg(inner: str) -> str:
    return f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {SIDE} {SIDE}">{inner}</svg>'


def layered(head: str) -> bytes:
    """A face and the mouths as an OpenRaster file; the resting mouth is seen. head: as SVG."""
    made = io.BytesIO()
    with zipfile.ZipFile(made, "w") as file:

        def write(name: str, data: bytes) -> None:
            file.writestr(zipfile.ZipInfo(name), data)  # without a date: made anew it is the same file

        def layer(name: str, inner: str, *, hidden: bool = False) -> str:
            found = cropped(svg_picture(svg(inner).encode(), SIDE / 1024, name))
            write(f"data/{name}.png", as_png(found.image))
            look = ' visibility="hidden"' if hidden else ""
            return f'<layer name="{name}" src="data/{name}.png" x="{found.x}" y="{found.y}"{look}/>'

        write("mimetype", b"image/openraster")
        mouths = "".join(layer(m.name, inked(m), hidden=m.name != "Rest") for m in reversed(MOUTHS))
        inner = f'<stack name="Mouths">{mouths}</stack>{layer("Face", head)}'
        write("stack.xml", f'<image version="0.0.3" w="{SIDE}" h="{SIDE}"><stack>{inner}</stack></image>'.encode())
    return made.getvalue()


def as_png(image: QImage) -> bytes:
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    image.save(buffer, "PNG")
    return buffer.data().data()


# --- the cut-out ------------------------------------------------------------------------------------------------------


def cut_svg() -> str:
    """Her face with a shut mouth across it and a chin below, as on a card to be cut."""
    y = 0.34
    mouth = (
        f'<path d="M{px(-0.30)} {px(y - 0.04)} Q{px(0)} {px(y + 0.06)} {px(0.30)} {px(y - 0.04)}" fill="none" stroke="{INK}" '
        f'stroke-width="{length(0.02)}" stroke-linecap="round"/>'
        f'<path d="M{px(-0.13)} {px(0.60)} Q{px(0)} {px(0.66)} {px(0.13)} {px(0.60)}" fill="none" stroke="#b5611a" '
        f'stroke-width="{length(0.02)}" stroke-linecap="round"/>'
    )
    return svg(head_svg() + mouth)


def kits() -> dict[str, Kit]:
    """Her three kinds, each with what is known of it."""
    ten = shipped_charts()["Ten"]
    drawn = Kit("Marigold, drawn", OtherFile(MEDIA / "marigold_drawn.ora"), Drawn())
    lip = tuple((px(x), px(y)) for x, y in ((-0.30, 0.30), (-0.15, 0.345), (0.0, 0.36), (0.15, 0.345), (0.30, 0.30)))
    chin = tuple((px(x), px(y)) for x, y in ((-0.30, 0.30), (-0.27, 0.58), (0.0, 0.70), (0.27, 0.58), (0.30, 0.30)))
    leaf = tuple(
        (px(x), px(y))
        for x, y in (
            (0.07, -0.51),
            (0.17, -0.63),
            (0.31, -0.69),
            (0.43, -0.64),
            (0.49, -0.55),
            (0.37, -0.50),
            (0.22, -0.45),
        )
    )
    nods = Part("leaf", leaf, Move(Moving.TURNS, degrees=-14.0, pivot=(px(0.07), px(-0.49))), lifted=True)
    slides = CutOut(
        lip, chin, move=Move(Moving.SLIDES, y=length(0.20)), parts=(nods,), inside=CAVITY, soft=1.5, overlap=3.0
    )
    cut = Kit("Marigold, cut-out", OtherFile(MEDIA / "marigold_cut.png"), slides)
    head = Kit("Marigold, head", OtherFile(MEDIA / "marigold_head.glb"), Model(yaw=-12.0))
    own = {"drawn": load(drawn).own, "head": load(head).own}
    return {
        "drawn": with_own_names(drawn, own["drawn"], ten),
        "cut": cut,
        "head": with_own_names(head, own["head"], ten),
    }


# --- the head ---------------------------------------------------------------------------------------------------------

Array = np.ndarray
MOUTH_Y = -0.30  # where the lips meet


def skin_at(u: Array, v: Array) -> Array:
    """Her skin: an ellipsoid with the lobes of a pumpkin. u: around, 0 in front; v: from the top down."""
    lobes = 1 - 0.10 * np.abs(np.sin(2.5 * u)) ** 3 * np.sin(v) ** 2
    return np.stack([0.98 * np.sin(v) * np.sin(u) * lobes, 0.80 * np.cos(v), 0.88 * np.sin(v) * np.cos(u) * lobes], -1)


def front(x: Array, y: Array) -> Array:
    """How far in front her skin is."""
    v = np.arccos(np.clip(y / 0.80, -1, 1))
    u = np.arcsin(np.clip(x / (0.98 * np.maximum(np.sin(v), 1e-6)), -1, 1))
    return skin_at(u, v)[..., 2]


def grid(rows: int, columns: int) -> Array:
    corners = []
    for row in range(rows - 1):
        for column in range(columns - 1):
            at = row * columns + column
            corners += [(at, at + columns, at + 1), (at + 1, at + columns, at + columns + 1)]
    return np.array(corners, np.uint16)


def ball(middle: tuple[float, float, float], radii: tuple[float, float, float], rows: int = 9, columns: int = 15):
    v, u = np.meshgrid(np.linspace(0.01, np.pi - 0.01, rows), np.linspace(-np.pi, np.pi, columns), indexing="ij")
    points = np.stack([np.sin(v) * np.sin(u), np.cos(v), np.sin(v) * np.cos(u)], -1).reshape(-1, 3)
    return points * radii + middle, grid(rows, columns)


@dataclass
class Piece:
    """A mesh of one colour. jaw: how much each point goes with the jaw. shapes: how far each moves its points."""

    name: str
    points: Array
    corners: Array
    color: tuple[float, float, float]
    jaw: Array
    shapes: dict[str, Array]


def smooth(x: Array) -> Array:
    x = np.clip(x, 0, 1)
    return x * x * (3 - 2 * x)


def jaw_share(points: Array) -> Array:
    """The lower front of her goes with the jaw, less towards the sides and below."""
    below = smooth((MOUTH_Y + 0.02 - points[:, 1]) / 0.10)
    middle = smooth(1.5 - np.abs(points[:, 0]) / 0.40)
    ahead = smooth((points[:, 2] - 0.1) / 0.4)
    return below * middle * ahead


def mouth_pieces() -> list[Piece]:
    """The dark of the mouth as a disc on her skin, shut to a line at rest, with lips around it, teeth and a tongue in it."""
    count, rings = 33, 5
    angle = np.linspace(0, 2 * np.pi, count)
    pieces = []

    def lay(x: Array, y: Array, ahead: float) -> Array:
        return np.stack([x, y, front(x, np.clip(y, -0.75, 0.75)) + ahead], -1)

    def mouth(radius: Array, a: float, up: float, down: float, bow: float, ahead: float) -> Array:
        c, s = np.cos(angle)[None], np.sin(angle)[None]
        x = radius * a * c
        y = MOUTH_Y + radius * np.where(s > 0, up, down) * s - bow * (1 - c * c) * 0.5 + 0.03 * c * c
        return lay(x, y, ahead).reshape(-1, 3)

    inner = np.linspace(0, 1, rings)[:, None]
    looks = {  # half width, up, down, bow, ahead
        "rest": (0.30, 0.004, 0.004, 0.05, 0.0),
        "lips_press": (0.24, 0.0, 0.0, 0.0, -0.012),
        "mouth_wide": (0.40, 0.03, 0.05, 0.09, -0.01),
        "mouth_round": (0.15, 0.10, 0.12, 0.0, 0.09),
        "lower_lip_bite": (0.25, 0.035, 0.0, 0.02, 0.0),
        "teeth_show": (0.32, 0.045, 0.045, 0.05, 0.0),
        "mouth_open": (0.28, 0.06, 0.27, 0.03, 0.0),
    }

    def all_looks(radius: Array, ahead: float, grow: float = 0.0) -> tuple[Array, dict[str, Array]]:
        def one(a: float, up: float, down: float, bow: float, more: float) -> Array:
            return mouth(radius, a + grow, up + grow, down + grow, bow, ahead + more)

        rest = one(*looks["rest"])
        return rest, {name: one(*look) - rest for name, look in looks.items() if name != "rest"}

    points, shapes = all_looks(inner, 0.012)
    lower = np.tile(smooth(-np.sin(angle) / 0.25), rings) * np.repeat(np.linspace(0, 1, rings), count)
    pieces.append(Piece("Cavity", points, grid(rings, count), (0.20, 0.05, 0.07), lower, shapes))
    steps = np.linspace(0, 1, 5)
    bands = [all_looks(np.ones((1, 1)), 0.016 + 0.05 * np.sin(np.pi * t), 0.055 * t - 0.002) for t in steps]
    points = np.concatenate([band[0] for band in bands])
    shapes = {name: np.concatenate([band[1][name] for band in bands]) for name in bands[0][1]}
    lower = np.tile(smooth(-np.sin(angle) / 0.25), len(steps))
    pieces.append(Piece("Lips", points, grid(len(steps), count), (0.66, 0.24, 0.15), lower, shapes))

    x = np.linspace(-1, 1, 13)

    def row_of_teeth(a: float, top: float, deep: float, bow: float) -> Array:
        lines = [lay(a * x, np.full_like(x, top) - bow * (1 - x * x) * 0.5 - t * deep, 0.026) for t in (0.0, 1.0)]
        return np.concatenate(lines)

    rest = row_of_teeth(0.22, MOUTH_Y + 0.004, 0.0, 0.05)
    shapes = {
        "teeth_show": row_of_teeth(0.26, MOUTH_Y + 0.045, 0.075, 0.05) - rest,
        "mouth_wide": row_of_teeth(0.32, MOUTH_Y + 0.03, 0.05, 0.09) - rest,
        "lower_lip_bite": row_of_teeth(0.17, MOUTH_Y + 0.035, 0.075, 0.02) - rest,
        "mouth_open": row_of_teeth(0.20, MOUTH_Y + 0.055, 0.05, 0.03) - rest,
    }
    pieces.append(Piece("Teeth", rest, grid(2, 13), (0.97, 0.94, 0.85), np.zeros(len(rest)), shapes))
    points, corners = ball((0.0, MOUTH_Y - 0.07, 0.66), (0.12, 0.03, 0.05))
    raised = points * [1, 1, 1] + [0, 0.06, 0.17]
    pieces.append(
        Piece("Tongue", points, corners, (0.78, 0.36, 0.32), np.ones(len(points)), {"tongue_up": raised - points})
    )
    return pieces


def head_pieces() -> list[Piece]:
    v, u = np.meshgrid(np.linspace(0.02, np.pi - 0.02, 31), np.linspace(-np.pi, np.pi, 51), indexing="ij")
    skin = skin_at(u, v).reshape(-1, 3)
    away = np.hypot(skin[:, 0] / 0.2, (skin[:, 1] - MOUTH_Y) / 0.16)
    near = np.exp(-(away**2)) * (skin[:, 2] > 0.2)
    puff = np.zeros_like(skin)
    puff[:, 2] = 0.06 * near
    pieces = [Piece("Skin", skin, grid(31, 51), (0.88, 0.54, 0.18), jaw_share(skin), {"mouth_round": puff})]
    for side, letter in ((-1, "R"), (1, "L")):
        z = float(front(np.array(side * 0.30), np.array(0.16)))
        eye, corners = ball((side * 0.30, 0.16, z - 0.02), (0.145, 0.175, 0.06))
        shut = np.zeros_like(eye)
        shut[:, 1] = (0.16 - eye[:, 1]) * 0.9
        pieces.append(Piece("Eye", eye, corners, (1.0, 0.96, 0.87), np.zeros(len(eye)), {f"blink_{letter}": shut}))
        pupil, corners = ball((side * 0.28, 0.15, z + 0.03), (0.075, 0.10, 0.03))
        shut = np.zeros_like(pupil)
        shut[:, 1] = (0.16 - pupil[:, 1]) * 0.9
        pieces.append(
            Piece("Pupil", pupil, corners, (0.2, 0.12, 0.22), np.zeros(len(pupil)), {f"blink_{letter}": shut})
        )
    t = np.linspace(0, 1, 7)[:, None]
    around = np.linspace(-np.pi, np.pi, 11)[None]
    wide = 0.13 - 0.05 * t
    stem = np.stack(
        [wide * np.sin(around) + 0.12 * t**2, 0.70 + 0.34 * t + 0 * around, wide * np.cos(around)], -1
    ).reshape(-1, 3)
    pieces.append(Piece("Stem", stem, grid(7, 11), (0.36, 0.42, 0.18), np.zeros(len(stem)), {}))
    return pieces + mouth_pieces()


PIVOT = np.array([0.0, 0.0, -0.05])


class Buffer:
    """The binary part of a GLB, with the accessors that name its pieces."""

    def __init__(self) -> None:
        self.data, self.views, self.accessors = bytearray(), [], []

    def add(self, array: Array, kind: str, component: int, *, bounds: bool = False) -> int:
        self.data += b"\0" * (-len(self.data) % 4)
        self.views.append({"buffer": 0, "byteOffset": len(self.data), "byteLength": array.nbytes})
        entry = {"bufferView": len(self.views) - 1, "componentType": component, "count": len(array), "type": kind}
        if bounds:
            entry |= {"min": array.min(0).tolist(), "max": array.max(0).tolist()}
        self.data += array.tobytes()
        self.accessors.append(entry)
        return len(self.accessors) - 1

    def floats(self, array: Array, kind: str, *, bounds: bool = False) -> int:
        return self.add(np.ascontiguousarray(array, "<f4"), kind, 5126, bounds=bounds)


def glb(pieces: list[Piece]) -> bytes:
    names = list(dict.fromkeys(name for piece in pieces for name in piece.shapes))
    buffer, meshes, materials, nodes = (
        Buffer(),
        [],
        [],
        [{"name": "Marigold", "children": [1]}, {"name": "neck", "children": [2]}],
    )
    nodes.append({"name": "jaw", "translation": PIVOT.tolist()})
    for piece in pieces:
        joints = np.zeros((len(piece.points), 4), np.uint8)
        joints[:, 1] = 1
        weights = np.zeros((len(piece.points), 4))
        weights[:, 1] = piece.jaw
        weights[:, 0] = 1 - piece.jaw
        joints[weights[:, 1] == 0, 1] = 0
        own = [name for name in names if name in piece.shapes]
        primitive = {
            "attributes": {
                "POSITION": buffer.floats(piece.points, "VEC3", bounds=True),
                "JOINTS_0": buffer.add(joints, "VEC4", 5121),
                "WEIGHTS_0": buffer.floats(weights, "VEC4"),
            },
            "indices": buffer.add(np.ascontiguousarray(piece.corners.reshape(-1, 1), "<u2"), "SCALAR", 5123),
            "material": len(materials),
        }
        mesh = {"name": piece.name, "primitives": [primitive]}
        if own:
            primitive["targets"] = [{"POSITION": buffer.floats(piece.shapes[n], "VEC3", bounds=True)} for n in own]
            mesh |= {"weights": [0.0] * len(own), "extras": {"targetNames": own}}
        materials.append(
            {
                "name": piece.name,
                "pbrMetallicRoughness": {"baseColorFactor": [*piece.color, 1.0], "metallicFactor": 0.0},
            }
        )
        meshes.append(mesh)
        nodes.append({"name": piece.name, "mesh": len(meshes) - 1, "skin": 0})
    unbind = np.stack([np.eye(4), np.eye(4)])
    unbind[1, :3, 3] = -PIVOT
    skin = {"joints": [1, 2], "inverseBindMatrices": buffer.floats(unbind.transpose(0, 2, 1).reshape(2, 16), "MAT4")}
    document = {
        "asset": {"version": "2.0", "generator": "tools/make_marigold.py"},
        "scene": 0, "scenes": [{"nodes": [0, *range(3, len(nodes))]}], "nodes": nodes, "meshes": meshes,
        "materials": materials, "skins": [skin], "accessors": buffer.accessors, "bufferViews": buffer.views,
    }  # fmt: skip
    data = bytes(buffer.data) + b"\0" * (-len(buffer.data) % 4)
    document["buffers"] = [{"byteLength": len(buffer.data)}]
    text = json.dumps(document, separators=(",", ":")).encode()
    text += b" " * (-len(text) % 4)
    body = struct.pack("<II", len(text), 0x4E4F534A) + text + struct.pack("<II", len(data), 0x004E4942) + data
    return struct.pack("<4sII", b"glTF", 2, 12 + len(body)) + body


def main() -> None:
    app = QGuiApplication([])
    MEDIA.joinpath("marigold_drawn.ora").write_bytes(layered(head_svg()))
    renderer = QSvgRenderer(QByteArray(cut_svg().encode()))
    picture = painted(SIDE, SIDE, lambda painter: renderer.render(painter, QRectF(0, 0, SIDE, SIDE)))
    picture.save(str(MEDIA / "marigold_cut.png"))
    MEDIA.joinpath("marigold_head.glb").write_bytes(glb(head_pieces()))
    for name, kit in kits().items():
        save_kit(kit, MEDIA / f"marigold_{name}.buccakit")
    del app


if __name__ == "__main__":
    main()
