"""One contract for every format: golden bytes, what it promises comes back through an independent reader, writing is all or
nothing."""

import csv
import io
import itertools
import json
import zipfile
from dataclasses import replace
from fractions import Fraction
from pathlib import Path

import jsonschema
import numpy as np
import pysubs2
import pytest
from praatio import textgrid

from buccaphon.audio.reading import read_recording
from buccaphon.errors import TargetError
from buccaphon.files import require_writable, write_whole
from buccaphon.formats.delivery import Delivery, Source
from buccaphon.formats.describing import HOSTS, formats_page
from buccaphon.formats.format import Needs
from buccaphon.formats.options import chosen_options
from buccaphon.formats.out.keys import KeysCsvOptions, KeysJsonOptions, keys_csv, keys_json
from buccaphon.formats.out.pictures.shots import PictureOptions
from buccaphon.formats.out.servo import ServoOptions
from buccaphon.formats.out.subtitles import SrtOptions
from buccaphon.formats.out.timings import TextGridOptions
from buccaphon.formats.pictures import Pictures, Piece
from buccaphon.formats.registry import FORMATS, READERS, format_for, format_named
from buccaphon.formats.writing import write_files
from buccaphon.kits.names.table import NamesTable, give
from buccaphon.motion.mixes import read_mix
from buccaphon.motion.plan import BakeSettings, Plan, frame_loudness
from buccaphon.motion.pose_channels import POSE_CHANNELS
from buccaphon.motion.record import trim
from buccaphon.motion.remaking import bake
from buccaphon.mouths.chart_file import find_chart
from buccaphon.mouths.settings import MouthSettings, SettingsTrack
from buccaphon.score.records import Note, Phone, Score, Word
from buccaphon.setting import settings_of
from buccaphon.speech.phones import arpabet_of
from buccaphon.timing import FrameRate, Span

SMALL = {"width": "64", "height": "36"}
ON_TWOS = SettingsTrack(MouthSettings(hold=2))
GOLDEN = Path(__file__).with_name("golden")
ROOT = Path(__file__).parents[2]


@pytest.fixture(scope="module")
def delivery(call_peaks, call_score):
    rate = FrameRate.parse("23.976")
    plan = Plan(call_score, find_chart("Ten"), frame_loudness(call_peaks, rate), BakeSettings(rate, 101, ON_TWOS))
    return Delivery("call", call_score, bake(plan))


def small_delivery() -> Delivery:
    """Two words on a second of sound, whose bytes can be kept."""
    words = (
        Word(
            "Plums,",
            (Phone("p", 0.1, 0.18), Phone("l", 0.18, 0.25), Phone("ʌ", 0.25, 0.4, 1, 0.9), Phone("m", 0.4, 0.5)),
        ),
        Word("=and", (Phone("æ", 0.8, 0.9, 1), Phone("n", 0.9, 1.0, 0, 0.5))),
    )
    score = Score(words, 1.25)
    loud = np.where(np.arange(30) % 24 < 12, 0.8, 0.0).astype(np.float32)
    plan = Plan(score, find_chart("Five"), loud, BakeSettings(FrameRate.parse("24"), 101, ON_TWOS))
    source = GOLDEN / "small.take.wav"
    return Delivery(
        "small",
        score,
        bake(plan),
        source=Source(source, "small take"),
        sound=read_recording(source),
        pictures=Pictures(
            plain_picture, lambda paper, feet: f"%PDF {paper} {feet}".encode(), plain_label, (64, 36), plain_pieces
        ),
        place=GOLDEN / "small",
    )


def plain_label(left, right, width, height):
    return np.full((height, width, 4), 255, np.uint8)


def plain_pieces():
    return [Piece("Rest", "mouth", np.full((36, 64, 4), 9, np.uint8), 0, 0, 64, 36, (32.0, 18.0))]


def plain_picture(frame, shot):
    """As grey as the frame's number says."""
    return np.full((shot.height, shot.width, 4), (frame, frame, frame, 255), np.uint8)


def made(ident: str, content: Delivery, options: object = None) -> bytes:
    (found,) = format_named(ident).files(content, options).values()
    assert isinstance(found, bytes)
    return found


def written(ident: str, content: Delivery, options: object = None) -> str:
    return made(ident, content, options).decode()


