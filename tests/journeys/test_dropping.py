"""Things dropped on the window, one or many, before any sound and after; and whatever comes over a page, on every page."""

import shutil

import numpy as np
import pytest
import soundfile
from PyQt6.QtCore import QMimeData, QPoint, QPointF, Qt, QUrl
from PyQt6.QtGui import QDragEnterEvent, QDragLeaveEvent, QDropEvent, QImage

from buccaphon.app.commands import file
from buccaphon.app.commands.desk import View
from buccaphon.app.galley.look import Lane
from buccaphon.app.session.dropping import what_they_are
from tests.helpers.hands import LEFT, NONE
from tests.helpers.waiting import idle, save


def mime_of(paths) -> QMimeData:
    mime = QMimeData()
    mime.setUrls([QUrl.fromLocalFile(str(path)) for path in paths])
    return mime


def hover(window, *paths) -> QDragEnterEvent:
    mime = mime_of(paths)
    event = QDragEnterEvent(QPoint(400, 300), Qt.DropAction.CopyAction, mime, LEFT, NONE)
    window.dragEnterEvent(event)
    window._kept = mime
    return event


def let_go(window, qtbot, *paths) -> None:
    mime = mime_of(paths)
    window.dropEvent(QDropEvent(QPointF(400, 300), Qt.DropAction.CopyAction, mime, LEFT, NONE))
    qtbot.waitUntil(lambda: not window.session.jobs.busy(), timeout=60_000)


@pytest.fixture
def drawings(tmp_path):
    """Nine letters as drawings."""
    folder = tmp_path / "nine letters"
    folder.mkdir()
    for number, name in enumerate("abcdefghi"):
        image = QImage(40, 30, QImage.Format.Format_ARGB32)
        image.fill(0xFF000000 + 20 * number)
        assert image.save(str(folder / f"{name}.png"))
    return folder


@pytest.fixture
def sounds(tmp_path):
    paths = []
    for number in range(3):
        path = tmp_path / f"line {number + 1}.wav"
        hiss = np.random.default_rng(number).normal(0, 0.05, 16_000 * (number + 1))
        soundfile.write(path, hiss.astype(np.float32), 16_000)
        paths.append(path)
    return paths


def test_a_folder_of_drawings_is_dropped_before_any_sound(window, qtbot, drawings, sounds):
    assert hover(window, drawings).isAccepted()
    assert window.dropping.isVisible()
    assert "Add nine letters" in window.dropping.text()
    window.dragLeaveEvent(QDragLeaveEvent())
    assert not window.dropping.isVisible()
    let_go(window, qtbot, drawings)
    assert [kit.name for kit in window.document.state.kits] == ["nine letters"]
    let_go(window, qtbot, sounds[0])
    assert window.document.recording is not None
    assert window.document.state.kit == "nine letters", "the character was there first, and stays"
    assert window.document.bake() is not None


def test_several_recordings_become_lines_in_their_order_one_after_another(window, qtbot, sounds):
    assert "3 recordings as lines of the scene" in what_they_are(sounds).says
    let_go(window, qtbot, *sounds)
    takes = [line.take for line in window.document.state.lines]
    assert [take.path for take in takes] == sounds
    assert [take.offset for take in takes] == sorted({take.offset for take in takes})
    assert takes[1].offset == pytest.approx(window.document.recording.duration)


def test_drawings_without_their_folder_are_one_character(window, qtbot, drawings):
    some = [drawings / f"{name}.png" for name in "ace"]
    hover(window, *some)
    assert "a character of 3 drawings" in window.dropping.text()
    let_go(window, qtbot, *some)
    (kit,) = window.document.state.kits
    assert kit.look.only == ("a.png", "c.png", "e.png")
    assert sorted(window.session.characters.character.own) == ["a", "c", "e"]


def test_a_project_with_recordings_opens_and_takes_them(demo, qtbot, tmp_path, sounds):
    project = tmp_path / "market.buccaphon"
    assert save(demo, qtbot, project)
    let_go(demo, qtbot, sounds[0], project, demo.document.state.take.path)
    assert demo.document.project.path == project
    demo.notice.close_button.click()  # another take
    idle(demo, qtbot)
    assert len(demo.document.state.takes) == 2, "the one that it had is not taken twice"
    assert demo.document.state.take.path == sounds[0]


