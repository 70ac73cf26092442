from pathlib import Path

import av
import numpy as np
import pytest
import soundfile
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from buccaphon.audio.film import Film, has_picture
from buccaphon.audio.reading import SUFFIXES, Damage, read_recording
from buccaphon.audio.recording import Listen, MappedSamples, Recording
from buccaphon.errors import Cancelled, DamagedRecordingError, RecordingError
from buccaphon.timing import Span


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


def film(path: Path, seconds: float = 2.0, rate: int = 48000) -> Path:
    """A film whose picture is as grey as its frame's number says, with a tone in its second half."""
    t = np.arange(round(seconds * rate)) / rate
    wave = (0.5 * np.sin(2 * np.pi * 330 * t) * (t >= seconds / 2)).astype(np.float32)
    codecs = {".webm": ("libvpx-vp9", "libopus")}.get(path.suffix, ("libx264", "aac"))
    with av.open(str(path), "w") as out:
        picture = None
        if path.suffix != ".m4a":
            picture = out.add_stream(codecs[0], rate=25)
            picture.width, picture.height, picture.pix_fmt = 64, 48, "yuv420p"
        sound = out.add_stream(codecs[1], rate=rate, layout="stereo")
        for number in range(round(seconds * 25) if picture else 0):
            grey = np.full((48, 64, 3), 20 + 4 * number, np.uint8)
            out.mux(picture.encode(av.VideoFrame.from_ndarray(grey, "rgb24")))
        resampler = av.AudioResampler(
            format=sound.format.name, layout="stereo", rate=rate, frame_size=sound.frame_size or 960
        )
        frame = av.AudioFrame.from_ndarray(np.stack([wave, wave]), "fltp", "stereo")
        frame.sample_rate = rate
        for part in [*resampler.resample(frame), *resampler.resample(None)]:
            out.mux(sound.encode(part))
        out.mux(sound.encode(None))
        if picture:
            out.mux(picture.encode(None))
    return path


@pytest.mark.parametrize("suffix", [".m4a", ".mp4", ".mov", ".mkv", ".webm"])
def test_reads_m4a_and_the_sound_of_films_in_step(tmp_path, suffix):
    recording = read_recording(film(tmp_path / f"take{suffix}"))
    assert recording.channels == 2
    assert recording.duration == pytest.approx(2.0, abs=0.08)
    loud = np.flatnonzero(np.abs(recording.mono) > 0.2)
    assert loud[0] / recording.rate == pytest.approx(1.0, abs=0.03)


def test_a_film_shows_the_picture_of_the_moment(tmp_path):
    path = film(tmp_path / "take.mp4")
    shown = Film(path, 64)
    for seconds in (0.0, 0.5, 0.52, 1.9, 0.1, 1.0):
        number = int(seconds * 25 + 1e-6)
        picture = shown.picture_at(seconds)
        assert picture.shape == (48, 64, 3)
        assert picture.mean() == pytest.approx(20 + 4 * number, abs=3)
    shown.close()
    assert has_picture(path)
    assert not has_picture(film(tmp_path / "sound.m4a"))


@pytest.mark.parametrize("subtype", ["PCM_U8", "PCM_16", "PCM_24", "PCM_32", "FLOAT", "DOUBLE"])
def test_reads_every_width_of_wav(tmp_path, subtype):
    wave = 0.5 * np.sin(np.arange(8000) / 20)[:, None]
    soundfile.write(tmp_path / "x.wav", np.repeat(wave, 3, axis=1), 8000, subtype=subtype)
    recording = read_recording(tmp_path / "x.wav")
    assert recording.samples == pytest.approx(np.repeat(wave, 3, axis=1), abs=0.01)


