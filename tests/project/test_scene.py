"""Scenes of several lines and roles: their frames, mouths and sound, known from the single lines that they are made of."""

import csv
import json
from dataclasses import replace
from pathlib import Path

import av
import numpy as np
import openpyxl
import pytest
import soundfile
from click.testing import CliRunner

from buccaphon.alignment.aligner import align
from buccaphon.alignment.request import AlignmentRequest
from buccaphon.audio.mixing import Part, mixed
from buccaphon.audio.peaks import build_peaks
from buccaphon.audio.reading import read_recording
from buccaphon.audio.recording import Recording
from buccaphon.cli.main import main
from buccaphon.formats.listing import Entry, ExportList
from buccaphon.project.delivering import deliver_role, deliver_whole
from buccaphon.project.derived import Derived
from buccaphon.project.edits.lines import AddLines, PlaceLines
from buccaphon.project.edits.mouths import Paint
from buccaphon.project.edits.roles import AddRole, RenameRole
from buccaphon.project.file.store import save_project
from buccaphon.project.hearing import hear_scene
from buccaphon.project.scene import Ensemble
from buccaphon.project.state import Line, State, one_line
from buccaphon.project.take import Take
from buccaphon.score.edits import shifted
from buccaphon.score.records import Score
from buccaphon.speech.script import script_words
from buccaphon.timing import Span
from tests.conftest import DATA

AWAY = 4  # frames from a cut


def known(name: str) -> tuple[Recording, Score, str]:
    heard, text = read_recording(DATA / f"{name}.flac"), (DATA / f"{name}.txt").read_text().strip()
    return heard, align(AlignmentRequest(heard, script_words(text))), text


@pytest.fixture(scope="module")
def speakers() -> dict[str, tuple[Recording, Score, str]]:
    heard, score, text = known("slt07")
    whole = round(np.ceil(heard.duration * 24) / 24 * heard.rate)  # the cut lies between two frames
    samples = np.pad(np.asarray(heard.samples), ((0, whole - len(heard.samples)), (0, 0)))
    first = Recording(samples, heard.rate, "slt07")
    return {"Maren": (first, Score(score.words, first.duration), text), "Timo": known("awb00")}


def shown_on(bake) -> list[str]:
    return [exposure.mouth for exposure in bake.exposures for _ in range(exposure.length)]


def single(heard: Recording, score: Score, text: str):
    state = one_line((Take(Path("alone.flac"), score=score, aligned_script=text),), text)
    return Derived(heard, build_peaks(heard)).bake(state)


def two_roles(state: State) -> State:
    return AddRole("Timo").apply(RenameRole("", "Maren").apply(state))


@pytest.fixture(scope="module")
def together(speakers):
    """Both in one recording, one after the other."""
    (first, said, one), (second, answer, two) = speakers["Maren"], speakers["Timo"]
    assert first.rate == second.rate
    heard = Recording(np.concatenate([first.samples, second.samples]), first.rate, "talk")
    text = f"MAREN: {one}\nTIMO: {two}"
    score = Score((*said.words, *shifted(answer, first.duration, heard.duration).words), heard.duration)
    state = two_roles(one_line((Take(Path("talk.flac"), score=score, aligned_script=text),), text))
    return state, Ensemble(state, {0: Derived(heard, build_peaks(heard))}), first.duration


def test_each_role_of_one_recording_moves_as_in_its_single_line(together, speakers):
    state, ensemble, cut = together
    assert ensemble.roles() == ("Maren", "Timo")
    seam = state.rate.nearest(cut)
    for name, frames in (("Maren", range(seam - AWAY)), ("Timo", range(seam + AWAY, 10_000))):
        alone = shown_on(single(*speakers[name]))
        bake = deliver_role(ensemble, "talk", name).bake
        mouths, first = shown_on(bake), 0 if name == "Maren" else seam
        pairs = [(mouths[n], alone[n - first]) for n in frames if n < len(mouths) and n - first < len(alone)]
        assert np.mean([a == b for a, b in pairs]) >= 0.98
        others = [mouths[n] for n in range(len(mouths)) if n not in frames and abs(n - seam) >= AWAY]
        assert set(others) == {"Rest"}, "where only the other one speaks"
        assert len(pairs) > 40