def unpacked(content: bytes) -> object:
    """An archive as what is in it, for how it is packed hangs on the machine."""
    if not zipfile.is_zipfile(io.BytesIO(content)):
        return content
    with zipfile.ZipFile(io.BytesIO(content)) as packed:
        return {entry.filename: packed.read(entry) for entry in packed.infolist()}


AS_BYTES = [form for form in FORMATS if Needs.PICTURES not in form.needs]


@pytest.mark.parametrize("form", AS_BYTES, ids=lambda form: form.id)
def test_the_bytes_are_those_that_are_kept(form):
    """`python -m tests.formats.test_formats` writes them anew, to be looked at before they are committed."""
    for name, content in form.files(small_delivery()).items():
        assert unpacked(content) == unpacked((GOLDEN / name).read_bytes())


def test_textgrid_covers_the_recording_with_words_and_phones(delivery, tmp_path):
    path, score = tmp_path / "call.TextGrid", delivery.score
    path.write_text(written("textgrid", delivery))
    grid = textgrid.openTextgrid(str(path), includeEmptyIntervals=True)
    assert grid.tierNames == ("words", "phones", "mouths")
    for tier, expected in (
        ("words", [(w.start, w.end, w.text) for w in score.words]),
        ("phones", [(p.start, p.end, arpabet_of(p.symbol)) for p in score.phones()]),
    ):
        entries = grid.getTier(tier).entries
        assert entries[0].start == 0
        assert entries[-1].end == pytest.approx(score.duration)
        assert all(a.end == pytest.approx(b.start) for a, b in itertools.pairwise(entries))
        spoken = [entry for entry in entries if entry.label]
        assert [entry.label for entry in spoken] == [label for _, _, label in expected]
        assert [entry.start for entry in spoken] == pytest.approx([start for start, _, _ in expected], abs=1e-6)


@pytest.mark.parametrize("short", [True, False])
def test_textgrid_has_mouths_by_the_hosts_names_and_notes_in_either_form(delivery, tmp_path, short):
    table = give(NamesTable(before="m_"), "Open", ["wide"])
    notes = (Note(Span(1.0, 2.0), 'say "ripe"\nsoftly'), Note(Span(1.0, 1.5), "again"), Note(Span(99.0, 99.0), "late"))
    content = replace(delivery, names=table, notes=notes)
    (written_,) = format_named("textgrid").files(content, TextGridOptions(short=short)).values()
    (tmp_path / "call.TextGrid").write_bytes(written_)
    grid = textgrid.openTextgrid(str(tmp_path / "call.TextGrid"), includeEmptyIntervals=True)
    mouths = grid.getTier("mouths").entries
    baked = delivery.bake
    assert [entry.label for entry in mouths] == [content.called(e.mouth) for e in baked.exposures]
    assert "m_wide" in {entry.label for entry in mouths}
    assert [entry.start for entry in mouths] == pytest.approx([baked.rate.seconds(e.start) for e in baked.exposures])
    assert mouths[-1].end == pytest.approx(delivery.score.duration)
    # of the long form this reader leaves quotes doubled, as they stand in the file
    told = [(point.time, point.label.replace('""', '"')) for point in grid.getTier("notes").entries]
    assert told == [(1.0, 'say "ripe" softly / again'), (pytest.approx(delivery.score.duration), "late")]


def test_what_rounding_has_crossed_by_a_hair_is_no_overlap(delivery):
    first, second = delivery.score.words[:2]
    start = first.end - 5e-10
    crossed = replace(second, phones=(replace(second.phones[0], start=start), *second.phones[1:]))
    score = Score((first, crossed), delivery.score.duration)
    assert "plums" in written("textgrid", Delivery("x", score))


def test_timings_json_carries_everything(delivery):
    data = json.loads(written("timings-json", delivery))
    assert [word["word"] for word in data["words"]] == [word.text for word in delivery.score.words]
    assert data["words"][0]["phones"][0]["start"] == pytest.approx(delivery.score.words[0].start, abs=1e-4)
    assert {"phone", "ipa", "stress", "confidence"} <= data["words"][0]["phones"][0].keys()


