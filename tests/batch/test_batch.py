"""Many lines: what a manifest may say, what is done again and what not, what fails, the report, workers that are killed."""

import csv
import os
import shutil
import signal
import threading
import time
from dataclasses import replace
from pathlib import Path

import psutil
import pytest
from click.testing import CliRunner

from buccaphon.batch.ledger import NAME, Ledger
from buccaphon.batch.line import Job, Outcome, do_line, key_of
from buccaphon.batch.manifest import Row, read_manifest
from buccaphon.batch.report import as_csv, as_page, in_order, pages_of
from buccaphon.batch.running import Workers, run
from buccaphon.cli import main
from buccaphon.errors import ListError, TargetError
from buccaphon.formats.listing import Entry, ExportList
from buccaphon.project.file.store import open_project, save_project
from tests.conftest import DATA

KEYS = ExportList((Entry("keys-csv"),))


@pytest.fixture
def lines(tmp_path: Path) -> Path:
    """A manifest of three lines, the last of which names no recording that is there."""
    for path in (*DATA.glob("awb00.*"), *DATA.glob("slt07.*")):
        shutil.copy(path, tmp_path)
    manifest = tmp_path / "lines.csv"
    manifest.write_text(
        "recording,script,language,kit,chart,rate,hold,name\n"
        "awb00.flac,,,,,24,2,first\n"
        f'slt07.flac,"{(DATA / "slt07.txt").read_text().strip()}",en-us,,Five,23.976,,\n'
        "gone.flac,,,,,25,,\n"
    )
    return manifest


def call(*args: object):
    return CliRunner().invoke(main, [str(arg) for arg in args])


def test_a_manifest_is_understood(lines):
    first, second, third = read_manifest(lines)
    assert (first.title, first.hold, first.chart, first.recording) == ("first", 2, "Ten", lines.parent / "awb00.flac")
    assert (second.number, second.title, second.rate, second.script[:5]) == (
        3,
        "slt07",
        "23.976",
        (DATA / "slt07.txt").read_text()[:5],
    )
    assert third.recording.name == "gone.flac"


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("recording\nx.wav\n", "no column fps"),
        ("recording,fps,colour\nx.wav,24,red\n", "no column colour"),
        ("recording,rate\n", "no rows"),
        ("recording,rate\n,24\n", "no recording"),
        ("recording,fps\nx.wav,fast\n", "row 2"),
        ("recording,rate,chart\nx.wav,24,Nine\n", "no chart"),
        ("recording,rate,language\nx.wav,24,klingonese\n", "row 2"),
        ("recording,rate,hold\nx.wav,24,half\n", "hold"),
        ("recording,rate\na/x.wav,24\nb/x.wav,24\n", "both called x"),
    ],
)
def test_a_manifest_that_cannot_be_is_refused_before_anything_is_done(tmp_path, text, said):
    (tmp_path / "m.csv").write_text(text)
    result = call("batch", tmp_path / "m.csv", "-o", tmp_path / "out")
    assert result.exit_code == 2
    assert said in result.stderr
    assert not (tmp_path / "out").exists()


def test_a_batch_does_what_can_be_done_reports_and_goes_on_from_there(lines, tmp_path):
    out = tmp_path / "out"
    result = call("batch", lines, "--as", "keys-csv,srt", "-o", out)
    assert result.exit_code == 2, "one failed"
    assert "2 of 3 lines" in result.stderr
    assert "gone.flac" in result.stderr
    assert {path.name for path in out.iterdir()} == {
        "first.keys.csv", "first.srt", "first.buccaphon", "slt07.keys.csv", "slt07.srt", "slt07.buccaphon", NAME,
        "report.csv", "report.html",
    }  # fmt: skip
    rows = list(csv.DictReader((out / "report.csv").read_text("utf-8-sig").splitlines()))
    assert rows[0]["name"] == "gone"
    assert rows[0]["state"] == "failed"
    assert int(rows[1]["words"]) > 3
    page = (out / "report.html").read_text()
    assert page.index("gone.flac") < page.index("first.keys.csv")
    (lines.parent / "gone.flac").write_bytes((DATA / "awb00.flac").read_bytes())
    (lines.parent / "gone.txt").write_bytes((DATA / "awb00.txt").read_bytes())
    stamps = {path.name: path.stat().st_mtime_ns for path in out.glob("*.srt")}
    again = call("batch", lines, "--as", "keys-csv,srt", "-o", out)
    assert again.exit_code == 0, again.output
    assert {path.name: path.stat().st_mtime_ns for path in out.glob("*.srt") if path.name in stamps} == stamps


