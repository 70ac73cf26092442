"""Everything that a project file keeps, as one frozen record."""

from __future__ import annotations

from dataclasses import dataclass, field
from fractions import Fraction
from pathlib import Path
from typing import Any

from buccaphon.mouths.choosing import Painted
from buccaphon.score.edits import Boundary
from buccaphon.score.records import Score
from buccaphon.speech.lexicon import ENGLISH
from buccaphon.timing import FrameRate

DEFAULT_RATE = FrameRate(Fraction(24))
DEFAULT_CHART = "Ten"


@dataclass(frozen=True, slots=True)
class BoundaryPin:
    """A boundary put in its place by hand."""

    boundary: Boundary
    seconds: float


@dataclass(frozen=True, slots=True)
class State:
    """recording: the sound file. score: None until aligned. aligned_script: the text that the score was made from.

    pins: boundaries moved by hand, painted: mouths set by hand; both survive re-alignment and re-bakes. unknown: entries
    of the project file that this version does not know, kept for the version that does.
    """

    recording: Path | None = None
    script: str = ""
    language: str = ENGLISH
    rate: FrameRate = DEFAULT_RATE
    start_frame: int = 0
    chart: str = DEFAULT_CHART
    hold: int = 1
    lead: float = 1 / 24
    score: Score | None = None
    aligned_script: str = ""
    pins: tuple[BoundaryPin, ...] = ()
    painted: tuple[Painted, ...] = ()
    unknown: dict[str, Any] = field(default_factory=dict)

    @property
    def needs_aligning(self) -> bool:
        return self.recording is not None and self.script.strip() != "" and self.script != self.aligned_script
