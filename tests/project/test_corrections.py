"""What went out and was mended elsewhere comes back: nothing where nothing was changed, exactly that where something was."""

import json
import re
from dataclasses import replace

import numpy as np
import opentimelineio
import pytest
from opentimelineio.opentime import RationalTime, TimeRange
from opentimelineio.schema import Marker
from praatio import textgrid as praat

from buccaphon.demo.line import recording_path
from buccaphon.errors import BuccaphonError
from buccaphon.formats.in_.corrected import SUFFIXES, read_corrected
from buccaphon.formats.options import chosen_options
from buccaphon.formats.registry import format_named
from buccaphon.formats.writing import write_files
from buccaphon.kits.kit import Drawn, Kit, OtherFile
from buccaphon.kits.names.table import NamesTable, give
from buccaphon.project.corrections import as_one
from buccaphon.project.delivering import deliver
from buccaphon.project.edits.kits import PutKit
from buccaphon.project.edits.scene import PutNote
from buccaphon.project.edits.takes import ChangeTake
from buccaphon.project.markers import readings_of
from buccaphon.project.state import one_line
from buccaphon.project.take import Take
from buccaphon.timing import FrameRate, Span

OUT = ("textgrid", "vtt", "srt", "cues", "otio", "timings-csv", "sheet-csv", "sheet-xlsx", "sheet-ods", "keys-csv")
WITH_MOUTHS = {"cues": {"mouths": "yes"}}


@pytest.fixture
def state(call_score):
    """The part from half a second on, with the host's names and a note."""
    table = give(NamesTable(before="m_"), "Open", ["wide open"])
    state = one_line((Take(recording_path(), score=call_score),), rate=FrameRate.parse("23.976"), start_frame=101)
    state = PutKit(Kit("Marigold", OtherFile(recording_path()), Drawn(), names=table)).apply(state)
    state = PutNote(Span(2.0, 2.5), "softer\nhere").apply(state)
    return ChangeTake(used=Span(0.5, 11.0)).apply(state)


def written(ident, state, derived, folder):
    form = format_named(ident)
    delivery = replace(deliver(state, derived, "call"), place=folder / "call")
    (file,) = write_files(form.files(delivery, chosen_options(form.options, WITH_MOUTHS.get(ident, {}))), folder)
    return file.path


def found_in(path, state, derived):
    return readings_of(read_corrected(path), state, derived.bake(state))[0].would


@pytest.mark.parametrize("ident", OUT)
def test_what_was_not_changed_corrects_nothing(ident, state, derived, tmp_path):
    result = found_in(written(ident, state, derived, tmp_path), state, derived)
    assert [each.says for each in result.found] == []
    assert result.unplaced == ""


def test_a_textgrid_moves_words_sounds_mouths_and_brings_notes(state, derived, tmp_path):
    path = written("textgrid", state, derived, tmp_path)
    score = state.score
    later = [(w.start, w.end, w.text) for w in score.words]
    grid = praat.openTextgrid(str(path), includeEmptyIntervals=False)
    shift = 0.08
    words = [(a + shift * (n == 4), b + shift * (n == 4), t) for n, (a, b, t) in enumerate(later)]
    moved = score.words[4]
    told = [entry.label for entry in grid.getTier("phones").entries]
    sounds = [(p.start, p.end, shift * (word is moved)) for word in score.words for p in word.phones]
    phones = [(start + by, end + by, name) for (start, end, by), name in zip(sounds, told, strict=True)]
    held = grid.getTier("mouths").entries
    other = next(n for n, entry in enumerate(held) if n > 6 and entry.label != "m_wide open")
    mouths = [(e.start, e.end, "m_wide open" if n == other else e.label) for n, e in enumerate(held)]
    made = praat.Textgrid(0, score.duration)
    for name, entries in (("words", words), ("phones", phones), ("mouths", mouths)):
        made.addTier(praat.IntervalTier(name, entries, 0, score.duration))
    made.addTier(praat.PointTier("notes", [(2.0, "softer here"), (6.5, "louder")], 0, score.duration))
    made.save(str(path), format="long_textgrid", includeBlankSpaces=True)
    result = found_in(path, state, derived)
    after = as_one(result.found, "Corrections").apply(state)
    assert [p.start for p in after.score.words[4].phones] == pytest.approx(
        [p.start + shift for p in moved.phones], abs=1e-3
    )
    for number in (0, 1, 5, 10):
        assert after.score.words[number] == score.words[number]
    assert {pin.boundary.word for pin in after.pins} == {4}
    assert [note.text for note in after.take.notes] == ["softer\nhere", "louder"]
    (painted,) = after.painted
    assert painted.mouth == "Open"
    assert sum("becomes Open" in each.says for each in result.found) == 1
    assert found_in(path, after, derived).found == () or all(
        "ms" not in c.says for c in found_in(path, after, derived).found
    )


