"""An animator's own chart, a phrase on twos, marks mended, the sheet printed and brought back."""

import csv
import io

import numpy as np
import pytest
from PyQt6.QtCore import QBuffer, QPoint, Qt
from PyQt6.QtPdf import QPdfDocument

from buccaphon.app.commands.desk import View
from buccaphon.checks.issue import IssueKind
from buccaphon.formats.registry import format_named
from buccaphon.mouths.exposures import exposure_at
from buccaphon.project.delivering import deliver
from buccaphon.project.edits.mouths import Paint
from buccaphon.project.edits.scene import PutNote, SetScene
from buccaphon.project.file.store import open_project
from buccaphon.timing import Span
from tests.helpers.hands import LEFT, NONE
from tests.helpers.qtest import QTest
from tests.helpers.waiting import idle, save

SEVEN = (
    ("Shut", "lips together", {"press": 100}), ("Nip", "lip to teeth", {"bite": 100, "teeth": 60}),
    ("O", "rounded vowels", {"jaw": 60, "round": 80}), ("Gape", "open vowels", {"jaw": 100}),
    ("Grin", "spread vowels", {"jaw": 30, "spread": 100}), ("Slack", "all vowels", {"jaw": 40}),
)  # fmt: skip


def test_a_chart_of_seven_mouths_is_made_from_nothing_and_used(demo, qtbot, tmp_path):
    demo.do("new-chart")
    page = demo.specimen
    assert demo.views.currentIndex() == View.SPECIMEN
    for name, rule, pose in SEVEN:
        page.add_button.click()
        card = page.cards[-1]
        card.name.setText(name)
        card.name.editingFinished.emit()
        QTest.keyClicks(card.answers, rule)
        QTest.keyClick(card.answers, Qt.Key.Key_Return)
        for part, value in pose.items():
            card.pose.inputs[part].setValue(value)
    for number in (1, 2):
        page.cards[number].contact.click()
    assert not page.margin.isHidden(), "sounds of the tongue wait in the margin"
    page.place_button.click()
    assert page.margin.isHidden()
    assert demo.document.chart.whole()
    assert {e.mouth for e in demo.document.bake().exposures} <= {"Rest", *(name for name, _, _ in SEVEN)}
    demo.session.issues.look()
    assert IssueKind.UNANSWERED not in {mark.kind for mark in demo.session.issues.found}
    assert save(demo, qtbot, tmp_path / "own.buccaphon")
    kept = open_project(tmp_path / "own.buccaphon")
    assert kept.charts[0].mouths == demo.document.chart.mouths
    demo.do("stop-work")
    assert demo.views.currentIndex() == View.GALLEY


def test_a_chart_comes_from_a_pasted_list_and_its_steps_are_undone(demo):
    demo.do("chart-of-names")
    demo.specimen.names.setPlainText("rest\npress\nmouth_open")
    demo.specimen.make_button.click()
    assert [card.mouth.name for card in demo.specimen.cards] == ["rest", "press", "mouth_open"]
    demo.specimen.cards[2].pose.inputs["jaw"].setValue(80)
    demo.specimen.cards[2].pose.inputs["jaw"].setValue(90)
    assert demo.document.chart.mouths[2].pose.jaw == 0.9
    demo.document.undo()
    assert demo.document.chart.mouths[2].pose.jaw == 0.0, "turning a slider is one step"
    demo.document.undo()
    assert demo.document.chart.name == "Ten"


def test_swapping_there_and_back_gives_the_same_as_before(demo):
    demo.document.apply(Paint(Span(1.0, 1.4), "Bite"))
    before = demo.document.bake().exposures
    demo.document.apply(SetScene(chart="Flap"))
    assert {e.mouth for e in demo.document.bake().exposures} == {"Shut", "Open"}
    assert demo.session.beside.row == before, "what was there stays in view for a while"
    assert exposure_at(demo.document.bake().exposures, 28).mouth == "Shut", "a contact goes over to a contact"
    demo.document.apply(SetScene(chart="Ten"))
    assert demo.document.bake().exposures == before


