"""What a supervisor would send back of a scene, in sentences."""

from __future__ import annotations

from collections.abc import Iterator

from buccaphon.checks.facts import Facts
from buccaphon.checks.finding import find_issues
from buccaphon.checks.issue import IssueKind
from buccaphon.project.scene import Ensemble
from buccaphon.project.speakers import speaking


def found_in(ensemble: Ensemble, number: int) -> Iterator[tuple[str, bool]]:
    """What a supervisor would send back of a line, and whether it is a doubt; with its name where there are several."""
    several = len(ensemble.state.lines) > 1
    for role in speaking(ensemble.state.at_line(number)):
        state = ensemble.state.at_line(number, role)
        derived, take = ensemble.derived(state.line.key, role), state.take
        if take is None:
            continue
        used = take.used(derived.recording.duration)
        for issue in find_issues(Facts(state, derived.bake(state), used, frozenset(), frozenset())):
            name = f"{state.line.title}, " if several else ""
            yield f"{name}{issue.span.start:.2f} s: {issue.says}", issue.kind is IssueKind.DOUBT
