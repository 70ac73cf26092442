"""Open Sound Control: the same bytes as another encoder makes, and back; nothing that goes over the net in two pieces."""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pythonosc.osc_bundle import OscBundle
from pythonosc.osc_bundle_builder import IMMEDIATELY, OscBundleBuilder
from pythonosc.osc_message_builder import OscMessageBuilder

from buccaphon.formats.osc import FITS, Bundle, Live, Message, bundles, decoded, encoded, part_of_address

MESSAGES = (
    Message("/b/frame", (101, 0.5)),
    Message("/b/mouth", ("Préss", 2)),
    Message("/b/stop"),
    Message("/b/jaw", (0.25,)),
)


def by_the_library(messages, seconds):
    builder = OscBundleBuilder(seconds or IMMEDIATELY)
    for message in messages:
        each = OscMessageBuilder(message.address)
        for argument in message.arguments:
            each.add_arg(argument, {int: "i", float: "f", str: "s"}[type(argument)])
        builder.add_content(each.build())
    return builder.build().dgram


@pytest.mark.parametrize("seconds", [0.0, 1_700_000_000.25])
def test_a_bundle_is_the_same_as_another_encoder_makes(seconds):
    (data,) = bundles(seconds, MESSAGES)
    assert data == by_the_library(MESSAGES, seconds)
    assert decoded(data) == Bundle(seconds, MESSAGES)
    read = OscBundle(data)
    assert [(m.address, tuple(m.params)) for m in read] == [(m.address, m.arguments) for m in MESSAGES]


def test_many_weights_go_in_several_bundles_of_one_piece_each():
    messages = [Message(f"/buccaphon/weight/shape_number_{n}", (n / 200,)) for n in range(200)]
    parts = bundles(1_700_000_000.5, messages)
    assert len(parts) > 1
    assert max(map(len, parts)) <= FITS
    assert [m for part in parts for m in decoded(part).messages] == [
        Message(m.address, (pytest.approx(m.arguments[0], abs=1e-7),)) for m in messages
    ]
    assert {decoded(part).seconds for part in parts} == {1_700_000_000.5}
    assert bundles(0.0, []) == []


@given(st.binary(max_size=200))
def test_what_is_none_is_refused(data):
    try:
        decoded(data)
    except ValueError:
        return
    assert b"/" in data


def test_names_become_parts_of_addresses():
    assert [part_of_address(name) for name in ("Open wide", "m/Ö#1", "", "Press")] == [
        "open_wide",
        "m___1",
        "_",
        "press",
    ]
    with pytest.raises(ValueError, match="cannot be"):
        encoded(Message("/b/jaw", (float("nan"),)))


def test_a_frame_says_its_number_mouth_and_values():
    live = Live("/b", 101, 24.0, [("Rest", 0), ("Open", 3)], ["/b/jaw", "/b/weight/open"], [[0.0, 0.0], [0.5, 1.0]])
    assert live.frame(1, 1 / 24) == [
        Message("/b/frame", (102, 1 / 24)), Message("/b/mouth", ("Open", 3)),
        Message("/b/jaw", (0.5,)), Message("/b/weight/open", (1.0,)),
    ]  # fmt: skip
