"""Words in: scripts and known times from every kind of file, and files that are none."""

import struct
from pathlib import Path

import numpy as np
import pytest
import soundfile

from buccaphon.errors import ScriptError
from buccaphon.formats.delivery import Delivery
from buccaphon.formats.in_.wording import guides_for
from buccaphon.formats.registry import WORDING_SUFFIXES, format_named, read_wording
from buccaphon.speech.script import script_words

SRT = """1
00:00:00,500 --> 00:00:02,000
Warm plums, <i>and</i> ripe pears!

2
00:00:02,500 --> 00:00:04,000
Five for a farthing.
"""
VTT = """WEBVTT

00:00.500 --> 00:02.000
<v Marigold>Warm plums, and ripe pears!

00:02.500 --> 00:04.000
Five for a farthing.
"""
FOUNTAIN = """Title: The Night Market
Author: Nobody

EXT. NIGHT MARKET - EVENING

Lanterns sway. MARIGOLD leans over her stall.

MARIGOLD (CONT'D)
(calling out)
Warm *plums*, and _ripe_ pears!

She waits. /* nobody comes */

CUT TO:

@McTurnip
Five for a [[or six?]] farthing.

> THE END <
"""


def written(folder: Path, name: str, text: str) -> Path:
    path = folder / name
    path.write_text(text, "utf-8")
    return path


def said(text: str) -> list[tuple[str, str]]:
    return [(word.speaker, word.bare) for word in script_words(text)]


def test_a_screenplay_gives_its_dialogue_with_speakers(tmp_path):
    wording = read_wording(written(tmp_path, "market.fountain", FOUNTAIN))
    assert said(wording.text) == [
        *(("MARIGOLD", word) for word in ["Warm", "plums", "and", "ripe", "pears"]),
        *(("MCTURNIP", word) for word in ["Five", "for", "a", "farthing"]),
    ]
    assert wording.times == ()


@pytest.mark.parametrize(("name", "text", "speaker"), [("a.srt", SRT, ""), ("a.vtt", VTT, "MARIGOLD")])
def test_subtitles_give_words_and_when_they_are_said(tmp_path, name, text, speaker):
    wording = read_wording(written(tmp_path, name, text))
    assert said(wording.text)[:2] == [(speaker, "Warm"), (speaker, "plums")]
    assert [(line.start, line.end) for line in wording.times] == [(0.5, 2.0), (2.5, 4.0)]
    guides = guides_for(wording, script_words("Warm plums and pears! Five for a farthing."))
    assert [guide.word for guide in guides] == list(range(8))
    assert guides[0].earliest == pytest.approx(0.1)
    assert guides[-1].latest == pytest.approx(4.4)


@pytest.mark.parametrize(("name", "form"), [("a.TextGrid", "textgrid"), ("a.csv", "timings-csv")])
def test_our_own_timings_are_read_back_word_by_word(tmp_path, call_score, name, form):
    path = tmp_path / name
    (content,) = format_named(form).files(Delivery("call", call_score)).values()
    path.write_bytes(content)
    wording = read_wording(path)
    assert [timed.text for timed in wording.times] == [word.text for word in call_score.words]
    for timed, word in zip(wording.times, call_score.words, strict=True):
        assert (timed.start, timed.end) == pytest.approx((word.start, word.end), abs=1e-3)


def test_labelled_markers_of_a_recording_are_words(tmp_path):
    path = tmp_path / "marked.wav"
    soundfile.write(path, np.zeros(16000), 16000)
    marks = [(1, 1600, b"Warm"), (2, 8000, b"plums")]
    cues = struct.pack("<I", len(marks)) + b"".join(
        struct.pack("<II4sIII", ident, at, b"data", 0, 0, at) for ident, at, _ in marks
    )
    labels = b"adtl"
    for ident, _, text in marks:
        body = struct.pack("<I", ident) + text + b"\0"
        labels += b"labl" + struct.pack("<I", len(body)) + body + b"\0" * (len(body) % 2)
    content = path.read_bytes() + b"cue " + struct.pack("<I", len(cues)) + cues
    content += b"LIST" + struct.pack("<I", len(labels)) + labels
    path.write_bytes(content[:4] + struct.pack("<I", len(content) - 8) + content[8:])
    wording = read_wording(path)
    assert [(timed.text, timed.start, timed.end) for timed in wording.times] == [
        ("Warm", 0.1, 0.5),
        ("plums", 0.5, 1.0),
    ]


@pytest.mark.parametrize(
    ("name", "content", "reason"),
    [
        ("gone.srt", None, "cannot be read"),
        ("a.docx", b"x", "cannot be read from"),
        ("a.txt", "Pläne".encode("latin-1"), "not UTF-8"),
        ("a.txt", b"(nothing)", "no spoken words"),
        ("a.csv", b"a,b\n1,2\n", "no column"),
        ("a.csv", b"start,end,word\nsoon,later,plums\n", "cannot be understood"),
        ("a.TextGrid", b"no grid", "cannot be understood"),
        ("a.fountain", b"INT. STALL\n\nNobody speaks.\n", "no character speaks"),
        ("a.wav", b"RIFF", "cannot be understood"),
    ],
)
def test_files_without_words_are_one_sentence(tmp_path, name, content, reason):
    if content is not None:
        (tmp_path / name).write_bytes(content)
    with pytest.raises(ScriptError, match=reason):
        read_wording(tmp_path / name)


def test_every_reader_refuses_garbage(tmp_path):
    for suffix in WORDING_SUFFIXES:
        path = tmp_path / f"garbage{suffix}"
        path.write_bytes(bytes(range(256)) * 40)
        with pytest.raises(ScriptError):
            read_wording(path)