def test_a_lines_scene_file_opens_with_everything_and_delivers_the_same_bytes(lines, tmp_path):
    out = tmp_path / "out"
    call("batch", lines, "--as", "keys-csv,sheet-csv", "-o", out)
    scene = open_project(out / "first.buccaphon")
    assert [word.text for word in scene.score.words][:2] == (DATA / "awb00.txt").read_text().split()[:2]
    assert (scene.mouth_settings.hold, scene.rate.label, scene.needs_aligning) == (2, "24", False)
    assert [entry.format for entry in scene.exports.entries] == ["keys-csv", "sheet-csv"]
    done = call("deliver", out / "first.buccaphon", "-o", tmp_path / "again")
    assert done.exit_code == 0, done.output
    for name in ("first.keys.csv", "first.sheet.csv"):
        assert (tmp_path / "again" / name).read_bytes() == (out / name).read_bytes()
    call("batch", lines, "--as", "keys-csv", "--no-scenes", "-o", tmp_path / "plain")
    assert not list((tmp_path / "plain").glob("*.buccaphon"))


def test_a_scene_that_a_hand_has_changed_is_never_written_over(lines, tmp_path):
    out = tmp_path / "out"
    call("batch", lines, "--as", "keys-csv", "-o", out)
    first, second = out / "first.buccaphon", out / "slt07.buccaphon"
    save_project(replace(open_project(first), start_frame=77), first)
    by_hand, plain = first.read_bytes(), second.read_bytes()
    text = lines.read_text().replace(",24,2,", ",25,2,").replace(",23.976,", ",30,")
    lines.write_text(text)
    call("batch", lines, "--as", "keys-csv", "-o", out)
    assert first.read_bytes() == by_hand
    assert second.read_bytes() != plain, "what nobody has touched is made anew"
    assert "first.buccaphon was changed by hand" in (out / "report.html").read_text()
    call("batch", lines, "--as", "keys-csv,srt", "-o", out)
    assert first.read_bytes() == by_hand


def test_a_line_is_known_by_content_and_settings(lines, tmp_path):
    row = read_manifest(lines)[0]
    job = Job(row, KEYS, tmp_path)
    key = key_of(job)
    os.utime(row.recording, (0, 0))
    assert key_of(job) == key, "when it was changed says nothing"
    for other in (
        replace(job, row=replace(row, rate="25")),
        replace(job, row=replace(row, chart="Five")),
        replace(job, row=replace(row, script="Other words")),
        replace(job, exports=ExportList((Entry("keys-csv", options=(("guarded", "yes"),)),))),
    ):
        assert key_of(other) != key
    row.recording.with_suffix(".txt").write_text("Some other words")
    assert key_of(job) != key
    row.recording.unlink()
    assert key_of(job) == ""


def test_the_ledger_survives_a_line_that_was_cut_off(tmp_path):
    ledger = Ledger(tmp_path)
    for key in "ab":
        (tmp_path / f"{key}.csv").touch()
        ledger.put(Outcome(key, key, key, files=(f"{key}.csv",)))
    content = (tmp_path / NAME).read_bytes()
    (tmp_path / NAME).write_bytes(content[:-9])
    torn = Ledger(tmp_path)
    assert torn.done("a")
    assert not torn.done("b")
    torn.put(Outcome("b", "b", "b", files=("b.csv",)))
    assert Ledger(tmp_path).done("b")
    (tmp_path / "a.csv").unlink()
    assert not Ledger(tmp_path).done("a"), "its file is gone"
    ledger.put(Outcome("c", "c", "c", failed="broken"))
    assert not Ledger(tmp_path).done("c"), "what failed is tried again"


def test_an_error_of_ours_is_that_lines_alone(lines, tmp_path, monkeypatch):
    def broken(*_args, **_named):
        raise ZeroDivisionError("of all things")

    monkeypatch.setattr("buccaphon.batch.scene.align", broken)
    outcome = do_line(Job(read_manifest(lines)[0], KEYS, tmp_path))
    assert "ZeroDivisionError" in outcome.failed


