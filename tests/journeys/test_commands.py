"""Every command can be given at any time: with nothing open, and on the demo."""

from operator import itemgetter
from pathlib import Path

import pytest
from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import QColorDialog, QFileDialog

from buccaphon.app.commands.catalogue import COMMANDS
from buccaphon.app.galley.look import Lane
from buccaphon.demo.line import demo_project
from tests.helpers.qtest import QTest
from tests.helpers.waiting import save

_DIALOGS = {"getOpenFileName": ("", ""), "getSaveFileName": ("", ""), "getExistingDirectory": ""}


@pytest.fixture(autouse=True)
def no_dialogs(monkeypatch):
    """Whoever is asked for a file or a colour answers that there is none."""
    monkeypatch.setattr(QColorDialog, "getColor", lambda *_: QColor())
    for name, answer in _DIALOGS.items():
        monkeypatch.setattr(QFileDialog, name, lambda *_, answer=answer: answer)


_OPENING = (
    "remove-take", "trim-start", "trim-end", "record", "quit", "open-demo", "open-demo-line", "open-demo-scene", "new-scene",
    "close-scene", "docket", "docket-folder", "done-next", "remove-line",
)  # fmt: skip
_HARMLESS = [command.id for command in COMMANDS if command.id not in _OPENING]


@pytest.mark.parametrize("ids", [_HARMLESS[n::12] for n in range(12)], ids=itemgetter(0))
def test_with_nothing_open_nothing_breaks(window, ids):
    for ident in ids:
        window.actions_by_id[ident].trigger()
        assert window.document.recording is None, ident
        assert not window.document.project.is_changed, ident


def test_on_the_demo_every_command_leaves_the_project_whole(window, qtbot):
    window.session.opening.open_prepared(demo_project())
    qtbot.waitUntil(lambda: window.document.score is not None, timeout=60_000)
    window.document.player.seek(1.3)
    for command in COMMANDS:
        if command.id in _OPENING:
            continue
        window.actions_by_id[command.id].trigger()
        QTest.qWait(1)
    qtbot.waitUntil(lambda: not window.session.jobs.busy(), timeout=60_000)
    window.session.aligning.align()  # one of the commands may have recognised the sounds without the script
    qtbot.waitUntil(lambda: not window.session.jobs.busy(), timeout=60_000)
    window.document.player.stop()
    assert len(window.document.score.words) == 34
    assert window.grab().width() == window.width()


def test_the_menu_names_what_will_be_undone(window, qtbot):
    window.session.opening.open_prepared(demo_project())
    qtbot.waitUntil(lambda: window.document.score is not None, timeout=60_000)
    window.document.player.seek(1.0)
    window.document.paint("Round")
    undo = window.actions_by_id["undo"]
    assert undo.text() == "Undo: Paint Round"
    undo.trigger()
    assert window.actions_by_id["redo"].text() == "Redo: Paint Round"
    assert window.notice.text.text() == "Undone: Paint Round"


def test_only_the_lanes_that_changed_are_painted_again(window, qtbot):
    window.session.opening.open_prepared(demo_project())
    qtbot.waitUntil(lambda: window.document.score is not None, timeout=60_000)
    window.grab()
    pictures = window.galley.page.pictures
    before = {key: kept.picture.cacheKey() for key, kept in pictures.items()}
    window.document.player.seek(1.0)
    window.document.paint("Round")
    window.grab()
    again = {key for key, kept in pictures.items() if before.get(key) != kept.picture.cacheKey()}
    assert (0, Lane.MOUTHS) in again
    assert not {lane for _, lane in again} & {Lane.SOUND, Lane.RULER, Lane.WORDS, Lane.PHONES}
    assert {strip for strip, _ in again} == {0}


def test_a_saved_project_is_offered_again_on_an_empty_page(window, qtbot, tmp_path: Path):
    window.session.opening.open_prepared(demo_project())
    qtbot.waitUntil(lambda: window.document.score is not None, timeout=60_000)
    path = tmp_path / "market.buccaphon"
    assert save(window, qtbot, path)
    window.empty.refresh()
    names = [window.empty.recent.itemAt(i).widget().text() for i in range(window.empty.recent.count())]
    assert any(name.startswith("market") for name in names)
    with qtbot.waitSignal(window.empty.recent_wanted) as wanted:
        window.empty.recent.itemAt(0).widget().click()
    assert wanted.args == [path]


def test_no_key_means_two_things():
    keys = [key for command in COMMANDS for key in command.keys]
    assert sorted(key for key in set(keys) if keys.count(key) > 1) == []
