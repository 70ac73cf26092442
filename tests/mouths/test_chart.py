from dataclasses import replace

import pytest

from buccaphon.errors import ChartError
from buccaphon.mouths.chart_file import chart_as_text, find_chart, parse_chart, shipped_charts
from buccaphon.mouths.drawing import lips
from buccaphon.mouths.pose import Pose
from buccaphon.speech.phones import SOUNDS


@pytest.mark.parametrize("chart", shipped_charts().values(), ids=lambda chart: chart.name)
def test_shipped_charts_answer_every_sound_and_rest_in_silence(chart):
    assert chart.answer("") == 0
    assert chart.rest.pose.jaw == 0
    for sound in SOUNDS:
        assert sound in chart.mouths[chart.answer(sound)].sounds
    for closure in "pbmfv":
        assert chart.mouths[chart.answer(closure)].contact


@pytest.mark.parametrize("chart", shipped_charts().values(), ids=lambda chart: chart.name)
def test_every_mouth_draws_inside_its_box(chart):
    for mouth in chart.mouths:
        shapes = lips(mouth.pose)
        numbers = [abs(n) for shape in shapes for step in shape.path for n in step[1:] if isinstance(n, float)]
        assert max(numbers) < 1.3
    drawings = {lips(mouth.pose) for mouth in chart.mouths}
    assert len(drawings) == len(chart.mouths), "two mouths look the same"


def test_charts_are_found_by_name_or_file(tmp_path):
    assert find_chart("ten").name == "Ten"
    sounds = " ".join(SOUNDS)
    path = tmp_path / "mine.toml"
    mouths = (
        f'[[mouth]]\nname = "Shut"\npose = {{}}\n[[mouth]]\nname = "Yell"\nsounds = "{sounds}"\npose = {{jaw = 1}}\n'
    )
    path.write_text(f'name = "Mine"\n{mouths}')
    assert find_chart(str(path)).names == ("Shut", "Yell")


@pytest.mark.parametrize(
    ("text", "reason"),
    [
        ("name = ", "not valid TOML"),
        ('name = "x"', "fewer than two"),
        ('name = "x"\n[[mouth]]\nname = "A"\npose = {}', "fewer than two"),
        ('name = "x"\n[[mouth]]\nname = "A"\npose = {}\n[[mouth]]\nname = "A"\npose = {}', "same name"),
        ('name = "x"\n[[mouth]]\nname = "A"\npose = {}\n[[mouth]]\nname = "B"\npose = {}', "no mouth covers"),
        ('name = "x"\n[[mouth]]\nname = "A"\npose = {jaw = 3}', "goes from 0 to 1"),
    ],
)
def test_a_broken_chart_says_what_is_wrong(text, reason):
    with pytest.raises(ChartError, match=reason):
        parse_chart(text, "mine.toml").whole()


def test_an_unknown_chart_names_the_known_ones():
    with pytest.raises(ChartError, match="Flap, Five, Vowels, Ten, Fourteen, Visemes"):
        find_chart("Hundred")


def test_poses_measure_how_different_mouths_look():
    assert Pose().distance(Pose()) == 0
    assert Pose(jaw=1).distance(Pose()) > Pose(teeth=1).distance(Pose())
    assert Pose().blend(Pose(jaw=1), 0.25) == Pose(jaw=0.25)


def test_any_mouth_may_rest_and_stays_the_resting_one_wherever_it_is_put():
    ten = find_chart("Ten")
    text = chart_as_text(ten)
    assert "rest =" not in text, "the first one needs no word"
    other = replace(ten.document, rests=3)
    assert other.whole().rest.name == "Tip"
    assert other.whole().answer("") == 3
    again = parse_chart(chart_as_text(other), "x")
    assert again == other
    turned = other.with_mouths(other.mouths[::-1])
    assert turned.whole().rest.name == "Tip"
    renamed = [replace(mouth, name="Quiet") if mouth.name == "Tip" else mouth for mouth in other.mouths]
    assert other.with_mouths(renamed).whole().rest.name == "Quiet"
    assert other.with_mouths([mouth for mouth in other.mouths if mouth.name != "Tip"]).rests == 0
    with pytest.raises(ChartError, match="none of its mouths"):
        parse_chart(text.replace('name = "Ten"', 'name = "Ten"\nrest = "Yawn"', 1), "x")
