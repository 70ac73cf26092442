"""The lanes of a strip, one file each, all listed here."""

from __future__ import annotations

from buccaphon.app.galley.lane import LaneSpec
from buccaphon.app.galley.lanes import curve, mouths, notes, phones, ruler, sound, spectrum, words
from buccaphon.app.galley.look import Lane

LANES: dict[Lane, LaneSpec] = {
    spec.lane: spec
    for spec in (
        ruler.SPEC, sound.SPEC, spectrum.SPEC, words.SPEC, phones.SPEC, mouths.SPEC, *curve.SPECS, notes.SPEC,
    )
}  # fmt: skip
