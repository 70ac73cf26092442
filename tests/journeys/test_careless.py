"""What a careless or unlucky hand does: none of it ends the application, loses work or exports wrong keys."""

import json
import os

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QTextCursor
from PyQt6.QtWidgets import QApplication

from buccaphon.app.galley.look import Lane
from buccaphon.formats.registry import format_named
from buccaphon.project.delivering import deliver
from buccaphon.project.derived import Derived
from buccaphon.project.edits.script import TakeAlignment
from buccaphon.project.edits.takes import ChangeTake
from buccaphon.project.file.store import open_project, save_project
from buccaphon.score.records import Score
from tests.helpers.hands import CTRL, LEFT, NONE, SHIFT, drag
from tests.helpers.qtest import QTest
from tests.helpers.waiting import idle, save


def key(window, which: Qt.Key, held=NONE) -> None:
    QTest.keyClick(QApplication.focusWidget() or window.galley, which, held)


def choose_chart(window, name: str) -> None:
    box = window.mouths.chart
    box.setCurrentIndex(box.findData(name))
    box.activated.emit(box.currentIndex())


def test_another_chart_after_painting_shows_the_nearest_mouths_and_going_back_the_same(demo, tmp_path):
    demo.document.player.seek(1.3)
    key(demo, Qt.Key.Key_8)
    (painted,) = demo.document.state.painted
    assert painted.mouth == "Spread"
    before = demo.document.bake().exposures
    choose_chart(demo, "Five")
    demo.grab()
    at = demo.document.state.rate.nearest(1.3)
    shown = next(e for e in demo.document.bake().exposures if e.start <= at < e.end)
    assert shown.mouth in demo.document.chart.names
    save_project(demo.document.state, tmp_path / "five.buccaphon")
    assert open_project(tmp_path / "five.buccaphon") == demo.document.state
    choose_chart(demo, "Ten")
    assert demo.document.bake().exposures == before


def test_a_contact_stays_a_contact_in_another_chart(demo):
    demo.document.player.seek(1.3)
    demo.document.paint("Bite")
    choose_chart(demo, "Five")
    chart = demo.document.chart
    at = demo.document.state.rate.nearest(1.3)
    shown = next(e for e in demo.document.bake().exposures if e.start <= at < e.end)
    assert chart.mouths[chart.index(shown.mouth)].contact


def test_a_word_that_stands_alone_is_exported_where_it_was_dragged_to(demo):
    score = demo.document.score
    sparse = Score(score.words[::4], score.duration)
    demo.document.apply(TakeAlignment(sparse, demo.document.state.script))
    word = sparse.words[3]
    assert word.start - sparse.words[2].end > 0.25
    assert sparse.words[4].start - word.end > 0.25
    demo.document.bake()
    start = demo.galley.point_at((word.start + word.end) / 2, Lane.WORDS)
    drag(demo, start, start + QPoint(18, 0))
    assert demo.document.score.words[3].start != word.start
    anew = Derived(demo.document.recording, demo.document.derived.peaks)
    state = demo.document.state
    shown, made_anew = deliver(state, demo.document.derived, ""), deliver(state, anew, "")
    form = format_named("keys-csv")
    assert form.files(shown) == form.files(made_anew)


@pytest.mark.parametrize("typed", ["nan", "inf", "1e400", "f 99999999999999999999", "²"])
def test_a_boundary_is_placed_only_at_a_time(demo, typed):
    score = demo.document.score
    demo.document.player.seek(1.3)
    key(demo, Qt.Key.Key_Equal)
    QTest.keyClicks(QApplication.focusWidget(), typed)
    key(demo, Qt.Key.Key_Return)
    assert demo.document.score == score or typed.startswith("f 9")


@pytest.mark.parametrize("held", [NONE, SHIFT])
def test_with_the_script_emptied_no_word_is_retyped(demo, held):
    demo.script.text.setPlainText("")
    demo.galley.setFocus()
    demo.document.player.seek(1.3)
    key(demo, Qt.Key.Key_R, held)
    assert demo.notice.isVisible()
    assert not demo.inline.isVisible()


def test_what_was_asked_of_a_word_is_not_done_to_another(demo, qtbot):
    demo.document.player.seek(1.3)
    key(demo, Qt.Key.Key_R)
    assert demo.inline.isVisible()
    demo.document.apply(ChangeTake(title="other"))
    boundary_moved = demo.document.score
    demo.do("nudge-on")
    assert demo.document.score is not boundary_moved
    script = demo.document.state.script
    QTest.keyClicks(demo.inline, "hello")
    QTest.keyClick(demo.inline, Qt.Key.Key_Return)
    assert demo.document.state.script == script
    assert "changed in the meantime" in demo.notice.text.text()


def test_a_boundary_is_asked_for_only_while_there_is_a_page(demo):
    demo.document.derived = None
    demo.galley.relayout()
    demo.galley.setFocus()
    for which in (Qt.Key.Key_Equal, Qt.Key.Key_R, Qt.Key.Key_N):
        key(demo, which)
    assert not demo.inline.isVisible()


