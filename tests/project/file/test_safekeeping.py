import os
from pathlib import Path

import pytest

from buccaphon.project.file.safekeeping import VERSIONS, Keeper, forget, keep_version, left_behind, versions
from buccaphon.project.file.store import open_project, save_project
from buccaphon.project.project import Project
from buccaphon.project.state import State, one_line


def gone(keeper: Keeper) -> None:
    """Its process ends without saving: the system lets go of what it held."""
    keeper.lock.close()


def test_what_a_run_keeps_is_its_own_until_it_is_gone(tmp_path: Path):
    keeper = Keeper(tmp_path)
    keeper.keep(one_line(script="warm plums"), tmp_path / "market.buccaphon", "market")
    assert left_behind(tmp_path) == [], "this run goes on"
    gone(keeper)
    (found,) = left_behind(tmp_path)
    assert (found.original, found.title) == (tmp_path / "market.buccaphon", "market")
    assert open_project(found.path).script == "warm plums"
    forget(found)
    assert list(tmp_path.iterdir()) == []


def test_what_is_let_go_leaves_nothing(tmp_path: Path):
    keeper = Keeper(tmp_path)
    keeper.keep(State(), None, "Untitled")
    keeper.let_go()
    assert list(tmp_path.iterdir()) == []


def test_the_last_versions_of_a_saved_project_can_be_opened(tmp_path: Path):
    path, folder = tmp_path / "market.buccaphon", tmp_path / "kept"
    for number in range(VERSIONS + 4):
        keep_version(path, folder)
        save_project(one_line(script=f"version {number}"), path)
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
    save_project(one_line(script="warm plums"), tmp_path / "4711.buccaphon")
    (tmp_path / "4711.json").write_text(text)
    (found,) = left_behind(tmp_path)
    assert found.title == "Untitled"
