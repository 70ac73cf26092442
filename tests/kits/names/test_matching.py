"""The host's names find their mouths, in lists of many kinds and however they are dressed up."""

import json
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from buccaphon.kits.names.evidence import Listing, read_names
from buccaphon.kits.names.matching import Matches, match_chart, match_pose
from buccaphon.kits.names.reasons import in_words
from buccaphon.mouths.chart_file import shipped_charts
from buccaphon.mouths.pose import PARTS

CASES = json.loads(Path(__file__).parents[2].joinpath("data", "host_names.json").read_text("utf-8"))
TEN = shipped_charts()["Ten"]


def wrong_in(matches: Matches, case, dressed=lambda name: name):
    """What is not as the case says: for each target its first name; where there is no right one, nothing that is sure."""
    to_pose = case["to"] == "parts"
    first = {}
    for match in matches.found:
        first.setdefault(match.target, match)
    wrong = []
    for target in PARTS if to_pose else shipped_charts()[case["to"]].names:
        found, right = first.get(target), [dressed(name) for name in case["right"].get(target, ())]
        if right:
            good = found is not None and found.name in right
        else:
            good = found is None or (found.score < 0.7 if to_pose else not found.sure)
        if not good:
            wrong.append((target, found, right))
    taken = {match.name for match in matches.found if match.sure}
    return wrong + [name for name in case["no_mouths"] if dressed(name) in taken]


def match(case, names):
    return match_pose(names) if case["to"] == "parts" else match_chart(names, shipped_charts()[case["to"]])


@pytest.mark.parametrize("case", CASES, ids=lambda case: case["id"])
def test_every_place_is_right(case):
    assert wrong_in(match(case, case["names"]), case) == []


DRESSES = {
    "prefix": lambda name: f"pumpkin_{name}",
    "node": lambda name: f"blendShape1.{name}",
    "spaces": lambda name: name.replace("_", " "),
    "hyphens": lambda name: name.replace("_", "-"),
}


@pytest.mark.parametrize("dress", DRESSES)
def test_prefixes_and_separators_change_nothing(dress):
    wrong = {}
    for case in CASES:
        names = [DRESSES[dress](name) for name in reversed(case["names"])]
        if len(set(names)) == len(names):
            found = wrong_in(match(case, names), case, DRESSES[dress])
            if found:
                wrong[case["id"]] = found
    assert wrong == {}


@pytest.mark.parametrize(
    "names", [list("ABCDEFGH"), list("abcd"), ["talk_0", "talk_1", "talk_2"], [f"{n}" for n in range(1, 8)]]
)
def test_a_plain_alphabet_and_plain_numbers_are_never_guessed(names):
    matches = match_chart(names, TEN)
    assert matches.found == ()
    assert matches.unused == tuple(names)
    assert matches.listing in (Listing.ALPHABET, Listing.NUMBERS)


def test_as_many_numbers_as_mouths_go_by_order_with_a_question():
    names = [f"m{n}" for n in (1, 10, 2, 3, 4, 5, 6, 7, 8, 9)]
    found = match_chart(names, TEN).found
    assert [match.name for match in found] == [f"m{n}" for n in range(1, 11)]
    assert not any(match.sure for match in found)


def test_what_the_reason_says():
    why = {match.target: in_words(match.why) for match in match_chart(["Basis", "PBM", "tongue", "Open"], TEN).found}
    assert why["Press"] == "“PBM” stands for p b m"
    assert why["Open"] == "the same word, “Open”"
    assert "close to the pose of Tip" in why["Tip"]


def test_left_and_right_both_drive_the_mouth():
    found = match_chart(["Smile_L", "Smile_R", "Open", "Rest"], TEN).found
    assert [match.name for match in found if match.target == "Spread"] == ["Smile_L", "Smile_R"]


def test_a_lone_l_without_its_right_is_the_sound():
    assert read_names(["Tongue_L", "Open"]).names[0].sounds == ["l"]
    assert read_names(["Tongue_L", "Tongue_R"]).names[0].side == "left"


def test_an_empty_list_finds_nothing():
    assert match_chart([], TEN).found == ()
    assert match_pose([]).found == ()


@settings(deadline=None)
@given(st.lists(st.text(max_size=30), max_size=12, unique=True))
def test_any_names_at_all_give_matches_that_hold_together(names):
    matches = match_chart(names, TEN)
    assert {match.name for match in matches.found} | set(matches.unused) == set(names)
    assert all(0 <= match.score <= 1 and match.target in TEN.names for match in matches.found)
    match_pose(names)
