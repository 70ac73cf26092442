from dataclasses import replace
from pathlib import Path

import pytest

from buccaphon.mouths.laying import Painted
from buccaphon.mouths.pose import Pose
from buccaphon.project.edits.lines import AddLines, ChangeLine, OnLine, PlaceLines, RemoveLine, one_after_another
from buccaphon.project.edits.mouths import Paint
from buccaphon.project.edits.roles import AddRole, RemoveRole, RenameRole
from buccaphon.project.edits.script import SetScript
from buccaphon.project.file.store import open_project, save_project
from buccaphon.project.project import Project
from buccaphon.project.speakers import names_in, of_others, own_words, said_by, speaking
from buccaphon.project.state import Line, State, one_line
from buccaphon.project.take import Take
from buccaphon.score.records import Phone, Score, Word
from buccaphon.timing import Span

DIALOGUE = "MAREN: warm plums\nTIMO (loud): bang now\nMAREN: ah"


def said(*texts: str) -> Score:
    """A word a second, each of .9 s."""
    words = (Word(text, (Phone("p", n, n + 0.4), Phone("ɑ", n + 0.4, n + 0.9))) for n, text in enumerate(texts))
    return Score(tuple(words), len(texts) + 0.5)


def dialogue() -> State:
    score = said("warm", "plums", "bang", "now", "ah")
    state = one_line((Take(Path("talk.wav"), score=score, aligned_script=DIALOGUE),), DIALOGUE)
    state = RenameRole("", "Maren").apply(state)
    return AddRole("Timo").apply(state)


def clips(*names: str) -> tuple[Line, ...]:
    return tuple(Line((Take(Path(name)),), name=name) for name in names)


def test_an_empty_scene_becomes_its_first_lines_and_the_first_is_open():
    state = AddLines(clips("a.wav", "b.wav")).apply(State())
    assert ([each.title for each in state.lines], state.line.title) == (["a.wav", "b.wav"], "a.wav")
    more = AddLines(clips("c.wav")).apply(state)
    assert (more.open_line, more.line.title, len({each.key for each in more.lines})) == (2, "c.wav", 3)


def test_each_line_keeps_words_of_its_own():
    state = SetScript("plums").apply(AddLines(clips("a.wav", "b.wav")).apply(State()))
    state = SetScript("pears").apply(state.at_line(1))
    assert [each.script for each in state.lines] == ["plums", "pears"]


def test_looking_at_another_line_is_no_change_and_undoing_shows_the_line_that_changes():
    project = Project(AddLines(clips("a.wav", "b.wav")).apply(State()))
    project.look_at(1)
    assert (project.state.line.title, project.is_changed, project.undo_name) == ("b.wav", False, "")
    project.apply(SetScript("pears"))
    project.look_at(0)
    project.undo()
    assert (project.state.line.title, project.state.script) == ("b.wav", "")
    project.look_at(0)
    project.redo()
    assert (project.state.line.title, project.state.script) == ("b.wav", "pears")


def test_what_is_found_for_another_line_is_put_there_and_its_undo_shows_it():
    project = Project(AddLines(clips("a.wav", "b.wav")).apply(State()))
    project.apply(OnLine(SetScript("pears"), project.state.lines[1].key))
    assert (project.state.open_line, project.state.lines[1].script) == (0, "pears")
    project.undo()
    assert (project.state.open_line, project.state.script) == (1, "")
    gone = RemoveLine(project.state.lines[1].key).apply(project.state)
    assert OnLine(SetScript("x"), project.state.lines[1].key).apply(gone) == gone


def test_the_last_line_that_is_removed_leaves_an_empty_one():
    state = AddLines(clips("a.wav", "b.wav")).apply(State())
    for each in state.lines:
        state = RemoveLine(each.key).apply(state)
    assert state.is_empty
    assert len(state.lines) == 1


