from dataclasses import replace
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from buccaphon.motion.hand import CurvePoint, HandCurve, Interpolation
from buccaphon.mouths.laying import Blank, Painted
from buccaphon.mouths.settings import SettingsChange, SettingsRange
from buccaphon.project.carrying import carry_over, changed_words, known_pins, time_map
from buccaphon.project.edits import Together
from buccaphon.project.edits.motion import PlaceLeftOver
from buccaphon.project.edits.script import ForgetLostPins, SetLanguage, SetLexicon, SetScript, TakeAlignment
from buccaphon.project.edits.timing import MoveBoundary
from buccaphon.project.file.store import open_project, save_project
from buccaphon.project.project import Project
from buccaphon.project.state import one_line
from buccaphon.project.take import PinWithoutWord, Take
from buccaphon.score.edits import Boundary
from buccaphon.score.records import Note, Score
from buccaphon.speech.lexicon import Lexicon, Pronunciation
from buccaphon.speech.script import script_words
from buccaphon.timing import FURTHEST, Span
from tests.project.test_project import line


def pinned() -> Project:
    project = Project(
        one_line(takes=(Take(Path("call.wav"), score=line("warm", "plums", "now")),), script="warm plums now")
    )
    project.apply(MoveBoundary(Boundary(1, 0), 1.1))
    project.apply(MoveBoundary(Boundary(2, 0), 2.1))
    return project


def test_pins_become_constraints_of_the_words_they_belong_to():
    take = pinned().state.take
    pins = known_pins(take, script_words("Warm, ripe plums!"))
    assert [(pin.word, pin.phone, pin.of, pin.seconds) for pin in pins] == [(2, 0, 2, 1.1)]


def test_a_pin_whose_word_is_gone_is_listed_until_it_is_forgotten(tmp_path):
    project = pinned()
    project.apply(TakeAlignment(line("warm", "plums"), "warm plums"))
    assert project.state.take.without_word == (PinWithoutWord("now", 2.1),)
    assert [pin.boundary for pin in project.state.pins] == [Boundary(1, 0)]
    save_project(project.state, tmp_path / "a.buccaphon")
    assert open_project(tmp_path / "a.buccaphon").take.without_word == (PinWithoutWord("now", 2.1),)
    project.apply(ForgetLostPins())
    assert project.state.take.without_word == ()
    project.undo()
    project.undo()
    assert len(project.state.pins) == 2


def test_only_what_was_typed_anew_counts_as_changed():
    score = line("Warm", "plums,", "now!")
    assert changed_words(score, script_words("Warm plums now")) == (3, 3)
    assert changed_words(score, script_words("Warm ripe plums now")) == (1, 1)
    assert changed_words(score, script_words("Warm pears now")) == (1, 2)
    assert changed_words(score, script_words("now")) == (0, 2)
    assert changed_words(line("a", "a"), script_words("a a a")) == (2, 2)


def test_the_lexicon_is_kept_with_the_project(tmp_path):
    project = pinned()
    lexicon = (
        Lexicon().having("plums", Pronunciation(("p", "l"), (0, 0))).having("now", Pronunciation(("n",), (0,)), only=2)
    )
    project.apply(SetLexicon(lexicon))
    save_project(project.state, tmp_path / "a.buccaphon")
    assert open_project(tmp_path / "a.buccaphon").lexicon == lexicon


def test_another_language_asks_for_another_alignment():
    project = pinned()
    project.apply(TakeAlignment(line("warm", "plums", "now"), "warm plums now"))
    assert not project.state.needs_aligning
    project.apply(SetLanguage("de"))
    assert project.state.needs_aligning


def test_several_edits_together_are_one_step():
    project = pinned()
    before = project.state
    project.apply(Together((SetScript("warm [plums] now"), ForgetLostPins(), SetLanguage("it")), name="Change much"))
    assert project.undo_name == "Change much"
    project.undo()
    assert project.state == before


def test_corrections_follow_to_another_take_of_the_line():
    known = pinned().state.take
    known = replace(known, painted=(Painted(Span(1.2, 1.4), "Press"),), notes=(Note(Span(2.0, 2.2), "softer"),))
    later = line("warm", "plums", "now")
    later = replace(later, words=tuple(moved(word, 0.25) for word in later.words), duration=later.duration + 0.25)
    other = carry_over(known, Take(Path("again.wav"), score=later))
    there = time_map(known.score, later)
    assert [(pin.boundary, pin.seconds) for pin in other.pins] == [
        (pin.boundary, pytest.approx(there(pin.seconds))) for pin in known.pins
    ]
    assert other.painted[0].mouth == "Press"
    assert other.painted[0].span.start == pytest.approx(there(1.2))
    assert other.notes[0].text == "softer"
    own = Painted(Span(0.0, 9.0), "Open")
    assert carry_over(known, Take(Path("again.wav"), score=later, painted=(own,))).painted == (own,)


