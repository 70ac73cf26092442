from pathlib import Path

from buccaphon.project.carrying import changed_words, known_pins
from buccaphon.project.edits import Together
from buccaphon.project.edits.script import ForgetLostPins, SetLanguage, SetLexicon, SetScript, TakeAlignment
from buccaphon.project.edits.timing import MoveBoundary
from buccaphon.project.file.store import open_project, save_project
from buccaphon.project.project import Project
from buccaphon.project.state import LostPin, State, Take
from buccaphon.score.edits import Boundary
from buccaphon.speech.lexicon import Lexicon, Pronunciation
from buccaphon.speech.script import script_words
from tests.project.test_project import line


def pinned() -> Project:
    project = Project(
        State(takes=(Take(Path("call.wav"), score=line("warm", "plums", "now")),), script="warm plums now")
    )
    project.apply(MoveBoundary(Boundary(1, 0), 1.1))
    project.apply(MoveBoundary(Boundary(2, 0), 2.1))
    return project


def test_pins_become_constraints_of_the_words_they_belong_to():
    take = pinned().state.take
    pins = known_pins(take, script_words("Warm, ripe plums!"))
    assert [(pin.word, pin.phone, pin.of, pin.seconds) for pin in pins] == [(2, 0, 2, 1.1)]


def test_a_pin_whose_word_is_gone_is_listed_until_it_is_forgotten(tmp_path):
    project = pinned()
    project.apply(TakeAlignment(line("warm", "plums"), "warm plums"))
    assert project.state.take.lost == (LostPin("now", 2.1),)
    assert [pin.boundary for pin in project.state.pins] == [Boundary(1, 0)]
    save_project(project.state, tmp_path / "a.buccaphon")
    assert open_project(tmp_path / "a.buccaphon").take.lost == (LostPin("now", 2.1),)
    project.apply(ForgetLostPins())
    assert project.state.take.lost == ()
    project.undo()
    project.undo()
    assert len(project.state.pins) == 2


def test_only_what_was_typed_anew_counts_as_changed():
    score = line("Warm", "plums,", "now!")
    assert changed_words(score, script_words("Warm plums now")) == (3, 3)
    assert changed_words(score, script_words("Warm ripe plums now")) == (1, 1)
    assert changed_words(score, script_words("Warm pears now")) == (1, 2)
    assert changed_words(score, script_words("now")) == (0, 2)
    assert changed_words(line("a", "a"), script_words("a a a")) == (2, 2)


def test_the_lexicon_is_kept_with_the_project(tmp_path):
    project = pinned()
    lexicon = (
        Lexicon().having("plums", Pronunciation(("p", "l"), (0, 0))).having("now", Pronunciation(("n",), (0,)), only=2)
    )
    project.apply(SetLexicon(lexicon))
    save_project(project.state, tmp_path / "a.buccaphon")
    assert open_project(tmp_path / "a.buccaphon").lexicon == lexicon


def test_another_language_asks_for_another_alignment():
    project = pinned()
    project.apply(TakeAlignment(line("warm", "plums", "now"), "warm plums now"))
    assert not project.state.needs_aligning
    project.apply(SetLanguage("de"))
    assert project.state.needs_aligning


def test_several_edits_together_are_one_step():
    project = pinned()
    before = project.state
    project.apply(Together((SetScript("warm [plums] now"), ForgetLostPins(), SetLanguage("it")), name="Change much"))
    assert project.undo_name == "Change much"
    project.undo()
    assert project.state == before
