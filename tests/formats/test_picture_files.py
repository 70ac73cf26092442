"""Films and pictures: their frames, their rate and their sound come back through decoders."""

import struct
from dataclasses import replace
from fractions import Fraction
from pathlib import Path

import av
import numpy as np
import pytest
from PIL import Image

from buccaphon.audio.recording import Recording
from buccaphon.errors import Cancelled, TargetError
from buccaphon.formats.delivery import Source
from buccaphon.formats.options import chosen_options
from buccaphon.formats.out.pictures.film import ClearFilmOptions, FilmOptions
from buccaphon.formats.out.pictures.shots import PictureOptions, Shooting
from buccaphon.formats.pictures import Pictures
from buccaphon.formats.registry import format_named
from buccaphon.formats.writing import write_files
from buccaphon.motion.plan import BakeSettings, Plan
from buccaphon.motion.record import trim
from buccaphon.motion.remaking import bake
from buccaphon.mouths.chart_file import find_chart
from buccaphon.score.records import Note
from buccaphon.timing import FrameRate, Span
from tests.formats.test_formats import plain_label, small_delivery

FLASHES = tuple(range(12, 96, 25))


def flashing(rate_text: str, first: int = 0):
    """A hundred frames of which some are white, with a click at the beginning of each."""
    rate = FrameRate.parse(rate_text)
    count = 100
    small = small_delivery()
    length = (count + first) * rate.value.denominator / rate.value.numerator
    sound = np.zeros((round(length * 48_000), 1), np.float32)
    for flash in FLASHES:
        at = round((flash + first) / float(rate.value) * 48_000)
        sound[at : at + 96, 0] = 0.9 * np.sin(np.arange(96) / 96 * np.pi * 12)
    loud = np.zeros(count + first, np.float32)
    made = bake(Plan(None, find_chart("Five"), loud, BakeSettings(rate)))

    def frame(number, shot):
        white = 255 if number in FLASHES else 20
        return np.full((shot.height, shot.width, 4), (white, white, white, white), np.uint8)

    pictures = Pictures(frame, lambda *_: b"", plain_label)
    return replace(
        small, bake=trim(made, first, first + count), sound=Recording(sound, 48_000, "clicks"), pictures=pictures
    )


def filmed(ident: str, delivery, folder: Path, options: object) -> Path:
    (written,) = write_files(format_named(ident).files(delivery, options), folder)
    return written.path


def decoded(path: Path):
    """Frames (n, height, width, 4), their seconds, the rate; the sound and when it begins."""
    with av.open(str(path)) as container:
        stream = container.streams.video[0]
        frames = list(container.decode(stream))
        pictures = np.stack([frame.to_ndarray(format="rgba") for frame in frames])
        times, rate = np.array([float(frame.time) for frame in frames]), stream.average_rate
    with av.open(str(path)) as container:
        parts = list(container.decode(container.streams.audio[0])) if container.streams.audio else []
        sound = [part.to_ndarray().astype(float).reshape(-1) for part in parts]
        begins = float(parts[0].time) if parts else 0.0
        sound_rate = parts[0].sample_rate if parts else 0
    return pictures, times, rate, np.concatenate(sound) if sound else np.zeros(0), begins, sound_rate


@pytest.mark.parametrize(("ident", "options"), [("mp4", FilmOptions), ("webm", FilmOptions), ("mov", ClearFilmOptions)])
@pytest.mark.parametrize(("rate", "first"), [("23.976", 0), ("25", 7)])
def test_sound_and_picture_of_a_film_stay_together(ident, options, rate, first, tmp_path):
    path = filmed(ident, flashing(rate, first), tmp_path, options(width=64, height=36))
    pictures, times, found, sound, begins, sound_rate = decoded(path)
    assert found == FrameRate.parse(rate).value
    assert len(pictures) == 100
    assert np.abs(times - np.arange(100) / float(found)).max() < 1.1e-3
    white = [n for n, picture in enumerate(pictures) if picture[..., 0].mean() > 128]
    assert tuple(white) == FLASHES
    loud = np.flatnonzero(np.abs(sound) > 0.3 * np.abs(sound).max())
    clicks = loud[np.concatenate([[True], np.diff(loud) > 4800])] / sound_rate + begins
    assert np.abs(clicks - times[white]).max() < 0.01


def test_a_film_for_compositing_keeps_its_opacity(tmp_path):
    pictures, *_ = decoded(filmed("mov", flashing("24"), tmp_path, ClearFilmOptions(width=64, height=36)))
    assert (pictures[0, :, :, 3] == 20).all()
    assert (pictures[12, :, :, 3] == 255).all()


def test_a_film_without_sound_has_none(tmp_path):
    *_, sound, _, _ = decoded(filmed("mp4", flashing("24"), tmp_path, FilmOptions(width=64, height=36, sound=False)))
    assert not len(sound)