def test_timings_csv_has_no_gaps(delivery):
    rows = list(csv.DictReader(io.StringIO(written("timings-csv", delivery))))
    assert float(rows[0]["start_s"]) == 0
    assert float(rows[-1]["end_s"]) == pytest.approx(delivery.score.duration, abs=1e-4)
    assert all(a["end_s"] == b["start_s"] for a, b in itertools.pairwise(rows))
    assert [row["phone"] for row in rows if row["phone"]] == [arpabet_of(p.symbol) for p in delivery.score.phones()]


@pytest.mark.parametrize("each_word", [True, False])
def test_subtitles_are_read_by_another_programs_reader(delivery, each_word):
    (content,) = format_named("srt").files(delivery, SrtOptions(words=each_word)).values()
    cues = pysubs2.SSAFile.from_string(content.decode(), format_="srt")
    words = delivery.score.words
    assert " ".join(cue.plaintext for cue in cues).split() == " ".join(word.text for word in words).split()
    assert all(a.end <= b.start for a, b in itertools.pairwise(cues))
    assert cues[0].start == pytest.approx(1000 * words[0].start, abs=1)
    assert cues[-1].end == pytest.approx(1000 * words[-1].end, abs=1)
    if each_word:
        assert len(cues) == len(words)
    else:
        assert max(len(cue.plaintext) for cue in cues) <= 42
        assert len(cues) < len(words)


def test_a_servo_goes_where_the_jaw_goes_no_faster_than_it_can(delivery):
    rows = list(csv.DictReader(io.StringIO(written("servo", delivery))))
    times, jaw = (np.array([float(row[name]) for row in rows]) for name in ("time_ms", "jaw"))
    assert (np.diff(times) == 20).all()
    assert times[-1] >= 1000 * delivery.bake.frames / float(delivery.bake.rate.value)
    pulses = np.array([int(row["pulse_us"]) for row in rows])
    assert np.abs(pulses - (1500 + 400 * jaw)).max() <= 0.6
    assert np.abs(np.diff(jaw)).max() <= 400 / 40 * 0.02 + 1e-4
    middles = 1000 * (np.arange(delivery.bake.frames) + 0.5) / float(delivery.bake.rate.value)
    assert np.corrcoef(jaw, np.interp(times, middles, delivery.bake.jaw))[0, 1] > 0.97
    slow = written("servo", delivery, ServoOptions(speed=40.0))
    slower = np.array([float(row["jaw"]) for row in csv.DictReader(io.StringIO(slow))])
    assert np.abs(np.diff(slower)).max() <= 0.02 + 1e-4
    with pytest.raises(TargetError, match="no channel tail"):
        format_named("servo").files(delivery, ServoOptions(channel="tail"))
    with pytest.raises(ValueError, match="step_ms"):
        ServoOptions(step_ms=0)


def test_keys_csv_has_one_row_a_frame(delivery):
    baked = delivery.bake
    rows = list(csv.DictReader(io.StringIO(written("keys-csv", delivery))))
    assert len(rows) == baked.frames
    assert list(rows[0])[:6] == ["frame", "seconds", "mouth", "phone", "word", "jaw"]
    assert list(rows[0])[5:] == [*POSE_CHANNELS, *(f"weight:{name}" for name in baked.chart.names)]
    assert [int(row["frame"]) for row in rows] == list(range(101, 101 + baked.frames))
    assert float(rows[48]["seconds"]) == pytest.approx(48 * 1001 / 24000, abs=1e-6)
    assert [row["mouth"] for row in rows] == [e.mouth for e in baked.exposures for _ in range(e.length)]
    assert np.array([float(row["jaw"]) for row in rows]) == pytest.approx(baked.jaw, abs=1e-4)
    sums = [sum(float(row[f"weight:{name}"]) for name in baked.chart.names) for row in rows]
    assert sums == pytest.approx([1.0] * len(rows), abs=1e-3)


def test_keys_json_is_exact_in_rate_and_close_in_value(delivery):
    baked, data = delivery.bake, json.loads(written("keys-json", delivery))
    assert Fraction(data["rate"]["numerator"], data["rate"]["denominator"]) == Fraction(24000, 1001)
    assert (data["start_frame"], data["length"]) == (101, baked.frames)
    assert [(key["frame"], key["mouth"]) for key in data["mouths"]] == [
        (e.start + 101, e.mouth) for e in baked.exposures
    ]
    jaw = next(channel for channel in data["channels"] if channel["name"] == "jaw")
    frames = [key["frame"] - 101 for key in jaw["keys"]]
    rebuilt = np.interp(np.arange(baked.frames), frames, [key["value"] for key in jaw["keys"]])
    assert np.abs(rebuilt - baked.jaw).max() <= jaw["tolerance"] + 1e-5
    assert len(frames) < baked.frames


