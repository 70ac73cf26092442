import numpy as np
import pytest
import soundfile

from buccaphon.app.sound.inputs import choose_microphone
from buccaphon.app.sound.microphone import RATE, SimulatedMicrophone
from buccaphon.app.sound.recorder import COUNT_IN, Recorder

VOICE = (0.25 * np.sin(np.arange(3 * RATE) / 30))[:, None].astype(np.float32)


@pytest.fixture
def recorder(qapp, clock):
    return Recorder(SimulatedMicrophone(VOICE, clock))


def test_it_counts_in_and_keeps_exactly_what_was_heard(recorder, clock, tmp_path, qtbot):
    counts, levels = [], []
    recorder.counted.connect(counts.append)
    recorder.heard.connect(lambda level, seconds: levels.append((level, seconds)))
    recorder.begin(tmp_path / "takes")
    for _ in range(COUNT_IN):
        recorder.beat()
    assert counts == [3, 2, 1, 0]
    for _ in range(10):
        clock.now += 0.1
        recorder.tick()
    assert levels[-1] == (pytest.approx(0.25, abs=0.01), pytest.approx(1.0))
    with qtbot.waitSignal(recorder.finished) as finished:
        recorder.finish()
    samples, rate = soundfile.read(finished.args[0], always_2d=True)
    assert rate == RATE
    assert samples == pytest.approx(VOICE[: len(samples)], abs=1e-4)
    assert len(samples) == RATE
    assert not recorder.busy


def test_the_limit_ends_it(recorder, clock, tmp_path, qtbot, monkeypatch):
    monkeypatch.setattr("buccaphon.app.sound.recorder.LIMIT", 2.0)
    recorder.begin(tmp_path)
    for _ in range(COUNT_IN):
        recorder.beat()
    clock.now += 5
    with qtbot.waitSignal(recorder.finished) as finished:
        recorder.tick()
    assert soundfile.info(finished.args[0]).duration == 2.0


def test_stopping_during_the_count_in_keeps_nothing(recorder, tmp_path, qtbot):
    recorder.begin(tmp_path)
    with qtbot.waitSignal(recorder.finished) as finished:
        recorder.finish()
    assert finished.args == [None]
    assert list(tmp_path.iterdir()) == []


def test_where_there_is_no_microphone_one_is_simulated():
    assert isinstance(choose_microphone(), SimulatedMicrophone)