@pytest.mark.parametrize("endless", [False, True])
def test_another_project_opened_in_mid_drag_lets_the_hand_go(demo, qtbot, endless):
    if endless:
        demo.do("wrap")
    view, at = demo.galley.viewport(), demo.galley.point_at(1.3, Lane.SOUND)
    QTest.mousePress(view, LEFT, NONE, at)
    QTest.mouseMove(view, at + QPoint(20, 0))
    demo.document.project.settle()
    QTest.keyClick(demo.galley, Qt.Key.Key_D, CTRL | SHIFT)
    demo.grab()
    QTest.mouseRelease(view, LEFT, NONE, at)
    qtbot.waitUntil(lambda: demo.document.recording is not None, timeout=60_000)
    demo.grab()
    assert len(demo.galley.layout_now.strips) > 0


def test_half_an_emoji_is_saved_as_a_mark_in_its_place(demo, tmp_path, qtbot):
    QApplication.clipboard().setText("plums \ud83c")
    demo.script.text.setFocus()
    demo.script.text.moveCursor(QTextCursor.MoveOperation.End)
    demo.script.text.paste()
    assert save(demo, qtbot, tmp_path / "market.buccaphon")
    assert open_project(tmp_path / "market.buccaphon").script.endswith("plums \ufffd")


def test_a_title_no_file_can_have_is_refused_in_words(demo, tmp_path, qtbot):
    demo.document.apply(ChangeTake(title="n" * 300))
    demo.session.exporting.into(tmp_path)
    demo.session.exporting.export()
    idle(demo, qtbot)
    assert "too long" in demo.notice.text.text()
    assert list(tmp_path.glob("*.csv")) == []
    assert not save(demo, qtbot, tmp_path / ("n" * 300 + ".buccaphon"))


@pytest.mark.parametrize(
    "content",
    [
        b'{"format": "buccaphon project", "version": 0}',
        b"[" * 3000 + b"]" * 3000,
        b'{"format": "buccaphon project", "version": 3, "script": "\xff"}',
        b'{"format": "buccaphon project", "version": 3, "rate": "1e99999999"}',
        b'{"format": "buccaphon project", "version": 3, "language": "xx"}',
        b'{"format": "buccaphon project", "version": 3, "hold": 0}',
        b'{"format": "buccaphon project", "version": 2, "takes": [{"path": "/dev/zero", "trim_in": -1}]}',
    ],
    ids=["version", "deep", "bytes", "rate", "language", "hold", "trim"],
)
def test_a_refused_project_leaves_the_window_as_it_was(demo, tmp_path, content):
    bad = tmp_path / "bad.buccaphon"
    bad.write_bytes(content)
    before = demo.document.project, demo.document.state, demo.document.recording, demo.windowTitle()
    demo.session.opening.open(bad)
    assert (demo.document.project, demo.document.state, demo.document.recording, demo.windowTitle()) == before
    assert str(bad) in demo.notice.text.text()


def test_a_folder_that_is_none_stops_safekeeping_only(demo, qtbot, tmp_path, monkeypatch):
    (tmp_path / "file").write_text("no folder")
    demo.session.safekeeping.keeper.folder = tmp_path / "file" / "kept"
    demo.session.safekeeping.keeper.path = tmp_path / "file" / "kept" / "x.buccaphon"
    with qtbot.waitSignal(demo.document.said, timeout=5000) as said:
        demo.document.paint("Open")
    assert "backup is not working" in said.args[0]
    assert save(demo, qtbot, tmp_path / "market.buccaphon")


def test_a_recording_shorter_than_its_words_is_baked_as_far_as_it_goes(demo, tmp_path):
    save_project(demo.document.state, tmp_path / "market.buccaphon")
    recording, peaks = demo.document.recording, demo.document.derived.peaks
    half = recording.duration / 2
    from buccaphon.audio.peaks import build_peaks
    from buccaphon.timing import Span

    short = recording.part(Span(0.0, half))
    bake = Derived(short, build_peaks(short)).bake(demo.document.state)
    assert bake.frames == demo.document.state.rate.covering(short.duration)
    assert peaks is demo.document.derived.peaks


def test_a_fault_of_ours_is_told_once_kept_and_goes_on(demo, qtbot, capfd):
    demo.document.paint("Open")
    try:
        raise RuntimeError("a fault of ours")
    except RuntimeError as problem:
        caught = problem
    told = []
    demo.faults.happened.connect(lambda text, details: told.append((text, details)))
    for _ in range(3):
        demo.faults.catch(type(caught), caught, caught.__traceback__)
    assert len(told) == 1, "a paint event comes again and again"
    assert "RuntimeError" in demo.notice.text.text()
    demo.notice.button.click()
    assert "a fault of ours" in QApplication.clipboard().text()
    qtbot.waitUntil(lambda: any(demo.session.safekeeping.keeper.folder.glob("*.buccaphon")))


def test_kept_work_is_offered_even_to_a_process_of_the_same_number(tmp_path):
    from buccaphon.project.file.safekeeping import Keeper, left_behind
    from buccaphon.project.state import one_line

    crashed, now = Keeper(tmp_path), Keeper(tmp_path)
    crashed.keep(one_line(script="plums"), None, "market")
    assert left_behind(tmp_path) == []
    crashed.lock.close()  # as the system does when a process is gone
    (kept,) = left_behind(tmp_path)
    now.keep(one_line(script="pears"), None, "other")
    now.let_go()
    assert open_project(kept.path).script == "plums"
    assert json.loads(kept.path.with_suffix(".json").read_text())["title"] == "market"
    assert os.getpid()
