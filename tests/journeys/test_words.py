"""The Script step: typing, pronunciations, findings, languages, words from files."""

import pytest
from PyQt6.QtCore import QStandardPaths, Qt

from buccaphon.alignment.hearing import forget_what_was_heard, listen
from buccaphon.app.commands import words
from buccaphon.app.galley.look import Lane
from buccaphon.app.places import lexicon_path
from buccaphon.app.session.jobs import Slot
from buccaphon.app.session.pronouncing import Scope
from buccaphon.demo.line import NIGHT_CALL, demo_project, recording_path, script_text
from buccaphon.project.edits.scene import SetScene
from buccaphon.project.edits.script import SetScript
from buccaphon.score.records import Score
from buccaphon.speech.lexicon import Lexicon
from buccaphon.timing import Span
from tests.helpers.qtest import QTest
from tests.helpers.waiting import save

LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def demo(demo):
    QStandardPaths.setTestModeEnabled(True)
    demo.session.lexicon.keep(Lexicon())
    return demo


def idle(window, qtbot) -> None:
    qtbot.waitUntil(lambda: not window.session.jobs.busy(), timeout=60_000)


def type_script(window, qtbot, text: str) -> Score:
    window.script.text.setPlainText(text)
    qtbot.waitUntil(lambda: not window.document.state.needs_aligning, timeout=60_000)
    return window.document.score


def test_typing_aligns_only_what_changed_and_one_undo_takes_it_back(demo, qtbot):
    before = demo.document.score
    after = type_script(demo, qtbot, script_text().replace("ripe pears", "right round pears"))
    assert [word.text for word in after.words[2:6]] == ["and", "right", "round", "pears!"]
    kept = [*zip(before.words[:3], after.words, strict=False), *zip(before.words[4:], after.words[5:], strict=True)]
    assert all(old is new for old, new in kept), "so that only what changed is baked anew"
    demo.document.undo()
    assert demo.document.score == before


def test_a_script_that_the_text_shows_otherwise_is_left_as_it_is(demo):
    begun, odd = demo.document.state, script_text().replace(" ", "\u00a0", 3)
    demo.document.apply(SetScript(odd))
    demo.document.apply(SetScene(start_frame=9))
    assert demo.script.text.toPlainText() == script_text()
    assert demo.document.state.script == odd
    demo.document.undo()
    demo.document.undo()
    assert demo.document.state == begun
    demo.document.redo()
    demo.document.redo()
    assert (demo.document.state.script, demo.document.state.start_frame) == (odd, 9)


def test_only_punctuation_typed_anew_moves_nothing(demo, qtbot):
    before = demo.document.score
    after = type_script(demo, qtbot, script_text().replace("plums,", "plums …"))
    assert after.words[1].text == "plums"
    assert [word.phones for word in after.words] == [word.phones for word in before.words]


def test_a_word_is_said_another_way_by_double_clicking_it(demo, qtbot):
    middle = (demo.document.score.words[1].start + demo.document.score.words[1].end) / 2
    QTest.mouseDClick(demo.galley.viewport(), LEFT, pos=demo.galley.point_at(middle, Lane.WORDS))
    section = demo.script.pronunciation
    assert section.isVisible()
    assert section.title.text() == "“plums”"
    qtbot.waitUntil(lambda: section.ways.count() == 1, timeout=10_000)
    section.own.setText("P L UH1 Q")
    qtbot.waitUntil(lambda: "neither IPA nor ARPAbet" in section.check.text())
    QTest.keyClick(section.own, Qt.Key.Key_Return)
    assert [phone.symbol for phone in demo.document.score.words[1].phones] == ["p", "l", "ʌ", "m", "z"], (
        "not understood"
    )
    section.own.setText("P L UH1 M Z")
    QTest.keyClick(section.own, Qt.Key.Key_Return)
    idle(demo, qtbot)
    assert [phone.symbol for phone in demo.document.score.words[1].phones] == ["p", "l", "ʊ", "m", "z"]
    qtbot.waitUntil(lambda: section.ways.count() == 2, timeout=10_000)  # one's own and the dictionary's are weighed


def test_a_pronunciation_for_always_holds_in_the_next_project(demo, qtbot):
    demo.document.player.seek(demo.document.score.words[0].start + 0.05)
    demo.galley.setFocus()
    QTest.keyClick(demo, Qt.Key.Key_H)
    section = demo.script.pronunciation
    section.keep.setCurrentIndex(section.keep.findData(Scope.ALWAYS))
    section.own.setText("w ˈɑ ɹ m")
    section.use_button.click()
    idle(demo, qtbot)
    demo.session.opening.open_prepared(demo_project())
    qtbot.waitUntil(lambda: demo.document.score is not None, timeout=60_000)
    assert demo.document.score.words[0].phones[1].symbol == "ɑ"


