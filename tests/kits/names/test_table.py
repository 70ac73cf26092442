"""The names table and the lists that it is made of."""

import pytest

from buccaphon.errors import KitError
from buccaphon.kits.names.lists import MOST_NAMES, parse_list, read_list
from buccaphon.kits.names.table import Case, NamesTable, give, matched, renamed_target
from buccaphon.mouths.chart_file import shipped_charts

TEN = shipped_charts()["Ten"]
HOST = ("mth_neutral", "mth_mbp", "mth_ah", "mth_oh", "hat")


def test_a_target_without_a_name_goes_by_its_own():
    table = NamesTable(before="mouth_", case=Case.LOWER)
    assert table.names_of("Press") == ("mouth_press",)


def test_a_list_is_matched_and_what_is_unused_is_told():
    table = matched(NamesTable(), HOST, TEN)
    assert table.names_of("Press") == ("mth_mbp",)
    assert table.unused == ("hat",)


def test_what_was_given_by_hand_outlives_another_list():
    table = give(matched(NamesTable(), HOST, TEN), "Bite", ["hat"])
    again = matched(table, (*HOST, "mth_fv"), TEN)
    assert again.names_of("Bite") == ("hat",)
    assert matched(again, HOST[:-1], TEN).names_of("Bite") != ("hat",)


def test_a_mouth_may_have_several_names_and_two_may_share_one():
    table = give(give(NamesTable(), "Open", ["jaw", "lips"]), "Ajar", ["jaw"])
    assert table.names_of("Open") == ("jaw", "lips")
    assert table.names_of("Ajar") == ("jaw",)
    assert give(table, "Open", []).names_of("Open") == ("Open",)


def test_numbers_are_in_the_hosts_order_from_0_or_1():
    table = matched(NamesTable(counts_from=1), HOST, TEN)
    assert table.number_of("Open", TEN.names) == 3
    assert NamesTable().number_of("Press", TEN.names) == 1


def test_a_renamed_mouth_keeps_its_names():
    table = renamed_target(give(NamesTable(), "Open", ["ah"]), "Open", "Wide open")
    assert table.names_of("Wide open") == ("ah",)


@pytest.mark.parametrize(
    ("text", "names"),
    [
        ("rest\nah\n\n  oh \n", ("rest", "ah", "oh")),
        ("rest, ah; oh", ("rest", "ah", "oh")),
        ('"rest",\n"ah",\n', ("rest", "ah")),
        ("- rest\n- ah\nrest", ("rest", "ah")),
    ],
)
def test_lists_as_people_paste_them(text, names):
    assert parse_list(text, "pasted") == names


def test_a_table_is_read_by_its_heading(tmp_path):
    (tmp_path / "a.csv").write_text("number,name\n0,rest\n1,ah\n")
    assert read_list(tmp_path / "a.csv") == ("rest", "ah")


@pytest.mark.parametrize("text", ["", " \n\n", "\n".join(map(str, range(MOST_NAMES + 1)))])
def test_no_names_or_far_too_many_are_refused_with_a_remedy(text):
    with pytest.raises(KitError) as told:
        parse_list(text, "pasted")
    assert told.value.remedy
