"""Projects as each version of the file was written by the program of its time, each with all that it could keep."""

import json
from fractions import Fraction
from pathlib import Path

import pytest

from buccaphon.audio.loudness_settings import Band
from buccaphon.checks.issue import IssueKind
from buccaphon.kits.kit import Anchor, CutOut, Drawn, Moving
from buccaphon.kits.names.reasons import in_words
from buccaphon.kits.names.table import Case
from buccaphon.motion.followers import Unit
from buccaphon.motion.hand import Interpolation
from buccaphon.motion.steps import KINDS
from buccaphon.mouths.settings import SettingsChange
from buccaphon.project.file.store import VERSION, open_project, save_project
from buccaphon.score.edits import Boundary

GOLDEN = Path(__file__).parent / "golden"


def state_of(version: int):
    return open_project(GOLDEN / f"version_{version}.buccaphon")


@pytest.mark.parametrize("version", range(1, VERSION))
def test_a_project_of_every_earlier_version_opens_with_nothing_left_unknown(version, tmp_path):
    state = state_of(version)
    (take,) = state.takes
    assert [word.text for word in state.score.words] == ["Plums", "now"]
    (painted,) = take.painted
    assert (take.pins[0].boundary, painted.mouth) == (Boundary(1, 0), "Tip")
    assert painted.pose is not None
    assert (state.rate.value, state.start_frame, state.mouth_settings.hold) == (Fraction(30000, 1001), 101, 2)
    assert (state.unknown, take.unknown) == ({}, {})
    save_project(state, tmp_path / "again.buccaphon")
    assert json.loads((tmp_path / "again.buccaphon").read_text())["version"] == VERSION
    assert open_project(tmp_path / "again.buccaphon") == state


@pytest.mark.parametrize("version", [2, 3, 4, 5, 6, 7, 8])
def test_what_a_take_kept_is_kept(version):
    take = state_of(version).take
    assert (take.name, take.offset, take.trim_out) == ("first call", 0.5, 1.9)
    assert ([lost.word for lost in take.without_word], [note.text for note in take.notes]) == (["pears"], ["louder"])


@pytest.mark.parametrize("version", [4, 5, 6, 7, 8])
def test_settings_and_ignored_issues_are_kept(version):
    state = state_of(version)
    assert (state.mouth_settings.skip_quick_sounds, state.mouth_settings.detail) == (False, 0.25)
    assert state.take.mouth_ranges[0].change == SettingsChange(hold=1, skip_quick_sounds=True)
    every = [kind.value for kind in IssueKind]
    assert [issue.kind for issue in state.take.ignored] == every[: len(every) - (version < 6)]


@pytest.mark.parametrize("version", [5, 6, 7, 8])
def test_characters_are_kept(version):
    drawn, cut = state_of(version).kits
    assert isinstance(drawn.look, Drawn)
    assert (drawn.look.anchor, drawn.names.case, drawn.names.counts_from) == (Anchor.MIDDLE, Case.LOWER, 1)
    assert [in_words(row.why) for row in (*drawn.shows, *drawn.names.given)] == [
        "“a” says ɑ; shared", "“Aa” says ɑ", "assigned by hand",
    ]  # fmt: skip
    assert isinstance(cut.look, CutOut)
    assert (cut.look.move.moving, cut.look.parts[0].move.moving) == (Moving.TURNS, Moving.SLIDES)


@pytest.mark.parametrize("version", [6, 7, 8])
def test_motion_is_kept(version):
    state = state_of(version)
    found = state.take.loudness_settings
    assert (found.band, found.channel, found.threshold, found.closes_below) == (Band.VOICE, 0, 0.3, 0.1)
    assert (found.response, found.peak, found.loudness_only) == (1.5, 0.8, False)
    assert [point.interpolation for point in state.take.curves[0].points] == list(Interpolation)
    assert [follower.unit for follower in state.followers] == list(Unit)
    assert [(type(step), step.on) for step in state.steps] == [(kind, bool(n % 2)) for n, kind in enumerate(KINDS)]
    curve, mouth, of_a_range = state.take.unplaced
    assert curve.curve is not None
    assert (mouth.label, len(curve.curve.points)) == ("mouth: Tip", 4)
    assert of_a_range.label == "range: hold: on threes, skip quick tongue sounds: off"
