"""A timeline for cutting rooms, in OpenTimelineIO: the take as a clip, with markers of its words, mouths and notes."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from buccaphon.errors import RecordingError
from buccaphon.files import relative_name
from buccaphon.formats.delivery import Clip, Delivery
from buccaphon.motion.record import Bake
from buccaphon.setting import setting
from buccaphon.texts import N_, _

_KIND = "buccaphon"


@dataclass(frozen=True, slots=True)
class OtioOptions:
    """Which markers there are."""

    words: bool = setting(True, N_("Words"), N_("A green marker for each word"))
    mouths: bool = setting(True, N_("Mouths"), N_("A pink marker spanning each mouth"))
    notes: bool = setting(True, N_("Notes"), N_("A yellow marker for each note"))


def otio(delivery: Delivery, options: OtioOptions) -> bytes:
    """One audio track with one clip, the used part, from its place in the take; of a scene of several lines one track each.
    Markers lie on whole frames, by the one rule; their exact seconds and the exact rate stand in the metadata."""
    import opentimelineio  # noqa: PLC0415  (a tenth of a second that only this needs)

    bake = delivery.bake
    assert bake is not None
    schema, time = opentimelineio.schema, opentimelineio.opentime
    rate = float(bake.rate.value)

    def span(first: int, frames: int) -> Any:
        return time.TimeRange(time.RationalTime(first, rate), time.RationalTime(frames, rate))

    def track(name: str, clip: _Clip) -> Any:
        source = clip.line.source
        url, _rest = relative_name(source.file, delivery.place.parent.resolve())
        available = time.TimeRange(
            time.RationalTime(0, clip.line.rate), time.RationalTime(clip.line.samples, clip.line.rate)
        )
        media = schema.ExternalReference(target_url=url, available_range=available)
        # the last frame may reach a little past the end of the sound: a clip may not
        whole = min(
            clip.line.frames, int(clip.line.samples / clip.line.rate * bake.rate.value + 1e-6) - clip.line.first
        )
        made = schema.Clip(name=source.take, media_reference=media, source_range=span(clip.line.first, max(whole, 0)))
        made.enabled = clip.line.is_heard
        made.metadata[_KIND] = {**({"chart": clip.chart} if clip.chart else {}), "take": source.take, **clip.told}
        for name_of, begins, ends, kind, color, more in clip.marks:
            first, end = (min(max(each, clip.line.first), clip.line.first + whole) for each in (begins, ends))
            made.markers.append(
                schema.Marker(
                    name=name_of,
                    marked_range=span(first, max(end - first, 0)),
                    color=color,
                    comment=more.pop("comment", ""),
                    metadata={_KIND: {"kind": kind, **more}},
                )
            )
        found = schema.Track(name=name, kind=schema.TrackKind.Audio)
        if clip.line.at > 0:
            found.append(schema.Gap(source_range=span(0, clip.line.at)))
        found.append(made)
        return found

    timeline = schema.Timeline(name=delivery.title, global_start_time=time.RationalTime(bake.start_frame, rate))
    for name, clip in _clips_of(delivery, bake, options):
        timeline.tracks.append(track(name, clip))
    fraction = {"numerator": bake.rate.value.numerator, "denominator": bake.rate.value.denominator}
    timeline.metadata[_KIND] = {"rate": fraction, "start_frame": bake.start_frame}
    text: str = opentimelineio.adapters.write_to_string(timeline, "otio_json", indent=1)
    return (text + "\n").encode()


_Mark = tuple[str, int, int, str, str, dict[str, Any]]


@dataclass(frozen=True, slots=True)
class _Clip:
    """marks: in frames of its file. told: what else stands beside it."""

    line: Clip
    marks: list[_Mark]
    chart: str
    told: dict[str, str]


def _clips_of(delivery: Delivery, bake: Bake, options: OtioOptions) -> Iterator[tuple[str, _Clip]]:
    """The clips with the names of their tracks: the one of the delivery, or one for each line of the scene."""
    if not delivery.lines:
        source = delivery.source
        assert source is not None
        samples, rate = _length_of(delivery)
        clip = Clip(source.take, source, "", 0, bake.frames, bake.first, samples, rate)
        yield "Dialogue", _Clip(clip, _marks(delivery, bake, options), bake.chart.name, {})
        return
    known = {voice.name: voice.of for voice in delivery.voices}
    noted: set[object] = set()
    for line in delivery.lines:
        said = known.get(line.role, delivery if not known else None)
        marks = list[_Mark]()
        if said is not None and said.bake is not None and line.role:
            by, here = line.first - line.at, range(line.at, line.at + line.frames)
            for name, first, end, kind, color, more in _marks(said, said.bake, options):
                if first not in here or (kind == "note" and (name, first) in noted):
                    continue
                noted.add((name, first))
                marks.append((name, first + by, end + by, kind, color, more))
        chart = said.bake.chart.name if said is not None and said.bake is not None and line.role else ""
        told = {"line": line.name, **({"role": line.role} if line.role else {})}
        yield line.name, _Clip(line, marks, chart, told)


def _marks(delivery: Delivery, bake: Bake, options: OtioOptions) -> list[_Mark]:
    """Frames count from the start of the take's file."""
    found: list[_Mark] = []
    near = bake.rate.nearest
    used = range(bake.first, bake.first + bake.frames)
    if options.words and delivery.score is not None:
        for word in delivery.score.words:
            if word.text and near(word.start) in used:
                exact = {"start_seconds": round(word.start, 4), "end_seconds": round(word.end, 4)}
                found.append((word.text, near(word.start), near(word.end), "word", "GREEN", exact))
    if options.mouths:
        for each in bake.exposures:
            first = each.start + bake.first
            found.append((delivery.called(each.mouth), first, first + each.length, "mouth", "PINK", {}))
    if options.notes:
        for note in delivery.notes:
            if near(note.span.start) in used:
                exact = {"start_seconds": round(note.span.start, 4), "end_seconds": round(note.span.end, 4)}
                more = {"comment": note.text, **exact}
                found.append((note.text[:40], near(note.span.start), near(note.span.end), "note", "YELLOW", more))
    return found


def _length_of(delivery: Delivery) -> tuple[int, float]:
    """How many samples the take's own file has, and how many a second."""
    if delivery.sound is not None:
        return len(delivery.sound.samples), float(delivery.sound.rate)
    assert delivery.source is not None
    raise RecordingError(str(delivery.source.file), _("its sound is not here"), _("Open the recording first"))
