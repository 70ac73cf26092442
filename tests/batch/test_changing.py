"""Scene files changed where nobody looks on: what is done, what stays, and what cannot be done."""

import shutil
from dataclasses import replace
from pathlib import Path

import pytest

from buccaphon.batch.changing import Change, change_all, change_scene
from buccaphon.batch.docket import read_docket
from buccaphon.batch.line import Outcome
from buccaphon.demo.line import recording_path
from buccaphon.formats.listing import Entry, ExportList
from buccaphon.mouths.chart import ChartDocument
from buccaphon.mouths.chart_file import chart_as_text, find_chart
from buccaphon.project.edits.mouths import Paint
from buccaphon.project.edits.roles import AddRole, RenameRole
from buccaphon.project.edits.timing import MoveBoundary
from buccaphon.project.file.store import open_project, save_project
from buccaphon.project.standing import Standing
from buccaphon.score.edits import Boundary, boundary_time
from buccaphon.timing import Span


@pytest.fixture
def scene(tmp_path, aligned_call) -> Path:
    path = tmp_path / "call.buccaphon"
    state = Paint(Span(1.0, 1.5), "Round").apply(aligned_call)
    save_project(replace(state, exports=ExportList((Entry("keys-csv"),), each=False)), path)
    return path


def test_aligned_again_what_was_pinned_and_painted_stays(scene, tmp_path):
    state = open_project(scene)
    at = boundary_time(state.score, Boundary(3, 0)) + 0.03
    save_project(MoveBoundary(Boundary(3, 0), at).apply(state), scene)
    done = change_scene(scene, Change(align=True, versions=tmp_path / "kept"))
    assert (done.failed, done.found.words) == ("", 34)
    again = open_project(scene)
    assert boundary_time(again.score, Boundary(3, 0)) == pytest.approx(at)
    assert [paint.mouth for paint in again.painted] == ["Round"]
    assert any((tmp_path / "kept").rglob("*")), "the file of before"


def test_chart_rate_and_character_are_those_of_all_roles_or_the_first(scene, tmp_path):
    state = AddRole("Timo").apply(RenameRole("", "Maren").apply(open_project(scene)))
    save_project(state, scene)
    assert not change_scene(scene, Change(chart="Five", rate="23.976")).failed
    changed = open_project(scene)
    assert ([role.chart for role in changed.roles], changed.rate.label) == (["Five", "Five"], "23.976")
    kit = recording_path().parent / "timo_drawn.buccakit"
    assert not change_scene(scene, Change(character=kit)).failed
    assert open_project(scene).roles[0].kit == "Timo, drawn"


def test_a_chart_of_ones_own_goes_into_the_scene(scene, tmp_path):
    own = tmp_path / "stall.toml"
    five = find_chart("Five")
    document = ChartDocument("Stall", five.about, five.mouths, five.counts_from, five.rests)
    own.write_text(chart_as_text(document))
    assert not change_scene(scene, Change(chart=str(own))).failed
    state = open_project(scene)
    assert (state.chart, [chart.name for chart in state.charts]) == ("Stall", ["Stall"])


def test_exported_it_stays_as_it_is(scene):
    before = scene.read_bytes()
    done = change_scene(scene, Change(deliver=True), Outcome("k", "the call", "x.flac", scene=scene.name))
    assert [Path(path).name for path in done.files] == ["call_Marigold,_drawn.keys.csv"]
    assert (scene.read_bytes(), done.found.title) == (before, "the call")


def test_what_fails_says_why_and_stops_no_other(scene, tmp_path):
    broken, gone = tmp_path / "broken.buccaphon", tmp_path / "gone.buccaphon"
    broken.write_text("[")
    shutil.copy(scene, gone)
    save_project(open_project(gone).with_take(replace(open_project(gone).take, path=tmp_path / "gone.wav")), gone)
    found = {each.path: each for each in change_all([broken, gone, scene], Change(rate="25"), [None] * 3, 0)}
    assert "not a project file" in found[broken].failed
    assert "gone.wav" in found[gone].failed
    assert not found[scene].failed
    assert open_project(gone).rate.label == "24"


def test_several_are_done_in_processes_beside_each_other(scene, tmp_path):
    other = tmp_path / "other.buccaphon"
    shutil.copy(scene, other)
    found = list(change_all([scene, other], Change(rate="25"), [None, None], 2))
    assert {each.path for each in found} == {scene, other}
    assert all(open_project(path).rate.label == "25" for path in (scene, other))


def test_a_scene_from_elsewhere_says_itself_how_far_somebody_has_come(scene):
    save_project(replace(open_project(scene), standing=Standing.LOOKED_AT), scene)
    (found,) = read_docket(scene.parent)
    assert (found.standing, found.mark) == (Standing.LOOKED_AT, None)


def test_a_fault_of_ours_is_that_scenes_alone(scene, monkeypatch):
    def broken(*_args, **_named):
        raise ZeroDivisionError("of all things")

    monkeypatch.setattr("buccaphon.batch.changing.hear_scene", broken)
    assert "ZeroDivisionError" in change_scene(scene, Change(rate="25")).failed
    assert open_project(scene).rate.label == "24"