def test_the_character_is_put_over_the_actors_picture(tmp_path):
    actor = filmed("mp4", flashing("24"), tmp_path, FilmOptions(width=64, height=36))
    film = actor.rename(tmp_path / "actor.mp4")
    over = replace(flashing("24"), source=Source(film, "actor"))
    seen = []

    def corner(number, shot):
        seen.append(shot)
        picture = np.zeros((shot.height, shot.width, 4), np.uint8)
        picture[18:, 32:] = (200, 30, 30, 255)
        return picture

    over = replace(over, pictures=Pictures(corner, lambda *_: b"", plain_label))
    pictures, *_ = decoded(filmed("mp4", over, tmp_path, FilmOptions(width=64, height=36, over=True)))
    assert all(shot.corner and shot.clear for shot in seen)
    assert pictures[12, 4:14, 4:28, :3].min() > 200, "the actor's flash"
    assert pictures[14, 4:14, 4:28, :3].max() < 60
    assert pictures[12, 22:, 40:, 0].mean() > 150
    assert pictures[12, 22:, 40:, 1].mean() < 80
    with pytest.raises(TargetError, match="no picture to put"):
        format_named("mp4").files(flashing("24"), FilmOptions(over=True))


def test_a_cancelled_film_leaves_what_was_there(tmp_path):
    path = tmp_path / "small.mp4"
    path.write_bytes(b"old")
    files = format_named("mp4").files(flashing("24"), FilmOptions(width=64, height=36))
    with pytest.raises(Cancelled):
        write_files(files, tmp_path, lambda share, _: share < 0.5)
    assert path.read_bytes() == b"old"
    assert [each.name for each in tmp_path.iterdir()] == ["small.mp4"]


def test_a_sequence_has_every_frame_by_the_scenes_numbers(tmp_path):
    small = small_delivery()
    form = format_named("png-sequence")
    written = write_files(form.files(small, chosen_options(form.options, {"width": "32", "height": "18"})), tmp_path)
    assert [each.path.name for each in written] == [f"small.{101 + n:04d}.png" for n in range(small.bake.frames)]
    mouths = [e.mouth for e in small.bake.exposures for _ in range(e.length)]
    for number, each in enumerate(written):
        with Image.open(each.path) as image:
            assert (image.mode, image.size) == ("RGBA", (32, 18))
            assert image.info == {"frame": str(101 + number), "mouth": mouths[number]}
            assert image.getpixel((3, 3)) == (number, number, number, 255)


def test_a_contact_sheet_has_a_cell_an_exposure(tmp_path):
    small = small_delivery()
    form = format_named("contact-sheet")
    (written,) = write_files(
        form.files(small, chosen_options(form.options, {"columns": "3", "across": "40"})), tmp_path
    )
    with Image.open(written.path) as image:
        found = np.asarray(image)
    for number, exposure in enumerate(small.bake.exposures):
        y, x = 6 + number // 3 * (32 + 20 + 6), 6 + number % 3 * 46
        assert (found[y : y + 32, x : x + 40, 0] == exposure.start).all()
    with pytest.raises(TargetError):
        chosen_options(form.options, {"columns": "0"})


@pytest.mark.parametrize(("ident", "slack"), [("apng", 0), ("webp", 1)])
def test_moving_pictures_repeat_at_the_rate(ident, slack, tmp_path):
    form = format_named(ident)
    options = chosen_options(form.options, {"width": "32", "height": "18"})
    (written,) = write_files(form.files(flashing("25"), options), tmp_path)
    with Image.open(written.path) as image:
        count = getattr(image, "n_frames", 1)
        assert count == 100 if ident == "apng" else count > 1
        assert image.info.get("loop", 0) == 0
        lengths = []
        for number in range(count):
            image.seek(number)
            image.load()
            lengths.append(image.info["duration"])
    assert abs(sum(lengths) - 4000) <= 40 * slack
    if ident == "apng":
        content = written.path.read_bytes()
        at = content.index(b"fcTL")
        assert Fraction(*struct.unpack(">HH", content[at + 24 : at + 28])) == Fraction(1, 25)


def test_what_is_burnt_in_is_said_for_each_frame():
    notes = (Note(Span(0.1, 0.2), "softer\nhere"), Note(Span(0.15, 0.15), "again"))
    small = replace(small_delivery(), notes=notes)
    wanted = PictureOptions(number=True, timecode=True, mouth=True, word=True, notes=True)
    shooting = Shooting(small, wanted)
    frame = small.bake.rate.nearest(0.2)
    left, middle, right = shooting.shot(frame).texts
    assert (left, right) == (str(101 + frame), "00:00:04:10")
    mouth = next(e.mouth for e in small.bake.exposures if e.end > frame)
    assert middle.split("  ·  ") == [mouth, "Plums,", "softer here; again"]
    assert Shooting(small, PictureOptions()).shot(frame).texts == ("", "", "")
    for wrong in ({"width": "8"}, {"height": "100000"}):
        with pytest.raises(TargetError):
            chosen_options(PictureOptions, wrong)
    with pytest.raises(TargetError, match="even"):
        format_named("mp4").files(small, FilmOptions(width=101))
