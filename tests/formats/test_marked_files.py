"""Files that carry words, mouths and notes for others: timelines, cues, subtitles and keys, read by independent readers."""

import html
import importlib.util
import io
import itertools
import json
import re
import shutil
import struct
import subprocess
from dataclasses import replace
from fractions import Fraction

import jsonschema
import numpy as np
import pytest
import soundfile
import tgt
import webvtt
from wavinfo import WavInfoReader

from buccaphon.audio.reading import read_recording
from buccaphon.demo.line import recording_path
from buccaphon.errors import TargetError
from buccaphon.formats.delivery import Delivery, Source
from buccaphon.formats.describing import HOSTS
from buccaphon.formats.options import chosen_options
from buccaphon.formats.out.cues import CueOptions, Mark, with_cues
from buccaphon.formats.out.editing import OtioOptions
from buccaphon.formats.out.subtitles import VttOptions
from buccaphon.formats.out.timings import TextGridOptions
from buccaphon.kits.names.table import NamesTable, give
from buccaphon.motion.plan import BakeSettings, Plan, frame_loudness
from buccaphon.motion.record import trim
from buccaphon.motion.remaking import bake
from buccaphon.mouths.chart_file import find_chart
from buccaphon.score.records import Note, Score
from buccaphon.timing import FrameRate, Span
from tests.formats.test_formats import made, small_delivery, written


@pytest.fixture(scope="module")
def line(call_peaks, call_score):
    """The part from frame 12 to 240, with two notes."""
    rate = FrameRate.parse("23.976")
    plan = Plan(call_score, find_chart("Ten"), frame_loudness(call_peaks, rate), BakeSettings(rate, 101))
    notes = (Note(Span(1.0, 1.5), "lips\nlate?"), Note(Span(5.0, 5.0), "head up – naïve"))
    source = Source(recording_path(), "take one")
    sound = read_recording(recording_path())
    return Delivery("call", call_score, trim(bake(plan), 12, 240), notes, source=source, sound=sound)


def test_a_timeline_has_the_take_with_markers_on_whole_frames(line, tmp_path):
    there = replace(line, place=tmp_path / "call")
    data = json.loads(written("otio", there))
    rate = float(Fraction(24000, 1001))
    assert data["global_start_time"] == {"OTIO_SCHEMA": "RationalTime.1", "rate": rate, "value": 113.0}
    (track,) = data["tracks"]["children"]
    (clip,) = track["children"]
    used = clip["source_range"]
    assert (used["start_time"]["value"], used["duration"]["value"], used["duration"]["rate"]) == (12, 228, rate)
    (media,) = clip["media_references"].values()
    assert (tmp_path / media["target_url"]).resolve() == recording_path().resolve()
    whole = media["available_range"]["duration"]
    assert (whole["rate"], whole["value"]) == (16000, len(line.sound.samples))
    by_kind = itertools.groupby(clip["markers"], lambda marker: marker["metadata"]["buccaphon"]["kind"])
    kinds = {kind: list(found) for kind, found in by_kind}
    colors = {kind: {m["color"] for m in found} for kind, found in kinds.items()}
    assert colors == {"word": {"GREEN"}, "mouth": {"PINK"}, "note": {"YELLOW"}}
    for marker in clip["markers"]:
        start, length = (marker["marked_range"][part]["value"] for part in ("start_time", "duration"))
        assert start == int(start)
        assert 12 <= start <= start + length <= 240
    mouths = [(m["name"], m["marked_range"]["duration"]["value"]) for m in kinds["mouth"]]
    assert mouths == [(e.mouth, e.length) for e in line.bake.exposures]
    first = next(word for word in line.score.words if word.start > 12 / rate)
    found = next(m for m in kinds["word"] if m["name"] == first.text)["metadata"]["buccaphon"]
    assert found["start_seconds"] == pytest.approx(first.start, abs=1e-4)
    assert [m["comment"] for m in kinds["note"]] == ["lips\nlate?", "head up – naïve"]
    bare = json.loads(written("otio", there, OtioOptions(words=False, notes=False)))
    assert {m["color"] for m in bare["tracks"]["children"][0]["children"][0]["markers"]} == {"PINK"}


