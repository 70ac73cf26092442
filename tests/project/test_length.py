"""A scene that is longer or shorter than its sound."""

from dataclasses import replace

import numpy as np
import pytest

from buccaphon.demo.line import recording_path
from buccaphon.formats.registry import format_named
from buccaphon.project.delivering import deliver
from buccaphon.project.edits.scene import SetScene
from buccaphon.project.edits.takes import ChangeTake
from buccaphon.project.file.store import open_project, save_project
from buccaphon.project.state import one_line
from buccaphon.project.take import Take
from buccaphon.timing import FrameRate, Span


@pytest.fixture
def state(call_score):
    return one_line((Take(recording_path(), score=call_score),), rate=FrameRate.parse("24"), start_frame=101)


def test_what_lies_after_the_sound_holds_the_last_mouth_and_its_values(state, derived):
    short = ChangeTake(used=Span(0.0, 1.0)).apply(state)  # in the middle of a vowel
    plain, held = derived.used_part(short), derived.used_part(SetScene(length=40).apply(short))
    assert (plain.frames, held.frames) == (24, 40)
    assert held.exposures[-1].mouth == plain.exposures[-1].mouth != "Rest"
    assert held.exposures[-1].end == 40
    assert np.array_equal(held.channels.values[:24], plain.channels.values)
    assert (held.channels.values[24:] == plain.channels.values[-1]).all()


def test_what_lies_after_the_scene_is_left_out(state, derived):
    whole, cut = derived.used_part(state), derived.used_part(SetScene(length=60).apply(state))
    assert cut.frames == 60 == cut.exposures[-1].end
    assert np.array_equal(cut.channels.values, whole.channels.values[:60])


def test_a_take_that_begins_later_ends_with_the_scene(state, derived):
    later = ChangeTake(offset=1.0).apply(SetScene(length=48).apply(state))
    part = derived.used_part(later)
    assert (part.start_frame, part.frames) == (125, 24)
    assert derived.used_part(ChangeTake(offset=9.0).apply(later)).frames == 1, "one that begins after it has its first"


def test_files_are_as_long_as_the_scene(state, derived):
    long = deliver(SetScene(length=400).apply(state), derived, "call")
    (table,) = format_named("keys-csv").files(long).values()
    assert len(table.decode().splitlines()) == 401
    (sound,) = format_named("wav").files(long).values()
    assert len(sound) == pytest.approx(400 / 24 * derived.recording.rate * 3, abs=100)


def test_the_length_is_kept_and_given_back(state, tmp_path):
    path = tmp_path / "x.buccaphon"
    long = SetScene(length=400).apply(state)
    save_project(long, path)
    assert open_project(path).length == 400
    assert SetScene(rate=FrameRate.parse("25")).apply(long).length == 400
    assert SetScene(length=0).apply(long) == replace(long, length=None)
