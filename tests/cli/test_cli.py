import csv
import json
import shutil
from pathlib import Path

import numpy as np
import pytest
import soundfile
from click.testing import CliRunner

from buccaphon import __version__
from buccaphon.cli import main
from tests.conftest import DATA


@pytest.fixture
def takes(tmp_path: Path) -> Path:
    folder = tmp_path / "takes"
    folder.mkdir()
    for path in DATA.glob("*.*"):
        shutil.copy(path, folder)
    return folder


def run(*args: object):
    return CliRunner().invoke(main, [str(arg) for arg in args])


def test_align_writes_one_file_of_the_kind_its_name_asks_for(takes, tmp_path):
    for suffix in (".TextGrid", ".json", ".csv"):
        out = tmp_path / f"out{suffix}"
        result = run("align", takes / "awb00.flac", "-o", out)
        assert result.exit_code == 0, result.output
        assert out.stat().st_size > 500
        assert f"Wrote {out}" in result.stderr


def test_align_several_into_a_folder(takes, tmp_path):
    result = run("align", takes / "awb00.flac", takes / "slt07.flac", "-o", tmp_path / "aligned")
    assert result.exit_code == 0, result.output
    assert sorted(p.name for p in (tmp_path / "aligned").iterdir()) == ["awb00.TextGrid", "slt07.TextGrid"]


def test_one_bad_recording_does_not_stop_the_others(takes, tmp_path):
    (takes / "bad.wav").write_bytes(b"no sound")
    result = run("align", takes / "bad.wav", takes / "awb00.flac", "-o", tmp_path / "aligned")
    assert result.exit_code == 2
    assert "bad.wav" in result.stderr
    assert (tmp_path / "aligned" / "awb00.TextGrid").exists()


def test_replacing_a_file_is_said(takes, tmp_path):
    out = tmp_path / "out.csv"
    out.write_text("old")
    assert f"Replaced {out}" in run("align", takes / "awb00.flac", "-o", out).stderr


def test_bake_on_twos_at_an_ntsc_rate(takes, tmp_path):
    out = tmp_path / "keys.json"
    result = run("bake", takes / "awb00.flac", "--fps", "23.976", "--hold", 2, "--start-frame", 1001, "-o", out)
    assert result.exit_code == 0, result.output
    data = json.loads(out.read_text())
    assert data["rate"] == {"numerator": 24000, "denominator": 1001}
    assert data["mouths"][0]["frame"] == 1001
    assert all((key["frame"] - 1001) % 2 == 0 for key in data["mouths"])


def test_bake_by_loudness_needs_no_script(takes, tmp_path):
    (takes / "awb00.txt").unlink()
    out = tmp_path / "keys.csv"
    result = run("bake", takes / "awb00.flac", "--fps", 24, "--chart", "flap", "--loudness-only", "-o", out)
    assert result.exit_code == 0, result.output
    rows = list(csv.DictReader(out.read_text().splitlines()))
    assert {row["mouth"] for row in rows} == {"Shut", "Open"}
    assert {row["word"] for row in rows} == {""}
    assert float(rows[0]["jaw"]) == 0


def test_channels_mixed_from_the_pose_are_written_too(takes, tmp_path):
    out = tmp_path / "keys.csv"
    told = ("bake", takes / "awb00.flac", "--fps", 24, "-o", out)
    result = run(*told, "--mix", "smile = spread - 0.3 jaw")
    assert result.exit_code == 0, result.output
    rows = list(csv.DictReader(out.read_text().splitlines()))
    assert all(abs(float(row["smile"]) - float(row["spread"]) + 0.3 * float(row["jaw"])) < 2e-4 for row in rows)
    refused = run(*told, "--mix", "smile = grin")
    assert refused.exit_code == 2
    assert "there is no grin" in refused.output


