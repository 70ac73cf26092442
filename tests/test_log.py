import logging
import subprocess
import sys

import pytest

from buccaphon import log
from buccaphon.app.window.faults import report


@pytest.fixture
def logged():
    ours = logging.getLogger("buccaphon")
    before = list(ours.handlers)
    log.RING.lines.clear()
    log.start()
    yield ours
    for handler in ours.handlers[:]:
        if handler not in before:
            ours.removeHandler(handler)
            handler.close()


@pytest.mark.parametrize(
    ("text", "kept"),
    [
        ("/home/ada/secret show/call one.wav: gone", "call one"),
        ("the word “plums” has no vowel", "plums"),
        ("~/takes/pear.flac is not there", "pear"),
        ("/media/disk/x.buccaphon", "disk"),
    ],
)
def test_no_words_of_scripts_and_no_paths_are_kept(text, kept):
    said = log.without_private_parts(text)
    assert kept not in said
    assert said != text


def test_paths_of_the_program_itself_and_plain_words_stay():
    trace = f'File "{log.__file__}", line 3, in start, at 24/1 and 3 of 4'
    assert log.without_private_parts(trace) == 'File "buccaphon/log.py", line 3, in start, at 24/1 and 3 of 4'


def test_only_the_last_records_are_kept(logged):
    for number in range(log.KEPT + 20):
        logging.getLogger("buccaphon.project").info("record %d", number)
    assert len(log.RING.lines) == log.KEPT
    assert log.last_lines().endswith(f"record {log.KEPT + 19}")


def test_warnings_go_to_a_rotated_file(logged, tmp_path):
    log.start_file(tmp_path / "state")
    logging.getLogger("buccaphon.kits").info("fine")
    logging.getLogger("buccaphon.kits").warning("no OpenGL: %s", "“libEGL” in /usr/lib/x.so")
    text = (tmp_path / "state" / "buccaphon.log").read_text("utf-8")
    assert "WARNING buccaphon.kits: no OpenGL: “…” in <path>.so" in text
    assert "fine" not in text


def test_a_folder_that_cannot_be_written_to_is_left_alone(logged, tmp_path):
    (tmp_path / "file").write_text("x")
    log.start_file(tmp_path / "file" / "state")
    assert "no log file" in log.last_lines()


def test_a_report_says_the_versions_the_fault_and_what_was_done(logged):
    logging.getLogger("buccaphon.app").info("something was done")
    text = report("Traceback: /home/ada/x.py")
    assert text.startswith("Buccaphon ")
    assert "pyqt6 " in text.lower()
    assert "ada" not in text
    assert text.endswith("something was done")


def test_the_command_line_reports_from_a_level_on():
    def run(*arguments: str) -> subprocess.CompletedProcess[str]:
        return subprocess.run(
            [sys.executable, "-m", "buccaphon", *arguments], capture_output=True, text=True, check=False, timeout=60
        )

    assert "--log" in run("--help").stdout
    assert run("--log", "loud", "formats").returncode == 2
    assert "Python 3" in run("--version", "-v").stdout
