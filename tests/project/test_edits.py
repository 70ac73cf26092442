"""What holds for every edit, and what single ones do beyond the obvious."""

import copy
import dataclasses
import importlib
import pkgutil
from pathlib import Path

import pytest

from buccaphon.audio.loudness_settings import LoudnessSettings
from buccaphon.audio.recording import Listen
from buccaphon.formats.listing import Entry, ExportList
from buccaphon.kits.kit import CutOut, Kit, OtherFile
from buccaphon.motion.followers import Follower, Unit
from buccaphon.motion.hand import CurvePoint, HandCurve
from buccaphon.motion.mixes import read_mix
from buccaphon.motion.steps import FewerKeys, Smooth
from buccaphon.mouths.chart_file import find_chart
from buccaphon.mouths.laying import Painted
from buccaphon.mouths.settings import SettingsChange
from buccaphon.project import edits
from buccaphon.project.edits import Edit, TakeEdit, Together, Touched
from buccaphon.project.edits.channels import DropFollower, DropMix, PutFollower, PutMix
from buccaphon.project.edits.exports import SetExports
from buccaphon.project.edits.kits import DropKit, PutKit, UseKit
from buccaphon.project.edits.lines import AddLines, ChangeLine, OnLine, PlaceLines, RemoveLine
from buccaphon.project.edits.motion import ChangeLoudness, DropLeftOver, PlaceLeftOver, SetCurve, SetSteps
from buccaphon.project.edits.mouths import (
    ChangeMouthSettings,
    Clear,
    Expose,
    LetChoose,
    Paint,
    Unpaint,
    UseLineSettings,
)
from buccaphon.project.edits.roles import AddRole, RemoveRole, RenameRole
from buccaphon.project.edits.scene import ChangeChart, IgnoreIssues, KeepChart, PutNote, SetScene, SetStanding
from buccaphon.project.edits.script import (
    BeWithoutWords,
    ForgetLostPins,
    SetLanguage,
    SetLexicon,
    SetScript,
    TakeAlignment,
)
from buccaphon.project.edits.takes import AddTake, CarryOver, ChangeTake, RemoveTake, ShowTake
from buccaphon.project.edits.timing import MarkNotSpeech, MoveBoundary, MoveWords, Release, UnmarkNotSpeech
from buccaphon.project.file.store import open_project, save_project
from buccaphon.project.standing import Standing
from buccaphon.project.state import Line, State, one_line
from buccaphon.project.take import BoundaryPin, IgnoredIssue, Take
from buccaphon.score.edits import Boundary, shifted
from buccaphon.score.records import Score
from buccaphon.speech.lexicon import Lexicon
from buccaphon.timing import FrameRate, Span

SPAN = Span(1.0, 1.5)


@pytest.fixture
def state(call_score) -> State:
    take = Take(
        Path("call.flac"), score=call_score, aligned_script="Plums!", painted=(Painted(Span(0.5, 1.2), "Open"),)
    )
    return one_line(takes=(take, Take(Path("slow.flac"))), script="Plums!")


def every_edit(score: Score) -> list[Edit]:
    return [
        AddTake(Take(Path("third.flac")), "More plums!"),
        ShowTake(1),
        RemoveTake(0),
        ChangeTake(title="best", channel=Listen.LOUDEST, muted=True, offset=1.0, used=SPAN),
        MarkNotSpeech(SPAN),
        UnmarkNotSpeech(SPAN),
        SetScript("Pears!"),
        SetLanguage("roa/es"),
        SetLexicon(Lexicon()),
        SetScene(rate=FrameRate.parse("30"), start_frame=101, chart="Five"),
        ChangeMouthSettings(SettingsChange(hold=2, detail=0.4)),
        ChangeMouthSettings(SettingsChange(hold=2), SPAN),
        UseLineSettings(SPAN),
        KeepChart(find_chart("Five")),
        ChangeChart("Ten", find_chart("Five")),
        PutNote(SPAN, "louder"),
        IgnoreIssues((IgnoredIssue("too busy", SPAN),)),
        PutKit(Kit("Marigold", OtherFile(Path("face.png")), CutOut())),
        UseKit(""),
        DropKit("Marigold"),
        PutMix(read_mix("smile = spread - 0.3 jaw")),
        DropMix("smile"),
        PutFollower(Follower("cheek", "jaw", gives=(0.0, -5.0), unit=Unit.PIXELS)),
        DropFollower("chin"),
        SetSteps((Smooth(frames=2.0), FewerKeys(error=1.0, channels=("jaw",)))),
        ChangeLoudness(LoudnessSettings(response=2.0, peak=0.8)),
        SetCurve(HandCurve("jaw", (CurvePoint(0.5, 0.2), CurvePoint(0.9, 0.8)))),
        SetExports(ExportList((Entry("glb", "{title}_{take}", options=(("between", "held"),)),), "out", again=True)),
        DropLeftOver(0),
        PlaceLeftOver(0, 2.0),
        CarryOver(1),
        TakeAlignment(shifted(score, 0.01, score.duration), "Plums!"),
        BeWithoutWords(),
        ForgetLostPins(),
        MoveBoundary(Boundary(1, 0), score.words[1].start + 0.01),
        MoveWords(1, 3, score.words[1].start + 0.01),
        Release(Span(0.0, 9.0)),
        Paint(SPAN, "Round"),
        Unpaint(SPAN),
        Clear(SPAN, holds=True),
        LetChoose(SPAN),
        Expose(((24, "Round"), (30, "Bite")), 40),
        AddLines((Line((Take(Path("next.flac")),), name="next"),)),
        RemoveLine(0),
        ChangeLine(0, title="the call", muted=True),
        PlaceLines(((0, 1.5),)),
        OnLine(SetScript("Pears!"), 0),
        AddRole("Timo"),
        SetStanding(Standing.LOOKED_AT),
        RenameRole("", "Marigold"),
        RemoveRole("Timo"),
        Together((Paint(SPAN, "Round"), SetScript("Pears!")), name="Paint and type"),
    ]