def labels(content: bytes, tmp_path):
    path = tmp_path / "cues.wav"
    path.write_bytes(content)
    cues = WavInfoReader(str(path), info_encoding="utf-8").cues
    return sorted((at, (cues.label_and_note(number)[0] or "").strip("\0")) for number, at in cues.each_cue())


def test_cues_label_words_mouths_and_notes_in_sound_of_any_kind(line, tmp_path):
    content = made("cues", line, CueOptions(mouths=True))
    found = labels(content, tmp_path)
    assert [text for _, text in found if ": " not in text] == [word.text for word in line.score.words]
    assert [at for at, text in found if ": " not in text] == [round(word.start * 16000) for word in line.score.words]
    assert [text for _, text in found if text.startswith("note: ")] == ["note: lips late?", "note: head up – naïve"]
    mouths = [(at, text[7:]) for at, text in found if text.startswith("mouth: ")]
    starts = [(e.start + 12) / float(line.bake.rate.value) for e in line.bake.exposures]
    assert mouths == [(round(at * 16000), e.mouth) for at, e in zip(starts, line.bake.exposures, strict=True)]
    samples, rate = soundfile.read(io.BytesIO(content), always_2d=True)
    assert rate == line.sound.rate
    assert np.abs(samples - np.asarray(line.sound.samples)).max() < 2**-23


def test_cues_keep_a_takes_own_bytes_and_replace_older_markers(tmp_path):
    small = small_delivery()
    own = small.source.file.read_bytes()
    odd = own[:12] + b"junk" + struct.pack("<I", 3) + b"abc\0" + own[12:]
    path = tmp_path / "take.wav"
    path.write_bytes(odd)
    once = made("cues", replace(small, source=Source(path, "take")))
    assert odd[12:] in once
    path.write_bytes(once)
    assert made("cues", replace(small, source=Source(path, "take"))) == once
    assert struct.unpack_from("<I", once, 4)[0] == len(once) - 8
    path.unlink()
    with pytest.raises(TargetError, match="cannot be read"):
        made("cues", replace(small, source=Source(path, "take")))


def test_cues_that_no_wav_can_hold_are_refused(monkeypatch):
    monkeypatch.setattr("buccaphon.formats.out.cues.LARGEST", 100)
    with pytest.raises(TargetError, match="over 4 GB"):
        with_cues(small_delivery().source.file.read_bytes(), [Mark(0, 0, "word")])


def test_webvtt_has_the_words_with_their_times_and_the_voice(line, tmp_path):
    words = list(line.score.words)
    words[3] = replace(words[3], text="<this> & --> that")
    path = tmp_path / "call.vtt"
    said = replace(line, score=Score(tuple(words), line.score.duration))
    path.write_bytes(made("vtt", said, VttOptions(voice="Marigold & Co")))
    cues = webvtt.read(str(path)).captions
    spoken = " ".join(html.unescape(cue.text) for cue in cues)
    assert spoken.split() == " ".join(word.text for word in words).split()
    assert {cue.voice for cue in cues} == {"Marigold &amp; Co"}
    starts = {round(1000 * word.start) for word in words}
    for cue in cues:
        inner = [_milliseconds(text) for text in re.findall(r"<(\d[\d:.]+)>", cue.raw_text)]
        assert inner == sorted(set(inner))
        assert set(inner) <= starts


def _milliseconds(clock: str) -> int:
    hours, minutes, seconds = clock.split(":")
    return round(1000 * (60 * (60 * int(hours) + int(minutes)) + float(seconds)))


