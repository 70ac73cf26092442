"""Channels of one's own, mixed from the pose: as they are written, made, kept and made over."""

from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from buccaphon.errors import ChannelError, ProjectError
from buccaphon.motion.mixes import MOST_MIXES, Mix, read_mix
from buccaphon.motion.pose_channels import POSE_CHANNELS
from buccaphon.project.derived import Derived
from buccaphon.project.edits.channels import DropMix, PutMix
from buccaphon.project.edits.timing import MoveBoundary
from buccaphon.project.file.store import open_project, save_project
from buccaphon.project.state import State, one_line
from buccaphon.project.take import Take
from buccaphon.score.edits import Boundary

FACTORS = st.floats(-1000, 1000, allow_nan=False)


@pytest.mark.parametrize(
    ("text", "terms", "plus"),
    [
        ("smile = spread - 0.3 jaw", (("spread", 1.0), ("jaw", -0.3)), 0.0),
        ("form=round-spread", (("round", 1.0), ("spread", -1.0)), 0.0),
        ("Lid drop = -.5*aperture + 1", (("aperture", -0.5),), 1.0),
        ("twice = jaw + jaw", (("jaw", 2.0),), 0.0),
    ],
)
def test_a_mix_is_read_as_it_is_written(text, terms, plus):
    mix = read_mix(text)
    assert (mix.terms, mix.plus) == (terms, plus)
    assert read_mix(mix.says) == mix


@given(st.dictionaries(st.sampled_from(POSE_CHANNELS), FACTORS, min_size=1), FACTORS)
def test_what_a_mix_says_is_read_again_as_it_was(factors, plus):
    mix = Mix("mine", tuple(factors.items()), plus)
    assert read_mix(mix.says) == mix
    assert -1 <= mix.low <= mix.high <= 1


@pytest.mark.parametrize(
    ("text", "reason"),
    [
        ("", "needs a name"), ("spread", "needs a name"), ("= jaw", "needs a name"), ("smile =", "it uses no channel"),
        ("smile = 3", "it uses no channel"), ("smile = grin", "there is no grin"), ("smile = spread jaw", "not understood"),
        ("smile = spread - - jaw", "not understood"), ("smile = 1e9 jaw", "there is no e"), ("jaw = spread", "already"),
        ("smile = " + "9" * 400 + " jaw", "too large"), ("weight:Open = jaw", "already"), ("word = jaw", "already"),
        ("a,b = jaw", "not a valid"), ("x" * 50 + " = jaw", "not a valid"), ("smile = spread; jaw", "not understood"),
        ("smile = spread = jaw", "not understood"), ("smile = ٣ jaw", "not understood"),
    ],
)  # fmt: skip
def test_what_is_no_mix_is_told(text, reason):
    with pytest.raises(ChannelError, match=reason):
        read_mix(text)


def test_a_mix_follows_the_pose_is_made_over_like_it_and_kept_in_the_project(call, call_peaks, call_score, tmp_path):
    state = one_line(takes=(Take(tmp_path / "call.flac", score=call_score),))
    derived = Derived(call, call_peaks)
    mouths = derived.bake(state).exposures
    for text in ("smile = spread - 0.3 jaw", "form = round - spread"):
        state = PutMix(read_mix(text)).apply(state)
    bake = derived.bake(state)
    assert bake.exposures is mouths, "no mouth is chosen anew"
    curve = bake.channels.curve
    assert np.allclose(curve("smile"), np.clip(curve("spread") - 0.3 * curve("jaw"), -1, 1), atol=1e-6)
    lid = derived.bake(PutMix(read_mix("lid = 1 - aperture")).apply(state)).channels
    assert lid.of[-1].rest == lid.curve("lid")[0] == 1.0, "nothing is said on the first frame"
    assert curve("form").min() < -0.2
    assert curve("form").max() > 0.2
    moved = MoveBoundary(Boundary(3, 0), call_score.words[3].start + 0.02).apply(state)
    made_over = derived.bake(moved).channels.values
    assert np.array_equal(made_over, Derived(call, call_peaks).bake(moved).channels.values)
    path = tmp_path / "mine.buccaphon"
    save_project(state, path)
    assert open_project(path) == state
    assert DropMix("form").apply(state).mixes == state.mixes[:1]


def test_a_mix_of_a_name_that_is_there_takes_its_place():
    state = PutMix(read_mix("a = jaw")).apply(PutMix(read_mix("b = jaw")).apply(State()))
    assert [mix.says for mix in PutMix(read_mix("b = 2 jaw")).apply(state).mixes] == ["b = 2 jaw", "a = jaw"]
    many = state.with_role(mixes=tuple(read_mix(f"m{n} = jaw") for n in range(MOST_MIXES)))
    with pytest.raises(ChannelError, match="already"):
        PutMix(read_mix("one more = jaw")).apply(many)


@pytest.mark.parametrize("entry", ['["a = jaw", "a = round"]', '["a = grin"]', "[3]"])
def test_a_project_with_mixes_that_cannot_be_is_refused(tmp_path, entry):
    path = tmp_path / "mine.buccaphon"
    save_project(one_line(takes=(Take(Path("call.flac")),)), path)
    path.write_text(path.read_text().replace('"mixes": []', f'"mixes": {entry}'))
    with pytest.raises(ProjectError):
        open_project(path)
