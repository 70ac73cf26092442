import itertools
from dataclasses import fields

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from buccaphon.mouths.by_loudness import choose_by_loudness
from buccaphon.mouths.chart import Chart
from buccaphon.mouths.chart_file import find_chart
from buccaphon.mouths.choosing import choose_exposures
from buccaphon.mouths.exposures import Exposure, exposure_at, held_on
from buccaphon.mouths.grid import Grid, HeldRange
from buccaphon.mouths.settings import MouthSettings, SettingsChange, SettingsTrack
from buccaphon.score.records import Phone, Score, Word
from buccaphon.setting import settings_of
from buccaphon.speech.phones import SOUNDS
from buccaphon.timing import FrameRate

TEN = find_chart("Ten")
FILM = FrameRate.parse("24")


def score(*sounds: tuple[str, float], begin: float = 0.4, tail: float = 0.4) -> Score:
    """One word of (symbol, seconds) sounds; '' is a pause between words."""
    words, phones, at = [], [], begin
    for symbol, length in sounds:
        if symbol:
            phones.append(Phone(symbol, at, at + length))
        elif phones:
            words.append(Word("w", tuple(phones)))
            phones = []
        at += length
    if phones:
        words.append(Word("w", tuple(phones)))
    return Score(tuple(words), at + tail)


def shown(line: Score, rate: FrameRate = FILM, **settings) -> list[tuple[str, int]]:
    return [(e.mouth, e.length) for e in chosen(line, rate, **settings)]


def chosen(line: Score, rate: FrameRate = FILM, chart: Chart = TEN, **settings) -> tuple[Exposure, ...]:
    mouth_settings = SettingsTrack(MouthSettings(**settings))
    grid = mouth_settings.grid(rate.covering(line.duration), rate)
    return choose_exposures(line, chart, rate, grid, mouth_settings)


def names(exposures: list[tuple[str, int]]) -> set[str]:
    return {name for name, _ in exposures}


sounds = st.lists(
    st.tuples(st.sampled_from([*SOUNDS, "p", "m", "f", ""]), st.floats(0.03, 0.3)), min_size=1, max_size=25
)


def touches(line: Score, chart: Chart) -> list[tuple[str, float, float]]:
    """(mouth, start, end) of each contact; neighbours of one mouth together."""
    found: list[tuple[str, float, float]] = []
    for phone in line.phones():
        mouth = chart.mouths[chart.answer(phone.symbol)]
        if mouth.contact:
            joins = found and found[-1][0] == mouth.name and found[-1][2] == phone.start
            start = found.pop()[1] if joins else phone.start
            found.append((mouth.name, start, phone.end))
    return found


@settings(deadline=None, max_examples=300)
@given(
    sounds,
    st.sampled_from(["8", "12", "15", "23.976", "24", "25", "30", "48", "60", "120"]),
    st.integers(1, 4),
    st.sampled_from(["Flap", "Five", "Vowels", "Ten", "Fourteen", "Visemes"]),
)
def test_no_closure_or_bite_is_ever_lost(line, rate, hold, name):
    """Every contact is seen near its sound; on long exposures, only when another one does not want the same exposure."""
    made, chart, frames = score(*line), find_chart(name), FrameRate.parse(rate)
    cell = hold / float(frames.value)
    shown = [
        (e.mouth, frames.seconds(e.start), frames.seconds(e.end)) for e in chosen(made, frames, chart=chart, hold=hold)
    ]
    contacts = touches(made, chart)
    for number, (mouth, start, end) in enumerate(contacts):
        beside = contacts[max(number - 1, 0) : number] + contacts[number + 1 : number + 2]
        if cell >= 0.062 and any(b - 2 * cell < end and e + 2 * cell > start for m, b, e in beside if m != mouth):
            continue
        crowded = sum(b < end + 0.25 and e > start - 0.25 for _, b, e in contacts) > 2
        reach = max(0.12, 1.6 * cell) + (0.2 if crowded else 0.0)
        seen = [
            s
            for s in shown
            if s[0] == mouth
            and s[2] > start - reach - 1e-6
            and s[1] < end + max(0.03, 0.5 * cell) + (0.2 if crowded else 0.0)
        ]
        assert seen, f"{mouth} at {start:.3f}: {shown}"


@settings(deadline=None, max_examples=100)
@given(sounds, st.integers(1, 4))
def test_exposures_cover_every_frame_and_are_held(line, hold):
    made = score(*line)
    exposures = chosen(made, FILM, hold=hold)
    assert exposures[0].start == 0
    assert exposures[-1].end == FILM.covering(made.duration)
    for left, right in itertools.pairwise(exposures):
        assert left.end == right.start
        assert left.mouth != right.mouth
        assert left.start % hold == 0


def test_silence_at_both_ends_and_in_long_pauses_is_at_rest():
    line = shown(score(("ɑ", 0.4), ("", 0.8), ("ɑ", 0.4)))
    assert [mouth for mouth, _ in line] == ["Rest", "Open", "Ajar", "Rest", "Open", "Ajar", "Rest"], "by way of Ajar"


def test_a_short_pause_holds_the_mouth():
    assert [mouth for mouth, _ in shown(score(("i", 0.3), ("", 0.12), ("i", 0.3)), settle=0.0)] == [
        "Rest",
        "Spread",
        "Rest",
    ]


