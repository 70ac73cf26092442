"""A chart of a kit's own mouths."""

from pathlib import Path

import pytest

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


def test_each_drawing_that_is_a_mouth_gets_the_pose_and_sounds_its_name_says():
    chart = chart_of_kit(kit(Drawn()), "mine", TEN)
    by = {mouth.name: mouth for mouth in chart.mouths}
    assert chart.mouths[0].name == "mouth_rest"
    assert "hat" not in by
    assert by["mouth_oh"].pose == TEN.mouths[TEN.index("Round")].pose
    assert by["mouth_mbp"].contact
    assert by["mouth_mbp"].sounds == TEN.mouths[TEN.index("Press")].sounds
    assert by["mouth_thing"].sounds == ()
    assert chart.as_far_as_it_goes(TEN).names == tuple(by)


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
        (("ah", "ee", "oh", "fv"), "ee"),
        (("thing one", "thing two"), "thing one"),
    ],
)
def test_silence_is_shown_by_rest_else_by_closed_lips_else_by_the_nearest(own, rest):
    chart = chart_of_kit(kit(Drawn(), own), "mine", TEN)
    assert chart.mouths[0].name == rest
    assert {mouth.name for mouth in chart.mouths} == set(own)


def test_its_mouths_are_shown_by_themselves_and_called_so():
    mine = kit(Drawn())
    chart = chart_of_kit(mine, "mine", TEN)
    shown = shown_by_itself(mine, chart)
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
    assert after.kit_in_use.shown_by("Round one") == ("mouth_oh",)
    assert after.kit_in_use == with_renamed_mouth(mine, "mouth_oh", "Round one")
    moved = ChangeChart("mine", chart.with_mouths(mouths[::-1])).apply(state)
    assert moved.kit_in_use == mine, "order is no name"
