import json
from fractions import Fraction
from pathlib import Path

import pytest

from buccaphon.audio.recording import Listen
from buccaphon.errors import ProjectError
from buccaphon.mouths.laying import Painted
from buccaphon.mouths.pose import Pose
from buccaphon.mouths.settings import MouthSettings
from buccaphon.project.edits.timing import MoveBoundary
from buccaphon.project.file.store import open_project, save_project
from buccaphon.project.state import State, one_line
from buccaphon.project.take import BoundaryPin, PinWithoutWord, Take
from buccaphon.score.edits import Boundary
from buccaphon.score.records import Note
from buccaphon.timing import FrameRate, Span


@pytest.fixture
def state(tmp_path: Path, call_score) -> State:
    (tmp_path / "media").mkdir()
    take = Take(
        path=(tmp_path / "media" / "call.flac").resolve(),
        name="first call",
        digest="ab" * 32,
        channel=1,
        offset=0.5,
        trim_in=0.25,
        trim_out=9.0,
        not_speech=(Span(0.0, 0.1),),
        score=call_score,
        aligned_script="MARIGOLD: Plums!",
        painted=(Painted(Span(0.5, 1.0), "Open", Pose(jaw=0.9), False),),
    )
    full = one_line(
        takes=(take, Take(path=(tmp_path / "media" / "slow.flac").resolve(), channel=Listen.LOUDEST)),
        script="MARIGOLD: Plums!",
        rate=FrameRate(Fraction(24000, 1001)),
        start_frame=101,
        chart="Five",
        mouth_settings=MouthSettings(hold=2, most_changes=6.0),
    )
    return MoveBoundary(Boundary(2, 1), call_score.words[2].phones[1].start + 0.004).apply(full)


def test_a_project_comes_back_exactly(state, tmp_path):
    path = tmp_path / "market.buccaphon"
    save_project(state, path)
    assert open_project(path) == state


def test_project_and_recording_can_move_together(state, tmp_path):
    save_project(state, tmp_path / "market.buccaphon")
    assert json.loads((tmp_path / "market.buccaphon").read_text())["lines"][0]["takes"][0]["path"] == "media/call.flac"
    elsewhere = tmp_path / "elsewhere"
    elsewhere.mkdir()
    (tmp_path / "market.buccaphon").rename(elsewhere / "market.buccaphon")
    assert open_project(elsewhere / "market.buccaphon").take.path == elsewhere.resolve() / "media" / "call.flac"


def test_what_this_version_does_not_know_is_kept(state, tmp_path):
    path = tmp_path / "market.buccaphon"
    save_project(state, path)
    data = json.loads(path.read_text()) | {"lanterns": [1, 2]}
    data["roles"][0] |= {"hat": "straw"}
    (line,) = data["lines"]
    line |= {"mood": "warm"}
    line["takes"][0] |= {"wind": "north"}
    line["takes"][0]["painted"][0] |= {"brush": 3}
    line["takes"][0]["score"]["words"][4]["phones"][0] |= {"pitch": 220}
    path.write_text(json.dumps(data))
    opened = open_project(path)
    save_project(opened.with_takes(*opened.takes[::-1], shown=1).with_role(mouth_settings=MouthSettings(hold=3)), path)
    again = json.loads(path.read_text())
    assert (again["lanterns"], again["roles"][0]["mouth_settings"]["hold"]) == ([1, 2], 3)
    assert (again["roles"][0]["hat"], again["lines"][0]["mood"]) == ("straw", "warm")
    take = again["lines"][0]["takes"][1]
    assert (take["wind"], take["painted"][0]["brush"]) == ("north", 3)
    assert take["score"]["words"][4]["phones"][0]["pitch"] == 220
    assert "wind" not in again["lines"][0]["takes"][0]


def broken(**changes):
    return lambda data: json.dumps(data | changes)


def of_line(**changes):
    return lambda data: json.dumps(data | {"lines": [data["lines"][0] | changes]})


def of_role(**changes):
    return lambda data: json.dumps(data | {"roles": [data["roles"][0] | changes]})


