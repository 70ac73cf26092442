"""Nothing is lost, and nothing is written where this user did not say: saves, kept work, exports, projects of strangers."""

import os
import shutil
import time
from dataclasses import replace

import numpy as np
import pytest
import soundfile
from click.testing import CliRunner
from PyQt6.QtWidgets import QMessageBox

from buccaphon.app.places import safe_folder
from buccaphon.app.session import saving
from buccaphon.app.session.jobs import Slot
from buccaphon.audio.loudness_settings import Band
from buccaphon.cli import main
from buccaphon.demo.line import recording_path, script_text
from buccaphon.formats.listing import Entry, ExportList
from buccaphon.project.edits.exports import SetExports
from buccaphon.project.edits.motion import ChangeLoudness
from buccaphon.project.edits.scene import PutNote, SetScene
from buccaphon.project.edits.takes import ChangeTake
from buccaphon.project.file import store
from buccaphon.project.file.safekeeping import Keeper, left_behind
from buccaphon.project.file.store import open_project, save_project
from buccaphon.timing import FURTHEST, Span
from tests.helpers.qtest import QTest
from tests.helpers.waiting import heard, idle, save


@pytest.fixture
def aligned_call(aligned_call):
    """The demo's line for one character alone."""
    return replace(aligned_call, kits=aligned_call.kits[:1])


@pytest.fixture
def slow_disk(monkeypatch):
    """Seconds that the next saves take beyond their usual time."""
    waits, plain = [], store.save_project

    def write(state, path):
        time.sleep(waits.pop(0) if waits else 0.0)
        plain(state, path)

    monkeypatch.setattr(saving, "save_project", write)
    return waits


# --- saving ------------------------------------------------------------------------------------------------------------


def test_the_last_save_ends_last(demo, qtbot, tmp_path, slow_disk):
    path = tmp_path / "p.buccaphon"
    assert save(demo, qtbot, path)
    slow_disk[:] = [0.4, 0.0]
    for number in (1, 2):
        demo.document.apply(SetScene(start_frame=number))
        demo.do("save")
    idle(demo, qtbot)
    assert open_project(path).start_frame == 2
    assert not demo.document.project.is_changed
    assert "somebody else" not in demo.notice.text.text()


def test_a_pack_and_a_save_do_not_cancel_each_other(demo, qtbot, tmp_path, slow_disk):
    path, pack = tmp_path / "p.buccaphon", tmp_path / "p.buccapack.zip"
    assert save(demo, qtbot, path)
    slow_disk[:] = [0.3]
    demo.document.apply(SetScene(start_frame=4))
    demo.do("save")
    demo.session.saving.pack(pack)
    idle(demo, qtbot)
    assert pack.exists()
    assert open_project(path).start_frame == 4
    assert not demo.document.project.is_changed


def test_what_could_not_be_opened_again_takes_no_place(demo, qtbot, tmp_path):
    path = tmp_path / "p.buccaphon"
    assert save(demo, qtbot, path)
    before = path.read_bytes()
    demo.document.apply(PutNote(Span(FURTHEST + 1, FURTHEST + 2), "far off"))
    demo.do("save")
    idle(demo, qtbot)
    assert path.read_bytes() == before
    assert "could not be opened again" in demo.notice.text.text()
    demo.document.undo()
    assert save(demo, qtbot, path)


# --- what was kept -----------------------------------------------------------------------------------------------------


def leave_behind(state, title="Night") -> None:
    """What a run that was killed has kept, and nothing of what other tests have left."""
    for kept in left_behind(safe_folder()):
        kept.path.unlink(missing_ok=True)
    keeper = Keeper(safe_folder())
    keeper.keep(state, None, title)
    keeper.lock.close()


def test_kept_work_stays_kept_when_it_is_opened(window, qtbot, aligned_call):
    leave_behind(replace(aligned_call, start_frame=77))
    (kept,) = left_behind(safe_folder())
    window.session.safekeeping.open(kept)
    assert window.document.state.start_frame == 77
    assert open_project(window.session.safekeeping.keeper.path).start_frame == 77, "before anything else happens"
    assert not kept.path.exists()
    idle(window, qtbot)