def known_edits() -> list[type[Edit]]:
    """All kinds of edits that there are in any of their rooms."""
    rooms = [
        edits,
        *(importlib.import_module(f"{edits.__name__}.{m.name}") for m in pkgutil.iter_modules(edits.__path__)),
    ]
    values = [value for room in rooms for value in vars(room).values() if isinstance(value, type)]
    return sorted(
        {value for value in values if issubclass(value, Edit) and value not in (Edit, TakeEdit)},
        key=lambda e: e.__name__,
    )


EVERY = known_edits()


def one_of(kind: type[Edit], score: Score) -> Edit:
    return next(edit for edit in every_edit(score) if type(edit) is kind)


def test_every_edit_there_is_stands_in_the_list_above(call_score):
    assert {type(edit) for edit in every_edit(call_score)} == set(EVERY)


@pytest.mark.parametrize("kind", EVERY, ids=lambda kind: kind.__name__)
def test_an_edit_is_named_says_what_it_touches_and_leaves_what_it_was_given(kind, state, call_score):
    edit = one_of(kind, call_score)
    before = copy.deepcopy(state)
    after = edit.apply(state)
    assert state == before, "the old state is for undo"
    assert edit.apply(state) == after, "nothing but the state decides"
    assert edit.name[0].isupper()
    assert edit.touches
    with pytest.raises(dataclasses.FrozenInstanceError):
        edit.gesture = "other"


@pytest.mark.parametrize("kind", EVERY, ids=lambda kind: kind.__name__)
def test_an_edit_of_an_empty_project_is_no_error(kind, call_score):
    edit = one_of(kind, call_score)
    if not isinstance(edit, RemoveTake | ShowTake):
        assert isinstance(edit.apply(State()), State)


def test_edits_together_touch_what_each_does_and_come_one_after_the_other(state):
    both = Together((Paint(SPAN, "Round"), Unpaint(Span(1.2, 1.3))), name="Paint round a gap")
    assert both.touches is Touched.MOUTHS
    assert (Together((*both.edits, SetScript("x")), name="More")).touches == Touched.MOUTHS | Touched.SCRIPT
    spans = [paint.span for paint in both.apply(state).painted if paint.mouth == "Round"]
    assert sorted(spans) == [Span(1.0, 1.2), Span(1.3, 1.5)]


def test_removing_the_last_shown_take_shows_the_one_before(state):
    shown = ShowTake(1).apply(state)
    assert RemoveTake(1).apply(shown).take == state.takes[0]
    assert RemoveTake(0).apply(shown).take == state.takes[1]
    assert RemoveTake(0).apply(RemoveTake(0).apply(shown)).take is None


def test_not_speech_is_joined_where_it_touches_and_parted_where_it_is_taken_back(state):
    for span in (Span(2, 3), Span(5, 6), Span(3, 4), Span(2.5, 2.7)):
        state = MarkNotSpeech(span).apply(state)
    assert state.take.not_speech == (Span(2, 4), Span(5, 6))
    state = UnmarkNotSpeech(Span(3.5, 5.5)).apply(state)
    assert state.take.not_speech == (Span(2, 3.5), Span(5.5, 6))
    state = UnmarkNotSpeech(Span(2.5, 3)).apply(state)
    assert state.take.not_speech == (Span(2, 2.5), Span(3, 3.5), Span(5.5, 6))


