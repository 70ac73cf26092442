"""What a lane's picture depends on, so that after an edit only the stretch that shows something else is painted again."""

from __future__ import annotations

from dataclasses import dataclass

from buccaphon.timing import Span

Part = tuple[float, float, object]  # from a second to a second, and what is seen there


@dataclass(frozen=True, slots=True)
class Shown:
    """whole: when it differs, all of the lane is painted. parts: in order of time; where they differ is painted."""

    whole: object
    parts: tuple[Part, ...] = ()

    def differs_in(self, other: Shown) -> Span | None:
        """The stretch in which two that are the same as a whole have other parts; None when there is none."""
        mine, others = self.parts, other.parts
        if mine == others:
            return None
        least = min(len(mine), len(others))
        first = next((number for number in range(least) if mine[number] != others[number]), least)
        room = least - first
        same = next((number for number in range(room) if mine[-1 - number] != others[-1 - number]), room)
        unlike = (*mine[first : len(mine) - same], *others[first : len(others) - same])
        return Span(min(start for start, _, _ in unlike), max(end for _, end, _ in unlike))
