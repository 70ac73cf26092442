"""An animation of weights and a jaw, put into a glTF document."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt

from buccaphon.arrays import Doubles, Floats
from buccaphon.choice import Choice
from buccaphon.formats.out.gltf.adding import Adder
from buccaphon.formats.out.steps import with_steps
from buccaphon.motion.record import Bake
from buccaphon.numerics import scipy_part
from buccaphon.texts import N_


class Between(Choice):
    """How a host goes from key to key."""

    STRAIGHT = "straight", N_("straight (linear)")
    HELD = "held", N_("held (stepped)")
    SMOOTH = "smooth", N_("smooth (cubic spline)")

    @property
    def in_gltf(self) -> str:
        return {Between.STRAIGHT: "LINEAR", Between.HELD: "STEP", Between.SMOOTH: "CUBICSPLINE"}[self]


@dataclass(frozen=True, eq=False)
class Driven:
    """node: of the document. path: of it. values: (frames, n) of each frame, as the path has them. steps: the columns that
    jump, whatever the others do."""

    node: int
    path: str
    values: npt.NDArray[Any]
    kind: str = "SCALAR"
    between: Between = Between.STRAIGHT
    steps: tuple[int, ...] = ()


def frame_times(bake: Bake, frames: Sequence[float]) -> Floats:
    """(n,) seconds of frames, never later than they begin: the nearest float32 lies after a third of them, and whoever asks
    at the exact time would be shown a held key a frame late. They rise, however near two are."""
    exact: Doubles = np.array(frames, np.float64) * bake.rate.value.denominator / bake.rate.value.numerator
    found = exact.astype(np.float32)
    early: Floats = np.where(found.astype(np.float64) > exact, np.nextafter(found, np.float32(-1)), found)
    early[:-1] = np.minimum(early[:-1], np.nextafter(early[1:], np.float32(-1)))
    return early


def put_animation(adder: Adder, bake: Bake, name: str, driven: Sequence[Driven]) -> None:
    """Add an animation, in the place of one of that name. Held values have keys only where they change."""
    document = adder.document
    times: dict[tuple[float, ...], int] = {}
    samplers, channels = [], []
    for each in driven:
        frames, values = _keys(each)
        if frames not in times:
            times[frames] = adder.add(frame_times(bake, frames), "SCALAR", bounds=True)
        if each.between is Between.SMOOTH:
            values = _with_slopes(frame_times(bake, frames), values)
        output = adder.add(values, each.kind)
        samplers.append({"input": times[frames], "output": output, "interpolation": each.between.in_gltf})
        channels.append({"sampler": len(samplers) - 1, "target": {"node": each.node, "path": each.path}})
    rate = bake.rate.value
    extras = {
        "rate": {"numerator": rate.numerator, "denominator": rate.denominator},
        "start_frame": bake.start_frame,
        "length": bake.frames,
    }
    kept = [other for other in document.get("animations", []) if other.get("name") != name]
    document["animations"] = [*kept, {"name": name, "samplers": samplers, "channels": channels, "extras": extras}]


def _keys(driven: Driven) -> tuple[tuple[float, ...], npt.NDArray[Any]]:
    """Frames and values. A held value needs a key where it changes; any other is baked on every frame, for all targets of a
    node share their times and would gain nothing by fewer."""
    values = driven.values
    if driven.between is Between.HELD:
        frames = (0, *((values[1:] != values[:-1]).any(axis=1).nonzero()[0] + 1).tolist())
        return frames, values[list(frames)]
    at, stepped = with_steps(values, driven.steps)
    return tuple(at.tolist()), stepped


def _with_slopes(times: Floats, values: npt.NDArray[Any]) -> npt.NDArray[Any]:
    """(keys, 3, n) slope in, value, slope out, in units a second, that overshoot nothing (Fritsch and Carlson 1980)."""
    if len(times) < 2:
        slopes = np.zeros_like(values)
    else:
        slopes = (
            scipy_part("interpolate")
            .PchipInterpolator(times.astype(np.float64), values, axis=0)
            .derivative()(times.astype(np.float64))
        )
    return np.stack([slopes, values, slopes], axis=1)


def weights_for(curves: Mapping[int, Floats], rest: Sequence[float]) -> Floats:
    """(frames, targets) for one node, all targets of its mesh in their order: what nothing drives stays at rest. curves: at
    least one, by its target's number."""
    frames = len(next(iter(curves.values())))
    columns = [curves[n] if n in curves else np.full(frames, value, np.float32) for n, value in enumerate(rest)]
    found: Floats = np.stack(columns, axis=1)
    return found
