"""Lists of changes that people type from, and the sound that belongs to the frames."""

import csv
import io
import itertools
import json
from dataclasses import replace

import numpy as np
import pytest
import soundfile

from buccaphon.demo.line import recording_path
from buccaphon.formats.delivery import Delivery, Source
from buccaphon.formats.in_.mouth_list import parse_mouth_list, read_mouth_list
from buccaphon.formats.in_.timed import read_cues
from buccaphon.formats.out.changes import COLUMNS
from buccaphon.formats.registry import format_named
from buccaphon.kits.names.table import NamesTable, give
from buccaphon.motion.plan import BakeSettings, Plan, frame_loudness
from buccaphon.motion.record import trim
from buccaphon.motion.remaking import bake
from buccaphon.mouths.chart_file import find_chart
from buccaphon.score.records import Note
from buccaphon.timing import FrameRate, Span


def delivery_at(call, call_peaks, call_score, rate="24"):
    fps = FrameRate.parse(rate)
    plan = Plan(call_score, find_chart("Ten"), frame_loudness(call_peaks, fps), BakeSettings(fps, 101))
    return Delivery("call", call_score, bake(plan), sound=call)


def written(ident, delivery):
    (found,) = format_named(ident).files(delivery).values()
    return found


@pytest.fixture
def delivery(call, call_peaks, call_score):
    return delivery_at(call, call_peaks, call_score)


def rows_of(data):
    return list(csv.DictReader(io.StringIO(data.decode("utf-8-sig"))))


def test_a_list_has_a_row_where_another_mouth_begins_and_comes_back_the_same(delivery, tmp_path):
    rows = rows_of(written("changes-csv", delivery))
    assert tuple(rows[0]) == COLUMNS
    exposures = delivery.bake.exposures
    assert [(int(r["frame"]), r["mouth"], int(r["length"])) for r in rows] == [
        (e.start + 101, e.mouth, e.length) for e in exposures
    ]
    assert {r["number"] for r in rows} <= {str(n) for n in range(10)}
    for ident, name in (("changes-csv", "a.csv"), ("changes-txt", "a.txt")):
        (tmp_path / name).write_bytes(written(ident, delivery))
        assert read_mouth_list(tmp_path / name) == tuple((e.start + 101, e.mouth) for e in exposures)


def test_mouths_that_one_drawing_shows_are_one_row(delivery):
    names = NamesTable(host=("shut", "open"))
    for mouth in delivery.bake.chart.names:
        names = give(names, mouth, ["shut" if mouth in ("Rest", "Press", "Bite") else "open"])
    rows = rows_of(written("changes-csv", replace(delivery, names=names)))
    assert all(a["shown"] != b["shown"] for a, b in itertools.pairwise(rows))
    assert {(row["shown"], row["number"]) for row in rows} == {("shut", "0"), ("open", "1")}
    assert sum(int(row["length"]) for row in rows) == delivery.bake.frames


def test_the_text_stands_in_columns_and_says_what_it_is(delivery):
    lines = written("changes-txt", delivery).decode().splitlines()
    assert lines[0].startswith("# call: ")
    assert "frames 101 to " in lines[0]
    assert lines[1].split() == list(COLUMNS)
    assert len({line.index("\t") for line in lines[1:]}) == 1
    assert parse_mouth_list("\n".join(lines), "x")[0][0] == 101


@pytest.mark.parametrize("rate", ["24", "23.976", "25", "59.94"])
def test_the_sound_is_that_of_the_frames_to_the_sample(rate, call, call_peaks, call_score):
    content = delivery_at(call, call_peaks, call_score, rate)
    samples, hertz = soundfile.read(io.BytesIO(written("wav", content)), dtype="float32", always_2d=True)
    info = soundfile.info(io.BytesIO(written("wav", content)))
    fps, frames = content.bake.rate.value, content.bake.frames
    assert info.subtype == "PCM_24"
    assert hertz == call.rate
    assert len(samples) == round(frames / fps * hertz)
    whole = np.asarray(call.samples)
    there = min(len(whole), len(samples))
    assert np.abs(samples[:there] - whole[:there]).max() < 2**-22
    assert not samples[there:].any(), "what a last frame lacks is silence"


def test_the_sound_needs_no_words(call, call_peaks):
    fps = FrameRate.parse("24")
    plan = Plan(None, find_chart("Flap"), frame_loudness(call_peaks, fps), BakeSettings(fps))
    content = Delivery("call", None, bake(plan), sound=call)
    assert soundfile.info(io.BytesIO(written("wav", content))).frames > 0


@pytest.fixture
def part(call, call_peaks, call_score):
    """From one second in, three seconds of the line, at 24 fps."""
    fps, used = FrameRate.parse("24"), Span(1.0, 4.0)
    plan = Plan(call_score, find_chart("Ten"), frame_loudness(call_peaks, fps), BakeSettings(fps, 101, used=used))
    whole = bake(plan)
    cut = trim(whole, 24, 96)
    notes = (Note(Span(0.2, 0.4), "before"), Note(Span(2.0, 2.5), "inside"))
    return Delivery("call", call_score, cut, notes, source=Source(recording_path(), "call"), sound=call)


def test_times_count_from_the_first_frame_as_the_films_do(part):
    words = [word for word in part.score.words if word.end > 1.0 and word.start < 4.0]
    for ident in ("timings-json", "timings-csv", "srt", "vtt", "textgrid"):
        form = format_named(ident)
        (plain,), (scene,) = (form.files(part, form.options(scene=on)).values() for on in (False, True))
        assert plain != scene
    form = format_named("timings-json")
    told = json.loads(next(iter(form.files(part, form.options(scene=True)).values())))
    assert told["duration"] == 3.0
    assert [word["word"] for word in told["words"]] == [word.text for word in words]
    assert told["words"][1]["start"] == pytest.approx(words[1].start - 1.0, abs=1e-3)
    assert all(0 <= word["start"] < word["end"] <= 3.0 for word in told["words"])


def test_markers_from_the_first_frame_lie_in_the_sound_of_the_frames(part, tmp_path):
    form = format_named("cues")
    (data,) = form.files(part, form.options(scene=True, mouths=True)).values()
    assert soundfile.info(io.BytesIO(data)).frames == 3 * part.sound.rate
    (tmp_path / "a.wav").write_bytes(data)
    said = read_cues(tmp_path / "a.wav")
    assert [word.text for word in said.times] == [w.text for w in part.score.words if w.end > 1.0 and w.start < 4.0]
