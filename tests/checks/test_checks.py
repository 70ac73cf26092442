"""Every check finds the fault that was made, its fix mends it, and an untouched line has none."""

from dataclasses import replace
from pathlib import Path

import pytest

from buccaphon.audio.loudness_settings import LoudnessSettings
from buccaphon.checks.facts import Facts
from buccaphon.checks.finding import CHECKS, find_issues
from buccaphon.checks.issue import Issue, IssueKind
from buccaphon.mouths.chart import ChartDocument
from buccaphon.mouths.chart_file import find_chart
from buccaphon.mouths.settings import MouthSettings
from buccaphon.project.derived import Derived
from buccaphon.project.edits.motion import ChangeLoudness
from buccaphon.project.edits.mouths import Clear, Paint, Unpaint
from buccaphon.project.edits.scene import IgnoreIssues, KeepChart
from buccaphon.project.state import State, one_line
from buccaphon.project.take import IgnoredIssue, Take
from buccaphon.score.records import Score
from buccaphon.timing import FrameRate, Span


@pytest.fixture(scope="module")
def derived(call, call_peaks) -> Derived:
    return Derived(call, call_peaks)


@pytest.fixture
def state(call_score) -> State:
    return one_line((Take(Path("call.flac"), score=call_score),))


def issues(derived: Derived, state: State, missing: frozenset[int] = frozenset()) -> list[Issue]:
    used = Span(0.0, derived.recording.duration)
    return find_issues(Facts(state, derived.bake(state), used, missing, chosen=derived.chosen(state)))


def kinds(found: list[Issue]) -> set[IssueKind]:
    return {issue.kind for issue in found}


def fix(derived: Derived, state: State, kind: IssueKind) -> State:
    """All fixes of a kind done, one after the other."""
    for _ in range(20):
        found = [issue for issue in issues(derived, state) if issue.kind is kind]
        if not found:
            return state
        assert found[0].fix is not None
        assert found[0].fix_label
        state = found[0].fix.apply(state)
    raise AssertionError(f"{found[0].says} comes back again and again")


def spoiled(state: State, kind: IssueKind) -> State:  # noqa: PLR0911  # one fault a kind
    """The line with one fault of a kind, as a careless hand makes it."""
    score = state.score
    whole = Span(score.words[3].start, score.words[5].end)
    match kind:
        case IssueKind.UNSEEN:
            shut = next(p for p in score.phones() if p.symbol == "p")
            return Paint(Span(shut.start - 0.2, shut.end + 0.1), "Open").apply(state)
        case IssueKind.OPEN_IN_SILENCE:
            later = Score(
                tuple(
                    replace(w, phones=tuple(replace(p, start=p.start + 1, end=p.end + 1) for p in w.phones))
                    for w in score.words[:8]
                ),
                score.duration,
            )
            return Paint(Span(0.1, 0.8), "Open").apply(state.with_take(replace(state.take, score=later)))
        case IssueKind.ASTRAY:
            vowel = next(p for p in score.phones() if p.symbol == "ɪ" and p.end - p.start > 0.05)
            return Paint(Span(vowel.start, vowel.end), "Bite").apply(state)
        case IssueKind.ONE_FRAME:
            return Paint(Span(2.0, 2.0 + 1 / 24), "Pucker").apply(
                Paint(Span(1.8, 2.0), "Open").apply(Paint(Span(2 + 1 / 24, 2.3), "Spread").apply(state))
            )
        case IssueKind.BACK_AND_FORTH:
            return Paint(Span(2.0, 2.0 + 1 / 24), "Pucker").apply(Paint(Span(1.8, 2.3), "Open").apply(state))
        case IssueKind.BUSY:
            for frame in range(48, 72):
                state = Paint(Span(frame / 24, (frame + 1) / 24), ("Open", "Round")[frame % 2]).apply(state)
            return state
        case IssueKind.FROZEN:
            return Paint(whole, "Pucker").apply(state)
        case IssueKind.CONTRADICTION:
            wide = next(p for p in score.phones() if p.symbol in ("ɑ", "æ", "aɪ") and p.end - p.start > 0.1)
            return Paint(Span(wide.start - 0.05, wide.end + 0.05), "Pucker").apply(state)
        case IssueKind.DOUBT:
            doubted = replace(score.words[4], phones=tuple(replace(p, confidence=0.1) for p in score.words[4].phones))
            words = (*score.words[:4], doubted, *score.words[5:])
            return state.with_take(replace(state.take, score=Score(words, score.duration)))
        case IssueKind.UNANSWERED:
            ten = find_chart("Ten")
            mouths = tuple(replace(m, sounds=tuple(s for s in m.sounds if s != "z")) for m in ten.mouths)
            return KeepChart(ChartDocument("Lantern", "", mouths)).apply(state)
        case IssueKind.UNUSED:
            ten = find_chart("Ten")
            grin = replace(ten.mouths[-1], name="Grin", sounds=())
            return KeepChart(ChartDocument("Lantern", "", (*ten.mouths, grin))).apply(state)
    raise AssertionError(kind)


