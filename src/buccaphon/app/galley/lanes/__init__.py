"""Painting the lanes of one strip. Each lane is one function of the same sheet."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtGui import QPainter

from buccaphon.app.galley.lanes.mouths import paint_jaw, paint_mouths
from buccaphon.app.galley.lanes.notes import paint_notes
from buccaphon.app.galley.lanes.ruler import paint_ruler
from buccaphon.app.galley.lanes.sound import paint_sound, paint_spectrum
from buccaphon.app.galley.lanes.words import paint_phones, paint_words
from buccaphon.app.galley.look import Lane
from buccaphon.app.galley.sheet import Sheet


def paint_lane(painter: QPainter, sheet: Sheet, lane: Lane) -> None:
    """Paint one lane of a strip with its top at y = 0."""
    _PAINTERS[lane](painter, sheet, sheet.layout.look.height(lane))


def shown_in(sheet: Sheet, lane: Lane) -> object:
    """Everything that a lane's picture depends on; equal means that the old picture still holds."""
    bake, strip = sheet.bake, sheet.strip
    look = sheet.layout.look
    frame = (strip.start, strip.end, sheet.layout.scale, look.height(lane))
    if lane is Lane.RULER:
        return frame, bake.rate, bake.start_frame
    if lane is Lane.SOUND:
        loudness = (look.loudness, bake.rate)
        return (
            frame,
            id(sheet.derived),
            look.gain,
            look.wave_ink,
            loudness,
            sheet.state.take and sheet.state.take.not_speech,
        )
    if lane in (Lane.SPECTRUM, Lane.NOTES):
        return frame, id(sheet.derived), sheet.state.take and sheet.state.take.notes
    if lane in (Lane.WORDS, Lane.PHONES):
        numbered = sheet.words()
        doubted = [number for number, _ in numbered if number in sheet.missing]
        return frame, numbered, doubted, sheet.pinned(), sheet.state.score is None, look.notation, bake.chart.name
    if lane is Lane.MOUTHS:
        return frame, bake.rate, bake.chart.name, sheet.exposures(), sheet.painted()
    first, last = sheet.frames()
    return frame, bake.rate, bake.jaw[max(first - 1, 0) : last + 1].tobytes()


_PAINTERS: dict[Lane, Callable[[QPainter, Sheet, int], None]] = {
    Lane.RULER: paint_ruler,
    Lane.SOUND: paint_sound,
    Lane.SPECTRUM: paint_spectrum,
    Lane.WORDS: paint_words,
    Lane.PHONES: paint_phones,
    Lane.MOUTHS: paint_mouths,
    Lane.JAW: paint_jaw,
    Lane.NOTES: paint_notes,
}
