import numpy as np
import pytest
import soundfile

from buccaphon.audio.reading import read_recording
from buccaphon.audio.recording import Recording
from buccaphon.errors import RecordingError


@pytest.mark.parametrize("suffix", [".wav", ".flac", ".aiff", ".ogg", ".mp3"])
def test_reads_what_a_recordist_sends(tone, suffix):
    recording = read_recording(tone(f"take{suffix}", seconds=1.0, rate=44100, channels=2))
    assert recording.rate == 44100
    assert recording.channels == 2
    assert recording.duration == pytest.approx(1.0, abs=0.06)
    assert recording.peak == pytest.approx(0.5, abs=0.06)


def test_mono_is_the_mean_of_the_channels():
    left_only = np.stack([np.full(100, 0.5), np.zeros(100)], axis=1).astype(np.float32)
    assert Recording(left_only, 100, "x").mono == pytest.approx(np.full(100, 0.25))


@pytest.mark.parametrize(
    ("name", "content", "reason"),
    [
        ("missing.wav", None, "no such file"),
        ("empty.wav", b"", "empty"),
        ("text.wav", b"this is not sound at all" * 10, "cannot be read as sound"),
        ("cut.flac", b"fLaC\x00\x00\x00\x22" + b"\x00" * 10, "cannot be read as sound"),
    ],
)
def test_what_is_not_sound_is_refused_in_one_sentence(tmp_path, name, content, reason):
    path = tmp_path / name
    if content is not None:
        path.write_bytes(content)
    with pytest.raises(RecordingError, match=reason) as caught:
        read_recording(path)
    assert str(path) in str(caught.value)


def test_a_truncated_file_is_either_read_or_refused(tone, tmp_path):
    whole = tone("whole.wav").read_bytes()
    for share in (0.001, 0.01, 0.5):
        path = tmp_path / "part.wav"
        path.write_bytes(whole[: int(len(whole) * share)])
        try:
            assert read_recording(path).duration > 0
        except RecordingError as problem:
            assert "part.wav" in str(problem)


def test_samples_that_are_no_numbers_become_silence(tmp_path):
    path = tmp_path / "nan.wav"
    soundfile.write(path, np.array([0.1, np.nan, np.inf, -np.inf] * 1000, np.float32), 16000, subtype="FLOAT")
    samples = read_recording(path).samples
    assert np.isfinite(samples).all()
    assert np.abs(samples).max() <= 1.0
