"""Other languages: what eSpeak NG says, kept as IPA, and the English sound nearest to the ear and to the eye."""

import csv
import difflib

import numpy as np
import pytest

from buccaphon.alignment.aligner import align
from buccaphon.alignment.request import AlignmentRequest, Pin, model_phones
from buccaphon.audio.reading import read_recording
from buccaphon.audio.recording import Recording
from buccaphon.demo.line import NIGHT_CALL, recording_path, script_text
from buccaphon.errors import ScriptError
from buccaphon.mouths.chart_file import shipped_charts
from buccaphon.speech import espeak
from buccaphon.speech.articulation import LETTERS
from buccaphon.speech.languages import BY_LETTERS, find_language, languages
from buccaphon.speech.lexicon import pronunciations
from buccaphon.speech.phones import PhoneClass, arpabet_of, class_of, looks_like, single_sounds
from buccaphon.speech.script import script_words
from tests.conftest import DATA


@pytest.mark.parametrize(
    ("code", "word", "sounds", "heard"),
    [
        ("es", "noches", "n o tʃ e s", "N OW CH EY S"),
        ("it", "zucca", "d z u kː a", "D Z UW K AA"),
        ("de", "Pflaumen", "p f l aʊ m ə n", "P F L AW M AH N"),
        ("fr-fr", "blanc", "b l ɑ̃", "B L AA"),
        ("cs", "řeka", "r̝ e k a", "R EY K AA"),
        ("fi", "yö", "y ø", "IY ER"),
    ],
)
def test_words_keep_the_sounds_of_their_language_and_are_heard_as_english_ones(code, word, sounds, heard):
    way = pronunciations(word, code)[0]
    assert " ".join(way.sounds) == sounds
    assert " ".join(arpabet_of(sound) for sound in way.sounds) == heard
    assert len(way.stresses) == len(way.sounds)


@pytest.mark.parametrize(
    ("sound", "mouth"),
    [("y", "Pucker"), ("øː", "Pucker"), ("o", "Round"), ("e", "Spread"), ("ʋ", "Bite"), ("ɸ", "Press"), ("ɲ", "Tip"),
     ("a", "Open"), ("ʁ", "Ajar"), ("ɕ", "Teeth"), ("pʰ", "Press"), ("ɑ̃", "Open")],
)  # fmt: skip
def test_the_mouth_of_a_foreign_sound_is_that_of_the_one_that_looks_like_it(sound, mouth):
    chart = shipped_charts()["Ten"]
    assert chart.names[chart.answer(sound)] == mouth


@pytest.mark.parametrize("chart", shipped_charts().values(), ids=lambda chart: chart.name)
def test_every_letter_of_the_ipa_has_a_mouth_and_a_sound_to_listen_for(chart):
    for letter in LETTERS:
        assert 0 <= chart.answer(letter) < len(chart.mouths)
        assert arpabet_of(letter)
        assert class_of(letter) is not PhoneClass.PAUSE


def test_lips_that_meet_never_look_like_lips_that_do_not():
    for letter in "pbmʘɓɸ":
        assert looks_like(letter) in "pbm"


@pytest.mark.parametrize(
    ("symbol", "parts"), [("pf", "p f"), ("tsː", "t sː"), ("tʃ", "tʃ"), ("ɔø", "ɔø"), ("t͡s", "t s"), ("yø", "y ø")]
)
def test_two_letters_are_one_sound_only_where_english_ears_hear_one(symbol, parts):
    assert single_sounds(symbol) == tuple(parts.split())


def test_what_is_no_sound_is_refused_or_left_out():
    assert single_sounds("12") == ()
    with pytest.raises(ValueError, match="no symbol"):
        arpabet_of("12")


def test_languages_are_found_by_code_and_name():
    assert find_language("German").code == "de"
    assert find_language("fr").code == "fr-fr"
    assert find_language("EN").code == "en-us"
    assert len(languages()) > 120
    assert find_language("de").is_mapped
    assert not find_language("en").is_mapped
    with pytest.raises(ScriptError, match="no pronunciation is known"):
        find_language("Marigoldish")
    with pytest.raises(ScriptError, match=r"Use sw \(Swahili\), which is nearest"):
        find_language("yoruba")


def test_every_language_reads_something():
    silent = [code for code in languages() if not pronunciations("1" if code != BY_LETTERS else "a", code)]
    assert silent == []


def test_a_spanish_line_is_aligned_by_mapping():
    recording = read_recording(recording_path(NIGHT_CALL))
    score = align(AlignmentRequest(recording, script_words(script_text(NIGHT_CALL)), language="es"))
    with (DATA / "night_call.ipa.csv").open() as file:
        truth = [
            (row["ipa"], float(row["start_s"])) for row in csv.DictReader(file) if row["ipa"] not in ("", "_:", "_")
        ]
    found = [(phone.symbol, phone.start) for phone in score.phones()]
    matcher = difflib.SequenceMatcher(None, [s for s, _ in truth], [s for s, _ in found], autojunk=False)
    errors = [abs(found[j + k][1] - truth[i + k][1]) for i, j, n in matcher.get_matching_blocks() for k in range(n)]
    assert len(errors) > 0.93 * len(truth), "the project keeps Spanish sounds"
    assert np.mean(errors) < 0.018
    assert np.mean(np.array(errors) < 0.0417) > 0.9


@pytest.fixture(scope="module")
def sleeping_cats() -> Recording:
    samples, rate = espeak.said("k'aksi k'issa: n'uk:u: '%u:nin t'akana", find_language("fi").voice)
    return Recording(samples[:, None], rate, "sleeping cats")


CATS = script_words("Kaksi kissaa nukkuu uunin takana")


def quiet_in(recording: Recording) -> tuple[float, float]:
    """The longest silence inside."""
    loud = np.flatnonzero(np.convolve(recording.mono**2, np.full(200, 1 / 200), "same") > 0.004**2)
    at = int(np.diff(loud).argmax())
    return loud[at] / recording.rate, loud[at + 1] / recording.rate


def test_a_stop_that_is_held_in_silence_is_no_pause(sleeping_cats):
    (way,) = pronunciations("nukkuu", "fi")
    assert model_phones(way) == ["N", "UW", "SIL", "K", "UW"]
    score = align(AlignmentRequest(sleeping_cats, CATS, language="fi"))
    held = score.words[2].phones[2]
    begins, ends = quiet_in(sleeping_cats)
    assert held.symbol == "kː"
    assert ends - begins > 0.15
    assert held.start == pytest.approx(begins, abs=0.03)
    assert held.end > ends
    assert score.words[2].start < begins - 0.08, "the word begins before it"


def test_sounds_are_pinned_around_a_stop_that_is_held(sleeping_cats):
    free = align(AlignmentRequest(sleeping_cats, CATS, language="fi")).words[2].phones
    pins = (Pin(2, 2, 4, free[2].start + 0.02), Pin(2, 3, 4, free[3].start + 0.03))
    held = align(AlignmentRequest(sleeping_cats, CATS, language="fi", pins=pins)).words[2].phones
    assert [held[2].start, held[3].start] == pytest.approx([pin.seconds for pin in pins], abs=1e-9)
    assert [phone.symbol for phone in held] == [phone.symbol for phone in free]
