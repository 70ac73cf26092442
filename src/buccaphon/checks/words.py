"""Checks of the words, and of the chart against them."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator

from buccaphon.checks.facts import Facts
from buccaphon.checks.issue import Issue, IssueKind
from buccaphon.mouths.chart_file import shipped_charts
from buccaphon.mouths.chart_making import place_the_rest
from buccaphon.project.edits.scene import ChangeChart
from buccaphon.project.state import DEFAULT_CHART
from buccaphon.score.records import DOUBTFUL
from buccaphon.speech.phones import looks_like
from buccaphon.texts import _
from buccaphon.timing import Span

_OFTEN = 40  # times that a sound is said before a mouth that never shows for it is missed


def not_found(facts: Facts) -> Iterator[Issue]:
    """Words of the script that seem not to be in the sound."""
    words = facts.score.words if facts.score else ()
    for number in sorted(facts.missing):
        if number < len(words):
            word = words[number]
            yield Issue(
                IssueKind.NOT_FOUND,
                Span(word.start, word.end),
                _("“{text}” was not found in the sound", text=word.text),
            )


def doubts(facts: Facts) -> Iterator[Issue]:
    """Words that the aligner is unsure of, until somebody has heard or mended them."""
    pinned = {pin.boundary.word for pin in facts.state.pins}
    for number, word in enumerate(facts.score.words if facts.score else ()):
        known = number in facts.heard or number in pinned or number in facts.missing
        if word.confidence < DOUBTFUL and not known:
            yield Issue(
                IssueKind.DOUBT,
                Span(word.start, word.end),
                _("The timing of “{text}” is uncertain. Listen to it", text=word.text),
            )


def unanswered(facts: Facts) -> Iterator[Issue]:
    """Sounds of the line that no mouth of a half-done chart answers to."""
    document = next((chart for chart in facts.state.charts if chart.name == facts.chart.name), None)
    missing = set(document.missing) if document else set()
    said = dict.fromkeys(alike for phone in facts.phones if (alike := looks_like(phone.symbol)) in missing)
    if document is not None and said and len(document.mouths) > 1:
        whole = place_the_rest(document, shipped_charts()[DEFAULT_CHART])
        says = _(
            "{name} has no mouth for {said}; similar mouths are used instead", name=document.name, said=" ".join(said)
        )
        fix = ChangeChart(document.name, whole)
        yield Issue(IssueKind.UNANSWERED, facts.used, says, fix, _("Assign them by similarity"))


def unused(facts: Facts) -> Iterator[Issue]:
    """Mouths that never come: with no sound of their own, or whose sounds are said again and again."""
    if not facts.phones:
        return
    seen = {each.index for each in facts.shown}
    said = Counter(facts.chart.answer(phone.symbol) for phone in facts.phones)
    for number, mouth in enumerate(facts.chart.mouths):
        if number in seen or number == 0:
            continue
        if not mouth.sounds:
            yield Issue(
                IssueKind.UNUSED, facts.used, _("{name} has no sounds and is not painted anywhere", name=mouth.name)
            )
        elif said[number] >= _OFTEN:
            yield Issue(
                IssueKind.UNUSED,
                facts.used,
                _("{name} is never shown, although its sounds occur {said} times", name=mouth.name, said=said[number]),
            )
