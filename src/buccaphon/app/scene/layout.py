"""Where things lie in the scene bar: a row for each role and one for what is heard only. No Qt in here."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property
from itertools import count

from buccaphon.project.scene import Lasts, frames_of, place_of
from buccaphon.project.speakers import of_others, speaking
from buccaphon.project.state import State
from buccaphon.timing import Span

HEARD_ONLY = None  # the row of lines that move no mouth; not the name of any role
_ROW, _LEAST_ROW, _MOST = 24, 14, 112  # pixels of a row, and of the bar
_RIM = 4
_TOUCHING = 1e-6  # seconds
_UNKNOWN = 1.0  # seconds that a line is taken to last until its sound is there


def is_wanted(state: State) -> bool:
    """Whether there is more in a scene than one line of one role."""
    return sum(1 for line in state.lines if line.takes) > 1


@dataclass(frozen=True, slots=True)
class Block:
    """A line in the row of a role that speaks in it. seconds: of the scene, from its first frame on. quiet: where others
    speak in it, in seconds of its recording. is_known: whether its sound is there.
    level: which of the lines that are on top of each other in the row it is, from the top."""

    number: int
    key: int
    row: int
    seconds: Span
    is_known: bool
    quiet: tuple[Span, ...] = ()
    level: int = 0


@dataclass(frozen=True)
class BarLayout:
    """rows: the roles, and HEARD_ONLY. length: seconds of the scene. left, width: pixels of all of it."""

    rows: tuple[str | None, ...]
    blocks: tuple[Block, ...]
    length: float
    left: float
    width: float

    def levels(self, row: int) -> int:
        """How many lines of a row lie on top of each other at most."""
        return self._levels[row]

    @cached_property
    def row_height(self) -> int:
        """Pixels of each level of a row."""
        return max(min(_ROW, (_MOST - 2 * _RIM) // max(self._before(len(self.rows)), 1)), _LEAST_ROW)

    @property
    def height(self) -> int:
        return 2 * _RIM + self.row_height * max(self._before(len(self.rows)), 1)

    def top(self, row: int, level: int = 0) -> float:
        return _RIM + (self._before(row) + level) * self.row_height

    @cached_property
    def _levels(self) -> tuple[int, ...]:
        return tuple(
            1 + max((block.level for block in self.blocks if block.row == row), default=0)
            for row in range(len(self.rows))
        )

    def _before(self, row: int) -> int:
        """Levels of all rows above one."""
        return sum(self._levels[:row])

    def x(self, seconds: float) -> float:
        return self.left + seconds / max(self.length, 1e-9) * self.width

    def seconds(self, x: float) -> float:
        return min(max((x - self.left) / max(self.width, 1.0), 0.0), 1.0) * self.length

    def block_at(self, x: float, y: float) -> Block | None:
        """The one that is seen there."""
        moment = (x - self.left) / max(self.width, 1.0) * self.length
        return next(
            (
                block
                for block in self.blocks
                if 0 <= y - self.top(block.row, block.level) < self.row_height
                and block.seconds.start <= moment < block.seconds.end
            ),
            None,
        )

    @cached_property
    def won_over(self) -> tuple[tuple[Block, Span], ...]:
        """Where a later line of the same role is said over one, and wins: the one, and the seconds."""
        found = []
        for one in self.blocks:
            for other in self.blocks:
                later = (other.seconds.start, other.number) > (one.seconds.start, one.number)
                end = min(one.seconds.end, other.seconds.end)
                if (
                    later
                    and one.row == other.row
                    and end > other.seconds.start
                    and self.rows[one.row] is not HEARD_ONLY
                ):
                    found.append((one, Span(other.seconds.start, end)))
        return tuple(found)


def lay_out(state: State, sounds: Lasts, left: float, width: float) -> BarLayout:
    """sounds: the seconds of the recordings that are known, by the keys of their lines."""
    numbers = frames_of(state, sounds)
    spoken: list[tuple[str | None, ...]] = [
        (HEARD_ONLY,) if line.heard_only else speaking(state.at_line(number)) for number, line in enumerate(state.lines)
    ]
    names = {name for each in spoken for name in each}
    rows = [role.name for role in state.roles if role.name in names]
    every: tuple[str | None, ...] = (*rows, *((HEARD_ONLY,) if HEARD_ONLY in names else ()))
    blocks = []
    for number, line in enumerate(state.lines):
        if line.take is None:
            continue
        place = place_of(state, number, sounds.get(line.key, line.take.trim_in + _UNKNOWN))
        start = state.rate.seconds(place.first - numbers.start)
        seconds = Span(start, start + max(state.rate.seconds(place.frames), 1e-3))
        for name in spoken[number]:
            quiet = () if name is HEARD_ONLY else of_others(state.at_line(number, name), sounds.get(line.key, 0.0))
            blocks.append(Block(number, line.key, every.index(name), seconds, line.key in sounds, quiet))
    blocks = _apart(blocks)
    length = max([state.rate.seconds(len(numbers)), *(block.seconds.end for block in blocks)], default=1.0)
    return BarLayout(every, tuple(blocks), max(length, 1e-3), left, width)


def _apart(blocks: list[Block]) -> list[Block]:
    """With those that overlap in a row on levels of their own: none hides another."""
    ends: dict[tuple[int, int], float] = {}
    found: dict[tuple[int, int], Block] = {}
    for block in sorted(blocks, key=lambda block: (block.seconds.start, block.number)):
        level = next(level for level in count() if ends.get((block.row, level), 0.0) <= block.seconds.start + _TOUCHING)
        ends[block.row, level] = block.seconds.end
        found[block.key, block.row] = replace(block, level=level)
    return [found[block.key, block.row] for block in blocks]