@pytest.mark.parametrize(
    ("change", "reason"),
    [
        (lambda data: "", "not a project file"),
        (lambda data: json.dumps(data)[:200], "is incomplete"),
        (lambda data: "[1, 2]", "not a Buccaphon project"),
        (broken(version=99), "newer Buccaphon"),
        (broken(rate="fast"), "an entry is wrong.*frame rate “fast”"),
        (of_role(mouth_settings={"hold": "two"}), r"an entry is wrong.*mouth_settings.*hold"),
        (
            of_line(takes=[{"path": "a.wav", "score": {"words": [{"text": "x", "phones": []}], "duration": 1}}]),
            "no phones",
        ),
        (of_line(shown=7), "take 7 is shown"),
        (of_role(chart="Hundred"), "an entry is wrong.*no chart of that name"),
    ],
)
def test_a_file_that_cannot_be_opened_says_why(state, tmp_path, change, reason):
    path = tmp_path / "market.buccaphon"
    save_project(state, path)
    path.write_text(change(json.loads(path.read_text())))
    with pytest.raises(ProjectError, match=reason):
        open_project(path)


def test_a_missing_file_is_named(tmp_path):
    with pytest.raises(ProjectError, match=r"gone\.buccaphon.*cannot be read"):
        open_project(tmp_path / "gone.buccaphon")


def test_a_project_of_the_first_version_opens(tmp_path):
    path = tmp_path / "old.buccaphon"
    phones = [{"ipa": "p", "start": 0.1, "end": 0.2}]
    old = {
        "format": "buccaphon project", "version": 1, "recording": "call.flac", "duration": 2.0, "script": "p", "rate": "25",
        "aligned_script": "p", "words": [{"text": "p", "phones": phones}], "pins": [], "lanterns": 3,
        "painted": [{"start": 0.0, "end": 0.5, "mouth": "Open"}],
    }  # fmt: skip
    path.write_text(json.dumps(old))
    state = open_project(path)
    assert state.take.path == tmp_path.resolve() / "call.flac"
    assert state.score.words[0].text == "p"
    assert state.painted[0].mouth == "Open"
    assert state.unknown == {"own": {"lanterns": 3}}


def test_a_project_of_the_second_version_opens(tmp_path):
    path = tmp_path / "old.buccaphon"
    word = {"text": "plums", "phones": [
        {"ipa": "p", "start": 0.5, "end": 0.6, "stress": 0, "confidence": 0.9},
        {"ipa": "ʌ", "start": 0.6, "end": 1.1, "stress": 1, "confidence": 0.8},
    ]}  # fmt: skip
    take = {
        "path": "call.wav", "name": "call", "digest": "", "channel": "mix", "muted": False, "offset": 0.0, "trim_in": 0.0,
        "trim_out": None, "not_speech": [[0.0, 0.1]], "duration": 2.0, "aligned_script": "plums", "words": [word],
        "pins": [{"word": 0, "phone": 0, "seconds": 0.5}], "painted": [{"start": 1.0, "end": 1.25, "mouth": "Rest"}],
        "lost": [{"word": "pears", "seconds": 1.5}], "notes": [{"start": 0.5, "end": 0.9, "text": "louder"}], "lanterns": 3,
    }  # fmt: skip
    old = {
        "format": "buccaphon project", "version": 2, "takes": [take], "shown": 0, "script": "plums", "language": "en-us",
        "lexicon": "", "rate": "24", "start_frame": 7, "chart": "Ten", "hold": 2, "lead": 0.04,
    }  # fmt: skip
    path.write_text(json.dumps(old))
    state = open_project(path)
    assert (state.start_frame, state.mouth_settings.hold, state.script) == (7, 2, "plums")
    assert [(phone.symbol, phone.start) for phone in state.score.phones()] == [("p", 0.5), ("ʌ", 0.6)]
    assert state.take.not_speech == (Span(0.0, 0.1),)
    assert state.pins == (BoundaryPin(Boundary(0, 0), 0.5),)
    assert [(paint.span, paint.mouth) for paint in state.painted] == [(Span(1.0, 1.25), "Rest")]
    assert state.take.without_word == (PinWithoutWord("pears", 1.5),)
    assert state.take.notes == (Note(Span(0.5, 0.9), "louder"),)
    save_project(state, path)
    assert open_project(path) == state
    assert json.loads(path.read_text())["lines"][0]["takes"][0]["lanterns"] == 3