@pytest.mark.parametrize("short", [True, False])
def test_textgrid_by_another_reader(line, tmp_path, short):
    path = tmp_path / "call.TextGrid"
    path.write_bytes(made("textgrid", line, TextGridOptions(short=short)))
    grid = tgt.io.read_textgrid(str(path), encoding="utf-8", include_empty_intervals=True)
    assert [tier.name for tier in grid.tiers] == ["words", "phones", "mouths", "notes"]
    assert [a.text for a in grid.get_tier_by_name("mouths").annotations if a.text] == [
        e.mouth for e in line.bake.exposures
    ]


@pytest.fixture
def keys(line, tmp_path):
    table = give(NamesTable(host=("Rest", "wide", "Press"), before="m_", counts_from=1), "Open", ["wide"])
    path = tmp_path / "call.keys.json"
    path.write_bytes(made("keys-json", replace(line, names=table, place=tmp_path / "call")))
    return path


def test_keys_keep_to_their_schema(keys):
    schema = json.loads((HOSTS / "keys.schema.json").read_text())
    jsonschema.Draft202012Validator.check_schema(schema)
    data = json.loads(keys.read_text())
    jsonschema.Draft202012Validator(schema).validate(data)
    assert {entry["name"]: entry["index"] for entry in data["palette"]}["m_wide"] == 2
    assert data["notes"][0] == {"frame": 125, "length": 12, "text": "lips\nlate?"}
    assert (keys.parent / data["take"]["file"]).resolve() == recording_path().resolve()
    assert all(a["mouth"] != b["mouth"] for a, b in itertools.pairwise(data["mouths"]))


def test_the_reader_for_hosts_gives_every_frame_back(line, keys):
    spec = importlib.util.spec_from_file_location("read_keys", HOSTS / "read_keys.py")
    module = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(module)
    read = module.Keys(keys)
    assert (read.first, read.last) == (113, 340)
    shown = [e.mouth for e in line.bake.exposures for _ in range(e.length)]
    called = {"Open": "m_wide"}
    assert [read.mouth(frame) for frame in range(113, 341)] == [called.get(name, f"m_{name}") for name in shown]
    for name, curve in (("m_jaw", "jaw"), ("weight:m_wide", "weight:Open")):
        values = [read.value(name, frame) for frame in range(113, 341)]
        assert np.abs(np.array(values) - line.bake.channels.curve(curve)).max() <= 0.005 + 1e-5
    assert read.index("m_wide") == 2
    assert read.channel_keys("m_jaw")[0][0] == 113
    keys.write_text('{"format": "other", "version": 1}')
    with pytest.raises(ValueError, match="no keys that this reader knows"):
        module.Keys(keys)


@pytest.mark.skipif(shutil.which("node") is None, reason="there is no JavaScript engine here")
def test_the_reader_in_javascript_says_the_same(line, keys):
    script = f"""
        import {{ Keys }} from {json.dumps(str(HOSTS / "read_keys.mjs"))};
        import {{ readFileSync }} from "node:fs";
        const keys = new Keys(JSON.parse(readFileSync({json.dumps(str(keys))}, "utf8")));
        const frames = Array.from({{ length: keys.last - keys.first + 1 }}, (_, n) => keys.first + n);
        console.log(JSON.stringify({{
            mouths: frames.map((f) => keys.mouth(f)), jaw: frames.map((f) => keys.value("m_jaw", f)),
            index: keys.index("m_wide"), first: keys.mouths()[0], names: keys.channelNames().length,
        }}));"""
    command = ["node", "--input-type=module"]
    told = json.loads(subprocess.run(command, input=script, capture_output=True, text=True, check=True).stdout)
    assert np.abs(np.array(told["jaw"]) - line.bake.jaw).max() <= 0.005 + 1e-5
    assert told["mouths"][0] == told["first"][1]
    assert told["index"] == 2


def test_wrong_options_are_refused():
    for options, wrong in ((VttOptions, {"letters": "0"}), (CueOptions, {"words": "perhaps"})):
        with pytest.raises(TargetError):
            chosen_options(options, wrong)