def test_lines_lie_one_after_another_and_are_placed_on_frames():
    placed = one_after_another(clips("a.wav", "b.wav", "c.wav"), (1.5, 2.0, 1.0), 0.5)
    assert [each.take.offset for each in placed] == [0.5, 2.0, 4.0]
    state = AddLines(placed).apply(State())
    moved = PlaceLines(((state.lines[1].key, 3.02),)).apply(state)
    assert moved.lines[1].take.offset == pytest.approx(72 / 24)


def test_words_belong_to_whom_the_script_names():
    state = dialogue()
    assert [sorted(names) for names in said_by(state)] == [["Maren"], ["Maren"], ["Timo"], ["Timo"], ["Maren"]]
    assert (speaking(state), names_in(DIALOGUE)) == (("Maren", "Timo"), ("MAREN", "TIMO"))
    assert [word.text for word in own_words(state, state.score).words] == ["warm", "plums", "ah"]
    timo = state.at_line(0, "Timo")
    assert [word.text for word in own_words(timo, timo.score).words] == ["bang", "now"]
    (between,) = of_others(state, 10.0)
    assert between.start < state.score.words[2].start < state.score.words[3].end < between.end


@pytest.mark.parametrize("script", ["MAREN AND TIMO: warm plums", "MAREN: [together] warm plums\nTIMO: yes"])
def test_what_is_said_together_belongs_to_all(script):
    state = dialogue()
    take = replace(
        state.take, aligned_script=script, score=said("warm", "plums", *(["yes"] if "yes" in script else []))
    )
    who = said_by(state.with_take(take))
    assert who[0] == who[1] == {"Maren", "Timo"}


def test_a_line_without_words_moves_only_the_mouth_of_its_role():
    state = RenameRole("", "Maren").apply(AddLines(clips("hum.wav")).apply(State()))
    state = AddRole("Timo").apply(state)
    assert of_others(state, 2.0) == ()
    assert of_others(state.at_line(0, "Timo"), 2.0) == (Span(0.0, 3.0),)
    assert own_words(state.at_line(0, "Timo"), Score((), 2.0)).words == ()


def test_painting_goes_to_the_role_on_show_and_comes_back_with_it(tmp_path):
    state = Paint(Span(0.0, 0.5), "Open").apply(dialogue())
    timo = Paint(Span(0.5, 1.0), "Tip").apply(state.at_line(0, "Timo"))
    assert [paint.mouth for paint in timo.painted] == ["Tip"]
    assert [paint.mouth for paint in timo.at_line(0, "Maren").painted] == ["Open"]
    assert timo.at_rest.at_line(0, "Timo") == timo
    timo = timo.with_each_take(lambda take: replace(take, path=tmp_path / "talk.wav"))
    save_project(timo, tmp_path / "talk.buccaphon")
    assert open_project(tmp_path / "talk.buccaphon").at_line(0, "Timo") == timo


def test_a_role_keeps_all_when_it_is_renamed_and_gives_its_words_back_when_removed():
    state = Paint(Span(0.5, 1.0), "Tip").apply(dialogue().at_line(0, "Timo"))
    renamed = RenameRole("Timo", "Ole").apply(state)
    assert (renamed.role.name, renamed.script.splitlines()[1]) == ("Ole", "OLE (loud): bang now")
    assert renamed.is_in_step
    assert [sorted(names) for names in said_by(renamed)][2] == ["Ole"]
    gone = RemoveRole("Ole").apply(renamed)
    assert (said_by(gone), gone.painted, gone.role.name) == (None, (), "Maren")


def test_a_line_given_to_another_role_takes_its_mouths_along():
    state = AddRole("Timo").apply(RenameRole("", "Maren").apply(AddLines(clips("a.wav")).apply(State())))
    state = state.with_take(replace(state.take, painted=(Painted(Span(0, 1), "Open", Pose(), False),)))
    given = ChangeLine(state.line.key, role="Timo").apply(state)
    assert (given.role.name, len(given.painted)) == ("Timo", 1)


def test_a_name_is_one_roles_alone():
    state = dialogue()
    assert AddRole("timo").apply(state) == state
    assert RenameRole("Timo", "MAREN").apply(state) == state
