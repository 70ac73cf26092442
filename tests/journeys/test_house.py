"""What must not come back: selections lost for a note, a window that waits for the disk, saving over others."""

import threading

import pytest

from buccaphon.app.session import pronouncing, saving
from buccaphon.app.session.jobs import Slot
from buccaphon.app.session.pronouncing import Scope
from buccaphon.app.session.selection import Selection
from buccaphon.formats.format import Format
from buccaphon.project.edits.scene import PutNote
from buccaphon.project.edits.script import SetScript
from buccaphon.project.file.store import open_project
from buccaphon.speech.lexicon_text import parse_pronunciation
from buccaphon.timing import Span
from tests.helpers.waiting import idle, save

HALF_DONE = """
name = "Lantern"
[[mouth]]
name = "Rest"
pose = { spread = 0.1 }
[[mouth]]
name = "Wide"
sounds = "ɑ æ aɪ"
pose = { jaw = 0.9 }
[[mouth]]
name = "Nobody's"
pose = { round = 0.5 }
"""


def test_writing_a_note_keeps_what_is_selected(demo):
    demo.document.select(Selection(words=(1, 2)))
    demo.document.apply(PutNote(Span(0.5, 0.9), "louder"))
    assert demo.document.selection.words == (1, 2)
    demo.document.undo()
    assert demo.document.selection.words == (1, 2)


def test_a_chart_file_becomes_a_part_of_the_project_even_half_done(demo, qtbot, tmp_path):
    file, told = tmp_path / "lantern.toml", []
    file.write_text(HALF_DONE)
    demo.document.said.connect(told.append)
    demo.open(file)
    idle(demo, qtbot)
    assert demo.document.chart.name == "Lantern"
    assert any("Lantern" in text for text in told)
    file.unlink()
    assert save(demo, qtbot, tmp_path / "market.buccaphon")
    kept = open_project(tmp_path / "market.buccaphon")
    assert kept.charts == demo.document.state.charts
    assert [chart.name for chart in kept.charts] == ["Lantern"]
    assert {exposure.mouth for exposure in demo.document.bake().exposures} <= {"Rest", "Wide", "Nobody's"}
    demo.document.undo()
    assert demo.document.chart.name == "Ten"


@pytest.fixture
def threads(monkeypatch) -> dict[str, threading.Thread]:
    """Which thread ran what, by name."""
    found: dict[str, threading.Thread] = {}

    def watch(owner: object, name: str) -> None:
        plain = getattr(owner, name)

        def watched(*args, **named):
            found[name] = threading.current_thread()
            return plain(*args, **named)

        monkeypatch.setattr(owner, name, watched)

    watch(Format, "files")
    watch(saving, "save_project")
    watch(pronouncing, "weigh_ways")
    return found


def test_saving_exporting_and_weighing_do_not_hold_the_window(demo, qtbot, tmp_path, threads):
    demo.document.choose_word(1)
    demo.session.pronouncing.weigh(1)
    demo.session.exporting.into(tmp_path)
    demo.session.exporting.export()
    demo.session.saving.save(tmp_path / "market.buccaphon")
    assert demo.session.jobs.busy(Slot.SAVE)
    idle(demo, qtbot)
    assert set(threads) == {"files", "save_project", "weigh_ways"}
    assert threading.main_thread() not in threads.values()
    assert (tmp_path / "market.buccaphon").exists()


def test_work_of_one_kind_leaves_the_others_alone(demo, qtbot):
    go_on, ended = threading.Event(), []
    demo.session.jobs.start(Slot.COMPARE, "Waiting", lambda _: go_on.wait(20), lambda _: ended.append("first"))
    demo.session.jobs.start(Slot.EXPORT, "Writing", lambda _: None, lambda _: ended.append("second"))
    qtbot.waitUntil(lambda: ended == ["second"])
    go_on.set()
    idle(demo, qtbot)
    assert ended == ["second", "first"]


def test_what_somebody_else_saved_is_not_written_over_unasked(demo, qtbot, tmp_path):
    path = tmp_path / "market.buccaphon"
    assert save(demo, qtbot, path)
    theirs = path.read_text().replace('"script": "', '"script": "Theirs. ')
    path.write_text(theirs)
    demo.document.paint("Open")
    with qtbot.waitSignal(demo.document.offered) as offered:
        demo.session.saving.save(path)
    assert path.read_text() == theirs
    offered.args[2]()
    idle(demo, qtbot)
    assert open_project(path).painted == demo.document.state.painted


def test_a_word_is_said_another_way_while_the_script_says_others(demo, qtbot):
    demo.document.apply(SetScript("Warm plums and"))
    demo.session.pronouncing.pronounce(1, parse_pronunciation("p l ʌ m z", "en-us"), Scope.PROJECT)
    idle(demo, qtbot)
    assert [word.text for word in demo.document.score.words] == ["Warm", "plums", "and"]
