"""The demo's line, heard once for all tests of a file."""

import pytest

from buccaphon.audio.peaks import build_peaks
from buccaphon.audio.reading import read_recording
from buccaphon.demo.line import recording_path
from buccaphon.project.derived import Derived


@pytest.fixture(scope="module")
def derived():
    recording = read_recording(recording_path())
    return Derived(recording, build_peaks(recording))
