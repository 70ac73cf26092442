"""Finding all marks of a line."""

from __future__ import annotations

from collections.abc import Callable, Iterable

from buccaphon.checks.facts import Facts
from buccaphon.checks.issue import Issue
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

CHECKS: tuple[Callable[[Facts], Iterable[Issue]], ...] = (
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

_OF_CHOOSING = (unseen, contradictions, astray, frozen)  # what they find `is_of_choosing`


def find_issues(facts: Facts) -> list[Issue]:
    """All that would be sent back, in order of time, but for what was said to be left. Where a hand puts all mouths itself,
    or loudness alone does, they need not follow the words."""
    take = facts.state.take
    alone = take is not None and take.loudness_settings.loudness_only
    checks = [check for check in CHECKS if not (alone and check in _OF_CHOOSING)]
    found = [issue for check in checks for issue in check(facts) if issue.span.end > facts.used.start]
    inside = [issue for issue in found if issue.span.start < facts.used.end and not _is_ignored(issue, facts)]
    meant = [issue for issue in inside if not (issue.kind.is_of_choosing and facts.is_blank(issue.span))]
    return sorted(meant, key=lambda issue: (issue.span.start, issue.span.end))


def _is_ignored(issue: Issue, facts: Facts) -> bool:
    take = facts.state.take
    return take is not None and any(
        left.kind == issue.kind.value and left.span.meets(issue.span) for left in take.ignored
    )
