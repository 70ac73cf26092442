from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from buccaphon.errors import RateError
from buccaphon.motion.keys import reduce_keys
from buccaphon.motion.plan import BakeSettings, Plan, frame_loudness
from buccaphon.motion.pose_channels import POSE_CHANNELS
from buccaphon.motion.record import frame_middles
from buccaphon.motion.remaking import bake, remake
from buccaphon.motion.weights import mouth_weights
from buccaphon.mouths.chart_file import find_chart
from buccaphon.mouths.exposures import Exposure
from buccaphon.mouths.laying import Painted
from buccaphon.mouths.settings import MouthSettings, SettingsTrack
from buccaphon.score.edits import Boundary, Inside, boundary_time, move_boundary
from buccaphon.score.records import Score
from buccaphon.timing import FrameRate, Span

TEN = find_chart("Ten")
FILM = FrameRate.parse("24")


@pytest.fixture(scope="module")
def baked(call_peaks, call_score):
    return bake(Plan(call_score, TEN, frame_loudness(call_peaks, FILM), BakeSettings(FILM)))


def test_all_of_the_pose_is_nought_in_silence(call_peaks, call_score):
    """Of so many words every third is said, so that there are pauses between them."""
    fine, sparse = FrameRate.parse("60"), Score(call_score.words[::3], call_score.duration)
    made = bake(Plan(sparse, TEN, frame_loudness(call_peaks, fine), BakeSettings(fine)))
    pose = made.channels.columns(POSE_CHANNELS)
    assert pose.min() == 0
    assert pose.max() <= 1
    assert made.jaw.max() > 0.5
    middles = frame_middles(0, made.frames, fine)
    silent = [all(t < word.start - 0.15 or t > word.end + 0.15 for word in sparse.words) for t in middles]
    assert np.count_nonzero(silent) > 30
    assert (pose[silent] == 0).all()
    assert (made.weights[silent, 0] == 1).all()


@pytest.mark.parametrize("rate", ["12", "24", "23.976", "30", "60", "120"])
def test_every_closure_and_bite_is_seen_at_any_rate(rate, call_score, call_peaks):
    fps = FrameRate.parse(rate)
    made = bake(Plan(call_score, TEN, frame_loudness(call_peaks, fps), BakeSettings(fps)))
    aperture, press, bite = (made.channels.curve(name) for name in ("aperture", "press", "bite"))
    shown = frame_middles(0, made.frames, fps)
    reach = 1.01 / float(fps.value)
    for phone in call_score.phones():
        near = (shown > phone.start - reach) & (shown < phone.end + reach)
        if phone.symbol in ("p", "b", "m"):
            assert ((aperture == 0) & (press == 1))[near].any(), phone
        elif phone.symbol in ("f", "v"):
            assert ((bite == 1) & (aperture > 0))[near].any(), phone
    assert not ((press == 1) & (bite > 0)).any(), "lips that are shut do not bite"


def test_a_painted_mouth_is_what_the_pose_goes_to(call_score, call_peaks):
    painted = Painted(Span(2.0, 2.5), "Round", TEN.mouths[TEN.index("Round")].pose)
    loud = frame_loudness(call_peaks, FILM)
    plain, made = (bake(Plan(call_score, TEN, loud, BakeSettings(FILM, painted=each))) for each in ((), (painted,)))
    pose = TEN.mouths[TEN.index("Round")].pose
    first, end = 48, 60
    assert made.channels.curve("round")[first:end] == pytest.approx(pose.round)
    assert made.jaw[first:end] == pytest.approx(pose.jaw)
    far = slice(0, first - 2)
    assert np.array_equal(made.channels.columns(POSE_CHANNELS)[far], plain.channels.columns(POSE_CHANNELS)[far])
    before, at = plain.channels.curve("round")[first - 1], pose.round
    eased = made.channels.curve("round")[first - 1]
    assert min(before, at) <= eased <= max(before, at)


def test_open_vowels_open_more_than_close_ones(call_score, baked):
    middles = frame_middles(0, FILM.covering(call_score.duration), FILM)

    def mean_opening(sounds: set[str]) -> float:
        spans = [(p.start, p.end) for p in call_score.phones() if p.symbol in sounds]
        inside = [any(a <= t < b for a, b in spans) for t in middles]
        return float(baked.jaw[inside].mean())

    assert mean_opening({"ɑ", "æ", "aɪ"}) > 1.5 * mean_opening({"u", "s", "z"})


@pytest.mark.parametrize("chart", ["Ten", "Flap", "Visemes"])
def test_weights_sum_to_one_and_contacts_are_whole(chart, call_score, call_peaks):
    mouths = find_chart(chart)
    made = bake(Plan(call_score, mouths, frame_loudness(call_peaks, FILM), BakeSettings(FILM)))
    assert made.weights.sum(1) == pytest.approx(1.0, abs=1e-5)
    assert made.weights.min() >= 0
    shut = made.channels.curve("press") == 1
    assert shut.any()
    if chart == "Ten":
        assert made.weights[shut, mouths.index("Press")].min() > 0.8
        assert (made.weights[shut, mouths.index("Press")] == 1).mean() > 0.5