def test_what_was_not_said_is_reported_and_written_down(demo, qtbot):
    type_script(demo, qtbot, script_text().replace("ripe pears", "ripe yellow pears"))
    demo.actions_by_id["align"].trigger()
    idle(demo, qtbot)
    findings = demo.script.findings
    assert findings.isVisible()
    assert findings.rows.itemAt(0).widget().text().startswith("“yellow” not found")
    assert 4 in demo.session.comparing.doubts()
    findings.mend_button.click()
    idle(demo, qtbot)
    assert "ripe [yellow] pears" in demo.document.state.script
    assert len(demo.document.score.words) == 34
    assert findings.isHidden()


def test_the_script_of_something_else_is_said(window, qtbot):
    project = demo_project()
    window.session.opening.open_prepared(project)
    qtbot.waitUntil(lambda: window.document.score is not None, timeout=60_000)
    window.script.text.setPlainText("Nobody asked the gardener whether turnips could whistle under a wooden bridge.")
    window.script.align_button.click()
    idle(window, qtbot)
    assert "right script for the recording" in window.notice.text.text()


def test_doubts_are_stepped_through_by_key_and_heard(demo, qtbot):
    type_script(demo, qtbot, script_text().replace("plums", "marble plums").replace("beans", "turnip beans"))
    demo.session.aligning.align()  # as a whole, so that it is compared with the sound
    idle(demo, qtbot)
    starts = [demo.document.score.words[number].start for number in demo.session.comparing.doubts()]
    assert len(starts) >= 2
    demo.document.player.seek(0.0)
    demo.galley.setFocus()
    QTest.keyClick(demo, Qt.Key.Key_D)
    assert demo.document.player.position == pytest.approx(starts[0])
    QTest.keyClick(demo, Qt.Key.Key_D)
    assert demo.document.player.position == pytest.approx(starts[1])
    QTest.keyClick(demo, Qt.Key.Key_D, Qt.KeyboardModifier.ShiftModifier)
    assert demo.document.player.position == pytest.approx(starts[0])


def test_sounds_are_recognised_without_a_script(demo, qtbot):
    demo.script.sounds_button.click()
    idle(demo, qtbot)
    assert {word.text for word in demo.document.score.words} == {""}
    assert "sounds recognised" in demo.script.status.text()
    demo.document.undo()
    assert demo.document.score.words[1].text == "plums,"


def test_the_spanish_line_says_that_it_is_mapped_and_another_language_aligns_anew(window, qtbot):
    window.session.opening.open_prepared(demo_project(NIGHT_CALL))
    qtbot.waitUntil(lambda: window.document.score is not None, timeout=60_000)
    assert window.script.language.mapped.isVisible()
    assert window.script.language.box.currentText() == "Spanish (Spain)"
    assert window.document.score.words[0].phones[0].symbol == "θ"
    box = window.script.language.box
    box.setCurrentIndex(box.findData("es-419"))
    box.activated.emit(box.currentIndex())
    idle(window, qtbot)
    assert window.document.score.words[0].phones[0].symbol == "s", "unchanged said in Latin America"


def test_a_language_that_is_not_listed_is_read_by_its_letters(demo, qtbot):
    section = demo.script.language
    assert not section.fold.isVisible()
    line = section.box.lineEdit()
    line.setFocus()
    line.selectAll()
    QTest.keyClicks(line, "Yoruba")
    QTest.keyClick(line, Qt.Key.Key_Return)
    qtbot.waitUntil(lambda: demo.document.state.language == "und")
    idle(demo, qtbot)
    assert section.fold.isVisible()
    assert demo.notice.button.text() == "Use Swahili"
    word = demo.document.score.words[1]
    assert [phone.symbol for phone in word.phones] == ["p", "l", "u", "m", "s"]
    section.letters.setFocus()
    text = section.letters.toPlainText()
    assert "u  u\n" in text
    section.letters.setPlainText(text.replace("\nu  u\n", "\nu  ʌ 12\n"))
    qtbot.waitUntil(lambda: "12" in section.wrong.text())
    assert demo.document.state.lexicon.letters == (), "what cannot be is told and not taken"
    section.letters.setPlainText(text.replace("\nu  u\n", "\nu  ʌ\n"))
    qtbot.waitUntil(lambda: bool(demo.document.state.lexicon.letters))
    idle(demo, qtbot)
    assert [phone.symbol for phone in demo.document.score.words[1].phones] == ["p", "l", "ʌ", "m", "s"]
    demo.document.undo()
    assert demo.document.state.language == "und"