def test_one_phrase_is_put_on_twos(demo):
    before = demo.document.bake()
    words = demo.document.score.words
    span = Span(words[8].start, words[11].end)
    demo.document.select_words(span)
    demo.do("hold-2-here")
    first, last = before.rate.nearest(span.start), before.rate.nearest(span.end)
    inside = [e for e in demo.document.bake().exposures if first < e.start < last]
    assert inside
    assert all((e.start - first) % 2 == 0 for e in inside)
    assert "on twos" in demo.document.state.take.mouth_ranges[0].change.says
    panel = demo.mouths.mouth_settings
    assert panel.form.inputs["hold"].currentText() == "On twos"
    panel.clear.click()
    assert demo.document.bake().exposures == before.exposures


@pytest.mark.parametrize(("name", "least"), [("detail", 1), ("most_changes", 0)])
def test_turning_a_setting_is_heard_at_once_and_one_step(demo, name, least):
    before = demo.document.bake().exposures
    field = demo.mouths.mouth_settings.form.inputs[name]
    for value in (60, 100) if name == "detail" else (5.0, 3.0):
        field.setValue(value)
    after = demo.document.bake().exposures
    assert len(after) > len(before) if least else len(after) < len(before)
    demo.document.undo()
    assert demo.document.bake().exposures == before


def test_all_marks_of_a_spoiled_line_are_mended(demo):
    issues = demo.session.issues
    issues.look()
    assert not issues.found
    demo.document.apply(Paint(Span(0.2, 0.9), "Open"))
    demo.document.apply(Paint(Span(3.4, 4.2), "Pucker"))
    issues.look()
    assert len(issues.found) >= 4
    listed = demo.mouths.issues.count.text()
    assert listed.startswith(str(len(issues.found)))
    demo.document.player.seek(0.0)
    for _ in range(20):
        if not issues.found:
            break
        demo.do("next-issue")
        demo.do("fix-issue")
    assert not issues.found
    assert demo.mouths.issues.count.text() == "No issues found."


def test_a_fix_is_shown_before_it_is_done_and_a_mark_can_be_left(demo, qtbot):
    demo.document.apply(Paint(Span(3.4, 4.2), "Pucker"))
    demo.session.issues.look()
    first = demo.session.issues.found[0]
    demo.session.beside.preview(first.fix)
    assert demo.session.beside.row not in ((), demo.document.bake().exposures)
    before = demo.document.state
    demo.session.beside.preview(None)
    assert (demo.session.beside.row, demo.document.state) == ((), before)
    demo.document.player.seek(first.span.start)
    demo.do("ignore-issue")
    assert first not in demo.session.issues.found
    demo.document.undo()
    demo.session.issues.look()
    assert first in demo.session.issues.found


