"""A chart of one's own, step by step, is whole in the end and comes back from its file."""

from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from buccaphon.errors import ChartError
from buccaphon.mouths.chart import ChartDocument, Mouth
from buccaphon.mouths.chart_file import chart_as_text, find_chart, parse_chart, shipped_charts
from buccaphon.mouths.chart_making import (
    add_mouth,
    chart_from_names,
    copy_of,
    empty_chart,
    give_sounds,
    moved,
    parse_answers,
    parse_sounds,
    place_the_rest,
    take_sounds,
    with_mouth,
    without_mouth,
)
from buccaphon.mouths.pose import Pose
from buccaphon.mouths.rules import RULES
from buccaphon.speech.phones import SOUNDS

TEN = find_chart("Ten")


def test_seven_mouths_from_nothing_by_rules_alone():
    chart = empty_chart("Lantern")
    for name, rule in [
        ("Shut", "lips together"), ("Nip", "lip to teeth"), ("O", "rounded vowels"), ("Gape", "open vowels"),
        ("Grin", "spread vowels"), ("Slack", "all vowels"),
    ]:  # fmt: skip
        chart = add_mouth(chart)
        chart = with_mouth(chart, len(chart.mouths) - 1, name=name, rules=(rule,))
    assert chart.missing, "consonants of the tongue are still to be placed"
    whole = place_the_rest(chart, TEN).whole()
    assert [whole.mouths[whole.answer(sound)].name for sound in ("p", "v", "u", "ɑ", "i", "ə", "y", "ɱ", "a")] == [
        "Shut", "Nip", "O", "Gape", "Grin", "Slack", "O", "Nip", "Gape",
    ]  # fmt: skip


def test_a_sound_that_is_given_to_one_mouth_is_taken_from_the_others():
    chart = give_sounds(TEN, 4, ("p", "b"))
    assert chart.whole().answer("p") == 4
    assert "p" not in chart.mouths[1].sounds
    assert take_sounds(chart, ("p",)).missing == ("p",)


def test_the_sound_itself_goes_before_a_rule():
    chart = with_mouth(TEN, 9, rules=("all vowels",))
    assert chart.whole().answer("ɑ") == TEN.answer("ɑ")
    assert chart.whole().answer("ɶ") == 9


@pytest.mark.parametrize(
    ("typed", "sounds"),
    [("p b m", ("p", "b", "m")), ("P, B M", ("p", "b", "m")), ("AH1 AH0", ("ʌ", "ə")), ("AH", ("ʌ", "ə")), ("", ())],
)
def test_sounds_are_typed_in_ipa_or_arpabet(typed, sounds):
    assert parse_sounds(typed) == sounds


def test_what_is_no_sound_is_refused_in_words():
    with pytest.raises(ChartError, match="not a sound in IPA or ARPAbet"):
        parse_sounds("p 7 m")
    assert parse_answers("Rounded vowels, w") == (("w",), ("rounded vowels",))


def test_a_chart_from_names_knows_those_it_has_heard_of():
    chart = chart_from_names("Mine", "rest\nPress\n\nmouth_07, press", TEN)
    assert [mouth.name for mouth in chart.mouths] == ["rest", "press", "mouth_07"]
    assert chart.mouths[1].sounds == ("p", "b", "m")
    assert chart.mouths[2].pose == Pose()


def test_order_and_number_change():
    chart = moved(TEN, 9, 1)
    assert [m.name for m in chart.mouths[:3]] == ["Rest", "Pucker", "Press"]
    assert len(without_mouth(chart, 1).mouths) == 9
    assert copy_of(TEN, ["ten", "Ten 2"]).name == "Ten 3"


def test_an_unknown_rule_is_a_fault():
    assert any("no rule" in reason for reason, _ in with_mouth(TEN, 1, rules=("wobbly vowels",)).faults)


@pytest.mark.parametrize("chart", shipped_charts().values(), ids=lambda chart: chart.name)
def test_a_chart_comes_back_from_its_file(chart):
    again = parse_chart(chart_as_text(chart), "again.toml")
    assert again == ChartDocument(chart.name, chart.about, chart.mouths)


MOUTHS = st.builds(
    Mouth,
    st.text(st.characters(exclude_categories=("Cs",)), min_size=1, max_size=12),
    st.builds(Pose, st.sampled_from([0.0, 0.25, 1.0]), st.sampled_from([0.0, 0.1])),
    st.lists(st.sampled_from(sorted(SOUNDS)), max_size=3).map(tuple),
    st.booleans(),
    st.lists(st.sampled_from(sorted(RULES)), max_size=2, unique=True).map(tuple),
)


@given(
    st.builds(
        ChartDocument,
        st.text(st.characters(exclude_categories=("Cs",))),
        st.text(st.characters(exclude_categories=("Cs",))),
        st.lists(MOUTHS, max_size=5).map(tuple),
    )
)
def test_any_half_done_chart_comes_back_too_and_can_be_used_as_far_as_it_goes(chart):
    assert parse_chart(chart_as_text(chart), "again.toml") == chart
    used = chart.as_far_as_it_goes(TEN)
    assert all(0 <= used.answer(sound) < len(used.mouths) for sound in SOUNDS)


def test_the_document_of_charts_tells_of_every_rule_and_its_example_is_whole():
    page = (Path(__file__).parents[2] / "docs" / "chart-file.md").read_text("utf-8")
    assert all(f"`{rule}`" in page for rule in RULES)
    example = page.split("```toml\n")[1].split("```")[0]
    assert parse_chart(example, "the example").whole().answer("ɑ") == 1
