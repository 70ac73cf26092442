"""Hundreds of lines: a batch makes their scenes, and the docket's page goes through them, one by one and several at once."""

import csv
import shutil
from pathlib import Path

import pytest
from click.testing import CliRunner
from PyQt6.QtCore import Qt

from buccaphon.app.commands.desk import View
from buccaphon.app.docket.model import STATE
from buccaphon.app.session.jobs import Slot
from buccaphon.batch.docket import read_docket
from buccaphon.cli import main
from buccaphon.project.file.store import open_project
from buccaphon.project.standing import Standing
from tests.conftest import DATA
from tests.helpers.qtest import QTest
from tests.helpers.waiting import PATIENCE, heard, idle

MANY, FEW = 60, 4


def batch(folder: Path, rows: int) -> Path:
    """Lines as a batch leaves them: two recordings, whose rows differ in how they are animated."""
    for path in (*DATA.glob("awb00.*"), *DATA.glob("slt07.*")):
        shutil.copy(path, folder)
    lines = [f"{('awb00', 'slt07')[n % 2]}.flac,24,line {n:02},{1 + n % 3}" for n in range(rows)]
    (folder / "lines.csv").write_text("\n".join(["recording,fps,name,hold", *lines]) + "\n")
    done = CliRunner().invoke(
        main, ["batch", str(folder / "lines.csv"), "-o", str(folder / "out"), "--as", "keys-csv", "--workers", "2"]
    )
    assert done.exit_code == 0, done.output
    return folder / "out"


def open_docket(window, folder: Path):
    window.desk.ask.folder = lambda *_: folder
    window.session.docketing.workers = 0
    window.do("docket-folder")
    assert window.pages.view() is View.DOCKET
    return window.pages.docket


@pytest.fixture
def docket(window, tmp_path):
    return open_docket(window, batch(tmp_path, FEW))


def choose(page, count: int) -> list[Path]:
    page.table.selectRow(0)
    for _ in range(count - 1):
        QTest.keyClick(page.table, Qt.Key.Key_Down, Qt.KeyboardModifier.ShiftModifier)
    return page.chosen()


def press(page, text: str) -> None:
    next(each for each in page.buttons if each.text() == text).click()


def test_sixty_lines_of_a_batch_are_gone_through(window, qtbot, tmp_path):
    docket = open_docket(window, batch(tmp_path, MANY))
    assert len(docket.model.shown) == MANY
    assert "60 scenes" in docket.count.text()
    QTest.keyClick(docket.table, Qt.Key.Key_Return)
    heard(window, qtbot)
    assert window.pages.view() is View.GALLEY
    first = window.document.project.path
    window.document.player.seek(1.0)
    window.document.paint("Round")
    window.do("done-next")
    qtbot.waitUntil(lambda: window.document.project.path != first, timeout=PATIENCE)
    heard(window, qtbot)
    assert open_project(first).painted
    assert open_project(first).standing is Standing.LOOKED_AT
    assert not window.document.project.is_changed
    window.do("docket")
    found = {scene.path: scene.standing for scene in docket.model.shown}
    assert found[first] is Standing.LOOKED_AT
    assert docket.model.shown[-1].path == first, "those to do come first"


def test_several_scenes_are_changed_and_exported_in_the_background(window, qtbot, docket):
    chosen = choose(docket, 3)
    assert len(chosen) == 3
    press(docket, "Chart…")
    QTest.keyClicks(window.chooser.search, "Five")
    QTest.keyClick(window.chooser.search, Qt.Key.Key_Return)
    qtbot.waitUntil(lambda: not window.session.jobs.busy(Slot.DOCKET), timeout=PATIENCE)
    assert [open_project(path).chart for path in chosen] == ["Five"] * 3
    assert docket.standing.text() == "3 scenes done."
    assert sorted(docket.chosen()) == sorted(chosen), "they stay chosen"
    press(docket, "Frame rate…")
    QTest.keyClicks(window.chooser.search, "12 fps")
    QTest.keyClick(window.chooser.search, Qt.Key.Key_Return)
    qtbot.waitUntil(lambda: not window.session.jobs.busy(Slot.DOCKET), timeout=PATIENCE)
    press(docket, "Export")
    qtbot.waitUntil(lambda: not window.session.jobs.busy(Slot.DOCKET), timeout=PATIENCE)
    text = (chosen[0].parent / f"{chosen[0].stem.replace(' ', '_')}.keys.csv").read_text()
    rows = list(csv.DictReader(text.splitlines()))
    assert float(rows[1]["seconds"]) == pytest.approx(1 / 12, abs=1e-5)
    states = {scene.path: scene.standing for scene in read_docket(chosen[0].parent)}
    assert all(states[path] is Standing.DELIVERED for path in chosen)
    press(docket, "Mark as to do")
    assert read_docket(chosen[0].parent)[0].standing is Standing.TO_DO


def test_one_that_cannot_be_changed_stops_no_other_and_loses_nothing(window, qtbot, docket):
    chosen = choose(docket, 3)
    chosen[1].write_text("{")
    press(docket, "Align again")
    qtbot.waitUntil(lambda: not window.session.jobs.busy(Slot.DOCKET), timeout=PATIENCE)
    assert "2 scenes done. 1 failed" in docket.standing.text()
    assert chosen[1].name in docket.standing.text()
    assert chosen[1].read_text() == "{"
    window.session.opening.open(chosen[0])
    heard(window, qtbot)
    window.document.paint("Round")
    before = chosen[0].read_bytes()
    window.do("docket")
    press(docket, "Align again")
    idle(window, qtbot)
    assert "save it first" in window.notice.text.text()
    assert chosen[0].read_bytes() == before


def test_a_done_scene_is_exported_when_that_is_wished(window, qtbot, docket):
    docket.delivers.setChecked(True)
    QTest.keyClick(docket.table, Qt.Key.Key_Return)
    heard(window, qtbot)
    first = window.document.project.path
    (first.parent / f"{first.stem.replace(' ', '_')}.keys.csv").unlink(missing_ok=True)
    window.do("done-next")
    qtbot.waitUntil(lambda: window.document.project.path != first and not window.session.jobs.busy(), timeout=PATIENCE)
    assert (first.parent / f"{first.stem.replace(' ', '_')}.keys.csv").exists()
    window.do("docket")
    row = next(n for n, scene in enumerate(docket.model.shown) if scene.path == first)
    assert docket.model.data(docket.model.index(row, STATE)) == "delivered"


def test_the_report_of_a_batch_opens_its_scenes(window, qtbot, tmp_path):
    out = batch(tmp_path, FEW)
    window.open(out / "report.csv")
    assert window.pages.view() is View.DOCKET
    assert len(window.pages.docket.model.shown) == FEW
    assert window.pages.docket.title.text() == "out"


def test_rows_are_sorted_by_a_column_and_found_by_words(window, docket, qtbot):
    docket.model.sort(0, Qt.SortOrder.DescendingOrder)
    names = [scene.title for scene in docket.model.shown]
    assert names == sorted(names, reverse=True)
    QTest.keyClicks(docket.search, "line 03")
    qtbot.waitUntil(lambda: len(docket.model.shown) == 1)
    docket.search.clear()
    qtbot.waitUntil(lambda: len(docket.model.shown) == FEW)