@pytest.mark.parametrize("command", ["print-sheet", "print-sheet-letter"])
def test_the_sheet_is_printed_and_read_back(demo, tmp_path, command):
    demo.document.apply(PutNote(Span(1.0, 1.2), "lips late? try Press two frames earlier"))
    path = tmp_path / "sheet.pdf"
    demo.desk.ask.file_to_write = lambda *_: path
    demo.do(command)
    document, buffer = QPdfDocument(None), QBuffer()
    buffer.setData(path.read_bytes())
    buffer.open(QBuffer.OpenModeFlag.ReadOnly)
    document.load(buffer)
    frames = demo.document.bake().frames
    assert document.pageCount() == -(-frames // 96)
    text = " ".join(document.getAllText(page).text() for page in range(document.pageCount()))
    assert "Exposure sheet: stall call" in text
    assert "24 fps (24/1)" in text
    assert f"page 1 of {document.pageCount()}" in text
    assert "lips late? try Press two frames earlier" in text
    for part in ("plums,", "Pucker", "ʌ", str(frames - 1)):
        assert part in text
    width, height = document.pagePointSize(0).width(), document.pagePointSize(0).height()
    assert (round(width), round(height)) in ((595, 842), (612, 792))


def test_a_corrected_sheet_is_shown_first_and_painted_then(demo, qtbot, tmp_path):
    delivery = deliver(demo.document.state, demo.document.derived, "stall")
    (content,) = format_named("sheet-csv").files(delivery).values()
    rows = list(csv.DictReader(io.StringIO(content.decode("utf-8-sig"))))
    for row in rows[30:34]:
        row["mouth"] = "Round"
    path = tmp_path / "back.csv"
    with path.open("w", newline="", encoding="utf-8") as file:
        writer = csv.DictWriter(file, rows[0].keys())
        writer.writeheader()
        writer.writerows(rows)
    before = demo.document.state
    demo.desk.ask.file_to_open = lambda *_: path
    demo.do("corrections")
    qtbot.waitUntil(demo.chooser.isVisible)
    assert demo.document.state == before, "nothing is painted yet"
    assert any("becomes Round" in choice.text for choice in demo.chooser.shown)
    QTest.keyClick(demo.chooser.search, Qt.Key.Key_Return)
    idle(demo, qtbot)
    mouths = [exposure_at(demo.document.bake().exposures, frame).mouth for frame in range(30, 34)]
    assert mouths == ["Round"] * 4
    demo.document.undo()
    assert demo.document.state.painted == before.painted


def test_a_hover_says_why_a_mouth_is_there(demo):
    document = demo.document
    document.apply(Paint(Span(6.0, 6.3), "Open"))
    said = [document.derived.why(document.state, e) for e in document.bake().exposures]
    assert any("painted by hand" in text for text in said)
    assert any("always shown" in text for text in said)
    assert any("stressed vowel" in text for text in said)
    assert any("pause" in text or "rest" in text.lower() for text in said)


def test_the_palette_knows_the_words_that_people_use(demo):
    demo.do("palette")
    for typed in ("twos", "pause", "lead", "skip", "come to rest", "sheet"):
        demo.chooser.search.setText(typed)
        assert demo.chooser.shown, typed
    demo.chooser.search.setText("xyzzy")
    assert demo.chooser.list.item(0).text().startswith("No match for")


def test_the_panel_folds_away_and_comes_back(demo, qtbot):
    wide = demo.galley.width()
    demo.do("fold-side")
    qtbot.waitUntil(lambda: demo.galley.width() > wide + 200)
    demo.show_step(1)
    qtbot.waitUntil(lambda: demo.galley.width() == wide)


def test_a_fix_for_another_chart_is_not_done_any_more(demo, tmp_path):
    demo.document.apply(Paint(Span(0.2, 0.9), "Open"))
    issues = demo.session.issues
    issues.look()
    stale = next(mark for mark in issues.found if mark.fix is not None)
    demo.document.apply(SetScene(chart="Vowels"))
    before = demo.document.state
    issues.fix(stale)
    assert demo.document.state == before
    demo.document.apply(Paint(Span(2.0, 2.5), "Nobody's"))
    assert demo.document.state.painted == before.painted, "a mouth of which nothing is known is not painted"


def test_with_nothing_open_no_setting_can_be_turned(window):
    before = window.document.state
    for widget in (window.mouths.mouth_settings, window.mouths.chart, window.specimen):
        assert not widget.isEnabled()
    window.do("specimen")
    window.do("hold-2")
    assert window.document.state == before


def test_export_says_how_many_marks_are_left(demo):
    demo.session.issues.look()
    assert demo.export_panel.issues.text() == ""
    demo.document.apply(Paint(Span(3.4, 4.2), "Pucker"))
    demo.session.issues.look()
    assert demo.export_panel.issues.text().startswith(f"{len(demo.session.issues.found)} issues remaining")


def test_the_line_fills_the_page_by_key(demo):
    demo.resize(1400, 900)
    demo.do("fit")
    page = demo.galley.layout_now
    assert 0.6 * demo.galley.viewport().height() < page.height <= demo.galley.viewport().height() + page.strip_height


def test_a_note_is_written_on_the_sheet_and_escape_leaves_it(demo):
    demo.do("sheet")
    sheet = demo.sheet
    place = QPoint(sheet.viewport().width() - 60, 26 + 5 * sheet.row + 8)
    QTest.mouseDClick(sheet.viewport(), LEFT, NONE, place)
    QTest.keyClicks(sheet.note, "louder")
    QTest.keyClick(sheet.note, Qt.Key.Key_Escape)
    assert demo.views.currentIndex() == View.SHEET
    assert not demo.document.state.take.notes
    QTest.mouseDClick(sheet.viewport(), LEFT, NONE, place)
    sheet.note.setText("softer")
    QTest.keyClick(sheet.note, Qt.Key.Key_Return)
    (note,) = demo.document.state.take.notes
    assert (note.text, demo.document.state.rate.containing(note.span.start)) == ("softer", 5)


def test_a_setting_beyond_what_can_be_is_shown_as_it_is_kept(demo):
    lead = demo.mouths.mouth_settings.form.inputs["lead"]
    for _ in range(2):
        lead.setValue(200.0)
        assert (demo.document.state.mouth_settings.lead, lead.value()) == (1.0, 24.0)


def test_the_mouths_of_before_go_when_something_else_is_done_or_it_is_taken_back(demo):
    demo.document.apply(SetScene(chart="Flap"))
    assert demo.session.beside.row
    demo.document.undo()
    assert not demo.session.beside.row
    demo.document.apply(SetScene(chart="Flap"))
    demo.document.apply(PutNote(Span(0.1, 0.2), "x"))
    assert not demo.session.beside.row


def test_how_wide_the_mouth_opens_is_typed_for_the_line_and_turned_for_what_is_selected(demo):
    document = demo.document
    field = demo.mouths.mouth_settings.form.inputs["opening"]
    field.setFocus()
    before, mouths = document.bake().jaw.copy(), document.bake().exposures
    field.selectAll()
    QTest.keyClicks(field, "50")
    QTest.keyClick(field, Qt.Key.Key_Return)
    assert document.state.mouth_settings.opening == 0.5
    assert document.bake().jaw.max() < 0.7 * before.max()
    assert document.bake().exposures == mouths
    document.undo()
    assert np.array_equal(document.bake().jaw, before)
    document.select_words(Span(1.0, 1.4))
    span = document.selected_span
    for _ in range(3):
        QTest.keyClick(demo.mouths.mouth_settings.form.inputs["by_loudness"], Qt.Key.Key_Up)
    assert document.state.take.mouth_ranges[0].change.by_loudness == pytest.approx(0.65)
    assert document.state.mouth_settings.by_loudness == 0.5
    times = (np.arange(len(before)) + 0.5) / float(document.state.rate.value)
    away = (times < span.start - 0.15) | (times > span.end + 0.15)
    assert np.array_equal(document.bake().jaw[away], before[away])


def test_a_channel_of_ones_own_is_written_changed_refused_and_taken_out(demo):
    document, section = demo.document, demo.export_panel.mixes
    demo.do("write-channel")
    QTest.keyClicks(section.field, "smile = spread - 0.3 jaw")
    QTest.keyClick(section.field, Qt.Key.Key_Return)
    assert "smile" in document.bake().channels.ids
    assert section.field.text() == ""
    place, drop = section.rows.itemAt(0).widget().children()[1:3]
    QTest.mouseClick(place, LEFT)
    assert section.field.text() == "smile = spread - 0.3 jaw"
    QTest.keyClicks(section.field, " + 2 grin")
    QTest.keyClick(section.field, Qt.Key.Key_Return)
    assert "there is no grin" in section.told.text()
    assert section.field.text().endswith("grin"), "what was written is kept"
    QTest.mouseClick(drop, LEFT)
    assert "smile" not in document.bake().channels.ids
    document.undo()
    assert "smile" in document.bake().channels.ids
    assert section.rows.count() == 1
