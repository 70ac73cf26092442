"""`buccaphon deliver` and `buccaphon formats`: what the window writes, without one."""

import itertools
import json
import subprocess
import sys
from dataclasses import replace

import numpy as np
import pytest
from click.testing import CliRunner

from buccaphon.cli import main
from buccaphon.demo.line import recording_path
from buccaphon.formats.listing import Entry, ExportList, list_as_text
from buccaphon.formats.registry import FORMATS
from buccaphon.motion.followers import Follower
from buccaphon.project.edits.channels import PutFollower
from buccaphon.project.file.store import save_project
from buccaphon.project.state import State, one_line
from buccaphon.project.take import Take
from buccaphon.timing import FrameRate
from tests.helpers.heads import head


def run(*args: object):
    return CliRunner().invoke(main, [str(arg) for arg in args])


@pytest.fixture
def project(tmp_path, call_score):
    state = one_line(
        (Take(recording_path(), "two", score=call_score),), rate=FrameRate.parse("23.976"), start_frame=101
    )
    state = PutFollower(Follower("nod", "jaw")).apply(state)
    state = replace(state, exports=ExportList((Entry("keys-json", "{title}_{take}"), Entry("bvh", on=False))))
    path = tmp_path / "market day.buccaphon"
    save_project(state, path)
    return path


def test_a_projects_own_list_is_written_by_its_names(project, tmp_path):
    result = run("deliver", project, "-o", tmp_path / "out")
    assert result.exit_code == 0, result.output
    (path,) = (tmp_path / "out").iterdir()
    assert path.name == "market_day_two.keys.json"
    data = json.loads(path.read_text())
    assert (data["rate"], data["start_frame"]) == ({"numerator": 24000, "denominator": 1001}, 101)
    assert "nod" in {channel["name"] for channel in data["channels"]}
    assert f"Wrote {path}" in result.stderr
    assert f"Unchanged {path}" in run("deliver", project, "-o", tmp_path / "out").stderr


def test_formats_are_named_or_listed_and_a_recording_needs_them(project, tmp_path):
    (tmp_path / "list.toml").write_text(
        list_as_text(ExportList((Entry("srt"), Entry("midi", options=(("fine", "yes"),)))))
    )
    result = run("deliver", project, "--list", tmp_path / "list.toml", "-o", tmp_path / "out")
    assert result.exit_code == 0, result.output
    assert {path.name for path in (tmp_path / "out").iterdir()} == {"market_day.srt", "market_day.mid"}
    for args, said in (
        (("--as", "glb", "--list", "x.toml"), "not both"),
        (("--as", "fbx"), "fbx"),
        (("--list", tmp_path / "none.toml"), "none.toml"),
        (("--as", ","), "--as"),
    ):
        result = run("deliver", project, *args, "-o", tmp_path / "out")
        assert result.exit_code == 2
        assert said in result.stderr
    assert "--fps" in run("deliver", recording_path(), "--as", "glb", "-o", tmp_path).stderr


