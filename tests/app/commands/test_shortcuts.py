import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeySequence

from buccaphon.app.commands.catalogue import COMMANDS
from buccaphon.app.commands.keys import keys_pdf
from buccaphon.app.commands.shortcuts import KeysError, KeySet, Shortcuts, page_of_keys, painting_keys, read_keys
from tests.helpers.qtest import QTest

BY_ID = {command.id: command for command in COMMANDS}


def test_a_key_that_is_given_away_is_lost_by_who_had_it():
    keys = KeySet(COMMANDS).with_key("loop", "Space")
    assert keys.of(BY_ID["loop"]) == ("Space",)
    assert keys.of(BY_ID["play"]) == ()
    assert KeySet(COMMANDS).taken_by("Space", "loop") == "Play or stop"
    assert KeySet(COMMANDS).taken_by("Ctrl+Alt+F9") == ""
    assert keys.with_key("play", "Space").with_key("loop", "L").changed == {}, "all as they came again"
    assert KeySet(COMMANDS).with_key("loop", "").of(BY_ID["loop"]) == ()


def test_keys_that_paint_mouths_can_be_changed_like_any_other(window):
    assert KeySet(COMMANDS).taken_by("3") == "Paint mouth 3 of the chart"
    keys = KeySet(COMMANDS).with_key("loop", "3").with_key("paint-3", "L")
    assert painting_keys(keys)[:4] == ("1", "2", "L", "4")
    window.desk.shortcuts.use(keys)
    assert [tile.key for tile in window.grid.tiles[:4]] == ["1", "2", "L", "4"]
    old = '{"keys": {"loop": ["Alt+1"]}}'
    assert painting_keys(read_keys(COMMANDS, old, "here"))[17] == "", "sets of before keep their keys"


def test_a_set_is_read_back_and_a_wrong_one_refused():
    keys = KeySet(COMMANDS).with_key("loop", "Ctrl+Alt+F9")
    assert read_keys(COMMANDS, keys.to_text(), "here") == keys
    renamed = read_keys(COMMANDS, '{"keys": {"mend-mark": ["Ctrl+Alt+F6"]}}', "here").changed
    assert renamed == {"fix-issue": ("Ctrl+Alt+F6",)}, "a command that was called otherwise keeps its key"
    assert read_keys(COMMANDS, '{"keys": {"of another day": ["F"]}}', "here").changed == {}
    for wrong in ("", "[]", '{"keys": 3}', '{"keys": {"loop": ["Space"]}}'):
        with pytest.raises(KeysError):
            read_keys(COMMANDS, wrong, "here")


def test_the_sheet_has_every_key_and_is_a_pdf(qapp):
    page = page_of_keys(KeySet(COMMANDS), ("Rest", "Press"))
    for command in COMMANDS:
        for key in command.keys if not command.id.startswith("paint-") else ():
            assert key.replace("&", "&amp;").replace("<", "&lt;") in page
    assert "Paint Press" in page
    assert keys_pdf(KeySet(COMMANDS), ("Rest",)).startswith(b"%PDF")


def test_a_key_is_changed_in_the_window_and_remembered(window):
    window.do("change-key")
    QTest.keyClicks(window.chooser.search, "loop")
    row = next(n for n, choice in enumerate(window.chooser.shown) if choice.text == "Loop")
    window.chooser.list.setCurrentRow(row)
    QTest.keyClick(window.chooser.search, Qt.Key.Key_Return)
    assert window.key_edit.isVisible()
    window.key_edit.edit.setKeySequence(QKeySequence("Space"))
    assert "“Play or stop”" in window.key_edit.note.text()
    window.key_edit.edit.setKeySequence(QKeySequence("Ctrl+Alt+F9"))
    window.key_edit.take.click()
    assert window.actions_by_id["loop"].shortcuts() == [QKeySequence("Ctrl+Alt+F9")]
    assert Shortcuts(COMMANDS, lambda _keys: None).keys.of(BY_ID["loop"]) == ("Ctrl+Alt+F9",)
    window.actions_by_id["usual-keys"].trigger()
    assert window.actions_by_id["loop"].shortcuts() == [QKeySequence("L")]
