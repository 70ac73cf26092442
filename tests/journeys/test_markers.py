"""Sounds marked by ear elsewhere become held mouths: from the marked file to a list to type from."""

import csv
import io

import numpy as np
import soundfile
from click.testing import CliRunner
from PyQt6.QtCore import Qt

from buccaphon.cli import main
from buccaphon.demo.line import recording_path
from buccaphon.formats.registry import format_named
from buccaphon.mouths.exposures import exposure_at
from buccaphon.project.delivering import deliver
from tests.helpers.artwork import drawings
from tests.helpers.marked import aiff_with, wav_with
from tests.helpers.qtest import QTest
from tests.helpers.waiting import heard, idle

LABELS = ((0.5, "m"), (0.75, "AA"), (1.0, "oo"), (1.25, "breath"), (1.5, "TH"), (1.75, "Bite"), (2.0, "rest"))
MOUTHS = ["Press", "Open", "Pucker", "Tip", "Bite", "Rest"]


def marked(folder, name, make):
    samples, rate = soundfile.read(recording_path(), dtype="int16")
    make(folder / name, LABELS, samples=np.asarray(samples[: 4 * rate]), rate=rate)
    return folder / name


def at_labels(window):
    exposures = window.document.bake().exposures
    frames = [round(at * 24) for at, label in LABELS if label != "breath"]
    return [exposure_at(exposures, frame).mouth for frame in frames]


def test_a_marked_recording_becomes_mouths_in_two_gestures(window, qtbot, tmp_path):
    window.session.opening.open(marked(tmp_path, "marked.aiff", aiff_with))
    heard(window, qtbot)
    idle(window, qtbot)
    notice = window.notice
    assert "7 labelled markers" in notice.text.text()
    notice.button.click()
    qtbot.waitUntil(window.chooser.isVisible)
    assert window.chooser.shown[0].text == "Paint 6 mouths, 1 label as a note"
    assert "Frame 12: Press (“m”)" in [choice.text for choice in window.chooser.shown]
    assert not window.document.state.painted, "nothing is painted yet"
    QTest.keyClick(window.chooser.search, Qt.Key.Key_Return)
    idle(window, qtbot)
    assert at_labels(window) == MOUTHS
    assert [note.text for note in window.document.state.take.notes] == ["breath"]
    delivery = deliver(window.document.state, window.document.derived, "marked")
    (content,) = format_named("changes-csv").files(delivery).values()
    rows = {int(row["frame"]): row["mouth"] for row in csv.DictReader(io.StringIO(content.decode("utf-8-sig")))}
    assert [rows.get(round(at * 24)) for at, label in LABELS if label != "breath"] == MOUTHS
    window.document.undo()
    assert not window.document.state.painted


def test_markers_come_in_as_corrections_and_as_a_list(window, qtbot, tmp_path):
    window.session.opening.open(marked(tmp_path, "marked.wav", wav_with))
    heard(window, qtbot)
    idle(window, qtbot)
    listed = tmp_path / "regions.txt"
    listed.write_text("".join(f"{at}\t{at + 0.25}\t{label}\n" for at, label in LABELS), encoding="utf-8")
    window.session.opening.open(listed)
    qtbot.waitUntil(window.chooser.isVisible)
    QTest.keyClick(window.chooser.search, Qt.Key.Key_Return)
    idle(window, qtbot)
    assert at_labels(window) == MOUTHS
    window.document.undo()
    window.desk.ask.file_to_open = lambda *_: tmp_path / "marked.wav"
    window.do("corrections")
    qtbot.waitUntil(window.chooser.isVisible)
    window.chooser.search.setText("blank the rest")
    QTest.keyClick(window.chooser.search, Qt.Key.Key_Return)
    idle(window, qtbot)
    assert at_labels(window) == MOUTHS
    assert window.document.state.blanks


def test_times_put_right_elsewhere_can_be_kept_exactly(demo, qtbot, tmp_path):
    words = demo.document.score.words
    table = tmp_path / "times.csv"
    rows = "".join(f"{w.start + 0.04:.3f},{w.end + 0.04:.3f},{w.text.strip(',!.')}\n" for w in words)
    table.write_text("start,end,word\n" + rows, encoding="utf-8")
    demo.session.opening.open(table)
    idle(demo, qtbot)
    assert demo.notice.button.text() == "Keep them exactly"
    demo.notice.button.click()
    after = demo.document.score.words
    assert [w.text for w in after] == [w.text for w in words]
    assert max(abs(a.start - b.start - 0.04) for a, b in zip(after, words, strict=True)) < 0.0016
    assert len(demo.document.state.pins) >= len(words)


def test_one_command_makes_a_list_of_drawings_to_type_from_of_labels_and_a_folder(tmp_path):
    names = ("rest", "mbp", "ah", "oo", "teeth", "tongue L", "wq")
    folder = drawings(tmp_path / "beak", names)
    samples, rate = soundfile.read(recording_path(), dtype="int16")
    labels = ((0.5, "wq"), (0.75, "ah"), (1.0, "tongue L"), (1.25, "teeth"))
    wav_with(tmp_path / "marked.wav", labels, samples=np.asarray(samples[: 2 * rate]), rate=rate)
    of_labels = ["--mouths", tmp_path / "marked.wav", "--blank", "--fps", 24, "--as", "changes-csv"]
    ways = ["--character", folder, "--chart", "own", "-o", tmp_path / "out"]
    args = [str(each) for each in ("deliver", tmp_path / "marked.wav", *of_labels, *ways)]
    done = CliRunner().invoke(main, args)
    assert done.exit_code == 0, done.output
    (listed,) = (tmp_path / "out").iterdir()
    rows = [(int(row["frame"]), row["shown"]) for row in csv.DictReader(io.StringIO(listed.read_text("utf-8-sig")))]
    assert rows[:5] == [(0, "rest"), (12, "wq"), (18, "ah"), (24, "tongue L"), (30, "teeth")]
    refused = CliRunner().invoke(main, [*args[:-6], "--chart", "own", "-o", str(tmp_path / "again")])
    assert refused.exit_code == 2
    assert "needs --character" in refused.output