def moved(word, by):
    return replace(word, phones=tuple(replace(p, start=p.start + by, end=p.end + by) for p in word.phones))


@given(st.floats(-1, 5), st.floats(-1, 5), st.floats(0, 2))
def test_a_time_map_never_turns_back(one, other, by):
    before = line("warm", "plums", "now")
    after = replace(before, words=tuple(moved(word, by) for word in before.words))
    there = time_map(before, after)
    early, late = sorted((one, other))
    assert there(early) <= there(late)
    assert there(before.words[1].start) == pytest.approx(after.words[1].start)


def test_what_has_no_place_in_another_take_is_listed_once_and_put_where_it_belongs():
    known = Take(
        Path("a.wav"), score=line("warm", "plums", "now"),
        painted=(Painted(Span(1.2, 1.4), "Open"),), notes=(Note(Span(1.1, 1.5), "sing"), Note(Span(0.2, 0.4), "soft")),
        mouth_ranges=(SettingsRange(Span(1.1, 1.6), SettingsChange(hold=2)),),
        curves=(HandCurve("jaw", (CurvePoint(0.3, 0.2), CurvePoint(1.3, 0.8), CurvePoint(2.3, 0.4))),),
    )  # fmt: skip
    onto = Take(Path("b.wav"), score=line("warm", "now"))
    there = carry_over(known, onto)
    assert sorted(piece.kind for piece in there.unplaced) == ["curve", "mouth", "note", "range"]
    assert {piece.word for piece in there.unplaced} == {"plums"}
    assert [note.text for note in there.notes] == ["soft"]
    assert [p.value for p in there.curves[0].points] == [0.2, 0.4]
    assert there.curves[0].points[0].interpolation is Interpolation.FREE
    assert carry_over(known, there).unplaced == there.unplaced, "asked for again, nothing is listed twice"
    state = one_line((there,))
    while state.take.unplaced:
        state = PlaceLeftOver(0, 1.0).apply(state)
    take = state.take
    assert [(p.mouth, p.span.start) for p in take.painted] == [("Open", 1.0)]
    assert "sing" in [note.text for note in take.notes]
    assert [(part.span.start, part.change.hold) for part in take.mouth_ranges] == [(1.0, 2)]
    assert 1.0 in [p.seconds for p in take.curves[0].points]


def test_nothing_that_is_carried_lies_outside_the_recording():
    early = Take(
        Path("a.wav"), score=line("warm", "plums", "now"), curves=(HandCurve("jaw", (CurvePoint(0.01, 0.5),)),)
    )
    words = line("warm", "plums", "now").words
    moved = tuple(
        replace(w, phones=tuple(replace(p, start=p.start / 4, end=p.end / 4) for p in w.phones)) for w in words
    )
    onto = Take(Path("b.wav"), score=Score(moved, 1.0))
    late = replace(early, painted=(Painted(Span(2.9, 3.4), "Open"),), notes=(Note(Span(9.0, 9.5), "Suffix"),))
    there = carry_over(late, onto)
    assert all(0 <= paint.span.start <= paint.span.end <= 1.0 for paint in there.painted)
    assert there.notes == ()
    assert "Suffix" in [piece.what for piece in there.unplaced]
    points = [p for curve in there.curves for p in curve.points]
    listed = [p for piece in there.unplaced if piece.curve for p in piece.curve.points]
    assert len(points) + len(listed) == 1, "none is lost"


def test_a_blank_follows_to_another_take_and_reaches_to_its_end_where_it_did():
    score = line("warm", "plums", "now")
    longer = Score(tuple(moved(word, 0.5) for word in score.words), score.duration + 2.0)
    whole, part = Blank(Span(0.0, FURTHEST)), Blank(Span(1.2, 1.8), holds=True)
    onto = Take(Path("again.wav"), score=longer)
    (there,) = carry_over(Take(Path("a.wav"), score=score, blanks=(whole,)), onto).blanks
    assert there.span == whole.span
    (there,) = carry_over(Take(Path("a.wav"), score=score, blanks=(part,)), onto).blanks
    assert there.span.start == pytest.approx(1.7)
    assert there.holds
    own = replace(onto, blanks=(part,))
    assert carry_over(Take(Path("a.wav"), score=score, blanks=(whole,)), own).blanks == (part,)
