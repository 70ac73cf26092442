"""A whole correction session, once with the keyboard alone and once with the mouse alone."""

from pathlib import Path

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QApplication, QFileDialog, QPushButton

from buccaphon.app.galley.look import Lane
from buccaphon.project.file.store import open_project
from tests.helpers.hands import CTRL, LEFT, NONE, SHIFT
from tests.helpers.qtest import QTest
from tests.helpers.waiting import idle


@pytest.fixture
def places(monkeypatch, tmp_path: Path) -> Path:
    """Whoever is asked for a file or folder gets these."""
    saved = str(tmp_path / "market.buccaphon")
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (saved, ""))
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *_: str(tmp_path))
    return tmp_path


def ready(window, qtbot) -> None:
    session = window.session
    qtbot.waitUntil(
        lambda: session.document.score is not None and not session.jobs.busy(),
        timeout=60_000,
    )


def test_with_the_keyboard_alone(window, qtbot, places):
    def key(name: str, held=NONE) -> None:
        QTest.keyClick(QApplication.focusWidget() or window, getattr(Qt.Key, f"Key_{name}"), held)

    window.galley.setFocus()
    key("D", CTRL)
    ready(window, qtbot)
    session = window.session
    key("F", CTRL)
    QTest.keyClicks(window.chooser.search, "plums")
    key("Return")
    plums = session.document.score.word_at(session.document.player.position + 1e-6)
    before = session.document.score.words[plums].start
    key("Period")
    key("Comma", CTRL)
    assert session.document.score.words[plums].start - before == pytest.approx(1 / 24 - 0.010)
    key("H")  # how it is said
    assert window.script.pronunciation.ways.hasFocus()
    window.script.pronunciation.own.setFocus()
    QTest.keyClicks(window.script.pronunciation.own, "P L UH1 M Z")
    key("Return")
    ready(window, qtbot)
    assert [phone.symbol for phone in session.document.score.words[plums].phones] == ["p", "l", "ʊ", "m", "z"]
    assert session.document.score.words[plums].start == pytest.approx(before + 1 / 24 - 0.010), "the pin has held"
    window.galley.setFocus()
    key("F", CTRL)
    QTest.keyClicks(window.chooser.search, "beets")
    key("Return")
    key("9")  # paints a mouth
    assert session.document.exposure().mouth == "Round"
    key("X")
    key("N", SHIFT)
    QTest.keyClicks(window.inline, "rounder here")
    key("Return")
    key("Right")
    key("Z", CTRL)
    key("Z", CTRL | SHIFT)
    assert session.document.state.take.notes[0].text == "rounder here"
    key("S", CTRL)
    idle(window, qtbot)
    kept = open_project(places / "market.buccaphon")
    assert kept.take.notes == session.document.state.take.notes
    assert kept.score == session.document.score
    key("E", CTRL)
    qtbot.waitUntil(lambda: any(places.glob("*.csv")), timeout=30_000)


def test_with_the_mouse_alone(window, qtbot, places):
    view = window.galley.viewport()

    def drag(start: QPoint, end: QPoint) -> None:
        QTest.mousePress(view, LEFT, pos=start)
        QTest.mouseMove(view, (start + end) / 2)
        QTest.mouseMove(view, end)
        QTest.mouseRelease(view, LEFT, pos=end)

    buttons = window.empty.findChildren(QPushButton)
    demo = next(button for button in buttons if button.text().startswith("Open the demo"))
    QTest.mouseClick(demo, LEFT)
    ready(window, qtbot)
    session, point = window.session, window.galley.point_at
    word = session.document.score.words[3]
    drag(point(word.start, Lane.WORDS), point(word.start, Lane.WORDS) + QPoint(5, 0))
    assert session.document.score.words[3].start > word.start
    QTest.mouseClick(view, LEFT, pos=point(1.3, Lane.MOUTHS))
    tile = next(tile for tile in window.grid.tiles if tile.mouth.name == "Bite")
    QTest.mouseClick(tile, LEFT)
    assert session.document.exposure().mouth == "Bite"
    drag(point(0.4, Lane.RULER), point(1.4, Lane.RULER))
    assert session.document.player.loops
    QTest.mouseClick(window.mirror.play_button, LEFT)
    assert session.document.player.playing
    QTest.mouseClick(window.mirror.play_button, LEFT)
    middle = (session.document.score.words[1].start + session.document.score.words[1].end) / 2
    QTest.mouseDClick(view, LEFT, pos=point(middle, Lane.WORDS))
    assert window.script.pronunciation.isVisible()
    QTest.mouseClick(window.script.pronunciation.use_button, LEFT)
    ready(window, qtbot)
    QTest.mouseClick(window.script.pronunciation.close_button, LEFT)
    assert window.script.pronunciation.isHidden()
    QTest.mouseClick(window.rail.steps[3], LEFT)
    QTest.mouseClick(window.export_panel.export_button, LEFT)
    qtbot.waitUntil(lambda: any(places.glob("*.csv")), timeout=30_000)
    assert {pin.boundary.word for pin in session.document.state.pins} == {3}