def test_weights_make_the_pose_that_the_channels_say(baked):
    poses = np.array([mouth.pose.parts for mouth in TEN.mouths])
    jaw, _, rounding, press, bite, *_ = (baked.weights @ poses).T
    gap = jaw * (1 - 0.4 * rounding) * (1 - press) * (1 - 0.8 * bite)
    assert np.corrcoef(gap, baked.channels.curve("aperture"))[0, 1] > 0.9
    assert np.corrcoef(rounding, baked.channels.curve("round"))[0, 1] > 0.9


def test_weights_blend_over_a_change():
    weights = mouth_weights([Exposure("Rest", 0, 4), Exposure("Open", 4, 8)], TEN, 0, 8)
    opening = weights[:, TEN.index("Open")]
    assert opening == pytest.approx([0, 0, 0, 0.2, 0.8, 1, 1, 1])


def test_changing_the_rate_moves_nothing_in_time(call, call_peaks, call_score):
    for text in ("24", "25", "60"):
        rate = FrameRate.parse(text)
        made = bake(Plan(call_score, TEN, frame_loudness(call_peaks, rate), BakeSettings(rate)))
        first = next(e for e in made.exposures if e.mouth != "Rest")
        assert rate.seconds(first.start) == pytest.approx(
            call_score.words[0].start - 1 / 24, abs=0.5 / float(rate.value) + 0.03
        )
        assert made.frames == rate.covering(call.duration)


def test_words_and_phones_are_those_heard_in_the_middle_of_the_frame(baked, call_score):
    frame = FILM.containing(call_score.words[1].phones[1].start + 0.03)
    assert baked.words[frame] == call_score.words[1].text
    assert baked.words[0] == baked.phones[0] == ""


def test_loudness_alone_needs_no_words(call_peaks):
    loud = frame_loudness(call_peaks, FILM)
    made = bake(
        Plan(None, find_chart("Flap"), loud, BakeSettings(FILM, mouth_settings=SettingsTrack(MouthSettings(hold=2))))
    )
    assert (made.jaw[loud == 0] == 0).all()
    assert {exposure.mouth for exposure in made.exposures} == {"Shut", "Open"}
    assert all(exposure.start % 2 == 0 for exposure in made.exposures)


@pytest.mark.parametrize("hold", [0, 13])
def test_absurd_holds_are_refused(hold):
    with pytest.raises(RateError, match="held for 1 to 12"):
        MouthSettings(hold=hold)


@settings(deadline=None)
@given(st.lists(st.floats(0, 1, width=32), min_size=1, max_size=200), st.sampled_from([0.0, 0.005, 0.1]))
def test_reduced_keys_stay_within_the_stated_error(values, tolerance):
    curve = np.array(values, np.float32)
    keys = reduce_keys(curve, tolerance)
    rebuilt = np.interp(np.arange(len(curve)), [k.frame for k in keys], [k.value for k in keys])
    assert np.abs(rebuilt - curve).max() <= tolerance + 2e-6
    assert keys[0].frame == 0
    assert keys[-1].frame == len(curve) - 1


def test_a_straight_line_needs_two_keys():
    assert len(reduce_keys(np.linspace(0, 1, 50, dtype=np.float32), 0.001)) == 2
    assert len(reduce_keys(np.linspace(0, 1, 700, dtype=np.float32), 0.001)) == 2
    assert reduce_keys(np.zeros(0, np.float32), 0.1) == ()


def test_what_stands_still_has_keys_where_it_begins_and_ends_to_do_so():
    curve = np.zeros(1000, np.float32)
    curve[300:310] = np.linspace(0, 1, 10)
    curve[310:] = 1
    assert [key.frame for key in reduce_keys(curve, 0.001)] == [0, 300, 309, 999]


MOVES = st.tuples(st.integers(0, 33), st.floats(-0.5, 0.5), st.sampled_from(Inside))
PAINTS = st.builds(
    lambda start, length, mouth: Painted(Span(start, start + length), mouth),
    st.floats(0, 9),
    st.floats(0.02, 2.0),
    st.sampled_from(["Round", "Press", "Open"]),
)


@settings(max_examples=40, deadline=None)
@given(st.lists(st.one_of(MOVES, PAINTS), min_size=1, max_size=8), st.integers(1, 3), st.sampled_from([1, 3, 4]))
def test_what_is_baked_again_in_part_is_what_is_baked_anew(call_score, call_peaks, edits, hold, every):
    """every: of so many words one is said, so that words stand alone between long pauses."""
    rate = FrameRate.parse("24")
    loud, chart = frame_loudness(call_peaks, rate), find_chart("Ten")
    score, setting = (
        Score(call_score.words[::every], call_score.duration),
        BakeSettings(rate, mouth_settings=SettingsTrack(MouthSettings(hold=hold))),
    )
    kept = remake(None, Plan(score, chart, loud, setting))
    for edit in edits:
        if isinstance(edit, Painted):
            setting = replace(setting, painted=(*setting.painted, edit))
        else:
            number, by, inside = edit
            boundary = Boundary(number % len(score.words), 0)
            score = move_boundary(score, boundary, boundary_time(score, boundary) + by, inside)
        kept = remake(kept, Plan(score, chart, loud, setting))
    anew, changed = bake(Plan(score, chart, loud, setting)), kept.bake
    assert (changed.exposures, changed.phones, changed.words) == (anew.exposures, anew.phones, anew.words)
    assert (changed.channels.values == anew.channels.values).all()
    assert anew.frames == len(anew.phones) == rate.covering(score.duration)
    assert [e.end for e in anew.exposures[:-1]] == [e.start for e in anew.exposures[1:]]
