"""An immutable curve in blocks: a changed copy shares every block that the change does not touch."""

from __future__ import annotations

from typing import overload

import numpy as np

from buccaphon.arrays import Floats

_BITS = 10  # of a frame's number within its block
_FRAMES = 1 << _BITS


class Curve:
    """(frames,) one value a frame. An edit of an hour's recording copies a block or two of each curve, not all of it."""

    __slots__ = ("_blocks", "_frames", "_whole")

    def __init__(self, values: Floats) -> None:
        """values: (frames,); they must not be written to any more."""
        self._blocks = [values[at : at + _FRAMES] for at in range(0, len(values), _FRAMES)]
        self._frames = len(values)
        self._whole: Floats | None = values

    @property
    def whole(self) -> Floats:
        """(frames,) all of it in one."""
        if self._whole is None:
            self._whole = np.concatenate(self._blocks)
        return self._whole

    def __len__(self) -> int:
        return self._frames

    @overload
    def __getitem__(self, at: int) -> float: ...
    @overload
    def __getitem__(self, at: slice) -> Floats: ...
    def __getitem__(self, at: int | slice) -> float | Floats:
        """A frame's value, or the values of some frames in a row."""
        if not isinstance(at, slice):
            frame = range(self._frames)[at]
            return float(self._blocks[frame >> _BITS][frame & (_FRAMES - 1)])
        first, end, _ = at.indices(self._frames)
        if end - first == self._frames:
            return self.whole
        block, last = first >> _BITS, (end - 1) >> _BITS
        begin = block << _BITS
        if block >= last:
            return self._blocks[block][first - begin : end - begin] if first < end else np.zeros(0, np.float32)
        return np.concatenate(self._blocks[block : last + 1])[first - begin : end - begin]

    def with_part(self, first: int, part: Floats) -> Curve:
        """The same with a part, which lies within it, in the place of what is there from a frame on."""
        end = first + len(part)
        if len(part) == self._frames:
            return Curve(part)
        made = Curve.__new__(Curve)
        made._blocks, made._frames, made._whole = self._blocks.copy(), self._frames, None
        block, last = first >> _BITS, (end - 1) >> _BITS
        if block == last:  # as it nearly always is
            copied = made._blocks[block] = self._blocks[block].copy()
            copied[first & (_FRAMES - 1) : (end - 1 & (_FRAMES - 1)) + 1] = part
            return made
        for number in range(block, last + 1):
            begin = number << _BITS
            copied = made._blocks[number] = self._blocks[number].copy()
            copied[max(first - begin, 0) : end - begin] = part[max(begin - first, 0) : begin + _FRAMES - first]
        return made