def test_an_aligner_that_hears_both_gives_each_its_words(speakers, tmp_path):
    (first, *_), (second, *_) = speakers["Maren"], speakers["Timo"]
    path = tmp_path / "talk.wav"
    soundfile.write(path, np.concatenate([first.samples, second.samples]), first.rate)
    text = f"MAREN: {speakers['Maren'][2]}\nTIMO: {speakers['Timo'][2]}"
    state = two_roles(one_line((Take(path),), text))
    ensemble = hear_scene(state)
    seam = state.rate.nearest(first.duration)
    maren, timo = (shown_on(ensemble.bake(name)) for name in ("Maren", "Timo"))
    assert set(maren[seam + AWAY :]) == {"Rest"}
    assert set(timo[: seam - AWAY]) == {"Rest"}
    alone = shown_on(single(*speakers["Maren"]))
    assert np.mean([a == b for a, b in zip(maren[: seam - AWAY], alone, strict=False)]) >= 0.98


@pytest.fixture
def clips(speakers, tmp_path) -> State:
    """Two recordings as two lines of two roles, the second from 1.5 s on, and a bang of another rate."""
    lines = []
    for name, role in (("slt07", "Maren"), ("awb00", "Timo")):
        _heard, score, text = speakers[role]
        lines.append(Line((Take(DATA / f"{name}.flac", score=score, aligned_script=text),), script=text, role=role))
    soundfile.write(tmp_path / "bang.wav", 0.5 * np.ones((800, 2), np.float32), 8000)
    lines.append(Line((Take(tmp_path / "bang.wav"),), name="bang", heard_only=True))
    state = AddLines(tuple(lines)).apply(two_roles(State()))
    keys = [line.key for line in state.lines]
    return PlaceLines(((keys[1], 1.5), (keys[2], 1.0))).apply(state)


def test_lines_lie_on_the_frames_of_the_scene_and_overlapping_roles_both_move(clips, speakers):
    ensemble = hear_scene(clips)
    numbers = ensemble.numbers
    maren, timo = ensemble.bake("Maren"), ensemble.bake("Timo")
    assert maren.frames == timo.frames == len(numbers)
    assert shown_on(maren)[:36] == shown_on(single(*speakers["Maren"]))[:36]
    alone = shown_on(single(*speakers["Timo"]))
    assert shown_on(timo)[36 : 36 + len(alone)] == alone
    assert set(shown_on(timo)[:36]) == {"Rest"}
    assert [word.text for word in timo.said] == [word.text for word in speakers["Timo"][1].words]
    assert timo.said[0].start == pytest.approx(1.5 + speakers["Timo"][1].words[0].start)


def test_the_scene_is_heard_with_all_its_lines_in_their_places(clips):
    sound = hear_scene(clips).sound()
    heard, timo = np.asarray(sound.samples), read_recording(DATA / "awb00.flac")
    assert (sound.channels, sound.rate) == (2, timo.rate)
    at = round(1.0 * sound.rate)
    maren = np.asarray(read_recording(DATA / "slt07.flac").samples)[:, 0]
    bang = heard[at + 200 : at + 700, 0] - maren[at + 200 : at + 700]
    assert np.allclose(bang, 0.5, atol=0.02)
    tail = len(maren) + 100
    begins = tail - round(1.5 * sound.rate)
    assert np.allclose(heard[tail : tail + 4000, 1], np.asarray(timo.samples)[begins : begins + 4000, 0], atol=1e-6)
    silent = replace(clips, lines=tuple(replace(line, muted=line.heard_only) for line in clips.lines))
    quiet = np.asarray(hear_scene(silent).sound().samples)
    assert np.allclose(quiet[at : at + 700, 0], maren[at : at + 700], atol=1e-6)


def test_a_scene_may_be_longer_or_shorter_than_its_sound(clips):
    for length in (30, 400):
        ensemble = hear_scene(replace(clips, length=length))
        assert ensemble.bake("Timo").frames == length
        assert len(np.asarray(ensemble.sound().samples)) == pytest.approx(length / 24 * ensemble.sound().rate, abs=1)


