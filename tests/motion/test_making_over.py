"""After any edit all channels are what making them at once gives: through followers, clean-up and curves by hand."""

import random
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest

from buccaphon.audio.loudness import peaks_of
from buccaphon.audio.loudness_settings import Band, LoudnessSettings
from buccaphon.errors import ChannelError
from buccaphon.motion.followers import LOUDNESS, Follower, Shake, Switch, Unit
from buccaphon.motion.hand import CurvePoint, HandCurve, Interpolation
from buccaphon.motion.mixes import read_mix
from buccaphon.motion.steps import (
    KINDS,
    CloseLoop,
    CloseSilences,
    EveryFrames,
    FewerKeys,
    LimitSpeed,
    Smooth,
    TrimEnds,
    WholeSteps,
)
from buccaphon.mouths.settings import SettingsChange
from buccaphon.project.derived import Derived, part_of
from buccaphon.project.edits import Edit
from buccaphon.project.edits.channels import DropFollower, PutFollower, PutMix
from buccaphon.project.edits.motion import ChangeLoudness, SetCurve, SetSteps
from buccaphon.project.edits.mouths import ChangeMouthSettings, Clear, LetChoose, Paint, Unpaint
from buccaphon.project.edits.timing import MarkNotSpeech, MoveBoundary, UnmarkNotSpeech
from buccaphon.project.state import State, one_line
from buccaphon.project.take import Take
from buccaphon.score.edits import Boundary
from buccaphon.timing import FrameRate, Span

CHANNELS = ("jaw", "aperture", "round", "weight:Open", "cheek", "smile", "nod", "lamp", "there")
STEPS = (CloseSilences(), TrimEnds(), Smooth(), LimitSpeed(), EveryFrames(), FewerKeys(), WholeSteps(), CloseLoop())


def any_follower(hand: random.Random) -> Follower:
    name = hand.choice(["cheek", "nod", "lamp", "there"])
    driver = hand.choice([LOUDNESS, "jaw", "aperture", "smile", "weight:Open", "gone", "cheek", "nod"])
    return Follower(
        name, driver, (0.1, 0.7), (0.0, hand.choice([12.0, -5.0, 1.0])), hand.choice(list(Unit)), hand.random() < 0.7,
        hand.choice([0.0, 0.08, -0.05]), hand.choice([0.0, 0.04, 0.2]), hand.choice([None, 0.1]), hand.choice([None, 3.0]),
        hand.choice([(), ((0.0, 0.0), (0.4, 0.9), (1.0, 1.0))]), hand.choice([None, None, Switch(0.5, 0.2)]),
        hand.choice([None, None, Shake(0.5, 7.0, 3)]),
    )  # fmt: skip


def any_curve(hand: random.Random, before: tuple[HandCurve, ...]) -> HandCurve:
    channel = hand.choice(CHANNELS)
    known = next((curve for curve in before if curve.channel == channel), None)
    if known is not None and hand.random() < 0.7:  # one point of it
        number = hand.randrange(len(known.points))
        moved = replace(known.points[number], value=hand.random())
        return replace(known, points=(*known.points[:number], moved, *known.points[number + 1 :]))
    moments = sorted({round(hand.uniform(0.0, 11.0), 3) for _ in range(hand.randrange(4))})
    points = tuple(
        CurvePoint(
            at,
            hand.random(),
            hand.choice(list(Interpolation)),
            hand.choice([None, None, 1.0]),
            hand.choice([None, -2.0]),
        )
        for at in moments
    )
    return HandCurve(channel, points, hand.random() < 0.3, hand.choice([0.0, 0.08, 0.4]))


