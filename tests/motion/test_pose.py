"""Shares of sounds, targets by rule, contacts at frames, size from loudness."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from buccaphon.motion.plan import BakeSettings, Plan
from buccaphon.motion.pose_channels import POSE_CHANNELS, TIMINGS, contact_frames, loud_of, louder, pose_channels
from buccaphon.motion.remaking import remake
from buccaphon.motion.shares import gates_of, line_of, shares_of, step
from buccaphon.motion.targets import BITE, KINDS, LIPS, REST, TARGET_PARTS, VOWEL, pieces_of
from buccaphon.mouths.chart_file import find_chart
from buccaphon.mouths.settings import MouthSettings, SettingsChange, SettingsRange, SettingsTrack
from buccaphon.score.records import Phone, Score, Word
from buccaphon.speech.articulation import LETTERS
from buccaphon.timing import FrameRate, Span

TEN = find_chart("Ten")
SILENT = loud_of(np.zeros(0, np.float32), 24.0)
SOUNDS = [
    "p",
    "b",
    "m",
    "f",
    "v",
    "s",
    "t",
    "k",
    "l",
    "ɹ",
    "w",
    "ɑ",
    "i",
    "u",
    "aɪ",
    "ə",
    "ʃ",
    "y",
    "ø",
    "ɥ",
    "q",
    "ts",
]


def said(*sounds: tuple[str, float], start: float = 0.5) -> list[Phone]:
    """Sounds with their lengths, one after the other."""
    phones, at = [], start
    for symbol, length in sounds:
        phones.append(Phone(symbol, at, at + length, 1))
        at += length
    return phones


def channels(phones, fps=100.0, duration=None):
    end = duration or phones[-1].end + 0.5
    times = (np.arange(int(end * fps)) + 0.5) / fps
    values = pose_channels(phones, times, SILENT).values
    return times, dict(zip(POSE_CHANNELS, values.T, strict=True))


# --- targets ----------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("letter", sorted(LETTERS))
def test_every_sound_of_the_alphabet_has_a_target(letter):
    for piece in pieces_of(letter):
        assert all(-0.4 <= value <= 1.7 for value in piece.target)
    assert sum(piece.share for piece in pieces_of(letter)) == pytest.approx(1.0)


@pytest.mark.parametrize(
    ("symbol", "kind"),
    [("p", "L"), ("ɓ", "L"), ("v", "F"), ("ɱ", "F"), ("ð", "D"), ("z", "S"), ("ts", "S"), ("n", "T"), ("ɬ", "S"), ("ʂ", "R"),
     ("tɕ", "R"), ("l", "l"), ("ʎ", "K"), ("j", "j"), ("x", "K"), ("ʁ", "K"), ("h", "h"), ("ʔ", "h"), ("kʷ", "V"), ("w", "V"),
     ("ɥ", "V"), ("ɻ", "V"), ("ə", "V"), ("ỹ", "V")],
)  # fmt: skip
def test_sounds_of_any_language_fall_into_their_classes(symbol, kind):
    assert KINDS[pieces_of(symbol)[-1].kind] == kind


def test_rounded_vowels_round_and_open_ones_open_in_any_language():
    index = TARGET_PARTS.index
    assert pieces_of("y")[0].target[index("round")] > 0.7
    assert pieces_of("ɨ")[0].target[index("round")] < 0.2
    assert pieces_of("ɶ")[0].target[index("jaw")] > pieces_of("ø")[0].target[index("jaw")] + 0.3
    assert len(pieces_of("aɪ")) == len(pieces_of("œy")) == 2


# --- shares -----------------------------------------------------------------------------------------------------------


def test_the_step_reaches_its_ends_exactly_and_never_turns_back():
    x = np.linspace(-0.5, 1.5, 401)
    assert (step(x)[x <= 0] == 0).all()
    assert (step(x)[x >= 1] == 1).all()
    assert (np.diff(step(x)) >= 0).all()


@settings(deadline=None, max_examples=60)
@given(st.lists(st.tuples(st.sampled_from(SOUNDS), st.floats(0.02, 0.5)), min_size=1, max_size=14), st.data())
def test_shares_sum_to_one_at_every_moment(sounds, data):
    phones = said(*sounds)
    if len(phones) > 2 and data.draw(st.booleans()):
        del phones[len(phones) // 2]
    line = line_of(phones, 0.0, phones[-1].end + 1.0)
    times = np.linspace(-1.0, phones[-1].end + 2.0, 300)
    shares = shares_of(line, times, TIMINGS, gates_of(line, TIMINGS))
    assert shares.much.sum(axis=0) == pytest.approx(np.ones((len(TIMINGS), len(times))), abs=1e-6)
    assert shares.much.min() >= -1e-9


@settings(deadline=None, max_examples=60)
@given(st.lists(st.tuples(st.sampled_from(SOUNDS), st.floats(0.02, 0.5)), min_size=1, max_size=14))
def test_channels_keep_their_range(sounds):
    _, found = channels(said(*sounds), 24.0)
    for name, curve in found.items():
        assert np.isfinite(curve).all(), name
        assert 0 <= curve.min() <= curve.max() <= 1, name


def test_a_gate_reaches_its_height_however_short_its_sound_is():
    line = line_of(said(("ɑ", 0.2), ("p", 0.03), ("i", 0.2)), 0.0, 2.0)
    gates = gates_of(line, TIMINGS)
    assert (gates.on < gates.full).all()
    assert (gates.full <= gates.off).all()
    assert (gates.off < gates.gone).all()


def test_rounding_for_a_vowel_begins_in_the_consonants_before_it():
    times, found = channels(said(("i", 0.2), ("s", 0.12), ("t", 0.08), ("u", 0.25)))
    at = np.searchsorted(times, 0.5 + 0.2 + 0.14)
    assert found["round"][at] > 0.1
    assert found["round"][np.searchsorted(times, 0.6)] < 0.05


def test_silence_is_exactly_nought_and_a_short_pause_is_gone_through():
    long_gap = said(("ɑ", 0.2)) + said(("ɑ", 0.2), start=1.6)
    times, found = channels(long_gap)
    quiet = (times > 0.9) & (times < 1.4)
    assert all((curve[quiet] == 0).all() for curve in found.values())
    short_gap = said(("ɑ", 0.2)) + said(("ɑ", 0.2), start=0.8)
    times, found = channels(short_gap)
    assert (found["aperture"][(times > 0.6) & (times < 0.9)] > 0.5).all()


# --- contacts ---------------------------------------------------------------------------------------------------------


@settings(deadline=None, max_examples=80)
@given(
    st.lists(st.tuples(st.sampled_from(["p", "f", "ɑ", "s", "m"]), st.floats(0.05, 0.2)), min_size=2, max_size=20),
    st.sampled_from([24.0, 25.0, 30.0, 60.0]),
)
def test_no_contact_is_lost_and_two_never_share_a_frame(sounds, fps):
    alternating = [each for k, each in enumerate(sounds) if not k or each[0] != sounds[k - 1][0]]
    phones = said(*alternating)
    line = line_of(phones, 0.0, phones[-1].end + 1.0)
    times = (np.arange(int((phones[-1].end + 1.0) * fps)) + 0.5) / fps
    lips, bite = contact_frames(line, times, gates_of(line, TIMINGS))
    assert not (lips & bite).any()
    for phone in phones:
        mask = {"p": lips, "m": lips, "f": bite}.get(phone.symbol)
        if mask is not None:
            near = (times > phone.start - 0.12) & (times < phone.end + 0.1)
            assert mask[near].any(), phone


def test_a_stretch_of_squeezed_sounds_is_what_it_is_in_the_whole():
    phones = said(
        ("w", 0.06),
        ("ɔ", 0.12),
        ("ɹ", 0.06),
        ("m", 0.06),
        *[(s, 0.005) for s in "plʌmzt"],
        *[("æ", 0.06), ("p", 0.1)] * 30,
    )
    line = line_of(phones, 0.0, phones[-1].end)
    assert (np.diff(gates_of(line, TIMINGS).on) >= 0).all()
    times, whole = channels(phones, 24.0)
    for end in range(20, 60, 3):
        part = pose_channels(phones[: len(phones) - 8], times[:end], SILENT).values
        for column, name in enumerate(POSE_CHANNELS):
            assert np.array_equal(part[:, column], whole[name][:end]), (end, name)


def test_a_long_silence_at_either_end_shows_nothing_of_the_resting_smile():
    phones = said(("æ", 0.3), ("t", 0.1), start=4.0)
    times = (np.arange(9 * 24) + 0.5) / 24
    values = pose_channels(phones, times, SILENT).values
    silent = (times < 3.5) | (times > 5.0)
    assert (values[silent] == 0).all()
    assert values[~silent, POSE_CHANNELS.index("spread")].max() > 0.1
    for frame in (10, 40, 200):
        alone = pose_channels(phones, times[frame : frame + 1], SILENT).values
        assert np.array_equal(alone[0], values[frame])


# --- size -------------------------------------------------------------------------------------------------------------


def test_louder_vowels_open_wider_and_rounding_stays():
    phones = said(*[("t", 0.08), ("ɑ", 0.15)] * 12)
    level = np.where(np.arange(200) / 24 < 1.9, 0.35, 0.85).astype(np.float32)
    times = (np.arange(int(3.5 * 24)) + 0.5) / 24
    plain = pose_channels(phones, times, SILENT).values
    sized = pose_channels(phones, times, loud_of(level, 24.0)).values
    ratio = sized[:, 1] / np.maximum(plain[:, 1], 1e-6)
    early, late = (times > 0.7) & (times < 1.3), (times > 2.4) & (times < 3.0)
    assert ratio[early].mean() < 0.95
    assert ratio[late].mean() > 0.99
    assert np.array_equal(sized[:, 3], plain[:, 3])


def test_stressed_vowels_open_wider_and_weak_ones_less_where_it_is_asked_for():
    phones = [replace(p, stress=n % 4 // 2) for n, p in enumerate(said(*[("t", 0.08), ("ɑ", 0.15)] * 12))]
    times = (np.arange(int(3.2 * 60)) + 0.5) / 60
    plain = pose_channels(phones, times, SILENT).values[:, POSE_CHANNELS.index("aperture")]
    by_stress = pose_channels(phones, times, SILENT, by_stress=0.2).values[:, POSE_CHANNELS.index("aperture")]
    ratios = {0: [], 1: []}
    for phone in phones[3:-3]:
        if phone.symbol == "ɑ":
            frame = int((phone.start + 0.8 * (phone.end - phone.start)) * 60)
            ratios[phone.stress].append(by_stress[frame] / plain[frame])
    assert min(ratios[1]) > 1.05
    assert max(ratios[0]) < 0.95


def test_far_from_any_vowel_the_size_is_the_usual():
    phones = said(("ɑ", 0.2))
    line = line_of(phones, 0.0, 9.0)
    assert louder(line, loud_of(np.full(240, 0.9, np.float32), 24.0), np.array([0.6, 6.0]))[1] == 0.0


def plan_with(mouth_settings: SettingsTrack, score: Score | None) -> Plan:
    level = np.where(np.arange(200) / 24 < 2.0, 0.3, 0.9).astype(np.float32)
    return Plan(score, TEN, level, BakeSettings(FrameRate.parse("24"), mouth_settings=mouth_settings))


def test_how_wide_it_opens_can_be_set_everywhere_and_in_a_stretch_and_contacts_stay():
    phones = said(*[("m", 0.1), ("ɑ", 0.2)] * 12, start=0.3)
    score = Score((Word("mama", tuple(phones)),), 4.5)
    usual = remake(None, plan_with(SettingsTrack(), score)).bake
    half = remake(None, plan_with(SettingsTrack(MouthSettings(opening=0.5)), score)).bake
    aperture, press = usual.channels.curve("aperture"), usual.channels.curve("press")
    assert half.channels.curve("aperture").max() == pytest.approx(aperture.max() / 2, abs=0.05)
    assert np.array_equal(half.channels.curve("press"), press)
    assert half.exposures == usual.exposures
    wide = SettingsTrack(here=(SettingsRange(Span(1.0, 2.0), SettingsChange(opening=0.2)),))
    here = remake(None, plan_with(wide, score)).bake.channels.curve("aperture")
    times = (np.arange(len(here)) + 0.5) / 24
    apart = (times < 0.9) | (times > 2.1)
    assert np.array_equal(here[apart], aperture[apart])
    inside = (times > 1.1) & (times < 1.9)
    assert here[inside].max() < 0.3 * aperture[inside].max()


def test_form_alone_knows_nothing_of_loudness_and_shouting_counts_for_more():
    phones = said(*[("m", 0.1), ("ɑ", 0.2)] * 12, start=0.3)
    score = Score((Word("mama", tuple(phones)),), 4.5)

    def apart(by_loudness: float) -> float:
        jaw = remake(None, plan_with(SettingsTrack(MouthSettings(by_loudness=by_loudness)), score)).bake.jaw
        return float(jaw[60:90].max() - jaw[10:40].max())

    assert apart(0.0) == pytest.approx(0.0, abs=0.02)
    assert apart(0.0) < apart(0.5) < apart(1.5)


def test_without_words_it_opens_as_wide_as_is_asked():
    usual, half, shut = (
        remake(None, plan_with(SettingsTrack(MouthSettings(opening=n)), None)).bake for n in (1.0, 0.5, 0.0)
    )
    assert np.allclose(half.jaw, usual.jaw / 2)
    assert not shut.jaw.any()
    assert {exposure.mouth for exposure in shut.exposures} == {TEN.names[0]}


def test_a_setting_goes_over_gently_at_the_edges_of_a_stretch():
    mouth_settings = SettingsTrack(here=(SettingsRange(Span(1.0, 2.0), SettingsChange(opening=2.0)),))
    found = mouth_settings.along("opening", np.array([0.5, 0.9, 1.0, 1.1, 1.5, 2.0, 2.2]))
    assert np.allclose(found, [1, 1, 1.5, 2, 2, 1.5, 1])


def test_kinds_are_numbered_as_they_are_named():
    assert [KINDS[n] for n in (VOWEL, REST, LIPS, BITE)] == ["V", "X", "L", "F"]


def test_after_how_wide_it_opens_was_changed_all_is_as_made_at_once_and_the_mouths_are_kept():
    phones = said(*[("m", 0.1), ("ɑ", 0.2), ("f", 0.1), ("i", 0.15)] * 6, start=0.3)
    words = tuple(Word("mafi", tuple(phones[n : n + 4])) for n in range(0, len(phones), 4))
    score = Score(words, 4.5)
    made = remake(None, plan_with(SettingsTrack(), score))
    loud = made.plan.loud
    stretch = (SettingsRange(Span(1.0, 2.0), SettingsChange(by_loudness=2.0)),)
    moved = replace(score, words=(*words[:-1], replace(words[-1], phones=words[-1].phones[:3])))
    for mouth_settings, said_now in (
        (SettingsTrack(MouthSettings(opening=0.6)), score),
        (SettingsTrack(here=stretch), score),
        (SettingsTrack(), moved),
    ):
        plan = Plan(said_now, TEN, loud, BakeSettings(FrameRate.parse("24"), mouth_settings=mouth_settings))
        before, made = made.bake.exposures, remake(made, plan)
        at_once = remake(None, plan).bake
        assert made.bake.exposures == at_once.exposures
        assert np.array_equal(made.bake.channels.values, at_once.channels.values)
        assert (made.bake.exposures is before) == (said_now is score)