def test_a_note_is_written_over_where_it_begins_and_an_empty_one_takes_it_away(state):
    for note in (PutNote(Span(1, 3), "soft"), PutNote(Span(0, 1), "sleepy"), PutNote(Span(1, 2), "sharper")):
        state = note.apply(state)
    assert [(note.span.start, note.text) for note in state.take.notes] == [(0, "sleepy"), (1, "sharper")]
    assert [note.text for note in PutNote(Span(1, 2), "").apply(state).take.notes] == ["sleepy"]


def test_without_words_the_corrections_are_remembered_as_lost(state, call_score):
    moved = MoveBoundary(Boundary(2, 0), call_score.words[2].start + 0.01).apply(state)
    empty = BeWithoutWords().apply(moved)
    assert empty.score is None
    assert empty.pins == ()
    assert [(lost.word, lost.seconds) for lost in empty.take.without_word] == [
        (call_score.words[2].text, moved.pins[0].seconds)
    ]
    assert ForgetLostPins().apply(empty).take.without_word == ()


def test_released_pins_leave_the_times_where_they_are(state, call_score):
    at = call_score.words[3].start + 0.02
    moved = MoveBoundary(Boundary(3, 0), at).apply(state)
    assert moved.pins == (BoundaryPin(Boundary(3, 0), at),)
    freed = Release(Span(at - 0.1, at + 0.1)).apply(moved)
    assert freed.pins == ()
    assert freed.score == moved.score
    assert Release(Span(0.0, at - 0.1)).apply(moved).pins == moved.pins


def test_another_language_asks_for_all_takes_to_be_aligned_again_and_the_same_does_not(state):
    assert SetLanguage(state.language).apply(state).take.aligned_script == "Plums!"
    assert SetLanguage("roa/es").apply(state).needs_aligning


@pytest.mark.parametrize("edit", [
    ChangeTake(used=Span(-4.0, -2.0)), ChangeTake(used=Span(1.0, 1e9)), ChangeTake(offset=-1e9), ChangeTake(offset=1e9),
    SetScene(start_frame=-10**9), SetScene(start_frame=10**9), ChangeMouthSettings(SettingsChange(hold=0, pause=-1.0)),
    ChangeMouthSettings(SettingsChange(hold=1000, lead=9.0), SPAN),
])  # fmt: skip
def test_no_edit_makes_what_a_file_cannot_hold(state, edit, tmp_path):
    made = edit.apply(state)
    save_project(made, tmp_path / "made.buccaphon")
    kept = open_project(tmp_path / "made.buccaphon")
    assert (kept.start_frame, kept.mouth_settings, kept.take.mouth_ranges) == (
        made.start_frame,
        made.mouth_settings,
        made.take.mouth_ranges,
    )
    assert (kept.take.offset, kept.take.trim_in, kept.take.trim_out) == (
        made.take.offset,
        made.take.trim_in,
        made.take.trim_out,
    )


def test_a_kit_is_put_in_the_place_of_one_of_its_name_and_another_can_be_shown():
    drawn, cut = (Kit(name, OtherFile(Path(f"{name}.png")), CutOut()) for name in ("drawn", "cut"))
    state = PutKit(cut).apply(PutKit(drawn).apply(State()))
    assert state.kit_in_use == cut
    other = dataclasses.replace(drawn, look=CutOut(soft=9.0))
    kept = PutKit(other, kept=True).apply(state)
    assert [kit.look.soft for kit in kept.kits] == [9.0, 2.0]
    assert kept.kit_in_use == cut
    assert UseKit("drawn").apply(kept).kit_in_use == other
    assert UseKit("nobody").apply(kept) == kept
    renamed = PutKit(dataclasses.replace(cut, name="drawn"), instead_of="cut").apply(kept)
    assert [kit.name for kit in renamed.kits] == ["drawn", "cut"], "two never have one name"
    assert DropKit("cut").apply(kept).kit_in_use is None


def test_a_list_is_painted_each_until_the_next_on_exactly_its_frames(state):
    after = Expose(((30, "Bite"), (12, "Round"), (30, "Tip")), 40).apply(state)
    rate = after.rate
    painted = [(rate.nearest(p.span.start), rate.nearest(p.span.end), p.mouth) for p in after.painted]
    assert painted == [(12, 30, "Round"), (30, 40, "Tip")], (
        "what was painted there before is gone, and of two rows the later"
    )


def test_a_stretch_is_cleared_parted_and_brought_back(state):
    whole = Span(0.0, 43_200.0)
    cleared = Clear(whole, holds=True).apply(state)
    assert [blank.span for blank in cleared.blanks] == [whole]
    parted = LetChoose(SPAN).apply(cleared)
    assert [(blank.span, blank.holds) for blank in parted.blanks] == [
        (Span(0.0, 1.0), True),
        (Span(1.5, 43_200.0), True),
    ]
    again = Clear(Span(0.5, 2.0)).apply(parted)
    assert [blank.holds for blank in again.blanks] == [True, False, True]
    assert LetChoose(whole).apply(again).take == state.take