@pytest.mark.parametrize("form", FORMATS, ids=lambda form: form.id)
def test_every_format_is_described_and_repeatable_and_refuses_what_lacks_its_content(form, tmp_path):
    assert form.about and form.loses and form.suffix.startswith(".") and form.ending.endswith(form.suffix)
    assert all(each.hint for each in settings_of(form.options).values())
    small, options = small_delivery(), SMALL if issubclass(form.options, PictureOptions) else {}
    for folder in ("once", "again"):
        (tmp_path / folder).mkdir()
        write_files(form.files(small, chosen_options(form.options, options)), tmp_path / folder)
    once, again = ({path.name: path.read_bytes() for path in (tmp_path / f).iterdir()} for f in ("once", "again"))
    assert once
    if form.id != "webm":  # has a random number of its own
        assert once == again
    with pytest.raises(TargetError, match=form.name):
        form.files(Delivery("nothing"))


def odd_deliveries():
    """What a careless project can hold."""
    small = small_delivery()
    notes = (Note(Span(0, 0), '"],}\x00\u2028'), Note(Span(99, 100), "late"), Note(Span(0.2, 0.3), "<b>&"))
    table = give(give(NamesTable(before="x/"), "Open", ['a"b\\c', "jaw", "=1"]), "Rest", ["jaw", ""])
    return {
        "one frame": replace(small, bake=trim(small.bake, 3, 4)),
        "negative start": replace(small, bake=replace(small.bake, start_frame=-50)),
        "odd title": replace(small, title='quo"te\n<b>& %s {x} \x07'),
        "odd notes": replace(small, notes=notes),
        "odd names": replace(small, names=table),
    }


@pytest.mark.parametrize("form", FORMATS, ids=lambda form: form.id)
@pytest.mark.parametrize("kind", ["one frame", "negative start", "odd title", "odd notes", "odd names"])
def test_whatever_a_project_holds_can_be_written(form, kind, tmp_path):
    odd = replace(odd_deliveries()[kind], place=tmp_path / "odd")
    options = chosen_options(form.options, SMALL if issubclass(form.options, PictureOptions) else {})
    for written_ in write_files(form.files(odd, options), tmp_path):
        assert written_.path.stat().st_size > 0


@pytest.mark.parametrize("form", FORMATS, ids=lambda form: form.id)
def test_without_a_frame_it_is_said(form, tmp_path):
    small = small_delivery()
    nothing = replace(small, bake=trim(small.bake, 3, 3), place=tmp_path / "nothing")
    if Needs.FRAMES in form.needs:
        with pytest.raises(TargetError, match="shorter than one frame"):
            form.files(nothing)
    else:
        assert form.files(nothing)


def test_options_are_read_from_text_and_wrong_ones_refused(delivery):
    keys = format_named("keys-json")
    coarse = chosen_options(keys.options, {"tolerance": "0.1"})
    assert len(written("keys-json", delivery, coarse)) < len(written("keys-json", delivery))
    for wrong in ({"colour": "red"}, {"tolerance": "much"}, {"tolerance": "-1"}):
        with pytest.raises(TargetError):
            chosen_options(keys.options, wrong)
    guarded = chosen_options(KeysCsvOptions, {"guarded": "yes"})
    (content,) = format_named("keys-csv").files(small_delivery(), guarded).values()
    assert "'=and" in content.decode()


def test_ids_are_names_for_good():
    assert len({form.id for form in FORMATS}) == len({form.ending for form in FORMATS}) == len(FORMATS)
    assert len({reader.id for reader in READERS}) == len(READERS)


def test_the_document_of_formats_is_what_the_registry_says():
    """`python -m buccaphon.formats.describing` writes it anew."""
    assert (ROOT / "docs" / "formats.md").read_text("utf-8") == formats_page()


def test_a_suffix_nobody_knows_names_those_that_are(tmp_path):
    with pytest.raises(TargetError, match=r"\.TextGrid, \.srt, \.vtt, \.json, \.csv"):
        format_for(tmp_path / "x.doc", Needs.WORDS)