def test_nothing_is_dropped_in_silence(demo, qtbot, tmp_path, sounds):
    before = demo.document.state
    empty = tmp_path / "empty"
    empty.mkdir()
    for name, told in (("mouths.psd", "OpenRaster"), ("letter.doc", "plain text"), ("thing.xyz", "no kind of file")):
        path = tmp_path / name
        path.write_bytes(b"x")
        assert hover(demo, path).isAccepted()
        let_go(demo, qtbot, path)
        assert told in demo.notice.text.text()
        assert not demo.dropping.isVisible()
    let_go(demo, qtbot, empty)
    assert "no recording and no drawing" in demo.notice.text.text()
    assert demo.document.state == before
    let_go(demo, qtbot, sounds[0], tmp_path / "mouths.psd")
    assert "mouths.psd" in demo.notice.text.text(), "what was left out of several"


def test_a_folder_of_recordings_opens_them(window, qtbot, sounds, tmp_path):
    folder = tmp_path / "day one"
    folder.mkdir()
    for path in sounds[:2]:
        shutil.copy(path, folder)
    let_go(window, qtbot, folder)
    assert [line.take.path.name for line in window.document.state.lines] == ["line 1.wav", "line 2.wav"]


def test_all_files_that_the_command_line_names_are_opened(window, qtbot, sounds, drawings):
    window.open(*sounds[:2], drawings)
    qtbot.waitUntil(lambda: not window.session.jobs.busy() and len(window.document.state.lines) == 2, timeout=60_000)
    qtbot.waitUntil(lambda: len(window.document.state.kits) == 1, timeout=60_000)


# --- what comes over a page, on every page -------------------------------------------------------------------------------


def pixels(window) -> np.ndarray:
    image = window.ground.grab().toImage().convertToFormat(QImage.Format.Format_RGB32)
    bits = image.constBits()
    bits.setsize(image.sizeInBytes())
    return np.frombuffer(bits, np.uint32).reshape(image.height(), -1).copy()


def say(window):
    window.notice.say("Something to be read on any page, whatever it shows.")


def ask(window):
    window.inline.ask(1.0, Lane.WORDS, "A typed line", "", lambda _text: None)


def keys(window):
    window.key_edit.ask("play", "Play or stop")


def drag(window):
    hover(window, window.document.state.take.path)


def fault(window):
    window.faults.happened.emit("Something went wrong and the work was kept.", "details")


OVERLAYS = {
    "palette": lambda window: window.do("palette"), "history": lambda window: window.do("history"),
    "find": lambda window: window.do("find"), "characters": lambda window: window.do("bring-in-kit"),
    "chart": lambda window: window.do("choose-mouth"), "note": lambda window: window.do("note"),
    "boundary": lambda window: window.do("place-boundary"), "mouths": lambda window: window.do("type-mouths"),
    "notice": say, "typed line": ask, "keys": keys, "drag": drag, "fault": fault,
}  # fmt: skip


@pytest.mark.parametrize("view", list(View), ids=lambda view: view.name.lower())
def test_every_overlay_is_seen_on_every_page(demo, view):
    demo.desk.show_view(view)
    unseen = []
    for name, show in OVERLAYS.items():
        before = pixels(demo)
        show(demo)
        changed = np.count_nonzero(pixels(demo) != before)
        if changed < 2000:
            unseen.append((name, int(changed)))
        for overlay in (demo.chooser, demo.inline, demo.key_edit, demo.notice, demo.dropping):
            overlay.hide()
    assert not unseen


def test_an_overlay_stays_seen_when_the_page_changes_under_it(demo):
    demo.do("palette")
    demo.desk.show_view(View.SHEET)
    before = pixels(demo)
    demo.chooser.hide()
    assert np.count_nonzero(pixels(demo) != before) > 2000


def test_a_chosen_palette_entry_goes_back_to_the_page_it_came_from(demo, qtbot):
    demo.desk.show_view(View.SHEET)
    demo.do("palette")
    demo.chooser.leave()
    assert demo.sheet.hasFocus() or demo.window().focusWidget() is demo.sheet
    assert file.folder_of(demo.desk).is_dir()
