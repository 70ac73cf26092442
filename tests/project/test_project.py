from dataclasses import replace
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from buccaphon.project.derived import Derived
from buccaphon.project.edits import (
    Kind,
    MoveBoundary,
    Paint,
    SetRecording,
    SetScene,
    SetScript,
    TakeAlignment,
    Unpaint,
)
from buccaphon.project.project import Project
from buccaphon.project.state import State
from buccaphon.score.edits import Boundary, boundary_time
from buccaphon.score.records import Phone, Score, Word
from buccaphon.timing import FrameRate, Span


def line(*texts: str, offset: float = 0.0) -> Score:
    words = tuple(
        Word(text, (Phone("p", offset + i, offset + i + 0.4), Phone("ɑ", offset + i + 0.4, offset + i + 0.9)))
        for i, text in enumerate(texts)
    )
    return Score(words, offset + len(texts) + 0.5)


@pytest.fixture
def project() -> Project:
    return Project(replace(State(recording=Path("call.wav")), script="a b c", score=line("a", "b", "c")))


def test_a_drag_is_one_step_and_undo_goes_back_to_its_start(project):
    before = project.state
    for seconds in (1.05, 1.1, 1.2):
        project.apply(MoveBoundary(Boundary(1, 0), seconds, gesture="drag"))
    assert project.state.score.words[1].start == 1.2
    project.end_gesture()
    project.apply(MoveBoundary(Boundary(1, 0), 1.3, gesture="drag"))
    project.undo()
    assert project.state.score.words[1].start == 1.2
    project.undo()
    assert project.state == before
    assert project.undo() is None


def test_undo_and_redo_are_named(project):
    project.apply(Paint(Span(0, 1), "Open"))
    assert project.undo_name == "Paint Open"
    assert project.undo().name == "Paint Open"
    assert (project.undo_name, project.redo_name) == ("", "Paint Open")
    project.redo()
    assert project.state.painted[0].mouth == "Open"


def test_an_edit_after_an_undo_forgets_what_was_undone(project):
    project.apply(SetScript("one"))
    project.undo()
    project.apply(SetScene(hold=2))
    assert project.redo_name == ""


def test_an_edit_that_changes_nothing_leaves_no_step(project):
    project.apply(SetScene(hold=1))
    assert project.undo_name == ""
    assert not project.is_changed


def test_listeners_hear_what_was_touched(project):
    heard = []
    project.listen(heard.append)
    project.apply(SetScript("x"))
    project.apply(Paint(Span(0, 1), "Open"))
    project.undo()
    assert [change.kind for change in heard] == [Kind.SCRIPT, Kind.MOUTHS, Kind.MOUTHS]


def test_saving_and_undoing_tell_whether_something_changed(project, tmp_path):
    project.apply(SetScene(hold=2))
    project.mark_saved(tmp_path / "x.buccaphon")
    assert not project.is_changed
    project.undo()
    assert project.is_changed


def test_pins_survive_realignment_where_their_word_does(project):
    project.apply(MoveBoundary(Boundary(1, 1), 1.5))
    project.apply(MoveBoundary(Boundary(2, 0), 2.1))
    project.apply(TakeAlignment(line("new", "a", "b"), "new a b"))
    assert [pin.boundary for pin in project.state.pins] == [Boundary(2, 1)]
    assert boundary_time(project.state.score, Boundary(2, 1)) == project.state.pins[0].seconds or (
        project.state.score.words[2].start < project.state.pins[0].seconds + 1
    )


def test_pins_hold_exactly_when_the_same_words_are_aligned_again(project):
    project.apply(MoveBoundary(Boundary(1, 1), 1.47))
    project.apply(TakeAlignment(line("a", "b", "c", offset=0.02), "a b c"))
    assert boundary_time(project.state.score, Boundary(1, 1)) == 1.47


def test_painting_over_cuts_what_was_painted_before(project):
    project.apply(Paint(Span(0, 3), "Open"))
    project.apply(Paint(Span(1, 2), "Round"))
    assert {(p.span.start, p.span.end, p.mouth) for p in project.state.painted} == {
        (0, 1, "Open"),
        (2, 3, "Open"),
        (1, 2, "Round"),
    }
    project.apply(Unpaint(Span(0.5, 2.5)))
    assert {(p.span.start, p.span.end) for p in project.state.painted} == {(0, 0.5), (2.5, 3)}


def test_another_recording_begins_without_timings(project):
    project.apply(SetRecording(Path("other.wav")))
    assert project.state.score is None
    assert project.state.script == "a b c"


edits = st.one_of(
    st.builds(MoveBoundary, st.builds(Boundary, st.integers(0, 2), st.integers(0, 2)), st.floats(0, 3.5)),
    st.builds(
        Paint,
        st.tuples(st.floats(0, 1.7), st.floats(0.01, 1.7)).map(lambda p: Span(p[0], p[0] + p[1])),
        st.sampled_from(["Open", "Rest", "Press"]),
    ),
    st.builds(Unpaint, st.floats(0, 1).map(lambda a: Span(a, a + 1))),
    st.builds(SetScript, st.text(max_size=5)),
    st.builds(SetScene, hold=st.integers(1, 3), rate=st.just(FrameRate.parse("25"))),
)


@settings(deadline=None, max_examples=60)
@given(st.lists(edits, max_size=40))
def test_any_sequence_undoes_to_the_start_and_redoes_to_the_end(sequence):
    project = Project(State(score=line("a", "b", "c")))
    start = project.state
    for edit in sequence:
        project.apply(edit)
    end = project.state
    while project.undo():
        pass
    assert project.state == start
    while project.redo():
        pass
    assert project.state == end


def test_the_bake_is_made_once_for_a_state(call, call_score):
    derived = Derived(call)
    state = State(score=call_score)
    first = derived.bake(state)
    assert derived.bake(replace(state, script="typed something")) is first
    assert derived.bake(replace(state, hold=2)) is not first
    moved = MoveBoundary(Boundary(3, 0), call_score.words[3].start + 0.02).apply(state)
    assert derived.bake(moved) is not first
    assert derived.bake(replace(state, score=None)).words[60] == ""