@pytest.mark.parametrize("by", [-0.1, 0.25])
def test_every_word_can_be_moved_at_once_in_either_way(by, state, derived, tmp_path):
    path = written("vtt", state, derived, tmp_path)

    def moved(found):
        hours, minutes, seconds = found[0].split(":")
        total = max(float(seconds) + 60 * int(minutes) + by, 0)
        return f"{hours}:{int(total // 60):02d}:{total % 60:06.3f}"

    path.write_text(re.sub(r"\d\d:\d\d:\d\d\.\d{3}", moved, path.read_text()))
    result = found_in(path, state, derived)
    after = as_one(result.found, "Corrections").apply(state)
    starts = np.array([word.start for word in after.score.words]) - [word.start for word in state.score.words]
    assert np.median(starts) == pytest.approx(by, abs=2e-3)
    assert (np.abs(starts - by) < 0.03).mean() > 0.8


def test_markers_of_a_timeline_that_were_moved_count_by_their_frames(state, derived, tmp_path):
    path = written("otio", state, derived, tmp_path)
    timeline = opentimelineio.adapters.read_from_file(str(path))
    (clip,) = timeline.find_clips()
    word = next(m for m in clip.markers if m.metadata["buccaphon"]["kind"] == "word" and m.name == "pears!")
    rate = word.marked_range.start_time.rate

    def span(first, frames):
        return TimeRange(RationalTime(first, rate), RationalTime(frames, rate))

    word.marked_range = span(word.marked_range.start_time.value + 3, word.marked_range.duration.value)
    clip.markers.append(Marker(name="slower", marked_range=span(100, 0)))
    opentimelineio.adapters.write_to_file(timeline, str(path))
    says = [each.says for each in found_in(path, state, derived).found]
    assert len(says) <= 3
    assert any("“pears!” begins" in text and "later" in text for text in says)
    assert any("slower" in text for text in says)


def test_notes_of_a_review_come_as_notes_and_none_twice(state, derived, tmp_path):
    path = tmp_path / "call.notes.json"
    notes = [
        {"frame": 131, "seconds": 1.25, "text": "lips <b>later</b>", "by": "Odile"},
        {"frame": 149, "seconds": 2.0, "text": "and here", "by": ""},
    ]
    path.write_text(json.dumps({"format": "buccaphon.notes", "version": 1, "title": "call", "notes": notes}))
    result = found_in(path, state, derived)
    after = as_one(result.found, "Notes").apply(state)
    assert [note.text for note in after.take.notes] == ["lips <b>later</b> (Odile)", "softer\nhere\nand here"]
    assert len(found_in(path, after, derived).found) <= 1


def test_words_that_are_not_here_and_mouths_nobody_knows_are_said(state, derived, tmp_path):
    path = written("textgrid", state, derived, tmp_path)
    path.write_text(path.read_text().replace('"pears!"', '"turnips"').replace('"m_Press"', '"m_Sneer"'))
    result = found_in(path, state, derived)
    assert "turnips" in result.unplaced
    assert "m_Sneer" in result.unplaced
    assert result.found == ()


@pytest.mark.parametrize("suffix", SUFFIXES)
@pytest.mark.parametrize("content", [b"", b"nonsense \xff\x00", b"{}", b"WEBVTT\n", b"frame,mouth\n"])
def test_what_cannot_be_read_is_refused_in_a_sentence(suffix, content, tmp_path):
    path = tmp_path / f"broken{suffix}"
    path.write_bytes(content)
    with pytest.raises(BuccaphonError, match="broken"):
        read_corrected(path)
    with pytest.raises(BuccaphonError, match="none"):
        read_corrected(tmp_path / f"none{suffix}")


def test_other_kinds_of_files_name_those_that_are(tmp_path):
    (tmp_path / "x.doc").touch()
    with pytest.raises(BuccaphonError, match=r"\.textgrid"):
        read_corrected(tmp_path / "x.doc")
