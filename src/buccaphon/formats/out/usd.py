"""OpenUSD as text (UsdSkel): shape weights and a turning jaw, complete or as a layer over the user's own asset."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from buccaphon.arrays import Doubles, Floats
from buccaphon.errors import TargetError
from buccaphon.formats.delivery import Delivery
from buccaphon.formats.out.nodes import Moves, node_moves
from buccaphon.formats.out.numbers import as_text
from buccaphon.formats.out.shapes import JAW_ANGLE, OPENING, own_model, shape_curves
from buccaphon.formats.out.steps import BEFORE, stepping, with_steps
from buccaphon.motion.record import JAW, Bake
from buccaphon.numerics import scipy_part
from buccaphon.setting import require_valid_settings, setting
from buccaphon.texts import N_, _

_DECIMALS = 5
_UNIT = "((1,0,0,0),(0,1,0,0),(0,0,1,0),(0,0,0,1))"


@dataclass(frozen=True, slots=True)
class UsdOptions:
    """Complete or over another asset, and how it moves."""

    over: str = setting(
        "",
        N_("Over asset"),
        N_("Your asset (./head.usda) to write a layer over; empty for a complete file"),
        is_text=True,
    )
    prim: str = setting("/Mouth", N_("Prim path"), N_("Path of the SkelRoot to animate"), is_text=True)
    held: bool = setting(False, N_("Held mouths"), N_("Held mouths instead of blended weights"))
    up: str = setting("Y", N_("Up axis"), N_("The axis that points up"), choices=(("Y", "Y"), ("Z", "Z")))
    degrees: float = setting(OPENING, N_("Jaw angle"), N_("Largest angle of the jaw"), **JAW_ANGLE)

    def __post_init__(self) -> None:
        require_valid_settings(self)
        if self.up not in ("Y", "Z"):
            raise ValueError(f"the axis “{self.up}” is neither Y nor Z")
        if not re.fullmatch(r"(/[A-Za-z_][A-Za-z0-9_]*)+", self.prim):
            raise ValueError(f"“{self.prim}” is no path of a prim, such as /Head/Root")
        if "@" in self.over or "\n" in self.over:
            raise ValueError(f"“{self.over}” cannot be named in a layer")


def usda(delivery: Delivery, options: UsdOptions) -> bytes:
    """Time codes are the scene's frame numbers; the exact rate stands in customLayerData too."""
    bake = delivery.bake
    assert bake is not None
    model = own_model(delivery)
    curves = shape_curves(delivery, model, held=options.held)
    if not curves:
        raise TargetError(
            _("OpenUSD"), _("the character has no shape that could move"), _("Choose a model with shape keys")
        )
    names, weights = list(curves), np.stack(list(curves.values()), axis=1)
    if options.held:
        frames, weights = _pure(weights)
    else:
        jump = stepping(delivery)
        frames, weights = with_steps(weights, [n for n, name in enumerate(names) if name in jump])
    first, *inside = options.prim.strip("/").split("/")
    indent = "    " * (len(inside) + 1)
    animation = _animation(bake, names, frames, weights, options, indent=indent)
    animation += _moving_nodes(bake, node_moves(delivery, names), indent)
    text = _header(bake, first, options)
    text += (
        _over(first, inside, options.prim, animation)
        if options.over
        else _complete(options.prim, first, inside, names, animation)
    )
    return text.encode()


def _header(bake: Bake, default: str, options: UsdOptions) -> str:
    rate, last = bake.rate.value, bake.start_frame + max(bake.frames - 1, 0)
    layers = f"    subLayers = [\n        @{options.over}@\n    ]\n" if options.over else ""
    return f"""#usda 1.0
(
    defaultPrim = "{default}"
    customLayerData = {{
        int buccaphonRateDenominator = {rate.denominator}
        int buccaphonRateNumerator = {rate.numerator}
    }}
    startTimeCode = {bake.start_frame}
    endTimeCode = {last}
    framesPerSecond = {float(rate)!r}
    timeCodesPerSecond = {float(rate)!r}
    metersPerUnit = 1
    upAxis = "{options.up}"
{layers})

"""


