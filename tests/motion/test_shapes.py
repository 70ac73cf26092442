"""Weights for one shape a mouth: each is there in full, and goes over to the next."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from buccaphon.motion.keys import reduce_all
from buccaphon.motion.plan import BakeSettings, Plan, frame_loudness
from buccaphon.motion.remaking import bake
from buccaphon.motion.shapes import frames_over, weights_in_full, where_in_full
from buccaphon.mouths.chart_file import find_chart
from buccaphon.mouths.exposures import Exposure
from buccaphon.mouths.laying import Painted
from buccaphon.mouths.settings import MouthSettings, SettingsTrack
from buccaphon.timing import FrameRate, Span

TEN = find_chart("Ten")
FILM = FrameRate.parse("24")


def whole(exposures, over, *, by_hand=(), chart=TEN, size=1.0, part=None):
    end = exposures[-1].end
    sizes = lambda mouths, _middles: np.full(len(mouths), size)  # noqa: E731
    return weights_in_full(exposures, chart, over, set(by_hand), sizes, part or (0, end))


def of(found, name):
    return found[:, TEN.names.index(name)].tolist()


def test_the_way_to_a_mouth_lies_within_its_own_time():
    found = whole([Exposure("Rest", 0, 4), Exposure("Open", 4, 10), Exposure("Rest", 10, 16)], 3)
    assert of(found, "Open") == pytest.approx([0, 0, 0, 0, 1 / 3, 2 / 3, 1, 1, 1, 1, 2 / 3, 1 / 3, 0, 0, 0, 0])
    assert found.sum(axis=1) == pytest.approx(np.ones(16))


def test_lips_that_touch_and_what_a_hand_put_there_are_there_on_their_first_frame():
    line = [Exposure("Open", 0, 8), Exposure("Press", 8, 10), Exposure("Spread", 10, 18), Exposure("Round", 18, 26)]
    found = whole(line, 3)
    assert of(found, "Press")[6:12] == pytest.approx([1 / 3, 2 / 3, 1, 1, 2 / 3, 1 / 3])
    assert of(found, "Round")[18] < 1
    assert of(whole(line, 3, by_hand={18}), "Round")[18] == 1


def test_at_once_and_smaller_mouths_with_rest_for_what_they_lack():
    line = [Exposure("Rest", 0, 3), Exposure("Open", 3, 6)]
    assert of(whole(line, 1), "Open") == [0, 0, 0, 1, 1, 1]
    small = whole(line, 1, size=0.6)
    assert small[4, TEN.names.index("Open")] == pytest.approx(0.6)
    assert small[4, TEN.names.index("Rest")] == pytest.approx(0.4)


def test_without_any_mouth_there_is_rest():
    found = weights_in_full([], TEN, 3, (), lambda mouths, _middles: np.ones(len(mouths)), (0, 5))
    assert of(found, "Rest") == [1] * 5


lines = st.lists(st.tuples(st.sampled_from(TEN.names), st.integers(1, 12)), min_size=1, max_size=30)


def exposures_of(line):
    found, at = [], 0
    for name, length in line:
        if not found or found[-1].mouth != name:
            found.append(Exposure(name, at, at + length))
            at += length
    return found


@settings(deadline=None, max_examples=200)
@given(lines, st.integers(1, 9), st.data())
def test_each_mouth_is_there_in_full_within_its_exposure_and_a_part_is_as_in_the_whole(line, over, data):
    exposures = exposures_of(line)
    found, numbers = whole(exposures, over), {name: n for n, name in enumerate(TEN.names)}
    assert found.sum(axis=1) == pytest.approx(np.ones(len(found)), abs=1e-5)
    assert found.min() >= 0
    for each in exposures:
        own = found[each.start : each.end, numbers[each.mouth]]
        assert own.max() == pytest.approx(1)
        if TEN.touching[numbers[each.mouth]]:
            assert own.min() == pytest.approx(1)
    first = data.draw(st.integers(0, len(found) - 1))
    end = data.draw(st.integers(first + 1, len(found)))
    assert np.allclose(whole(exposures, over, part=(first, end)), found[first:end], atol=1e-6)
    starts, stops = (np.array([getattr(each, end) for each in exposures]) for end in ("start", "end"))
    begins, ends = where_in_full(starts, stops, TEN.contacts[[numbers[e.mouth] for e in exposures]], over)
    assert all(each.start <= a < b <= each.end for each, a, b in zip(exposures, begins, ends, strict=True))


@pytest.fixture(scope="module")
def made(call_score, call_peaks):
    def make(over, **more):
        return bake(Plan(call_score, TEN, frame_loudness(call_peaks, FILM), BakeSettings(FILM, over=over, **more)))

    return make


def keys_a_second(found):
    weights = [found.weights[:, n] for n in range(1, len(TEN.names))]
    return sum(map(len, reduce_all(weights, [0.01] * len(weights)))) / (found.frames / 24)


def peaks(found, size=1.0):
    return [float(found.weights[e.start : e.end, TEN.names.index(e.mouth)].max()) / size for e in found.exposures]


def test_on_a_line_every_mouth_is_seen_whole_with_fewer_keys_than_blended(made):
    blended, full = made(None), made(0.125)
    assert [e.mouth for e in blended.exposures] == [e.mouth for e in full.exposures]
    assert np.mean(np.array(peaks(full)) >= 0.9) == 1
    assert np.mean(np.array(peaks(blended)) >= 0.9) < 0.6
    assert keys_a_second(full) < keys_a_second(blended) / 2
    assert np.array_equal(full.jaw, blended.jaw), "the pose is as it was"


def test_opening_makes_mouths_smaller_but_not_those_that_touch(made):
    half = made(0.125, mouth_settings=SettingsTrack(MouthSettings(opening=0.5)))
    for exposure, peak in zip(half.exposures, peaks(half), strict=True):
        whole_one = exposure.mouth == "Rest" or TEN.touching[TEN.names.index(exposure.mouth)]
        assert peak == pytest.approx(1.0 if whole_one else 0.5, abs=0.02) or exposure.mouth == "Rest"


def test_what_is_painted_is_there_on_its_first_frame(made):
    painted = Painted(Span(31 / 24, 40 / 24), "Round")
    found = made(0.125, painted=(painted,))
    assert found.weights[31, TEN.names.index("Round")] == 1


def test_seconds_become_frames_one_at_least():
    assert [frames_over(0.125, FrameRate.parse(rate)) for rate in ("24", "60", "8")] == [3, 8, 1]
    assert frames_over(0.0, FILM) == 1
