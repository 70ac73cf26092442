"""Rows that make a scene together: lines at their places, takes of one line, a role for each speaker."""

import csv
import shutil
from pathlib import Path

import pytest
from click.testing import CliRunner

from buccaphon.batch.ledger import Ledger
from buccaphon.batch.manifest import in_scenes, read_manifest
from buccaphon.cli import main
from buccaphon.errors import ListError
from buccaphon.project.file.store import open_project, save_project
from tests.conftest import DATA

HEAD = "recording,fps,start_frame,name,scene,begins,speaker,take,hold\n"


@pytest.fixture
def manifest(tmp_path: Path) -> Path:
    for path in (*DATA.glob("awb00.*"), *DATA.glob("slt07.*")):
        shutil.copy(path, tmp_path)
    path = tmp_path / "episode.csv"
    path.write_text(
        HEAD + "slt07.flac,24,101,ask,stall,f101,Maren,,2\n"
        "awb00.flac,24,101,answer,stall,00:00:08:05,Timo,first,\n"
        "slt07.flac,24,101,ask,stall,,Maren,again,2\n"
        "awb00.flac,24,,alone,,,,,\n"
    )
    return path


def run(*args: object):
    return CliRunner().invoke(main, [str(arg) for arg in args])


def test_rows_of_one_scene_are_one_file_with_lines_takes_and_roles(manifest, tmp_path):
    out = tmp_path / "out"
    result = run("batch", manifest, "-o", out, "--as", "keys-csv,srt")
    assert result.exit_code == 0, result.output
    assert {path.name for path in out.glob("*.buccaphon")} == {"stall.buccaphon", "alone.buccaphon"}
    state = open_project(out / "stall.buccaphon")
    assert [(line.title, line.role, len(line.takes)) for line in state.lines] == [
        ("ask", "Maren", 2),
        ("answer", "Timo", 1),
    ]
    assert [role.mouth_settings.hold for role in state.roles] == [2, 1]
    assert [take.title for take in state.lines[0].takes] == ["slt07", "again"]
    assert (state.start_frame, state.lines[1].take.offset) == (101, pytest.approx((8 * 24 + 5 - 101) / 24))
    assert all(line.take.score is not None for line in state.lines)
    names = {path.name for path in out.iterdir()}
    assert {"stall_Maren.keys.csv", "stall_Timo.keys.csv", "stall.srt", "alone.keys.csv", "alone.srt"} <= names
    rows = list(csv.DictReader((out / "report.csv").read_text("utf-8-sig").splitlines()))
    assert {row["name"] for row in rows} == {"stall", "alone"}
    assert {each.title: each.speakers for each in Ledger(out).outcomes} == {"stall": ("Maren", "Timo"), "alone": ()}
    again = run("batch", manifest, "-o", out, "--as", "keys-csv,srt")
    assert again.exit_code == 0
    assert again.output.count("stall") <= 1


def test_a_scene_that_a_hand_has_changed_is_kept(manifest, tmp_path):
    out = tmp_path / "out"
    assert run("batch", manifest, "-o", out, "--as", "keys-csv").exit_code == 0
    path = out / "stall.buccaphon"
    save_project(open_project(path).with_line(script="by hand"), path)
    (tmp_path / "awb00.txt").write_text("Plums, pears and purple parsnips! Buy five, and I'll throw in a fig now.\n")
    assert run("batch", manifest, "-o", out, "--as", "keys-csv").exit_code == 0
    assert open_project(path).script == "by hand"
    assert "stall.buccaphon was changed by hand" in (out / "report.html").read_text()


@pytest.mark.parametrize(
    ("rows", "reason"),
    [
        ("a.wav,24,,a,s,tomorrow,,,\n", "begins at “tomorrow”"),
        ("a.wav,24,,a,s,,,,\nb.wav,25,,b,s,,,,\n", "differ in fps"),
        ("a.wav,24,,a,s,,,,\nb.wav,24,,a,s,,,,\n", "both called a"),
    ],
)
def test_what_no_scene_can_be_says_why(tmp_path, rows, reason):
    path = tmp_path / "lines.csv"
    path.write_text(HEAD + rows)
    with pytest.raises(ListError, match=reason):
        read_manifest(path)


def test_rows_of_one_scene_need_not_stand_together(manifest):
    assert [[row.title for row in rows] for rows in in_scenes(read_manifest(manifest))] == [
        ["ask", "answer", "ask"], ["alone"],
    ]  # fmt: skip