def _pure(weights: Floats) -> tuple[Doubles, Floats]:
    """Held values: the old one again just before each new one, for interpolation is a setting of the whole stage."""
    changes = (weights[1:] != weights[:-1]).any(axis=1).nonzero()[0] + 1
    at = np.concatenate([[0.0], np.column_stack([changes - BEFORE, changes]).ravel()])
    rows = np.concatenate([[0], np.column_stack([changes - 1, changes]).ravel()]).astype(np.intp)
    return at, weights[rows]


def _animation(
    bake: Bake, names: Sequence[str], frames: Doubles, weights: Floats, options: UsdOptions, *, indent: str
) -> str:
    at = as_text(frames + bake.start_frame, 3)
    rows = (f"{code}: [{', '.join(row)}]," for code, row in zip(at, as_text(weights, _DECIMALS).tolist(), strict=True))
    half = np.radians(options.degrees * bake.jaw.astype(np.float64)) / 2
    w, x = as_text(np.cos(half), 7), as_text(np.sin(half), 7)
    numbers = range(bake.start_frame, bake.start_frame + bake.frames)
    turned = (f"{number}: [({a}, {b}, 0, 0)]," for number, a, b in zip(numbers, w, x, strict=True))
    lines = [
        'def SkelAnimation "Line"',
        "{",
        f"    uniform token[] blendShapes = [{_tokens(names)}]",
        *_samples("float[] blendShapeWeights", rows),
        f'    uniform token[] joints = ["{JAW}"]',
        *_samples("quatf[] rotations", turned),  # w first
        "    half3[] scales = [(1, 1, 1)]",  # without these two no joint moves
        "    float3[] translations = [(0, 0, 0)]",
        "}",
    ]
    return "".join(f"{indent}{line}\n" for line in lines)


_TAKEN = ("Skel", "Lips", "Line")  # prims that are there already


def _moving_nodes(bake: Bake, moves: Mapping[str, Moves], indent: str) -> str:
    """A transform for each node that a channel of one's own slides, turns or grows."""
    text, prims = "", _identifiers([*_TAKEN, *moves])[len(_TAKEN) :]
    for prim, each in zip(prims, moves.values(), strict=True):
        turned = None if each.turned is None else _x_first(each.turned)
        ways = [
            ("double3", "translate", each.slid, "slid" in each.steps),
            ("float3", "rotateXYZ", turned, "turned" in each.steps),
            ("float3", "scale", each.grown, "grown" in each.steps),
        ]
        lines, there = [f'def Xform "{prim}"', "{"], list[str]()
        for kind, name, values, steps in ways:
            if values is None:
                continue
            there.append(f"xformOp:{name}")
            frames, rows = with_steps(values, range(3) if steps else ())
            at, cells = as_text(frames + bake.start_frame, 3), as_text(rows, _DECIMALS).tolist()
            samples = (f"{code}: ({', '.join(row)})," for code, row in zip(at, cells, strict=True))
            lines += _samples(f"{kind} xformOp:{name}", samples)
        order = _tokens(there)
        lines += [f"    uniform token[] xformOpOrder = [{order}]", "}"]
        text += "".join(f"{indent}{line}\n" for line in lines)
    return text


def _x_first(turned: Doubles) -> Doubles:
    """(frames, 3) degrees about x, y and z as rotateXYZ has them: about the axes of the whole, x first."""
    if np.count_nonzero(turned.any(axis=0)) <= 1:
        return turned
    found: Doubles = (
        scipy_part("spatial.transform").Rotation.from_euler("XYZ", turned, degrees=True).as_euler("xyz", degrees=True)
    )
    return found


def _samples(name: str, rows: Iterable[str]) -> list[str]:
    return [f"    {name}.timeSamples = {{", *(f"        {row}" for row in rows), "    }"]