def test_the_offer_of_kept_work_asks_about_what_is_open(demo, qtbot, aligned_call, monkeypatch):
    leave_behind(replace(aligned_call, start_frame=77))
    demo.document.apply(SetScene(start_frame=5))
    asked = []

    def answer(title):
        asked.append(title)
        return QMessageBox.StandardButton.Cancel

    monkeypatch.setattr(demo.desk.ask, "whether_to_save", answer)
    demo.session.safekeeping.offer()
    demo.notice.button.click()
    assert asked
    assert demo.document.state.start_frame == 5
    demo.do("kept-work")
    assert [choice.text for choice in demo.chooser.shown] == ["Night"], "the offer can be come back to"


# --- where files go ----------------------------------------------------------------------------------------------------


def of_a_stranger(demo, qtbot, tmp_path, exports) -> None:
    """A project that somebody else has made, opened."""
    path = tmp_path / "theirs" / "p.buccaphon"
    path.parent.mkdir(exist_ok=True)
    save_project(replace(demo.document.state, exports=exports), path)
    demo.open(path)
    heard(demo, qtbot)


def test_a_strangers_project_writes_nowhere_unasked(demo, qtbot, tmp_path):
    mine = tmp_path / "mine"
    mine.mkdir()
    thesis = mine / "p.TextGrid"
    thesis.write_text("years of work")
    for folder in (str(mine), "../mine"):
        of_a_stranger(demo, qtbot, tmp_path, ExportList((Entry("textgrid"),), folder, again=True))
        demo.document.apply(SetScene(start_frame=demo.document.state.start_frame + 1))
        demo.do("save")
        idle(demo, qtbot)
        assert thesis.read_text() == "years of work"
        assert "whenever it is saved" in demo.notice.text.text()
        demo.do("export")
        idle(demo, qtbot)
        assert thesis.read_text() == "years of work"
        assert "was not chosen here" in demo.notice.text.text()
    demo.notice.button.click()
    idle(demo, qtbot)
    assert "years" not in thesis.read_text(), "once it was said"
    done = CliRunner().invoke(main, ["deliver", str(tmp_path / "theirs" / "p.buccaphon"), "-o", str(tmp_path / "out")])
    assert done.exit_code == 0
    assert (tmp_path / "out" / "p.TextGrid").exists()


@pytest.mark.parametrize("folder", ["{mine}", "../mine"])
def test_deliver_writes_below_its_folder_alone(demo, qtbot, tmp_path, folder):
    mine, path = tmp_path / "mine", tmp_path / "p.buccaphon"
    mine.mkdir()
    entry = Entry("keys-csv", folder=folder.format(mine=mine))
    save_project(replace(demo.document.state, exports=ExportList((entry,))), path)
    done = CliRunner().invoke(main, ["deliver", str(path), "-o", str(tmp_path / "out")])
    assert done.exit_code == 2
    assert "leads out of" in done.output
    assert list(mine.iterdir()) == []


def test_saving_again_writes_what_was_written_here_and_asks_about_other_files(demo, qtbot, tmp_path):
    out, path = tmp_path / "out", tmp_path / "p.buccaphon"
    demo.session.exporting.into(out)
    demo.session.exporting.put(replace(demo.document.state.exports, entries=(Entry("keys-csv"),), again=True), "again")
    assert save(demo, qtbot, path)
    idle(demo, qtbot)
    first = (out / "p.keys.csv").read_bytes()
    demo.document.apply(SetScene(start_frame=9))
    demo.do("save")
    idle(demo, qtbot)
    assert (out / "p.keys.csv").read_bytes() != first, "its own file"
    (out / "p.keys.json").write_text("somebody else's")
    demo.session.exporting.put(replace(demo.document.state.exports, entries=(Entry("keys-json"),)), "another")
    demo.do("save")
    idle(demo, qtbot)
    assert (out / "p.keys.json").read_text() == "somebody else's"
    assert "Not written here before" in demo.notice.text.text()


def test_what_is_ticked_and_cannot_be_written_is_said(window, qtbot, tmp_path, tone):
    window.open(tone())
    heard(window, qtbot)
    out = tmp_path / "out"
    window.session.exporting.into(out)
    entries = (Entry("textgrid"), Entry("keys-csv"))
    window.session.exporting.put(replace(window.document.state.exports, entries=entries), "two")
    told = []
    window.session.exporting.told.connect(told.append)
    window.do("export")
    idle(window, qtbot)
    assert [path.name for path in out.iterdir()] == ["tone.keys.csv"]
    assert "no words are aligned yet: TextGrid" in told[-1]
    assert window.desk.view() == 0, "the page stays"


