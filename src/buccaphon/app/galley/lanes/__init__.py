"""The lanes of a strip, one file each, all told here."""

from __future__ import annotations

from buccaphon.app.galley.lane import LaneSpec
from buccaphon.app.galley.lanes import jaw, mouths, notes, phones, ruler, sound, spectrum, words
from buccaphon.app.galley.look import Lane

LANES: dict[Lane, LaneSpec] = {
    module.SPEC.lane: module.SPEC for module in (ruler, sound, spectrum, words, phones, mouths, jaw, notes)
}
