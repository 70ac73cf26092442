"""One contract for every format: what it promises comes back through an independent reader, and writing is all or nothing."""

import csv
import io
import itertools
import json
from fractions import Fraction

import numpy as np
import pytest
from praatio import textgrid

from buccaphon.errors import TargetError
from buccaphon.files import require_writable, write_whole
from buccaphon.formats.registry import KEY_FORMATS, TIMING_FORMATS, format_for
from buccaphon.motion.bake import BakeSettings, bake, frame_loudness
from buccaphon.mouths.chart import find_chart
from buccaphon.speech.phones import arpabet_of
from buccaphon.timing import FrameRate


@pytest.fixture(scope="module")
def baked(call_peaks, call_score):
    rate = FrameRate.parse("23.976")
    settings = BakeSettings(rate, start_frame=101, hold=2)
    return bake(call_score, find_chart("Ten"), frame_loudness(call_peaks, rate), settings)


def written(formats, suffix, content) -> str:
    return next(form for form in formats if form.suffix == suffix).write(content).decode()


def test_textgrid_covers_the_recording_with_words_and_phones(call_score, tmp_path):
    path = tmp_path / "call.TextGrid"
    path.write_text(written(TIMING_FORMATS, ".TextGrid", call_score))
    grid = textgrid.openTextgrid(str(path), includeEmptyIntervals=True)
    assert grid.tierNames == ("words", "phones")
    for tier, expected in (
        ("words", [(w.start, w.end, w.text) for w in call_score.words]),
        ("phones", [(p.start, p.end, arpabet_of(p.symbol)) for p in call_score.phones()]),
    ):
        entries = grid.getTier(tier).entries
        assert entries[0].start == 0
        assert entries[-1].end == pytest.approx(call_score.duration)
        assert all(a.end == pytest.approx(b.start) for a, b in itertools.pairwise(entries))
        spoken = [entry for entry in entries if entry.label]
        assert [entry.label for entry in spoken] == [label for _, _, label in expected]
        assert [entry.start for entry in spoken] == pytest.approx([start for start, _, _ in expected], abs=1e-6)


def test_timings_json_carries_everything(call_score):
    data = json.loads(written(TIMING_FORMATS, ".json", call_score))
    assert [word["word"] for word in data["words"]] == [word.text for word in call_score.words]
    assert data["words"][0]["phones"][0]["start"] == pytest.approx(call_score.words[0].start, abs=1e-4)
    assert {"phone", "ipa", "stress", "confidence"} <= data["words"][0]["phones"][0].keys()


def test_timings_csv_has_no_gaps(call_score):
    rows = list(csv.DictReader(io.StringIO(written(TIMING_FORMATS, ".csv", call_score))))
    assert float(rows[0]["start_s"]) == 0
    assert float(rows[-1]["end_s"]) == pytest.approx(call_score.duration, abs=1e-4)
    assert all(a["end_s"] == b["start_s"] for a, b in itertools.pairwise(rows))
    assert [row["phone"] for row in rows if row["phone"]] == [arpabet_of(p.symbol) for p in call_score.phones()]


def test_keys_csv_has_one_row_a_frame(baked):
    rows = list(csv.DictReader(io.StringIO(written(KEY_FORMATS, ".csv", baked))))
    assert len(rows) == baked.frames
    assert list(rows[0])[:6] == ["frame", "seconds", "mouth", "phone", "word", "jaw"]
    assert list(rows[0])[6:] == [f"weight:{name}" for name in baked.chart.names]
    assert [int(row["frame"]) for row in rows] == list(range(101, 101 + baked.frames))
    assert float(rows[48]["seconds"]) == pytest.approx(48 * 1001 / 24000, abs=1e-6)
    assert [row["mouth"] for row in rows] == [e.mouth for e in baked.exposures for _ in range(e.length)]
    assert np.array([float(row["jaw"]) for row in rows]) == pytest.approx(baked.jaw, abs=1e-4)
    sums = [sum(float(row[f"weight:{name}"]) for name in baked.chart.names) for row in rows]
    assert sums == pytest.approx([1.0] * len(rows), abs=1e-3)


def test_keys_json_is_exact_in_rate_and_close_in_value(baked):
    data = json.loads(written(KEY_FORMATS, ".json", baked))
    assert Fraction(data["rate"]["numerator"], data["rate"]["denominator"]) == Fraction(24000, 1001)
    assert (data["start_frame"], data["length"]) == (101, baked.frames)
    assert [(key["frame"], key["mouth"]) for key in data["mouths"]] == [
        (e.start + 101, e.mouth) for e in baked.exposures
    ]
    jaw = next(channel for channel in data["channels"] if channel["name"] == "jaw")
    frames = [key["frame"] - 101 for key in jaw["keys"]]
    rebuilt = np.interp(np.arange(baked.frames), frames, [key["value"] for key in jaw["keys"]])
    assert np.abs(rebuilt - baked.jaw).max() <= jaw["tolerance"] + 1e-5
    assert len(frames) < baked.frames


@pytest.mark.parametrize("form", [*TIMING_FORMATS, *KEY_FORMATS], ids=lambda form: form.name)
def test_every_format_is_described_and_repeatable(form, baked, call_score):
    content = call_score if form in TIMING_FORMATS else baked
    assert form.about and form.loses and form.suffix.startswith(".")
    assert form.write(content) == form.write(content)


def test_a_suffix_nobody_knows_names_those_that_are(tmp_path):
    with pytest.raises(TargetError, match=r"\.TextGrid, \.json, \.csv"):
        format_for(tmp_path / "x.doc", TIMING_FORMATS)


def test_writing_is_all_or_nothing(tmp_path, monkeypatch):
    path = tmp_path / "keys.csv"
    path.write_text("old")

    def fail(*_):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr("os.fsync", fail)
    with pytest.raises(TargetError, match="No space left"):
        write_whole(path, b"new")
    assert path.read_text() == "old"
    assert [p.name for p in tmp_path.iterdir()] == ["keys.csv"]


@pytest.mark.parametrize("check", [lambda path: write_whole(path, b""), require_writable])
def test_targets_that_cannot_be_are_refused(tmp_path, check):
    with pytest.raises(TargetError, match="no folder"):
        check(tmp_path / "nowhere" / "x.csv")
    with pytest.raises(TargetError, match="is a folder"):
        check(tmp_path)