@pytest.mark.parametrize("kind", [kind for kind in IssueKind if kind is not IssueKind.NOT_FOUND])
def test_the_fault_that_is_made_is_found_and_no_other_line_has_it(derived, state, kind):
    assert kind not in kinds(issues(derived, state))
    found = [issue for issue in issues(derived, spoiled(state, kind)) if issue.kind is kind]
    assert found
    assert all(issue.says and issue.span.start <= issue.span.end for issue in found)


MENDED = (
    IssueKind.UNSEEN, IssueKind.OPEN_IN_SILENCE, IssueKind.ASTRAY, IssueKind.ONE_FRAME, IssueKind.BACK_AND_FORTH,
    IssueKind.BUSY, IssueKind.FROZEN, IssueKind.CONTRADICTION,
)  # fmt: skip


@pytest.mark.parametrize("kind", MENDED)
def test_the_fix_mends_it(derived, state, kind):
    mended = fix(derived, spoiled(state, kind), kind)
    assert kind not in kinds(issues(derived, mended))


def test_words_that_were_not_found_are_told(derived, state):
    (issue,) = [m for m in issues(derived, state, frozenset({3})) if m.kind is IssueKind.NOT_FOUND]
    assert state.score.words[3].text in issue.says


@pytest.mark.parametrize("chart", ["Flap", "Five", "Vowels", "Ten", "Fourteen", "Visemes"])
@pytest.mark.parametrize(("rate", "hold"), [("24", 1), ("24", 2), ("24", 3), ("60", 1), ("12", 1)])
def test_an_untouched_line_has_no_marks(derived, state, chart, rate, hold):
    clean = replace(state, rate=FrameRate.parse(rate)).with_role(chart=chart, mouth_settings=MouthSettings(hold=hold))
    assert kinds(issues(derived, clean)) <= {IssueKind.UNUSED}


def test_what_was_said_to_be_left_is_not_told_again_and_other_kinds_are(derived, state):
    spoilt = spoiled(state, IssueKind.CONTRADICTION)
    (first, *_) = [issue for issue in issues(derived, spoilt) if issue.kind is IssueKind.CONTRADICTION]
    left = IgnoreIssues((IgnoredIssue(first.kind.value, first.span),)).apply(spoilt)
    assert first not in issues(derived, left)
    other = IgnoreIssues((IgnoredIssue(IssueKind.BUSY.value, first.span),)).apply(spoilt)
    assert first in issues(derived, other)


def test_all_checks_hold_without_words(derived, state):
    wordless = state.with_take(replace(state.take, score=None))
    facts = Facts(wordless, derived.bake(wordless), Span(0.0, derived.recording.duration))
    for check in CHECKS:
        list(check(facts))


def test_a_contact_under_paint_is_mended_by_giving_the_machines_own_frames_back(derived, state):
    chosen = derived.chosen(state)
    shut = next(each for each in chosen if each.mouth == "Press" and each.start > 30)
    rate = state.rate
    wide = Span(rate.seconds(shut.start - 6), rate.seconds(shut.end + 6))
    painted = Paint(wide, "Open").apply(state)
    found = next(
        issue for issue in issues(derived, painted) if issue.kind is IssueKind.UNSEEN and issue.span.overlap(wide) > 0
    )
    assert isinstance(found.fix, Unpaint)
    after = derived.bake(found.fix.apply(painted)).exposures
    there = next(each for each in after if each.start <= shut.start < each.end)
    assert (there.mouth, there.start, there.end) == ("Press", shut.start, shut.end), "exactly what was there"
    before, behind = (next(e for e in after if e.start <= frame < e.end) for frame in (shut.start - 1, shut.end))
    assert (before.mouth, behind.mouth) == ("Open", "Open"), "the rest of the paint stays"


def test_where_a_hand_puts_all_mouths_they_need_not_follow_the_words(derived, state):
    blank = Clear(Span(0.0, 43_200.0)).apply(state)
    assert not any(issue.kind.is_of_choosing for issue in issues(derived, blank))
    part = Clear(Span(3.0, 5.0)).apply(state)
    assert all(
        issue.span.start >= 5.0 or issue.span.end <= 3.0 for issue in issues(derived, part) if issue.kind.is_of_choosing
    )


def test_where_loudness_alone_puts_the_mouths_they_need_not_follow_the_words(derived, state):
    alone = ChangeLoudness(LoudnessSettings(loudness_only=True)).apply(state)
    assert not any(issue.kind.is_of_choosing for issue in issues(derived, alone))
    assert any(word.text for word in alone.score.words)