def test_a_recording_is_aligned_and_written_into_the_users_model_and_as_pictures(tmp_path):
    """In a process of its own, as without a display."""
    model = head(tmp_path / "head.glb")
    asked = ("--fps", "12", "--character", model, "--as", "glb,contact-sheet,sheet-pdf", "-o", tmp_path / "out")
    command = [sys.executable, "-m", "buccaphon", "deliver", recording_path(), *asked]
    done = subprocess.run([str(part) for part in command], capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stderr
    assert {path.suffix for path in (tmp_path / "out").iterdir()} == {".glb", ".png", ".pdf"}
    files = (tmp_path / "out" / "stall_call.glb").read_bytes(), model.read_bytes()
    text, own = (json.loads(each[20 : 20 + int.from_bytes(each[12:16], "little")]) for each in files)
    assert text["meshes"] == own["meshes"]
    assert text["animations"][0]["extras"]["length"] == int(np.ceil(12 * 11.37))


def test_what_cannot_be_written_is_said_and_the_rest_is_written(project, tmp_path):
    (tmp_path / "out").mkdir()
    (tmp_path / "out" / "market_day.srt").mkdir()
    result = run("deliver", project, "--as", "srt,bvh", "-o", tmp_path / "out")
    assert result.exit_code == 2
    assert "market_day.srt" in result.stderr
    assert (tmp_path / "out" / "market_day.bvh").exists()


def test_a_project_without_a_recording_is_refused(tmp_path):
    save_project(State(), tmp_path / "empty.buccaphon")
    result = run("deliver", tmp_path / "empty.buccaphon", "-o", tmp_path)
    assert result.exit_code == 2
    assert "no recording" in result.stderr


def test_bake_and_align_write_every_kind_that_a_suffix_names(tmp_path):
    for suffix in (".glb", ".usda", ".bvh", ".mid", ".sheet.csv", ".otio", ".gltf", ".contact.png"):
        out = tmp_path / f"line{suffix}"
        result = run("bake", recording_path(), "--fps", "12", "--loudness-only", "-o", out)
        assert result.exit_code == 0, (suffix, result.output)
        assert out.stat().st_size > 100
    assert (tmp_path / "line.line.bin").exists()
    for suffix in (".vtt", ".srt", ".wav", ".timings.csv"):
        out = tmp_path / f"words{suffix}"
        assert run("align", recording_path(), "-o", out).exit_code == 0
        assert out.exists()
    assert "cannot be written" in run("align", recording_path(), "-o", tmp_path / "x.glb").stderr


def test_formats_are_listed_and_described_and_readers_written(tmp_path):
    listed = run("formats").stdout
    assert all(form.id in listed and form.ending in listed for form in FORMATS)
    assert "between=straight (straight, held, smooth)" in run("formats", "glb").stdout
    assert run("formats", "fbx").exit_code == 2
    assert run("formats", "--readers", tmp_path / "scripts").exit_code == 0
    names = {path.name for path in (tmp_path / "scripts").iterdir()}
    assert names == {"read_keys.py", "read_keys.mjs", "keys.schema.json", "README.md"}


def test_a_project_is_written_as_it_is_asked_for(project, tmp_path):
    args = ["--chart", "Flap", "--hold", "2", "--start-frame", "7", "--fps", "12", "--as", "keys-csv"]
    done = CliRunner().invoke(main, ["deliver", str(project), *args, "-o", str(tmp_path / "out")])
    assert done.exit_code == 0, done.output
    (written,) = (tmp_path / "out").iterdir()
    rows = [line.split(",") for line in written.read_text().splitlines()[1:]]
    assert rows[0][0] == "7"
    assert {row[2] for row in rows} == {"Shut", "Open"}
    changes = [n for n, (a, b) in enumerate(itertools.pairwise(rows), 1) if a[2] != b[2]]
    assert all(n % 2 == 0 for n in changes)
    listed = tmp_path / "list.txt"
    listed.write_text("106 Open\n110 Press\n")
    args = ["--mouths", str(listed), "--blank", "--as", "keys-csv", "-o", str(tmp_path / "again")]
    done = CliRunner().invoke(main, ["deliver", str(project), *args])
    assert done.exit_code == 0, done.output
    (written,) = (tmp_path / "again").iterdir()
    mouths = [line.split(",")[2] for line in written.read_text().splitlines()[1:]]
    assert mouths[:12] == ["Rest"] * 5 + ["Open"] * 4 + ["Press"] * 3


def test_an_option_of_an_earlier_name_goes_on_with_a_hint(tmp_path):
    model, call = head(tmp_path / "head.glb"), recording_path()
    asked = ("--fps", "12", "--loudness-only", "--kit", model, "-o", tmp_path / "x.glb")
    result = run("bake", call, *asked)
    assert result.exit_code == 0, result.output
    assert "--kit is called --character now" in result.stderr
    again = run("bake", call, "--fps", "12", "--loudness-only", "--character", model, "-o", tmp_path / "y.glb")
    assert "is called" not in again.stderr
    assert (tmp_path / "x.glb").read_bytes() == (tmp_path / "y.glb").read_bytes()
