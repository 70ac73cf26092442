"""What the first alignment needs is loaded before it is asked for."""

import json
import subprocess
import sys

from tests.conftest import DATA

ALIGNING = """
import json, sys
from pathlib import Path
from buccaphon.alignment.aligner import align
from buccaphon.alignment.readiness import get_ready
from buccaphon.alignment.request import AlignmentRequest
from buccaphon.audio.reading import read_recording
from buccaphon.speech.script import script_words
line = Path(sys.argv[1])
request = AlignmentRequest(read_recording(line.with_suffix(".flac")), script_words(line.with_suffix(".txt").read_text()))
get_ready()
before = set(sys.modules)
align(request)
print(json.dumps(sorted(set(sys.modules) - before)))
"""


def test_an_alignment_loads_nothing_more():
    command = [sys.executable, "-c", ALIGNING, str(min(DATA.glob("*.flac")))]
    loaded = json.loads(subprocess.run(command, capture_output=True, text=True, check=True).stdout)
    assert [name for name in loaded if name.startswith(("buccaphon", "scipy"))] == []