def test_mouths_come_a_frame_before_the_sound():
    line = score(("ɑ", 0.5), begin=1.0)
    late = chosen(line, FILM, lead=0.0)
    early = chosen(line, FILM, lead=1 / 24)
    assert late[1].start - early[1].start == 1
    assert late[1].start == 24


def test_a_flicker_between_vowels_is_swallowed_but_a_closure_is_not():
    assert "Tip" not in dict(shown(score(("ɑ", 0.3), ("t", 0.03), ("ɑ", 0.3))))
    assert "Press" in dict(shown(score(("ɑ", 0.3), ("p", 0.03), ("ɑ", 0.3))))


def test_a_glide_moves_through_two_mouths():
    assert [mouth for mouth, _ in shown(score(("aɪ", 0.5)), settle=0.0)] == ["Rest", "Open", "Spread", "Rest"]


def test_loudness_alone_opens_and_shuts():
    opening = np.array([0, 0, 0.9, 0.9, 0.4, 0, 0], np.float32)
    names = [TEN.names[mouth] for mouth in choose_by_loudness(opening, TEN, Grid.of(7, 1))]
    assert names[0] == names[-1] == "Rest"
    assert names[2] == "Open"
    assert names[4] == "Ajar"


def test_runs_join_equal_neighbours():
    held = held_on(np.array([0, 2, 4, 6]), 5, [0, 0, 1], ("a", "b"))
    assert [(e.mouth, e.start, e.end) for e in held] == [("a", 0, 4), ("b", 4, 5)]
    assert exposure_at(held, 5) is None
    assert held_on(np.array([0]), 0, [], ("a",)) == ()


def test_one_stretch_may_be_on_twos_and_another_on_ones():
    grid = Grid.of(12, 2, [HeldRange(4, 7, 1)])
    assert grid.edges.tolist() == [0, 2, 4, 5, 6, 7, 9, 11, 13]
    assert [grid.cell_at(frame) for frame in (0, 1, 4, 6, 7, 8)] == [0, 0, 2, 4, 5, 5]
    assert grid.edge_from(8) == 6
    assert grid.nearest_edge(8.4) == 9
    assert Grid.of(0, 3).cells == 0


@settings(deadline=None, max_examples=60)
@given(sounds, st.integers(1, 4), st.integers(0, 20), st.integers(1, 4))
def test_where_ranges_differ_drawings_change_on_the_grid_alone(line, hold, first, other):
    made = score(*line)
    frames = FILM.covering(made.duration)
    end = min(first + 12, frames)
    grid = Grid.of(frames, hold, [HeldRange(first, end, other)] if end > first else [])
    exposures = choose_exposures(made, TEN, FILM, grid, SettingsTrack(MouthSettings(hold=hold)))
    assert sum(e.length for e in exposures) == frames
    assert {e.start for e in exposures} <= set(grid.edges.tolist())


def test_two_stressed_vowels_in_a_row_are_both_seen():
    """The second is too short for its mouth, and so is a third one after it: each gets room from the others."""
    sounds_ = "ɹ .08,oʊ .16 1,ɪ .067 1,n .053,ʌ .05 1,f .12,ɪ .11 1,ɡ .1"
    phones, at = list[Phone](), 0.4
    for symbol, length, *stress in (sound.split() for sound in sounds_.split(",")):
        phones.append(Phone(symbol, at, at + float(length), int(stress[0]) if stress else 0))
        at = phones[-1].end
    for rate in (FILM, FrameRate.parse("30"), FrameRate.parse("60")):
        line = [
            (mouth, frames / float(rate.value))
            for mouth, frames in shown(Score((Word("w", tuple(phones)),), 1.6), rate)
        ]
        seen = [mouth for mouth, seconds in line if seconds > 1.9 / 24]
        assert [mouth for mouth in seen if mouth in ("Round", "Spread", "Ajar", "Bite")][:4] == [
            "Round",
            "Spread",
            "Ajar",
            "Bite",
        ], rate


def test_a_range_can_change_every_setting_of_mouths():
    names = [each.name for each in fields(MouthSettings)]
    assert sorted(each.name for each in fields(SettingsChange)) == sorted(names)
    assert sorted(settings_of(MouthSettings)) == sorted(names)


def resting_at(chart: Chart, place: int) -> Chart:
    """The chart with its resting mouth at another place."""
    others = [mouth for mouth in chart.mouths if mouth is not chart.rest]
    return chart.with_mouths((*others[:place], chart.rest, *others[place:])).whole()


@settings(deadline=None, max_examples=100)
@given(sounds, st.sampled_from(["12", "24", "30"]), st.sampled_from(["Five", "Ten", "Fourteen"]), st.integers(0, 3))
def test_where_the_resting_mouth_stands_in_the_chart_changes_nothing(line, rate, name, settle):
    said, chart = score(*line), find_chart(name)
    moved = resting_at(chart, 3)
    assert moved.names[3] == chart.names[0] == moved.rest.name
    manner = {"settle": settle / 24}
    before = chosen(said, FrameRate.parse(rate), chart, **manner)
    assert chosen(said, FrameRate.parse(rate), moved, **manner) == before


def test_loudness_alone_rests_on_the_resting_mouth_wherever_it_stands():
    moved = resting_at(TEN, 3)
    opening, grid = np.array([0.0, 0.0, 0.5, 1.0, 0.0], np.float32), Grid.of(5, 1)
    named = [[chart.names[n] for n in choose_by_loudness(opening, chart, grid)] for chart in (TEN, moved)]
    assert named[0] == named[1]
    assert named[1][0] == "Rest"