def any_edit(hand: random.Random, state: State) -> Edit:
    words = state.score.words
    at = hand.uniform(0.2, 10.0)
    span = Span(at, at + hand.uniform(0.05, 1.0))

    def move() -> Edit:
        number = hand.randrange(1, len(words))
        return MoveBoundary(Boundary(number, 0), words[number].start + hand.uniform(-0.05, 0.05))

    def steps() -> Edit:
        chosen = hand.sample(STEPS, hand.randrange(5))
        return SetSteps(
            tuple(type(s)(channels=hand.choice([(), ("jaw", "cheek")]), on=hand.random() < 0.8) for s in chosen)
        )

    makers = (
        move, move, move, steps,
        lambda: PutFollower(any_follower(hand), hand.choice(["", "cheek", "nod", "lamp", "there"])),
        lambda: DropFollower(hand.choice(["cheek", "nod", "lamp"])),
        lambda: SetCurve(any_curve(hand, state.take.curves)),
        lambda: SetCurve(any_curve(hand, state.take.curves)),
        lambda: PutMix(read_mix(hand.choice(["smile = spread - 0.3 jaw", "smile = jaw"]))),
        lambda: Paint(span, hand.choice(["Open", "Rest", "Round"])), lambda: Unpaint(span),
        lambda: Clear(span, hand.random() < 0.5), lambda: LetChoose(Span(0.0, hand.uniform(1.0, 12.0))),
        lambda: MarkNotSpeech(span), lambda: UnmarkNotSpeech(span),
        lambda: ChangeMouthSettings(SettingsChange(opening=hand.uniform(0.3, 1.5)), hand.choice([None, span])),
        lambda: ChangeLoudness(
            LoudnessSettings(response=hand.choice([1.0, 2.0]), attack=0.02, loudness_only=hand.random() < 0.2)
        ),
        lambda: ChangeLoudness(LoudnessSettings()),
    )  # fmt: skip
    return hand.choice(makers)()


@pytest.mark.parametrize("seed", range(4))
@pytest.mark.parametrize("rate", ["24", "60"])
def test_after_every_edit_all_is_as_made_at_once(call, call_peaks, call_score, seed, rate):
    hand = random.Random(f"{seed} {rate}")
    derived = Derived(call, call_peaks)
    take = Take(Path("call.flac"), score=call_score, aligned_script="x")
    state = one_line((take,), script="x", rate=FrameRate.parse(rate))
    done = 0
    for _ in range(60):
        try:
            edit = any_edit(hand, state)
            state = edit.apply(state)
        except ChannelError:
            continue
        done += 1
        bake, at_once = derived.bake(state), Derived(call, call_peaks).bake(state)
        assert bake.exposures == at_once.exposures
        assert bake.channels.of == at_once.channels.of
        unlike = np.argwhere(bake.channels.values != at_once.channels.values)
        assert not len(unlike), (edit, bake.channels.of[unlike[0][1]].id, unlike[:5], unlike[-5:])
        low, high = (np.array([getattr(c, end) for c in bake.channels.of]) for end in ("low", "high"))
        if not state.take.curves:  # a hand may draw beyond, and what follows that goes along
            assert (bake.channels.values >= low - 1e-3).all()
            assert (bake.channels.values <= high + 1e-3).all()
    assert done > 30


def test_every_kind_of_step_is_tried_above():
    assert {type(step) for step in STEPS} == set(KINDS)


def test_what_is_steered_by_a_part_of_the_sound_follows_it_as_soon_as_that_is_known(call, call_peaks):
    state = one_line((Take(Path("call.flac"), loudness_settings=LoudnessSettings(band=Band.UPPER)),))
    derived = Derived(call, call_peaks)
    before = derived.bake(state).jaw.copy()
    assert np.array_equal(before, Derived(call, call_peaks).bake(one_line((Take(Path("call.flac")),))).jaw)
    part = part_of(LoudnessSettings(band=Band.UPPER))
    derived.take_peaks(part, peaks_of(call, part[1]))
    after = derived.bake(state).jaw
    assert np.abs(after - before).max() > 0.2
    assert np.corrcoef(after, before)[0, 1] < 0.9
