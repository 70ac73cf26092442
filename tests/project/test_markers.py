"""Labels that somebody put into a recording: taken as mouths, as words or as notes."""

from dataclasses import replace

import pytest

from buccaphon.demo.line import recording_path
from buccaphon.errors import SheetError
from buccaphon.formats.in_.corrected import Corrected
from buccaphon.formats.in_.wording import Timed
from buccaphon.kits.kit import Drawn, Kit, OtherFile
from buccaphon.kits.names.table import NamesTable, give
from buccaphon.mouths.exposures import exposure_at
from buccaphon.project.corrections import as_one, times_put, with_times
from buccaphon.project.edits.kits import PutKit
from buccaphon.project.markers import mouths_of, painted_by, readings_of
from buccaphon.project.state import one_line
from buccaphon.project.take import Take
from buccaphon.timing import FrameRate

SOUNDS = {
    "TH": "Tip", "AA1": "Open", "iy": "Spread", "ʃ": "Teeth", "m": "Press", "MBP": "Press", "L": "Tip", "oo": "Pucker",
    "F/V": "Bite", "w": "Pucker", "sil": "Rest", "Ajar": "Ajar", "ajar": "Ajar", "0": "Rest",
}  # fmt: skip
NONE = ("plums", "take a breath", "note-to-self", "louder", "m and b")


@pytest.fixture
def state(call_score):
    return one_line(
        (Take(recording_path(), score=call_score),), rate=FrameRate.parse("24"), start_frame=101, chart="Ten"
    )


def markers(*each):
    return tuple(Timed(text, at, at) for at, text in each)


def shown(state, derived, *frames):
    exposures = derived.bake(state).exposures
    return [exposure_at(exposures, frame).mouth for frame in frames]


def test_a_label_is_a_mouth_by_any_name_or_a_sound(state):
    assert mouths_of([*SOUNDS, *NONE], state) == [*SOUNDS.values(), *(None for _ in NONE)]
    assert mouths_of(["oo"] * 5, state) == ["Pucker"] * 5, "one label many times means what it does once"


def test_a_label_is_a_drawing_by_its_name_or_number(state):
    table = give(NamesTable(host=("pip_shut", "pip_agape"), counts_from=1), "Open", ["pip_agape"])
    state = PutKit(Kit("Pip", OtherFile(recording_path()), Drawn(), names=table)).apply(state)
    assert mouths_of(["pip_agape", "2"], state) == ["Open", "Open"]


def test_each_mouth_lasts_until_the_next_label(state, derived):
    found = markers((1.0, "oo"), (1.25, "m"), (1.26, "Bite"), (2.0, "breathe in"), (2.5, "L"))
    bake = derived.bake(state)
    first, plainly, alone, *others = readings_of(Corrected(markers=found), state, bake)
    assert first.says == "Paint 4 mouths, 1 label as a note"
    after = as_one(first.would.found, "x").apply(state)
    assert shown(after, derived, 24, 29, 30, 47) == ["Pucker", "Pucker", "Bite", "Bite"]
    assert shown(after, derived, 48, 59) == shown(state, derived, 48, 59), "until the label that is none"
    end = exposure_at(bake.exposures, 60).end
    assert set(shown(after, derived, 60, end - 1)) == {"Tip"}
    assert [note.text for note in after.take.notes] == ["breathe in"]
    assert as_one(plainly.would.found, "x").apply(state).take.notes == ()
    blanked = as_one(alone.would.found, "x").apply(state)
    assert set(shown(blanked, derived, *range(24))) == {"Rest"}
    assert shown(blanked, derived, 24, 30) == ["Pucker", "Bite"]
    assert [each.says for each in others] == ["5 labels as notes"]


def test_a_stretch_with_a_label_ends_where_it_ends(state, derived):
    found = Timed("oo", 1.0, 1.25), Timed("m", 3.0, 3.25)
    (first, *_others) = readings_of(Corrected(markers=found), state, derived.bake(state))
    after = as_one(first.would.found, "x").apply(state)
    assert [(p.span.start, p.span.end, p.mouth) for p in after.painted] == [(1.0, 1.25, "Pucker"), (3.0, 3.25, "Press")]


def test_labels_that_are_the_words_of_the_line_are_their_times(state, derived):
    words = tuple(Timed(w.text, w.start + 0.05, w.end + 0.05) for w in state.score.words)
    first, *_others = readings_of(Corrected(markers=words), state, derived.bake(state))
    assert first.says == f"The times of {len(words)} words"
    after = as_one(first.would.found, "x").apply(state)
    assert after.score.words[3].start == pytest.approx(words[3].start)
    untimed = state.with_take(replace(state.take, score=None))
    readings = readings_of(Corrected(markers=words), untimed, derived.bake(untimed))
    assert [each.anew for each in readings if each.anew] == [words]


def test_times_of_a_file_can_hold_as_they_are(state):
    lines = (Timed("Plums, sweet plums!", 0.7, 2.0),)
    put = times_put(lines, state.score).apply(state)
    assert [pin.seconds for pin in put.pins] == [0.7]
    times = tuple(Timed(w.text, round(w.start, 1), round(w.end, 1)) for w in state.score.words[:6])
    score = with_times(state.score, times)
    assert [w.start for w in score.words[:6]] == pytest.approx([t.start for t in times], abs=0.006)
    assert score.words[8:] == state.score.words[8:]


def test_a_file_without_any_mouth_is_told(state, derived):
    with pytest.raises(SheetError, match="no label is a mouth"):
        painted_by(markers((1.0, "louder")), state, derived.bake(state), "a.wav")
    edit = painted_by(markers((1.0, "oo"), (1.5, "louder")), state, derived.bake(state), "a.wav", blank=True)
    assert set(shown(edit.apply(state), derived, 24, 35)) == {"Pucker"}