def test_of_two_lines_of_one_role_the_later_wins_where_both_speak(speakers):
    heard, score, text = speakers["Maren"]
    lines = tuple(Line((Take(DATA / "slt07.flac", score=score, aligned_script=text),), script=text) for _ in range(2))
    state = AddLines(lines).apply(State())
    state = PlaceLines(((state.lines[1].key, 0.5),)).apply(state)
    bake = hear_scene(state).bake("")
    alone = shown_on(single(heard, score, text))
    first = state.rate.nearest(score.words[0].start) + 1
    assert shown_on(bake)[12 + first : 12 + len(alone)] == alone[first:]
    starts = [word.start for word in bake.said]
    assert starts == sorted(starts)


def test_what_a_hand_paints_for_one_role_is_that_roles_alone(together):
    state, ensemble, cut = together
    painted = Paint(Span(cut + 0.5, cut + 1.0), "Round").apply(state.at_line(0, "Timo"))
    found = ensemble.of(painted, ensemble.sounds)
    middle = state.rate.nearest(cut + 0.75)
    assert shown_on(found.bake("Timo"))[middle] == "Round"
    assert shown_on(found.bake("Maren"))[middle] == "Rest"


def test_a_scene_is_delivered_for_each_role_and_once_where_it_is_about_all(clips, tmp_path):
    entries = tuple(Entry(ident) for ident in ("keys-json", "srt", "vtt", "wav", "otio", "timings-csv"))
    save_project(replace(clips, exports=ExportList(entries)), tmp_path / "market.buccaphon")
    result = CliRunner().invoke(main, ["deliver", str(tmp_path / "market.buccaphon"), "-o", str(tmp_path / "out")])
    assert result.exit_code == 0, result.output
    assert {path.name for path in (tmp_path / "out").iterdir()} == {
        "market_Maren.keys.json", "market_Timo.keys.json", "market.srt", "market.vtt", "market.sound.wav", "market.otio",
        "market.timings.csv",
    }  # fmt: skip
    keys = [json.loads((tmp_path / "out" / f"market_{name}.keys.json").read_text()) for name in ("Maren", "Timo")]
    assert keys[0]["length"] == keys[1]["length"]
    assert "<v Timo>" in (tmp_path / "out" / "market.vtt").read_text()
    timeline = json.loads((tmp_path / "out" / "market.otio").read_text())
    tracks = timeline["tracks"]["children"]
    assert [track["name"] for track in tracks] == ["slt07", "bang", "awb00"]
    gap, clip = tracks[2]["children"]
    assert (gap["source_range"]["duration"]["value"], clip["metadata"]["buccaphon"]["role"]) == (36, "Timo")
    words = [marker for marker in clip["markers"] if marker["metadata"]["buccaphon"]["kind"] == "word"]
    assert len(words) == len(clips.lines[1].take.score.words)
    assert not tracks[1]["children"][-1]["markers"]
    info = soundfile.info(tmp_path / "out" / "market.sound.wav")
    assert info.frames / info.samplerate == pytest.approx(keys[0]["length"] / 24, abs=1e-3)


def test_one_role_alone_is_delivered_by_its_name(clips, tmp_path):
    save_project(replace(clips, exports=ExportList((Entry("keys-csv"),))), tmp_path / "market.buccaphon")

    def deliver(*more: str):
        return CliRunner().invoke(
            main, ["deliver", str(tmp_path / "market.buccaphon"), "-o", str(tmp_path / "out"), *more]
        )

    assert deliver("--role", "timo", "--hold", "2").exit_code == 0
    assert [path.name for path in (tmp_path / "out").iterdir()] == ["market_Timo.keys.csv"]
    unknown = deliver("--role", "Ole")
    assert (unknown.exit_code, "There are Maren, Timo" in unknown.output) == (2, True)
    assert deliver("--hold", "2").exit_code == 2, "whose?"