def test_writing_is_all_or_nothing(tmp_path, monkeypatch):
    path = tmp_path / "keys.csv"
    path.write_text("old")

    def fail(*_):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr("os.fsync", fail)
    with pytest.raises(TargetError, match="No space left"):
        write_whole(path, b"new")
    assert path.read_text() == "old"
    assert [p.name for p in tmp_path.iterdir()] == ["keys.csv"]


def test_writing_goes_through_a_link_and_names_may_be_as_long_as_names_can_be(tmp_path):
    real, link, long = tmp_path / "real.csv", tmp_path / "link.csv", tmp_path / ("n" * 251 + ".csv")
    real.write_text("old")
    link.symlink_to(real)
    write_whole(link, b"new")
    assert link.is_symlink()
    assert real.read_bytes() == b"new"
    write_whole(long, b"new")
    assert long.read_bytes() == b"new"


@pytest.mark.parametrize("check", [lambda path: write_whole(path, b""), require_writable])
def test_targets_that_cannot_be_are_refused(tmp_path, check):
    with pytest.raises(TargetError, match="no folder"):
        check(tmp_path / "nowhere" / "x.csv")
    with pytest.raises(TargetError, match="is a folder"):
        check(tmp_path)
    with pytest.raises(TargetError, match="too long"):
        check(tmp_path / ("n" * 300 + ".csv"))


def test_keys_bear_the_hosts_names(delivery):
    table = give(give(NamesTable(before="m_"), "Open", ["ah", "jaw_drop"]), "Ajar", ["ah"])
    named = replace(delivery, names=give(table, "jaw", ["Jaw.rot"]))
    plain, ours = (keys_csv(each, KeysCsvOptions()).decode() for each in (delivery, named))
    before, after = (list(csv.DictReader(io.StringIO(text))) for text in (plain, ours))
    assert {row["mouth"] for row in after} >= {"m_ah", "m_Press"}
    for old, new in zip(before, after, strict=True):
        assert new["m_Jaw.rot"] == old["jaw"]
        both = min(float(old["weight:Open"]) + float(old["weight:Ajar"]), 1.0)
        assert float(new["weight:m_ah"]) == pytest.approx(both, abs=2e-4)
        assert new["weight:m_jaw_drop"] == old["weight:Open"]
    data = json.loads(keys_json(named, KeysJsonOptions()))
    assert "weight:m_ah" in {channel["name"] for channel in data["channels"]}
    assert "m_ah" in {key["mouth"] for key in data["mouths"]}


def test_a_channel_of_ones_own_goes_by_its_own_name_whatever_the_host_calls_others(call_peaks, call_score):
    rate, mixes = FrameRate.parse("24"), (read_mix("Open = round - spread"), read_mix("Jaw.rot = 0.5 jaw"))
    plan = Plan(call_score, find_chart("Ten"), frame_loudness(call_peaks, rate), BakeSettings(rate, mixes=mixes))
    plain = Delivery("call", call_score, bake(plan))
    table = give(give(NamesTable(before="m_"), "Open", ["ah", "wide"]), "jaw", ["Jaw.rot"])
    ours = replace(plain, names=replace(table, before="")).channels()
    before = plain.channels()
    assert np.array_equal(ours.curve("Open"), before.curve("Open"))
    assert ours.curve("Open").min() < 0
    assert np.array_equal(ours.curve("Jaw.rot"), before.curve("jaw") / 2), "in the place host units's"
    assert ours.ids.count("Jaw.rot") == 1
    assert "Open" in replace(plain, names=table).channels().ids, "no rule is put on it"


if __name__ == "__main__":
    GOLDEN.mkdir(exist_ok=True)
    for each in AS_BYTES:
        for name, kept in each.files(small_delivery()).items():
            (GOLDEN / name).write_bytes(kept)


def test_the_example_of_keys_in_the_document_is_valid():
    text = (Path(__file__).parents[2] / "docs" / "formats.md").read_text("utf-8")
    example = text.split("### Keys, JSON")[1].split("```json\n")[1].split("```")[0]
    schema = json.loads((HOSTS / "keys.schema.json").read_text("utf-8"))
    jsonschema.validate(json.loads(example), schema)
