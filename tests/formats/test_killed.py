"""Whoever is killed while he writes leaves what was there, or nothing."""

import os
import signal
import subprocess
import sys
import time

import pytest

from buccaphon.demo.line import recording_path
from buccaphon.formats.registry import format_named

WRITE = """
import sys
from buccaphon import api
line = api.bake(sys.argv[1], 24, loudness_only=True)
print("ready", flush=True)
while True:
    api.deliver(line, [sys.argv[2]], sys.argv[3])
    print("done", flush=True)
"""


@pytest.mark.parametrize(("ident", "waits"), [("mp4", 0.6), ("review", 0.5), ("keys-csv", 0.02), ("glb", 0.02)])
def test_a_kill_in_the_middle_leaves_the_old_file(ident, waits, tmp_path):
    name = f"stall_call{format_named(ident).ending}"
    (tmp_path / name).write_bytes(b"old")
    command = [sys.executable, "-c", WRITE, str(recording_path()), ident, str(tmp_path)]
    with subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True) as process:
        assert process.stdout.readline() == "ready\n"
        time.sleep(waits)
        os.kill(process.pid, signal.SIGKILL)
        process.wait()
        written = process.stdout.read().count("done")
    content = (tmp_path / name).read_bytes()
    if written == 0 and content == b"old":
        return
    again = tmp_path / "again"
    again.mkdir()
    once = WRITE.split("print", maxsplit=1)[0] + "api.deliver(line, [sys.argv[2]], sys.argv[3])"
    subprocess.run([sys.executable, "-c", once, str(recording_path()), ident, str(again)], check=True)
    whole = (again / name).read_bytes()
    assert len(content) == len(whole), "it is whole, and not half of it"
