"""Finding all marks of a line."""

from __future__ import annotations

from collections.abc import Callable, Iterable

from buccaphon.checks.facts import Facts
from buccaphon.checks.mark import Mark
from buccaphon.checks.mouths import (
    astray,
    back_and_forth,
    busy,
    contradictions,
    frozen,
    one_frame,
    open_in_silence,
    unseen,
)
from buccaphon.checks.words import doubts, not_found, unanswered, unused

CHECKS: tuple[Callable[[Facts], Iterable[Mark]], ...] = (
    not_found,
    doubts,
    unanswered,
    unseen,
    contradictions,
    open_in_silence,
    astray,
    one_frame,
    back_and_forth,
    busy,
    frozen,
    unused,
)


def find_marks(facts: Facts) -> list[Mark]:
    """All that would be sent back, in order of time, but for what was said to be left. Where a hand puts all mouths itself,
    they need not follow the words."""
    found = [mark for check in CHECKS for mark in check(facts) if mark.span.end > facts.used.start]
    inside = [mark for mark in found if mark.span.start < facts.used.end and not _is_left(mark, facts)]
    meant = [mark for mark in inside if not (mark.kind.is_of_choosing and facts.is_blank(mark.span))]
    return sorted(meant, key=lambda mark: (mark.span.start, mark.span.end))


def _is_left(mark: Mark, facts: Facts) -> bool:
    take = facts.state.take
    return take is not None and any(left.kind == mark.kind.value and left.span.meets(mark.span) for left in take.left)
