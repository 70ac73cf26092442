"""Choosing the mouth of every exposure: plan visible mouths in seconds, then place them on frames.

The plan knows no frames: what the lips really do and when (`units`), what is fixed before all else (`cores`), what is
cheapest between (`programme`), and what is put right then (`finishing`). `placing` puts it on exposures. What each step
gains is told in docs/mouths.md.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

from buccaphon.mouths.chart import Chart
from buccaphon.mouths.exposures import Exposure, held_on
from buccaphon.mouths.finishing import mended
from buccaphon.mouths.grid import Grid
from buccaphon.mouths.outline import Outline, outlines_of
from buccaphon.mouths.passages import Passage, part_into_passages
from buccaphon.mouths.placing import Placed, place
from buccaphon.mouths.programme import Memory, known_or_cheapest
from buccaphon.mouths.settings import SettingsTrack
from buccaphon.mouths.wants import Wants
from buccaphon.score.records import Score
from buccaphon.timing import FrameRate

_ROUNDS = 3  # how often a passage that is too busy is chosen again


@dataclass(frozen=True, slots=True, eq=False)
class Choice:
    """mouths: one a cell of a passage. placed: the same as held mouths, with why. wants, known: what was wanted, and the
    parts it was chosen in, to be taken over where they stay the same."""

    mouths: list[int]
    placed: list[Placed]
    wants: Wants = field(repr=False)
    known: Memory = field(repr=False)


def choose_exposures(
    score: Score, chart: Chart, rate: FrameRate, grid: Grid, mouth_settings: SettingsTrack
) -> tuple[Exposure, ...]:
    """The held mouths of a whole recording, from frame 0 to the frame that covers its end, without gaps.

    Every sound whose mouth is a contact is seen, unless the exposures are too long for two contacts in a row.
    """
    passages = part_into_passages(score, rate, grid, mouth_settings)
    choices = choose_mouths(passages, chart, rate, grid, mouth_settings)
    path = [mouth for choice in choices for mouth in choice.mouths]
    return held_on(grid.edges, grid.frames, path, chart.names)


def choose_mouths(
    passages: Sequence[Passage],
    chart: Chart,
    rate: FrameRate,
    grid: Grid,
    mouth_settings: SettingsTrack,
    before: Sequence[Choice] = (),
) -> list[Choice]:
    """The mouth of each cell of some passages. before: choices made there in the same chart and settings, which it is the
    quicker by."""
    outlines = outlines_of(passages, chart, rate, grid, mouth_settings, [choice.wants for choice in before])
    _fill_in(outlines, {part: row for choice in before for part, row in choice.known.items()})
    return [_put_on_exposures(outline, chart, mouth_settings) for outline in outlines]


def _fill_in(outlines: Sequence[Outline], known: Memory) -> None:
    """Choose what lies between the cores. Where a stretch between two rests is too busy, it is chosen again with a dearer
    change, a few times at most."""
    wanting = [(outline, list(range(len(outline.parts)))) for outline in outlines]
    for _ in range(_ROUNDS + 1):
        asked = [(outline.parts[number], outline.costs) for outline, numbers in wanting for number in numbers]
        answers = iter(known_or_cheapest(asked, known))
        for outline, numbers in wanting:
            for number in numbers:
                outline.known[outline.parts[number]] = answer = next(answers)
                outline.rows[number] = answer[1]
        wanting = [(outline, dearer) for outline, _ in wanting if (dearer := outline.make_busy_dearer())]
        if not wanting:
            return


def _put_on_exposures(outline: Outline, chart: Chart, mouth_settings: SettingsTrack) -> Choice:
    exposed = outline.exposed
    placed = place(mended(outline.segments(), chart, exposed, mouth_settings), exposed, mouth_settings)
    mouths = [0] * exposed.cells
    for each, end in zip(placed, [*(after.cell for after in placed[1:]), exposed.cells], strict=True):
        mouths[each.cell : end] = [each.mouth] * (end - each.cell)
    return Choice(mouths, placed, outline.wants, outline.known)
