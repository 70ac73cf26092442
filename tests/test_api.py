"""The library: its examples run, what it promises is there, and it is loaded only when it is used."""

import doctest
import inspect
import shutil
import subprocess
import sys
from pathlib import Path

import numpy as np
import pytest
from tools.api_page import PAGE, api_page

import buccaphon
from buccaphon import api
from buccaphon.demo.line import recording_path


def test_the_examples_in_the_documentation_hold(tmp_path, monkeypatch):
    for path in recording_path().parent.glob("stall_call.*"):
        shutil.copy(path, tmp_path)
    monkeypatch.chdir(tmp_path)
    result = doctest.testmod(api)
    assert result.attempted >= 6
    assert result.failed == 0


def test_all_that_is_promised_is_there_and_documented():
    for name in api.__all__:
        found = getattr(buccaphon, name)
        assert found.__doc__, name
    for function in (buccaphon.align, buccaphon.bake, buccaphon.deliver):
        assert all(p.annotation is not inspect.Parameter.empty for p in inspect.signature(function).parameters.values())
    with pytest.raises(AttributeError, match="nothing_such"):
        _ = buccaphon.nothing_such
    assert (Path(buccaphon.__file__).parent / "py.typed").exists()


def test_the_page_of_the_library_is_what_the_docstrings_say():
    """`python -m tools.api_page` writes it anew."""
    assert PAGE.read_text("utf-8") == api_page()


def test_earlier_names_of_arguments_go_on_with_a_hint():
    with pytest.warns(DeprecationWarning, match="loudness_only"):
        line = buccaphon.bake(recording_path(), 24, by_loudness=True)
    assert line.bake.exposures == buccaphon.bake(recording_path(), 24, loudness_only=True).bake.exposures


def test_importing_it_loads_nothing_yet():
    command = "import sys, buccaphon; sys.exit('numpy' in sys.modules or 'PyQt6' in sys.modules)"
    assert subprocess.run([sys.executable, "-c", command], check=False).returncode == 0


def test_a_line_can_be_aligned_once_and_baked_often(call_score):
    on_ones = buccaphon.bake(recording_path(), 24, score=call_score)
    on_twos = buccaphon.bake(
        recording_path(), "23.976", score=call_score, hold=2, start_frame=101, mixes=["smile = spread"]
    )
    assert on_twos.bake.start_frame == 101
    edges = {e.start % 2 for e in on_twos.bake.exposures}
    assert (edges, on_twos.bake.frames) == ({0}, on_ones.bake.frames)
    assert "smile" in on_twos.bake.channels.ids
    by_loudness = buccaphon.bake(recording_path(), 24, loudness_only=True)
    assert by_loudness.score is None
    assert np.ptp(by_loudness.bake.jaw) > 0.3


def test_what_cannot_be_used_is_a_sentence(tmp_path):
    with pytest.raises(buccaphon.BuccaphonError, match="no_such"):
        buccaphon.align(tmp_path / "no_such.wav")
    with pytest.raises(buccaphon.BuccaphonError, match="fbx"):
        buccaphon.deliver(buccaphon.bake(recording_path(), 24, loudness_only=True), ["fbx"], tmp_path)


def test_pictures_are_delivered_without_a_window(tmp_path, qapp, call_score):
    done = buccaphon.deliver(buccaphon.bake(recording_path(), 12, score=call_score), ["contact-sheet"], tmp_path)
    assert not done.problems
    assert done.written[0].path.name == "stall_call.contact.png"


def test_a_scene_is_made_saved_opened_and_delivered(tmp_path, call_score):
    for path in recording_path().parent.glob("stall_call.*"):
        shutil.copy(path, tmp_path)
    call = tmp_path / "stall_call.flac"
    lines = [
        buccaphon.Line(call, role="Maren", score=call_score),
        buccaphon.Line(call, begins=2.0, role="Timo", score=call_score, name="echo"),
        buccaphon.Line(call, script="", heard_only=True, begins="f10"),
    ]
    scene = buccaphon.Scene(24, lines, [buccaphon.Role("Maren"), buccaphon.Role("Timo", chart="Five", hold=2)])
    assert scene.roles == ("Maren", "Timo")
    maren, timo = scene.bake("maren"), scene.bake("Timo")
    assert maren.bake.frames == timo.bake.frames == 273 + 48
    assert timo.bake.chart.name == "Five"
    with pytest.raises(buccaphon.BuccaphonError, match="There are Maren, Timo"):
        scene.bake("Ole")
    scene.save(tmp_path / "market.buccaphon")
    again = buccaphon.Scene.open(tmp_path / "market.buccaphon")
    assert again.bake("Timo").bake.exposures == timo.bake.exposures
    done = buccaphon.deliver(again, ["keys-csv", "srt"], tmp_path / "out")
    assert {each.path.name for each in done.written} == {
        "market_Maren.keys.csv", "market_Timo.keys.csv", "market.srt",
    }  # fmt: skip