def test_a_recording_that_breaks_off_says_how_much_is_left_and_offers_it(tone, tmp_path):
    whole = tone("whole.wav", seconds=4.0).read_bytes()
    path = tmp_path / "part.wav"
    path.write_bytes(whole[: 44 + (len(whole) - 44) // 4])
    with pytest.raises(DamagedRecordingError, match=r"breaks off after 1\.0 s; 3\.0 s are missing") as caught:
        read_recording(path)
    assert caught.value.readable == pytest.approx(1.0, abs=0.01)
    kept = read_recording(path, Damage.KEEP_READABLE)
    assert kept.duration == pytest.approx(1.0, abs=0.01)
    assert kept.missing == pytest.approx(3.0, abs=0.01)


def test_a_flac_that_breaks_off_in_the_middle_is_damaged_too(tone, tmp_path):
    rng = np.random.default_rng(0)
    soundfile.write(tmp_path / "whole.flac", 0.3 * rng.standard_normal(64000).clip(-3, 3), 16000)
    data = (tmp_path / "whole.flac").read_bytes()
    (tmp_path / "part.flac").write_bytes(data[: len(data) // 2])
    with pytest.raises(DamagedRecordingError):
        read_recording(tmp_path / "part.flac")
    assert 1.0 < read_recording(tmp_path / "part.flac", Damage.KEEP_READABLE).duration < 2.1


def test_one_channel_of_several_can_be_listened_to():
    samples = np.stack([np.full(100, 0.1), np.full(100, -0.5), np.full(100, 0.2)], axis=1).astype(np.float32)
    recording = Recording(samples, 100, "x")
    assert recording.listened_to(Listen.MIX) is recording
    assert recording.listened_to(2).mono == pytest.approx(np.full(100, 0.2))
    assert recording.listened_to(Listen.LOUDEST).mono == pytest.approx(np.full(100, -0.5))
    assert recording.listened_to(7).channels == 1, "fewer channels than there were: the last one"


def test_reading_reports_and_can_be_cancelled(tone):
    path = tone("long.wav", seconds=40.0, rate=48000)
    shares: list[float] = []
    read_recording(path, progress=lambda share, what: shares.append(share) or True)
    assert len(shares) > 5
    assert shares == sorted(shares)
    with pytest.raises(Cancelled):
        read_recording(path, progress=lambda share, what: share < 0.3)


@pytest.mark.parametrize(("suffix", "kept"), [("wav", MappedSamples), ("flac", np.memmap)])
def test_long_recordings_are_kept_in_a_file_and_sound_the_same(tone, monkeypatch, suffix, kept):
    path = tone(f"long.{suffix}", seconds=3.0, channels=2)
    plain = read_recording(path)
    monkeypatch.setattr("buccaphon.audio.reading._LONG", 1000)
    mapped = read_recording(path)
    assert isinstance(mapped.samples, kept)
    assert (np.asarray(mapped.samples) == plain.samples).all()
    right = mapped.part(Span(1.0, 2.0)).listened_to(1)
    assert (np.asarray(right.samples) == plain.samples[16000:32000, 1:]).all()
    assert (right.mono == plain.samples[16000:32000, 1]).all()
    assert mapped.peak == plain.peak
    assert mapped.part(Span(1.0, 2.0)).duration == pytest.approx(1.0)


def test_a_file_that_shrinks_while_it_is_open_goes_on_as_silence(tone, monkeypatch):
    path = tone("long.wav", seconds=3.0)
    monkeypatch.setattr("buccaphon.audio.reading._LONG", 1000)
    recording = read_recording(path)
    with path.open("r+b") as file:
        file.truncate(32044)
    heard = np.asarray(recording.samples[10000:30000])
    assert heard[:6000].any()
    assert not heard[6000:].any()


garbage = st.one_of(
    st.binary(min_size=1, max_size=400),
    st.tuples(
        st.sampled_from([b"RIFF", b"fLaC", b"OggS", b"ID3", b"FORM", b"\x00\x00\x00 ftyp"]), st.binary(max_size=400)
    ).map(b"".join),
)


@settings(deadline=None, max_examples=60, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(garbage, st.sampled_from(SUFFIXES))
def test_no_garbage_is_anything_but_one_sentence(tmp_path, data, suffix):
    path = tmp_path / f"x{suffix}"
    path.write_bytes(data)
    try:
        read_recording(path)
    except RecordingError as problem:
        assert str(path) in str(problem)
        assert "\n" not in str(problem)


@settings(deadline=None, max_examples=60, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.integers(4, 43), st.binary(min_size=1, max_size=4))
def test_no_absurd_wav_header_is_anything_but_one_sentence(tone, tmp_path, at, patch):
    data = bytearray(tone("whole.wav", seconds=0.2).read_bytes())
    data[at : at + len(patch)] = patch
    path = tmp_path / "absurd.wav"
    path.write_bytes(bytes(data))
    try:
        recording = read_recording(path, Damage.KEEP_READABLE)
        assert np.isfinite(recording.samples).all()
    except RecordingError as problem:
        assert "\n" not in str(problem)
