import os
import subprocess
import sys
from pathlib import Path

import pytest

from buccaphon.project.project import Project
from buccaphon.project.safekeeping import VERSIONS, forget, keep, keep_version, left_behind, let_go, versions
from buccaphon.project.state import State
from buccaphon.project.store import open_project, save_project

GONE = subprocess.run(
    [sys.executable, "-c", "import os; print(os.getpid())"], capture_output=True, text=True, check=True
)


def test_what_a_process_keeps_is_its_own_until_it_is_gone(tmp_path: Path):
    keep(State(script="warm plums"), tmp_path, tmp_path / "market.buccaphon", "market")
    assert left_behind(tmp_path) == [], "this process is still running"
    mine = tmp_path / f"{os.getpid()}.buccaphon"
    dead = GONE.stdout.strip()
    mine.rename(tmp_path / f"{dead}.buccaphon")
    mine.with_suffix(".json").rename(tmp_path / f"{dead}.json")
    (found,) = left_behind(tmp_path)
    assert (found.original, found.title) == (tmp_path / "market.buccaphon", "market")
    assert open_project(found.path).script == "warm plums"
    forget(found)
    assert list(tmp_path.iterdir()) == []


def test_what_is_let_go_leaves_nothing(tmp_path: Path):
    keep(State(), tmp_path, None, "Untitled")
    let_go(tmp_path)
    assert list(tmp_path.iterdir()) == []


def test_the_last_versions_of_a_saved_project_can_be_opened(tmp_path: Path):
    path, folder = tmp_path / "market.buccaphon", tmp_path / "kept"
    for number in range(VERSIONS + 4):
        keep_version(path, folder)
        save_project(State(script=f"version {number}"), path)
        os.utime(path, (1_700_000_000 + number, 1_700_000_000 + number))
    found = versions(path, folder)
    assert len(found) == VERSIONS
    assert [open_project(file).script for _, file in found] == [f"version {n}" for n in range(VERSIONS + 2, 2, -1)]
    assert found[0][0] > found[-1][0]
    assert versions(tmp_path / "other.buccaphon", folder) == []


def test_the_history_is_a_list_to_jump_in():
    from buccaphon.project.edits.script import SetScript

    project = Project(State())
    for text in ("a", "ab", "abc"):
        project.apply(SetScript(text, name=f"Type {text}", gesture=""))
    project.undo()
    assert project.steps() == (["Type a", "Type ab", "Type abc"], 2)
    project.go_to(0)
    assert project.state.script == ""
    project.go_to(3)
    assert project.state.script == "abc"
    project.go_to(1)
    assert project.state.script == "a"


@pytest.mark.parametrize("text", ["", "{", "[]"])
def test_a_note_that_broke_off_loses_no_work(tmp_path: Path, text):
    save_project(State(script="warm plums"), tmp_path / f"{GONE.stdout.strip()}.buccaphon")
    (tmp_path / f"{GONE.stdout.strip()}.json").write_text(text)
    (found,) = left_behind(tmp_path)
    assert found.title == "Untitled"