# --- the recording is another one --------------------------------------------------------------------------------------


def test_a_recording_that_was_saved_over_is_noticed(window, qtbot, tmp_path):
    call = tmp_path / "call.wav"
    samples, rate = soundfile.read(recording_path(), dtype="float32")
    soundfile.write(call, samples, rate)
    (tmp_path / "call.txt").write_text(script_text())
    window.open(call)
    qtbot.waitUntil(lambda: window.document.score is not None and not window.session.jobs.busy(), timeout=60_000)
    path = tmp_path / "p.buccaphon"
    assert save(window, qtbot, path)
    later = np.concatenate([np.zeros(rate, np.float32), samples])
    soundfile.write(call, later, rate)
    qtbot.waitUntil(lambda: "words were timed in" in window.notice.text.text(), timeout=30_000)
    assert window.notice.close_button.text() == "Keep the times"
    assert window.document.recording.duration == pytest.approx(len(later) / rate)
    first = window.document.score.words[0].start
    window.notice.button.click()
    qtbot.waitUntil(lambda: window.document.score.words[0].start > first + 0.8, timeout=60_000)
    done = CliRunner().invoke(main, ["deliver", str(path), "--as", "keys-csv", "-o", str(tmp_path / "out")])
    assert "was saved again since" in done.output


def test_a_word_outside_the_used_part_can_be_asked_about(demo, qtbot):
    demo.document.apply(ChangeTake(used=Span(0.0, 4.0)))
    demo.document.choose_word(len(demo.document.score.words) - 1)
    demo.document.player.seek(3.9)
    demo.do("pronounce")
    idle(demo, qtbot)
    QTest.qWait(50)
    assert "went wrong" not in demo.notice.text.text()


# --- the same bytes ----------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("change", ["unchanged", "loudness alone", "another band", "a hand"])
def test_the_window_and_deliver_write_the_same_bytes(demo, qtbot, tmp_path, change):
    usual = demo.document.state.take.loudness_settings
    if change == "loudness alone":
        demo.document.apply(ChangeLoudness(replace(usual, loudness_only=True)))
    elif change == "another band":
        demo.document.apply(ChangeLoudness(replace(usual, loudness_only=True, band=Band.UPPER)))
    elif change == "a hand":
        demo.document.player.seek(2.0)
        demo.document.paint("Pucker")
        demo.do("blank-held")
        demo.document.apply(SetScene(start_frame=101))
    here, there, path = tmp_path / "window", tmp_path / "deliver", tmp_path / "line.buccaphon"
    entries = tuple(Entry(each) for each in ("keys-csv", "keys-json", "glb", "sheet-csv", "textgrid", "bvh", "midi"))
    demo.document.apply(SetExports(ExportList(entries)))
    demo.session.exporting.into(here)
    assert save(demo, qtbot, path)
    demo.session.exporting.replace()  # at once: what takes long to hear is heard first
    idle(demo, qtbot, Slot.EXPORT)
    done = CliRunner().invoke(main, ["deliver", str(path), "-o", str(there)])
    assert done.exit_code == 0, done.output
    names = sorted(each.name for each in here.iterdir())
    assert names == sorted(each.name for each in there.iterdir())
    assert len(names) == len(entries)
    assert [name for name in names if (here / name).read_bytes() != (there / name).read_bytes()] == []


def test_a_recording_whose_name_is_no_text_is_written_of(tmp_path):
    odd = os.fsencode(tmp_path) + b"/caf\xe9.flac"
    shutil.copy(recording_path(), odd)
    (tmp_path / "words.txt").write_text(script_text())
    out = tmp_path / "out"
    args = ["deliver", os.fsdecode(odd), "--fps", "24", "--script", str(tmp_path / "words.txt"), "-o", str(out)]
    done = CliRunner().invoke(main, [*args, "--as", "keys-json,glb,sheet-xlsx"])
    assert done.exit_code == 0, done.output
    assert len(list(out.iterdir())) == 3