def test_the_report_puts_first_what_needs_an_eye_and_runs_no_names():
    fine = Outcome("1", "=fine", "fine.wav", words=3, seconds=2)
    marked = Outcome("2", "marked", "m.wav", issues=("1.20 s: <b>shut</b>",), doubts=2)
    failed = Outcome("3", "failed", "f.wav", failed="no sound")
    assert [each.title for each in in_order([fine, marked, failed])] == ["failed", "marked", "=fine"]
    assert "'=fine" in as_csv([fine]).decode()
    page = as_page([fine, marked, failed], "night <market>").decode()
    assert "&lt;b&gt;shut" in page
    assert "night &lt;market&gt;" in page
    assert "3 lines" in page


def test_a_report_of_thousands_has_pages_that_lead_to_each_other():
    outcomes = [
        Outcome(str(n), f"line {n}", "x.wav", seconds=3, issues=("1.00 s: shut",) * (n % 3)) for n in range(2500)
    ]
    pages = pages_of(outcomes, "season")
    assert list(pages) == ["report.html", "report-2.html", "report-3.html"]
    counts = [page.count(b"<tr><td>") for page in pages.values()]
    assert counts == [1000, 1000, 500]
    middle = pages["report-2.html"].decode()
    assert 'href="report.html"' in middle
    assert 'href="report-3.html"' in middle
    assert "page 2 of 3" in middle
    assert b"report-2" not in pages_of(outcomes[:3], "short")["report.html"]


def test_a_line_whose_files_are_as_they_were_is_known_without_reading_them(lines, tmp_path, monkeypatch):
    out = tmp_path / "out"
    jobs = [Job(row, KEYS, out) for row in read_manifest(lines)[:2]]
    out.mkdir()
    first = run(jobs, Ledger(out), Workers(), lambda *_: None)
    read = []
    monkeypatch.setattr("buccaphon.batch.line.digest_of_any", lambda path: read.append(path) or "")
    assert run(jobs, Ledger(out), Workers(), lambda *_: None) == first
    assert read == []
    monkeypatch.undo()
    os.utime(jobs[0].row.recording, (0, 0))
    assert run(jobs, Ledger(out), Workers(), lambda *_: None) == first, "older, but with the same content"


def test_no_scheduler_is_said(lines, tmp_path):
    jobs = [Job(row, KEYS, tmp_path) for row in read_manifest(lines)]
    with pytest.raises(TargetError, match="no scheduler"):
        run(jobs[:1], Ledger(tmp_path), Workers(address="nonsense://x"), lambda *_: None)
    with pytest.raises(ListError):
        read_manifest(tmp_path / "none.csv")


@pytest.mark.filterwarnings("ignore::ResourceWarning")
def test_a_worker_that_is_killed_loses_nothing(tmp_path):
    """Two workers on this machine; one is killed while it works."""
    text = (DATA / "awb00.txt").read_text()
    jobs = [Job(Row(n + 2, DATA / "awb00.flac", text, rate="24", name=f"line {n}"), KEYS, tmp_path) for n in range(8)]
    killed = []

    def told(done: int, _of: int, _outcome: Outcome) -> None:
        if done == 2 and not killed:
            workers = [p for p in psutil.Process().children(recursive=True) if "spawn_main" in " ".join(p.cmdline())]
            killed.append(workers[-1].pid)
            os.kill(workers[-1].pid, signal.SIGKILL)

    outcomes = run(jobs, Ledger(tmp_path), Workers(2), told)
    assert killed
    assert [outcome.failed for outcome in outcomes] == [""] * 8
    assert len(list(tmp_path.glob("*.keys.csv"))) == 8
    assert threading.active_count() < 60
    time.sleep(0)


@pytest.mark.parametrize(
    ("names", "pattern"), [(("x y", "x_y"), "{title}"), (("a", "A"), "{title}"), (("a", "b"), "{fps}")], ids=str
)
def test_rows_that_would_be_written_to_one_file_are_refused_before_anything_is_done(lines, tmp_path, names, pattern):
    rows = "".join(f"awb00.flac,24,{name}\n" for name in names)
    lines.write_text(f"recording,rate,name\n{rows}")
    listed = tmp_path / "list.toml"
    listed.write_text(f'[[export]]\nas = "keys-csv"\nname = "{pattern}"\n')
    done = call("batch", lines, "-o", tmp_path / "out", "--list", listed)
    assert done.exit_code == 2
    assert "would both be written to" in done.output
    assert not list((tmp_path / "out").glob("*.csv"))