def test_by_loudness_a_noisy_room_keeps_the_mouth_shut_before_the_words(takes, tmp_path):
    voice, rate = soundfile.read(takes / "awb00.flac")
    noise = np.random.default_rng(1).standard_normal(len(voice) + rate)
    noise *= 0.2 * np.sqrt(np.mean(voice**2))
    noise[rate:] += voice
    soundfile.write(tmp_path / "noisy.wav", noise, rate)
    out = tmp_path / "keys.csv"
    result = run("bake", tmp_path / "noisy.wav", "--fps", 24, "--chart", "flap", "--loudness-only", "-o", out)
    assert result.exit_code == 0, result.output
    jaw = [float(row["jaw"]) for row in csv.DictReader(out.read_text().splitlines())]
    assert max(jaw[:22]) == 0
    assert max(jaw[24:]) > 0.5


def test_a_part_of_one_channel_is_baked_with_its_music_shut_out(takes, tmp_path):
    voice, rate = soundfile.read(takes / "awb00.flac")
    soundfile.write(takes / "both.wav", np.stack([np.zeros_like(voice), voice], axis=1), rate)
    loud = ("bake", takes / "both.wav", "--fps", "25", "--loudness-only", "--channel", "2", "--use", "0.4", "1.6")
    assert run(*loud, "-o", tmp_path / "all.csv").exit_code == 0
    assert run(*loud, "--not-speech", "0.8", "1.2", "-o", tmp_path / "hushed.csv").exit_code == 0
    rows = [list(csv.DictReader((tmp_path / name).read_text().splitlines())) for name in ("all.csv", "hushed.csv")]
    assert [row["frame"] for row in rows[0]] == [str(frame) for frame in range(10, 40)]
    assert any(float(row["jaw"]) > 0.2 for row in rows[0][10:20])
    assert {row["mouth"] for row in rows[1][11:19]} == {"Rest"}
    assert run(*loud[:-5], "--channel", "1", "-o", tmp_path / "none.csv").exit_code == 2, "that channel is silent"


def test_a_script_that_was_not_kept_to_is_mended_and_told(takes, tmp_path):
    words = (takes / "awb00.txt").read_text()
    (takes / "awb00.txt").write_text(words.replace("pears and", "pears marrows and"))
    result = run("align", takes / "awb00.flac", "--held-to", "loose", "-o", tmp_path / "x.csv")
    assert result.exit_code == 0
    assert "“marrows” not found at" in result.stderr
    assert "marrows" not in (tmp_path / "x.csv").read_text()
    (takes / "awb00.txt").write_text((DATA / "slt07.txt").read_text())
    assert (
        "hardly any words" in run("align", takes / "awb00.flac", "--held-to", "loose", "-o", tmp_path / "y.csv").stderr
    )


def test_sounds_without_a_script(takes, tmp_path):
    (takes / "awb00.txt").unlink()
    assert run("align", takes / "awb00.flac", "--held-to", "none", "-o", tmp_path / "x.csv").exit_code == 0
    rows = list(csv.DictReader((tmp_path / "x.csv").read_text().splitlines()))
    assert len([row for row in rows if row["phone"]]) > 30
    assert {row["word"] for row in rows} == {""}


def test_ones_own_lexicon_and_known_times(takes, tmp_path):
    (takes / "own.lexicon").write_text("plums  P L UW1 M Z\n")
    (takes / "known.srt").write_text("1\n00:00:00,200 --> 00:00:01,500\nPlums, pears\n")
    options = ("--lexicon", takes / "own.lexicon", "--times", takes / "known.srt")
    assert run("align", takes / "awb00.flac", *options, "-o", tmp_path / "x.csv").exit_code == 0
    rows = list(csv.DictReader((tmp_path / "x.csv").read_text().splitlines()))
    assert [row["phone"] for row in rows if row["word"] == "Plums,"] == ["P", "L", "UW", "M", "Z"]
    (takes / "own.lexicon").write_text("plums  P L QQ\n")
    assert "neither IPA nor ARPAbet" in run("align", takes / "awb00.flac", *options, "-o", tmp_path / "x.csv").stderr


