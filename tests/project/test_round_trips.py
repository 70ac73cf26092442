"""Reading back what was written gives the same mouths on the same frames, whatever the line, rate, first frame, chart and
names."""

import tempfile
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
import soundfile
from hypothesis import given, settings
from hypothesis import strategies as st

from buccaphon.audio.peaks import build_peaks
from buccaphon.audio.reading import read_recording
from buccaphon.formats.in_.corrected import read_corrected
from buccaphon.formats.in_.mouth_list import read_mouth_list
from buccaphon.formats.options import chosen_options
from buccaphon.formats.registry import format_named
from buccaphon.formats.writing import write_files
from buccaphon.kits.kit import Drawn, Kit, OtherFile
from buccaphon.kits.names.table import NamesTable, give
from buccaphon.mouths.chart_file import shipped_charts
from buccaphon.project.corrections import as_one
from buccaphon.project.delivering import deliver
from buccaphon.project.derived import Derived
from buccaphon.project.edits.kits import PutKit
from buccaphon.project.edits.mouths import Clear, Expose
from buccaphon.project.edits.takes import ChangeTake
from buccaphon.project.exposing import WHOLE_LINE, expose_list
from buccaphon.project.markers import readings_of
from buccaphon.project.state import one_line
from buccaphon.project.take import Take
from buccaphon.score.records import Phone, Score, Word
from buccaphon.timing import FrameRate, Span

SECONDS = 3.0
CORRECTIONS = ("textgrid", "cues", "otio", "sheet-csv", "sheet-xlsx", "sheet-ods", "keys-csv")
LISTS = ("changes-txt", "changes-csv", "sheet-csv", "sheet-xlsx", "sheet-ods")
OPTIONS = {"cues": {"mouths": "yes"}}
RATES = ("12", "23.976", "24", "25", "29.97", "30", "48", "59.94", "60", "15.5")
WORDS = Score(tuple(Word(text, (Phone("m", at, at + 0.2),)) for text, at in (("plums", 0.3), ("A", 1.1))), SECONDS)

NAMES = st.text(st.characters(codec="utf-8", categories=("L", "N", "P", "S", "Zs")), min_size=1, max_size=12).map(
    lambda text: " ".join(text.split())
)


@pytest.fixture(scope="module")
def derived(tmp_path_factory):
    path = tmp_path_factory.mktemp("sound") / "hum.wav"
    soundfile.write(path, 0.2 * np.sin(np.arange(round(SECONDS * 16_000)) * 0.05), 16_000)
    recording = read_recording(path)
    return path, Derived(recording, build_peaks(recording))


@st.composite
def states(draw):
    """A line painted from beginning to end, and how it is delivered."""
    rate, chart = FrameRate.parse(draw(st.sampled_from(RATES))), draw(st.sampled_from(sorted(shipped_charts())))
    state = one_line((Take(Path(), score=WORDS),), rate=rate, start_frame=draw(st.integers(-50, 100_000)), chart=chart)
    mouths, frames = state.chart_in_use.names, rate.covering(SECONDS)
    starts = draw(st.sets(st.integers(1, frames - 1), max_size=30))
    rows = tuple((frame, draw(st.sampled_from(mouths))) for frame in sorted({0, *starts}))
    if draw(st.booleans()):
        kinds = (
            NAMES.filter(lambda name: name and not name.startswith("'"))  # which guards a formula in front of a name
            | st.sampled_from(mouths)
            | st.integers(0, 12).map(str)
            | st.sampled_from(("a", "A", "é"))
        )
        own = draw(st.lists(kinds, min_size=len(mouths), max_size=len(mouths), unique=True))
        before, after = draw(st.sampled_from((("", ""), ("m_", ""), ("", " 01"))))
        names = NamesTable(host=tuple(own), before=before, after=after, counts_from=draw(st.integers(0, 1)))
        for mouth, name in zip(mouths, draw(st.permutations(own)), strict=True):
            names = give(names, mouth, [name])
        state = PutKit(Kit("Pip", OtherFile(Path("pip.psd")), Drawn(), names=names)).apply(state)
    if draw(st.booleans()):
        first = draw(st.floats(0.0, 1.0))
        state = ChangeTake(used=Span(first, draw(st.floats(first + 0.3, SECONDS)))).apply(state)
    return state, rows, frames


def shown_on(bake):
    return [exposure.mouth for exposure in bake.exposures for _ in range(exposure.length)]


def written(ident, state, derived, folder):
    form = format_named(ident)
    delivery = replace(deliver(state, derived, "line"), place=folder / "line")
    return write_files(form.files(delivery, chosen_options(form.options, OPTIONS.get(ident, {}))), folder)[0].path


def of(path, state):
    return state.with_take(replace(state.take, path=path))


@pytest.mark.parametrize("ident", CORRECTIONS)
@settings(deadline=None, max_examples=40)
@given(made=states())
def test_corrections_bring_every_mouth_back(ident, derived, made):
    (path, whole), (state, rows, frames) = derived, made
    blank = Clear(WHOLE_LINE).apply(of(path, state))
    painted = Expose(rows, frames).apply(blank)
    with tempfile.TemporaryDirectory() as folder:
        file = read_corrected(written(ident, painted, whole, Path(folder)))
        found = readings_of(replace(file, markers=()), blank, whole.bake(blank))[0].would
        assert found.unplaced == ""
        again = as_one(found.found, "back").apply(blank)
        assert shown_on(whole.used_part(again)) == shown_on(whole.used_part(painted))
        assert shown_on(whole.used_part(painted)), "there is something to compare"
        unchanged = readings_of(replace(file, markers=()), painted, whole.bake(painted))[0].would
        assert [each.says for each in unchanged.found] == []


@pytest.mark.parametrize("ident", LISTS)
@settings(deadline=None, max_examples=40)
@given(made=states())
def test_lists_bring_every_mouth_back(ident, derived, made):
    (path, whole), (state, rows, frames) = derived, made
    blank = Clear(WHOLE_LINE).apply(of(path, state))
    painted = Expose(rows, frames).apply(blank)
    with tempfile.TemporaryDirectory() as folder:
        listed = read_mouth_list(written(ident, painted, whole, Path(folder)))
        again = expose_list(listed, blank, whole.bake(blank), blank=True).apply(blank)
        assert shown_on(whole.used_part(again)) == shown_on(whole.used_part(painted))
