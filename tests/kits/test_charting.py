"""A chart of a kit's own mouths."""

from dataclasses import replace
from pathlib import Path

import pytest

from buccaphon.kits.casting import for_chart
from buccaphon.kits.charting import chart_of_kit, shown_by_itself, with_renamed_mouth
from buccaphon.kits.kit import CutOut, Drawn, Kit, Model, OtherFile
from buccaphon.mouths.chart_file import shipped_charts
from buccaphon.project.edits.kits import PutKit
from buccaphon.project.edits.scene import ChangeChart, KeepChart
from buccaphon.project.state import State

TEN = shipped_charts()["Ten"]
OWN = ("mouth_oh", "mouth_rest", "mouth_mbp", "mouth_wide_open", "mouth_thing", "hat")


def kit(look, own=OWN):
    return Kit("mine", OtherFile(Path("f")), look, own)


def test_a_chart_of_drawings_has_every_sound_in_the_files_order_with_the_one_that_rests():
    chart = chart_of_kit(kit(Drawn()), "mine", TEN).whole()
    by = {mouth.name: mouth for mouth in chart.mouths}
    assert chart.names == OWN[:-1], "a hat is no mouth"
    assert chart.rest.name == "mouth_rest"
    assert by["mouth_oh"].pose.round > 0.5
    assert by["mouth_mbp"].contact
    assert set(by["mouth_mbp"].sounds) >= {"p", "b", "m"}
    assert "ɑ" in by["mouth_wide_open"].sounds


def test_where_the_face_has_a_mouth_a_chart_may_show_nothing_of_the_drawings():
    mine = replace(kit(Drawn(), tuple("aeiou")), has_mouth=True)
    chart = chart_of_kit(mine, "mine", TEN).whole()
    assert chart.rest.name == "Nothing"
    assert set(chart.rest.sounds) >= {"p", "b", "m"}
    shown = for_chart(mine, chart)
    assert shown.shown_by("Nothing") == ("",)
    assert shown.names.names_of("Nothing") == ("none",)
    assert [shown.names.number_of(name, chart.names) for name in chart.names] == [0, 1, 2, 3, 4, -1]


def test_a_head_that_names_no_rest_rests_by_itself():
    chart = chart_of_kit(kit(Model(), ("jaw_open", "mouth_wide")), "head", TEN)
    assert [mouth.name for mouth in chart.mouths] == ["Rest", "jaw_open", "mouth_wide"]
    assert chart.mouths[1].pose.jaw > 0.8


@pytest.mark.parametrize(
    ("own", "rest"),
    [
        (("mouth_oh", "mouth_rest", "mouth_mbp"), "mouth_rest"),
        (("mouth_ah", "mouth_closed", "mouth_oh"), "mouth_closed"),
        (("mouth_ah", "mouth_fv", "mouth_mbp", "mouth_oh"), "mouth_mbp"),
        (("ah", "ee", "oh", "fv"), "fv"),
        (("thing one", "thing two"), "thing one"),
    ],
)
def test_silence_is_shown_by_rest_else_by_closed_lips_else_by_the_least_open(own, rest):
    chart = chart_of_kit(kit(Drawn(), own), "mine", TEN)
    assert chart.whole().rest.name == rest
    assert chart.whole().names == own


def test_its_mouths_are_shown_by_themselves_and_called_so():
    mine = kit(Drawn())
    chart = chart_of_kit(mine, "mine", TEN)
    shown = for_chart(shown_by_itself(mine, chart), chart.whole())
    assert all(shown.shown_by(mouth.name) == (mouth.name,) for mouth in chart.mouths)
    assert shown.names.names_of("mouth_thing") == ("mouth_thing",)
    assert shown_by_itself(kit(CutOut(), ()), chart).shows == ()


def test_a_mouth_that_is_renamed_keeps_its_drawing_and_its_name_in_the_host():
    mine = shown_by_itself(kit(Drawn()), chart_of_kit(kit(Drawn()), "mine", TEN))
    chart = chart_of_kit(mine, "mine", TEN)
    state = PutKit(mine).apply(KeepChart(chart).apply(State()))
    mouths = tuple(
        m if m.name != "mouth_oh" else type(m)("Round one", m.pose, m.sounds, m.contact, m.rules) for m in chart.mouths
    )
    after = ChangeChart("mine", chart.with_mouths(mouths)).apply(state)
    shown = for_chart(after.kit_in_use, after.chart_in_use)
    assert shown.shown_by("Round one") == shown.names.names_of("Round one") == ("mouth_oh",)
    assert after.kit_in_use == with_renamed_mouth(mine, "mouth_oh", "Round one")
    moved = ChangeChart("mine", chart.with_mouths(mouths[::-1])).apply(state)
    assert moved.kit_in_use == mine, "order is no name"