def test_a_file_that_breaks_off_is_used_as_far_as_it_goes_when_asked_to(takes, tmp_path):
    whole = (takes / "awb00.flac").read_bytes()
    (takes / "awb00.flac").write_bytes(whole[: len(whole) // 2])
    loud = ("bake", takes / "awb00.flac", "--fps", "24", "--loudness-only", "-o", tmp_path / "half.csv")
    assert "breaks off" in run(*loud).stderr
    assert run(*loud, "--keep-readable").exit_code == 0


def silent(folder: Path) -> Path:
    import numpy as np
    import soundfile

    soundfile.write(folder / "silent.wav", np.zeros(16000), 16000)
    (folder / "silent.txt").write_text("hello")
    return folder / "silent.wav"


@pytest.mark.parametrize(
    ("arguments", "reason"),
    [
        (("align", "missing.wav", "-o", "x.csv"), "missing.wav: there is no such file"),
        (("align", "awb00.txt", "-o", "x.csv"), "cannot be read as sound"),
        (("align", "empty.wav", "-o", "x.csv"), "the file is empty"),
        (("align", "silent.wav", "-o", "x.csv"), "only silence"),
        (("align", "awb00.flac", "--script", "blank.txt", "-o", "x.csv"), "no spoken words"),
        (("align", "awb00.flac", "--script", "gone.txt", "-o", "x.csv"), "gone.txt: there is no such file"),
        (("align", "lonely.flac", "-o", "x.csv"), "no lonely.txt beside it"),
        (("align", "awb00.flac", "--language", "tlh", "-o", "x.csv"), "no pronunciation is known"),
        (("align", "awb00.flac", "-o", "x.doc"), "cannot be written"),
        (("align", "awb00.flac", "-o", "nowhere/x.csv"), "no folder"),
        (("bake", "awb00.flac", "--fps", "fast", "-o", "x.csv"), "not a frame rate"),
        (("bake", "awb00.flac", "--fps", "24", "--chart", "Hundred", "-o", "x.csv"), "no chart of that name"),
        (("bake", "awb00.flac", "--fps", "24", "-o", "x.xls"), "cannot be written"),
        (("bake", "silent.wav", "--fps", "24", "--loudness-only", "-o", "x.csv"), "only silence"),
        (("align", "awb00.flac", "--channel", "3", "-o", "x.csv"), "no channel 3, only 1"),
        (("align", "awb00.flac", "--channel", "middle", "-o", "x.csv"), "it is not a channel"),
        (("align", "awb00.flac", "--use", "3", "1", "-o", "x.csv"), "not a time range"),
        (("align", "awb00.flac", "--use", "90", "99", "-o", "x.csv"), "the recording lasts"),
    ],
)
def test_bad_input_is_one_sentence_and_exit_code_two(takes, monkeypatch, arguments, reason):
    monkeypatch.chdir(takes)
    (takes / "empty.wav").touch()
    (takes / "blank.txt").write_text("(nothing)")
    shutil.copy(takes / "awb00.flac", takes / "lonely.flac")
    silent(takes)
    before = sorted(takes.iterdir())
    result = run(*arguments)
    assert result.exit_code == 2
    assert reason in result.stderr
    assert "Traceback" not in result.output
    assert len(result.stderr.strip().splitlines()) == 1
    assert sorted(takes.iterdir()) == before, "something was left behind"


@pytest.mark.parametrize("command", ["align", "bake", "demo", "open"])
def test_help_has_an_example(command):
    result = run(command, "--help")
    assert result.exit_code == 0
    assert f"buccaphon {command}" in result.output.split("Example")[1]


def test_version():
    assert __version__ in run("--version").output


def test_without_a_display_the_window_says_how_to_see_it(monkeypatch):
    for name in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM"):
        monkeypatch.delenv(name, raising=False)
    for arguments in ((), ("demo",), ("market.buccaphon",)):
        result = run(*arguments)
        assert result.exit_code == 2
        assert "no display" in result.stderr
        assert "BUCCAPHON_SHOT" in result.stderr
