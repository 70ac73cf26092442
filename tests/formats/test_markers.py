"""Labelled markers of WAV and AIFF files, and lists of regions."""

import random
import struct

import numpy as np
import pytest
import soundfile

from buccaphon.errors import MarkersError
from buccaphon.formats.in_.corrected import read_corrected
from buccaphon.formats.in_.markers import has_markers, is_region_list, parse_regions, read_markers
from tests.helpers.marked import aiff_with, wav_with

MARKS = ((0.25, "TH"), (0.5, "ʃ oder so"), (0.75, "Ajar"), (1.0, ""), (1.5, "mouth: Press"), (1.75, "note: softer"))


@pytest.mark.parametrize(("suffix", "make"), [(".wav", wav_with), (".aiff", aiff_with), (".aif", aiff_with)])
def test_labels_are_read_at_their_times(tmp_path, suffix, make):
    path = tmp_path / f"marked{suffix}"
    make(path, MARKS)
    assert soundfile.info(str(path)).samplerate == 48_000, "it is a sound that others read, too"
    found = read_markers(path)
    assert [(round(m.start, 4), m.text) for m in found] == [each for each in MARKS if each[1]]
    assert has_markers(path) == 5
    read = read_corrected(path)
    assert [m.text for m in read.markers] == ["TH", "ʃ oder so", "Ajar"]
    assert [m.text for m in read.mouths] == ["Press"]
    assert [note.text for note in read.notes] == ["softer"]


def test_labels_of_an_old_aiff_are_in_the_letters_of_its_day(tmp_path):
    aiff_with(tmp_path / "a.aif", ((0.5, "é"),), encoding="mac_roman")
    (marker,) = read_markers(tmp_path / "a.aif")
    assert marker.text == "é"


def test_a_sound_without_markers_has_none(tmp_path):
    for name in ("a.wav", "a.aiff"):
        soundfile.write(tmp_path / name, np.zeros(4800), 48_000)
        assert read_markers(tmp_path / name) == ()
        assert has_markers(tmp_path / name) == 0


def test_broken_sounds_are_refused_and_never_loop(tmp_path):
    for name, make in (("a.wav", wav_with), ("a.aiff", aiff_with)):
        make(tmp_path / name, MARKS)
        whole = (tmp_path / name).read_bytes()
        generator = random.Random(7)
        for cut in [0, 3, 12, 40, *(generator.randrange(len(whole)) for _ in range(20))]:
            (tmp_path / f"cut{name}").write_bytes(whole[:cut])
            try:
                read_markers(tmp_path / f"cut{name}")
            except MarkersError as problem:
                assert name in str(problem)
    (tmp_path / "b.aiff").write_bytes(b"FORM" + struct.pack(">I", 4) + b"AIFF")
    assert has_markers(tmp_path / "b.aiff") == 0


@pytest.mark.parametrize(
    ("text", "wanted"),
    [
        ("0.5\t0.75\tTH\n0.75\t1.25\too\n", [(0.5, 0.75, "TH"), (0.75, 1.25, "oo")]),
        ("1,5;2,25;aa\n", [(1.5, 2.25, "aa")]),
        ("0:01.5,0:02,m\n1:00:00.25,1:00:01,b\n", [(1.5, 2.0, "m"), (3600.25, 3601.0, "b")]),
        ("0.5\tTH\n1\tL\n", [(0.5, 0.5, "TH"), (1.0, 1.0, "L")]),
        ("Name,Start,Length\nTH,0.5,0.25\n", [(0.5, 0.75, "TH")]),
        ("#,Name,Start,End\n1,TH,0.5,0.75\n# the end\n", [(0.5, 0.75, "TH")]),
        ("label,time\noo,0.5s\n", [(0.5, 0.5, "oo")]),
    ],
)
def test_lists_of_regions_are_understood(text, wanted):
    assert is_region_list(text)
    assert [(r.start, r.end, r.text) for r in parse_regions(text, "x")] == wanted


@pytest.mark.parametrize(
    "text",
    ["", "plums, sweet plums", "12 Open\n14 Shut\n", "12\tOpen\n14\tShut\n", "frame,mouth\n1,Open\n",
     "start,end,word\n0.5,1,plums\n", "start_s,end_s,phone,word\n0.5,1,P,plums\n"],
)  # fmt: skip
def test_what_is_another_kind_of_list_is_none_of_regions(text):
    assert not is_region_list(text)


@pytest.mark.parametrize("text", ["0.5\t0.25\tTH\n", "0.5\tx\n\tTH\n", "0.5,0.75,TH\nx,1,L\n", "a,b\n"])
def test_rows_that_cannot_be_are_named(text):
    with pytest.raises(MarkersError):
        parse_regions(text, "list.txt")
