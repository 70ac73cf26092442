from dataclasses import replace
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from buccaphon.mouths.settings import MouthSettings, SettingsChange
from buccaphon.project.derived import Derived
from buccaphon.project.edits import Touched
from buccaphon.project.edits.mouths import ChangeMouthSettings, Paint, Unpaint
from buccaphon.project.edits.scene import SetScene
from buccaphon.project.edits.script import SetScript, TakeAlignment
from buccaphon.project.edits.takes import AddTake, ChangeTake, RemoveTake, ShowTake
from buccaphon.project.edits.timing import MarkNotSpeech, MoveBoundary, UnmarkNotSpeech
from buccaphon.project.project import Project
from buccaphon.project.state import one_line
from buccaphon.project.take import Take
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
    return Project(one_line(takes=(Take(Path("call.wav"), score=line("a", "b", "c")),), script="a b c"))


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
    project.apply(ChangeMouthSettings(SettingsChange(hold=2)))
    assert project.redo_name == ""


def test_an_edit_that_changes_nothing_leaves_no_step(project):
    project.apply(ChangeMouthSettings(SettingsChange(hold=1)))
    assert project.undo_name == ""
    assert not project.is_changed


def test_listeners_hear_what_was_touched(project):
    heard = []
    project.listen(heard.append)
    project.apply(SetScript("x"))
    project.apply(Paint(Span(0, 1), "Open"))
    project.undo()
    assert [change.touched for change in heard] == [Touched.SCRIPT, Touched.MOUTHS, Touched.MOUTHS]


def test_saving_and_undoing_tell_whether_something_changed(project, tmp_path):
    project.apply(ChangeMouthSettings(SettingsChange(hold=2)))
    project.mark_saved(tmp_path / "x.buccaphon")
    assert not project.is_changed
    project.undo()
    assert project.is_changed


def test_pins_survive_realignment_where_their_word_does(project):
    project.apply(MoveBoundary(Boundary(1, 1), 1.5))
    project.apply(MoveBoundary(Boundary(2, 0), 2.1))
    project.apply(TakeAlignment(line("new", "a", "b"), "new a b"))
    assert [pin.boundary for pin in project.state.pins] == [Boundary(2, 1)]
    assert boundary_time(project.state.score, Boundary(2, 1)) == pytest.approx(2.005), "as near as its word allows"


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


def test_another_take_begins_without_timings_and_the_first_keeps_its_own(project):
    project.apply(AddTake(Take(Path("other.wav"))))
    assert project.state.score is None
    assert project.state.script == "a b c"
    project.apply(ShowTake(0))
    found = project.state.score
    assert found is not None and len(found.words) == 3
    project.apply(RemoveTake(0))
    assert [take.path.name for take in project.state.takes] == ["other.wav"]
    assert project.state.shown == 0
    project.apply(RemoveTake(0))
    assert project.state.take is None


def test_a_take_is_renamed_moved_and_trimmed(project):
    project.apply(ChangeTake(title="slow one", offset=2.0, used=Span(1.0, 2.5), muted=True))
    take = project.state.take
    assert (take.title, take.muted) == ("slow one", True)
    assert take.used(10.0) == Span(1.0, 2.5)
    assert project.state.first_number == 24, "frame 24 of the file is where the scene's frame 48 begins"


def test_not_speech_is_marked_joined_and_unmarked(project):
    for span in (Span(0, 1), Span(3, 4), Span(0.5, 2)):
        project.apply(MarkNotSpeech(span))
    assert project.state.take.not_speech == (Span(0, 2), Span(3, 4))
    project.apply(UnmarkNotSpeech(Span(1, 3.5)))
    assert project.state.take.not_speech == (Span(0, 1), Span(3.5, 4))


edits = st.one_of(
    st.builds(MoveBoundary, st.builds(Boundary, st.integers(0, 2), st.integers(0, 2)), st.floats(0, 3.5)),
    st.builds(
        Paint,
        st.tuples(st.floats(0, 1.7), st.floats(0.01, 1.7)).map(lambda p: Span(p[0], p[0] + p[1])),
        st.sampled_from(["Open", "Rest", "Press"]),
    ),
    st.builds(Unpaint, st.floats(0, 1).map(lambda a: Span(a, a + 1))),
    st.builds(SetScript, st.text(max_size=5)),
    st.builds(SetScene, rate=st.just(FrameRate.parse("25"))),
    st.builds(ChangeMouthSettings, st.builds(SettingsChange, hold=st.integers(1, 3)), st.just(Span(0.4, 2.0))),
)


@settings(deadline=None, max_examples=60)
@given(st.lists(edits, max_size=40))
def test_any_sequence_undoes_to_the_start_and_redoes_to_the_end(sequence):
    project = Project(one_line(takes=(Take(Path("call.wav"), score=line("a", "b", "c")),)))
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


def test_the_bake_is_made_once_for_a_state(call, call_peaks, call_score):
    derived = Derived(call, call_peaks)
    state = one_line(takes=(Take(Path("call.flac"), score=call_score),))
    first = derived.bake(state)
    assert derived.bake(state) is first
    assert derived.bake(state.with_line(script="typed something")).channels is first.channels, "nothing was made over"
    assert derived.bake(state.with_role(mouth_settings=MouthSettings(hold=2))) is not first
    moved = MoveBoundary(Boundary(3, 0), call_score.words[3].start + 0.02).apply(state)
    assert derived.bake(moved) is not first
    assert derived.bake(state.with_take(replace(state.take, score=None))).words[60] == ""


def test_trims_and_what_is_not_speech_are_silent_and_only_the_used_part_is_delivered(call, call_peaks, call_score):
    derived = Derived(call, call_peaks)
    take = Take(Path("call.flac"), score=call_score, trim_in=1.0, trim_out=5.0, not_speech=(Span(2.0, 3.0),))
    state = one_line(takes=(take,), start_frame=100)
    jaw = derived.bake(state).jaw
    assert not jaw[:24].any()
    assert not jaw[48:72].any()
    assert jaw[24:48].any()
    assert not jaw[120:].any()
    delivery = derived.used_part(state)
    assert (delivery.frames, delivery.start_frame, delivery.first) == (96, 100, 24)
    assert delivery.exposures[0].start == 0
    assert delivery.exposures[-1].end == 96
    assert (delivery.jaw == jaw[24:120]).all()
