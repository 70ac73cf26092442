"""A host takes what is exported, changes it, and gives it back: for drawings, a cut-out and a head."""

import csv
import io
import json

import numpy as np
import pytest
from praatio import textgrid
from PyQt6.QtCore import Qt

from buccaphon.formats.listing import Entry, ExportList
from buccaphon.project.edits.kits import UseKit
from tests.helpers.qtest import QTest
from tests.helpers.waiting import idle

FORMATS = ("keys-json", "keys-csv", "sheet-csv", "textgrid", "changes-csv", "wav")


@pytest.fixture(params=range(3), ids=("drawn", "cut-out", "head"))
def shown(request, demo, qtbot):
    """The demo with one of its characters in the mirror."""
    name = demo.document.state.kits[request.param].name
    demo.document.apply(UseKit(name))
    idle(demo, qtbot)
    return demo


def exported(window, qtbot, folder):
    entries = tuple(Entry(ident, "line") for ident in FORMATS)
    window.session.exporting.put(ExportList(entries, str(folder), each=False), "x")
    window.session.exporting.export()
    idle(window, qtbot)
    return {path.name.split(".", 1)[1]: path for path in folder.glob("line*.*")}


def taken(window, qtbot, path):
    """The whole of a file is accepted, in the window."""
    window.desk.ask.file_to_open = lambda *_: path
    window.do("corrections")
    qtbot.waitUntil(window.chooser.isVisible)
    QTest.keyClick(window.chooser.search, Qt.Key.Key_Return)
    idle(window, qtbot)


def mouths_of(window):
    return [exposure.mouth for exposure in window.document.bake().exposures for _ in range(exposure.length)]


def test_what_a_host_reads_is_what_the_page_shows(shown, qtbot, tmp_path):
    found = exported(shown, qtbot, tmp_path)
    bake, names = shown.document.bake(), shown.document.state.kit_in_use.names
    keys = json.loads(found["keys.json"].read_text())
    held = {key["frame"]: key["mouth"] for key in keys["mouths"]}
    frames, mouth = [], ""
    for frame in range(bake.frames):
        mouth = held.get(frame + bake.start_frame, mouth)
        frames.append(mouth)
    assert frames == [names.names_of(mouth)[0] for mouth in mouths_of(shown)]
    channels = {channel["name"]: channel for channel in keys["channels"]}
    assert all(0 <= key["frame"] - bake.start_frame < bake.frames for key in channels["jaw"]["keys"])
    at = np.interp(
        np.arange(bake.frames),
        [key["frame"] - bake.start_frame for key in channels["jaw"]["keys"]],
        [key["value"] for key in channels["jaw"]["keys"]],
    )
    assert np.abs(at - bake.jaw).max() < 0.02, "the keys are the curve on the page"


def test_a_mouth_that_the_host_changed_comes_back(shown, qtbot, tmp_path):
    found = exported(shown, qtbot, tmp_path)
    before, chart = mouths_of(shown), shown.document.chart
    called = shown.document.state.kit_in_use.names.names_of
    rows = list(csv.DictReader(io.StringIO(found["keys.csv"].read_text())))
    other = next(name for name in chart.names if name not in before[40:44])
    for row in rows[40:44]:
        row["mouth"] = called(other)[0]
    with found["keys.csv"].open("w", newline="") as file:
        writer = csv.DictWriter(file, rows[0])
        writer.writeheader()
        writer.writerows(rows)
    taken(shown, qtbot, found["keys.csv"])
    after = mouths_of(shown)
    assert after[40:44] == [other] * 4
    assert [n for n in range(len(after)) if after[n] != before[n]] == list(range(40, 44))
    shown.document.undo()
    assert mouths_of(shown) == before


def test_words_and_mouths_that_were_moved_in_a_textgrid_come_back(shown, qtbot, tmp_path):
    found = exported(shown, qtbot, tmp_path)
    path = found["TextGrid"]
    grid = textgrid.openTextgrid(str(path), includeEmptyIntervals=False)
    tier = grid.getTier("words")
    word = tier.entries[1]
    entries = [(e.start, e.end - 0.05 * (e == word), e.label) for e in tier.entries]
    grid.replaceTier("words", textgrid.IntervalTier("words", entries, 0, grid.maxTimestamp))
    grid.save(str(path), format="long_textgrid", includeBlankSpaces=True)
    taken(shown, qtbot, path)
    assert shown.document.score.words[1].end == pytest.approx(word.end - 0.05, abs=1e-3)
    assert shown.document.state.pins
