"""Loudness as channels of its own, what of a character can be driven, and sizes beyond a mouth's own."""

from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest

from buccaphon.audio.loudness_settings import LoudnessSettings
from buccaphon.demo.line import marigold_kits
from buccaphon.formats.delivery import Delivery
from buccaphon.formats.lost import cut_off, told_of
from buccaphon.formats.out.keys import KeysCsvOptions, KeysJsonOptions, LoudnessWritten
from buccaphon.formats.registry import format_named
from buccaphon.kits.kit import Weights
from buccaphon.motion.drivable import drivable_in
from buccaphon.motion.followers import Follower, Unit, goes_in
from buccaphon.motion.record import WEIGHT, lasting, trim
from buccaphon.mouths.settings import SettingsChange
from buccaphon.project.derived import Derived
from buccaphon.project.edits.kits import PutKit
from buccaphon.project.edits.mouths import ChangeMouthSettings
from buccaphon.project.state import State, one_line
from buccaphon.project.take import Take
from buccaphon.timing import FrameRate


@pytest.fixture
def made(call, call_peaks):
    derived = Derived(call, call_peaks)
    return derived.bake


def line(**more) -> State:
    return one_line((Take(Path("call.flac"), **more),), rate=FrameRate.parse("24"))


def test_loudness_is_three_channels_that_are_trimmed_and_held_with_the_frames(made):
    bake = made(line(loudness_settings=LoudnessSettings(threshold=0.5)))
    assert bake.loudness.ids == ("loudness", "loudness:mapped", "loudness:raw")
    in_use, mapped, raw = (bake.find(ident)[1].whole for ident in bake.loudness.ids)
    assert len(in_use) == len(mapped) == len(raw) == bake.frames
    assert ((in_use == 0) | (in_use == mapped)).mean() > 0.9
    assert in_use[in_use > 0].min() < mapped.max() <= raw.max()
    assert bake.find("nothing of that name") is None
    part = trim(bake, 24, 60)
    assert np.array_equal(part.loudness.curve("loudness:raw"), raw[24:60])
    longer = lasting(part, 50)
    assert len(longer.loudness.curve("loudness")) == 50
    assert not lasting(bake, bake.frames + 9).loudness.curve("loudness")[-9:].any()


def test_keys_have_the_loudness_that_is_asked_for(made):
    delivery = Delivery("call", bake=made(line()))
    wanted = {
        LoudnessWritten.NONE: [],
        LoudnessWritten.IN_USE: ["loudness"],
        LoudnessWritten.RAW: ["loudness:raw"],
        LoudnessWritten.ALL: ["loudness", "loudness:mapped", "loudness:raw"],
    }
    for written, names in wanted.items():
        (content,) = format_named("keys-csv").files(delivery, KeysCsvOptions(loudness=written)).values()
        heads = content.decode().split("\n", 1)[0].split(",")
        assert [head for head in heads if head.startswith("loudness")] == names
    (content,) = format_named("keys-json").files(delivery, KeysJsonOptions(loudness=LoudnessWritten.ALL)).values()
    assert b'"loudness:raw"' in content


def test_what_goes_into_a_range_is_known():
    values = np.array([0.0, 0.4, 0.93], np.float32)
    ends, is_within = goes_in(Follower("lip", "loudness", (3.0, 30.0)), values)
    assert ends == pytest.approx((0.0, 0.93))
    assert not is_within
    assert goes_in(Follower("lip", "loudness", (0.9, 0.1)), values)[1]
    assert goes_in(Follower("lip", "loudness"), values[:0]) == ((0.0, 0.0), True)


def test_pieces_shapes_and_nodes_can_be_driven_each_in_its_unit():
    _drawn, cut, head = marigold_kits()
    pieces = {each.name: each for each in drivable_in(cut)}
    assert {"lips", "leaf", "lips x", "lips y", "lips turn", "leaf width", "leaf height", "leaf size"} <= pieces.keys()
    assert pieces["lips"].unit is (Unit.PIXELS if cut.look.move.degrees == 0 else Unit.DEGREES)
    assert (pieces["leaf turn"].unit, pieces["leaf width"].gives[0]) == (Unit.DEGREES, 100.0)
    of_head = {each.name: each for each in drivable_in(head, ("jaw", "skull"))}
    assert {*head.own, "jaw turn", "skull y"} <= of_head.keys()
    assert all(of_head[name].unit is Unit.SHARE for name in head.own)
    assert drivable_in(marigold_kits()[0]) == ()


def test_a_mouth_that_is_a_shape_of_its_own_can_be_more_than_it_and_hosts_that_cut_it_off_say_so(made, call_score):
    _drawn, _cut, head = marigold_kits()
    state = PutKit(replace(head, weights=Weights.IN_FULL)).apply(line(score=call_score))
    wide = ChangeMouthSettings(SettingsChange(opening=1.5)).apply(state)
    usual, more = made(state).channels, made(wide).channels
    opened = f"{WEIGHT}Open"
    assert usual.curve(opened).max() == 1
    assert more.curve(opened).max() == pytest.approx(1.5)
    assert more.curve(f"{WEIGHT}Press").max() == 1, "lips that touch are not more than shut"
    assert more.find(opened)[0].high == 1.5
    delivery = Delivery("call", bake=made(wide), kit=head)
    assert "Open" in cut_off("vrma", delivery)
    assert cut_off("glb", delivery) == cut_off("vrma", Delivery("call", bake=made(state))) == ()
    assert any("cuts off" in line for line in told_of("vrma", delivery))