def _over(first: str, inside: Sequence[str], prim: str, animation: str) -> str:
    """Over their SkelRoot, that the animation comes from here."""
    text, indent = "", ""
    for number, name in enumerate([first, *inside]):
        last = number == len(inside)
        api = f' (\n{indent}    prepend apiSchemas = ["SkelBindingAPI"]\n{indent})' if last else ""
        text += f'{indent}over "{name}"{api}\n{indent}{{\n'
        indent += "    "
    text += f"{indent}rel skel:animationSource = <{prim}/Line>\n\n{animation}"
    for _rest in range(len(inside) + 1):
        indent = indent[4:]
        text += f"{indent}}}\n"
    return text


def _complete(prim: str, first: str, inside: Sequence[str], names: Sequence[str], animation: str) -> str:
    """A small square with a target a shape, on a skeleton of one jaw."""
    text, indent = "", ""
    for name in [first, *inside][:-1]:
        text += f'{indent}def Xform "{name}"\n{indent}{{\n'
        indent += "    "
    body = _root(prim, (inside or [first])[-1], names)
    text += "".join(f"{indent}{line}\n" if line else "\n" for line in body) + animation
    for _rest in range(len(inside) + 1):
        text += f"{indent}}}\n"
        indent = indent[4:]
    return text


def _root(prim: str, name: str, names: Sequence[str]) -> list[str]:
    prims = _identifiers(names)
    targets = ", ".join(f"<{prim}/Lips/{each}>" for each in prims)
    shapes = [
        line
        for number, each in enumerate(prims)
        for line in (
            "",
            f'        def BlendShape "{each}"',
            "        {",
            f"            uniform vector3f[] offsets = [(0, {-0.02 * (number + 1):g}, 0)]",
            "            uniform int[] pointIndices = [0]",
            "        }",
        )
    ]
    return [
        f'def SkelRoot "{name}" (',
        '    prepend apiSchemas = ["SkelBindingAPI"]',
        ")",
        "{",
        f"    float3[] extent = [(-0.2, {-0.02 * len(names) - 0.1:g}, -0.2), (0.3, 0.3, 0.2)]",
        f"    rel skel:skeleton = <{prim}/Skel>",
        f"    rel skel:animationSource = <{prim}/Line>",
        "",
        '    def Skeleton "Skel"',
        "    {",
        f'        uniform token[] joints = ["{JAW}"]',
        f"        uniform matrix4d[] bindTransforms = [{_UNIT}]",
        f"        uniform matrix4d[] restTransforms = [{_UNIT}]",
        "    }",
        "",
        '    def Mesh "Lips" (',
        '        prepend apiSchemas = ["SkelBindingAPI"]',
        "    )",
        "    {",
        '        uniform token subdivisionScheme = "none"',
        "        int[] faceVertexCounts = [4]",
        "        int[] faceVertexIndices = [0, 1, 2, 3]",
        "        point3f[] points = [(0, 0, 0), (0.1, 0, 0), (0.1, 0.1, 0), (0, 0.1, 0)]",
        "        normal3f[] normals = [(0, 0, 1), (0, 0, 1), (0, 0, 1), (0, 0, 1)] (",
        '            interpolation = "vertex"',
        "        )",
        "        float3[] extent = [(0, 0, 0), (0.1, 0.1, 0)]",
        f"        uniform token[] skel:blendShapes = [{_tokens(names)}]",
        f"        rel skel:blendShapeTargets = [{targets}]",
        *shapes,
        "    }",
        "",
    ]


def _tokens(names: Sequence[str]) -> str:
    quoted = (name.replace("\\", "\\\\").replace('"', '\\"').replace("\n", " ") for name in names)
    return ", ".join(f'"{name}"' for name in quoted)


def _identifiers(names: Sequence[str]) -> list[str]:
    """Names of prims: letters of ASCII, digits and _, no digit first, each once."""
    found: list[str] = []
    for name in names:
        plain = re.sub(r"\W", "_", name, flags=re.ASCII) or "_"
        plain = f"_{plain}" if plain[0].isdigit() else plain
        each, number = plain, 2
        while each in found:
            each, number = f"{plain}_{number}", number + 1
        found.append(each)
    return found
