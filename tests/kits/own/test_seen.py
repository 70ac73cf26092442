"""How mouths look in their pictures."""

import numpy as np
import pytest

from buccaphon.kits.own.seen import cover, has_mouth, looks_of
from tests.helpers.mouth_pictures import HEIGHT, SKIN, WIDTH, blank, face, mouth

SHUT, FAR, ROUND, WIDE, HALF, TEETH, TONGUE = range(7)


def set_of(on=None):
    return [
        mouth(90, 4, on=on), mouth(90, 100, teeth=0.2, on=on), mouth(44, 50, on=on), mouth(130, 40, teeth=0.3, on=on),
        mouth(90, 50, teeth=0.2, on=on), mouth(96, 30, teeth=1.0, on=on), mouth(90, 48, teeth=0.2, tongue=True, on=on),
    ]  # fmt: skip


@pytest.mark.parametrize("on", [None, blank(SKIN, 255), face()], ids=["clear", "patch of skin", "whole face"])
def test_opening_width_and_roundness_are_measured_whatever_lies_behind(on):
    looks = looks_of(set_of(on))
    assert looks[SHUT].press == 1
    assert looks[SHUT].jaw == 0
    assert looks[FAR].jaw == max(look.jaw for look in looks) > 0.9
    assert looks[ROUND].round > 0.5 > max(looks[n].round for n in (FAR, WIDE, HALF))
    assert looks[WIDE].spread > 0.8
    assert 0.3 < looks[HALF].jaw < 0.7
    assert all(look.press == 0 for n, look in enumerate(looks) if n != SHUT)


def test_teeth_and_tongue_are_told_by_their_tones():
    looks = looks_of(set_of())
    assert looks[FAR].teeth < 0.5 < looks[TEETH].teeth
    assert looks[TONGUE].tongue == 1
    assert not any(looks[n].tongue for n in (SHUT, FAR, ROUND, WIDE, HALF, TEETH))


def test_large_drawings_are_looked_at_smaller_and_look_the_same():
    large = [np.repeat(np.repeat(each, 6, axis=0), 6, axis=1) for each in set_of()]
    for big, small in zip(looks_of(large), looks_of(set_of()), strict=True):
        assert big.distance(small) < 0.25


def test_drawings_that_are_all_alike_or_empty_are_no_error():
    assert len(looks_of([mouth(90, 40)] * 3)) == 3
    assert [look.press for look in looks_of([blank(), blank()])] == [1, 1]
    assert looks_of([]) == []


def test_a_face_has_a_mouth_where_something_is_drawn_across_it():
    mouths = set_of()
    assert has_mouth(face(with_mouth=True), mouths)
    assert not has_mouth(face(), mouths)
    assert not has_mouth(blank(), mouths), "a hole is no mouth"
    assert not has_mouth(np.zeros((9, 9, 4), np.uint8), mouths), "another canvas"


def test_what_a_picture_covers_is_a_share_of_its_canvas():
    assert cover(blank()) == 0
    assert cover(blank(SKIN, 255)) == 1
    assert cover(face()) == pytest.approx(np.pi * 110 * 86 / (WIDTH * HEIGHT), abs=0.01)