def test_the_whole_scene_has_all_that_is_said_in_order(clips):
    whole = deliver_whole(hear_scene(clips), "market")
    assert [voice.name for voice in whole.voices] == ["Maren", "Timo"]
    starts = [word.start for word in whole.score.words]
    assert starts == sorted(starts)
    assert [line.role for line in whole.lines] == ["Maren", "", "Timo"]


def test_a_mix_is_made_where_it_is_looked_at_and_cut_off_at_full_scale():
    loud = Recording(np.full((4000, 1), 0.7, np.float32), 8000, "loud")
    mix = mixed((Part(loud, Span(0.0, 0.5), 0.1), Part(loud, Span(0.1, 0.3), -0.05)), 1.0, "mix")
    samples = np.asarray(mix.samples)
    assert samples.shape == (8000, 1)
    assert samples[900, 0] == 1.0
    assert samples[100, 0] == pytest.approx(0.7)
    assert not samples[4900:].any()
    assert np.array_equal(np.asarray(mix.samples[700:1500]), samples[700:1500])


def test_a_sheet_has_a_group_of_columns_for_each_role_or_is_each_roles_alone(clips, tmp_path):
    own = Entry("sheet-csv", "{title}_alone", options=(("together", "no"),))
    entries = (Entry("sheet-csv"), Entry("sheet-xlsx"), Entry("sheet-ods"), own)
    save_project(replace(clips, exports=ExportList(entries)), tmp_path / "market.buccaphon")
    result = CliRunner().invoke(main, ["deliver", str(tmp_path / "market.buccaphon"), "-o", str(tmp_path / "out")])
    assert result.exit_code == 0, result.output
    assert {path.name for path in (tmp_path / "out").iterdir()} == {
        "market.sheet.csv", "market.sheet.xlsx", "market.sheet.ods", "market_alone_Maren.sheet.csv",
        "market_alone_Timo.sheet.csv",
    }  # fmt: skip
    rows = list(csv.DictReader((tmp_path / "out" / "market.sheet.csv").read_text("utf-8-sig").splitlines()))
    alone = list(csv.DictReader((tmp_path / "out" / "market_alone_Timo.sheet.csv").read_text("utf-8-sig").splitlines()))
    assert [row["Timo mouth"] for row in rows] == [row["mouth"] for row in alone]
    assert {"Maren word", "Maren mouth", "Timo jaw", "note", "frame"} <= set(rows[0])
    assert [row["frame"] for row in rows] == [row["frame"] for row in alone]
    page = openpyxl.load_workbook(tmp_path / "out" / "market.sheet.xlsx").active
    assert [cell.value for cell in page[1]] == list(rows[0])
    assert page.max_row == len(rows) + 1


def test_a_film_shows_all_roles_side_by_side_or_one(clips, tmp_path):
    small = (("width", "160"), ("height", "90"))
    entries = (Entry("mp4", "{title}_all", options=(*small, ("together", "yes"))), Entry("mp4", options=small))
    state = replace(clips, length=12, exports=ExportList(entries))
    save_project(state, tmp_path / "market.buccaphon")
    result = CliRunner().invoke(main, ["deliver", str(tmp_path / "market.buccaphon"), "-o", str(tmp_path / "out")])
    assert result.exit_code == 0, result.output
    assert {path.name for path in (tmp_path / "out").iterdir()} == {
        "market_all.mp4", "market_Maren.mp4", "market_Timo.mp4",
    }  # fmt: skip
    with av.open(tmp_path / "out" / "market_all.mp4") as film:
        (frame, *_rest) = film.decode(video=0)
        picture = frame.to_ndarray(format="rgb24")
    assert picture.shape == (90, 160, 3)
    halves = picture[:, :80].astype(int), picture[:, 80:].astype(int)
    assert np.abs(halves[0] - halves[1]).mean() < 12, "two faces at rest"


def test_a_scene_of_which_nothing_is_heard_yet_is_at_rest(clips):
    silent = Ensemble(clips, {})
    assert shown_on(silent.bake("Timo")) == ["Rest"]
    assert silent.roles() == ("Maren",)
    assert len(silent.sound().samples) == 0