def test_a_language_that_nobody_knows_is_offered_by_its_letters(demo, qtbot):
    section, before = demo.script.language, demo.document.state.language
    line = section.box.lineEdit()
    line.setFocus()
    line.selectAll()
    QTest.keyClicks(line, "Marigoldish")
    QTest.keyClick(line, Qt.Key.Key_Return)
    qtbot.waitUntil(demo.notice.isVisible)
    assert demo.document.state.language == before
    assert section.box.currentData() == before
    demo.notice.button.click()
    assert demo.document.state.language == "und"


def test_subtitles_bring_the_script_and_guide_it(window, qtbot, tmp_path):
    path = tmp_path / "call.flac"
    path.write_bytes(recording_path().read_bytes())
    window.open(path)
    qtbot.waitUntil(lambda: window.document.recording is not None, timeout=30_000)
    (tmp_path / "call.srt").write_text("1\n00:00:00,100 --> 00:00:02,400\nWarm plums, and ripe pears!\n")
    window.open(tmp_path / "call.srt")
    qtbot.waitUntil(lambda: window.document.score is not None, timeout=60_000)
    assert window.document.state.script == "Warm plums, and ripe pears!"
    assert window.document.score.words[-1].end < 2.9, "the rest of the recording says other things"


def test_a_file_without_words_is_a_sentence_and_changes_nothing(demo, tmp_path):
    (tmp_path / "bad.txt").write_text("(nothing)")
    before = demo.document.state
    demo.open(tmp_path / "bad.txt")
    assert "no spoken words" in demo.notice.text.text()
    assert demo.document.state == before


def test_a_lexicon_of_ones_own_that_cannot_be_read_is_not_written_over(demo):
    lexicon_path().write_text("plums without its sounds")
    demo.session.lexicon.keep(Lexicon())
    kept = lexicon_path().with_suffix(".unread.txt")
    assert kept.read_text() == "plums without its sounds"
    assert kept.name in demo.notice.text.text()
    kept.unlink()


def test_times_of_other_words_are_said_to_be_of_no_use(demo, tmp_path):
    (tmp_path / "other.srt").write_text("1\n00:00:00,100 --> 00:00:02,400\nZebras whistle quietly\n")
    before = demo.document.state
    demo.open(tmp_path / "other.srt")
    assert "No word in that file" in demo.notice.text.text()
    assert demo.document.state == before


def test_a_way_to_say_a_word_is_heard_before_it_is_taken(window, qtbot):
    window.session.opening.open_prepared(demo_project())
    qtbot.waitUntil(lambda: window.document.score is not None, timeout=60_000)
    words.pronounce(window.desk, 24)
    section = window.script.pronunciation
    qtbot.waitUntil(lambda: section.ways.count() > 0, timeout=10_000)
    heard = []
    window.document.player.device.start = lambda rate, channels, source: heard.append((rate, source.read(4 * rate)))
    section.said_button.click()
    section.own.setText("DH AO1 T")
    section.said_button.click()
    lengths = [len(block) / rate for rate, block in heard]
    assert len(lengths) == 2
    assert all(0.2 < length < 2.0 for length in lengths)
    assert heard[0][1].max() > 0.05
    assert lengths[0] != lengths[1]


def test_a_typed_word_that_is_not_in_the_sound_is_told_and_undone_without_a_trace(demo, qtbot):
    assert not demo.session.comparing.doubts()
    type_script(demo, qtbot, script_text().replace("plums", "marble plums"))
    idle(demo, qtbot)
    assert [finding.first for finding in demo.session.comparing.comparison.findings] == [1]
    assert 1 in demo.session.comparing.doubts()
    while demo.document.state.script != script_text():
        demo.document.undo()
    assert not demo.session.comparing.comparison.findings, "they were about another script"
    assert not demo.session.comparing.missing


def test_of_a_project_that_is_opened_the_voice_is_known_before_the_first_correction(demo, qtbot, tmp_path):
    session = demo.session
    assert save(demo, qtbot, tmp_path / "market.buccaphon")
    forget_what_was_heard()
    session.opening.open(tmp_path / "market.buccaphon")
    qtbot.waitUntil(lambda: session.document.recording is not None, timeout=60_000)
    whole = Span(0.0, session.document.recording.duration)
    qtbot.waitUntil(lambda: session.jobs.busy(Slot.COMPARE), timeout=60_000)
    idle(demo, qtbot)
    assert listen(session.document.recording, whole, ()).warp is not None
