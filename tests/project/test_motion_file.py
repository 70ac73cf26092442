"""Motion settings as a file: what they keep, what is refused, and where else they can be used."""

from dataclasses import replace

import numpy as np
import pytest

from buccaphon.api import bake
from buccaphon.audio.loudness_settings import LoudnessSettings, Scale
from buccaphon.batch.line import Job, do_line
from buccaphon.batch.manifest import Row, read_manifest
from buccaphon.demo.line import recording_path, script_text
from buccaphon.errors import ChannelError
from buccaphon.formats.listing import Entry, ExportList
from buccaphon.motion.followers import LOUDNESS, Follower, Shake, Switch, Unit
from buccaphon.motion.mixes import read_mix
from buccaphon.motion.steps import KINDS, Smooth
from buccaphon.project.motion_file import (
    MotionSettings,
    UseMotion,
    motion_as_text,
    motion_of,
    open_motion,
    parse_motion,
    save_motion,
)
from buccaphon.project.state import one_line
from buccaphon.project.take import Take

LOUD = LoudnessSettings(scale=Scale.LOUDEST, threshold=0.3, closes_below=0.1, smoothing=0.06, peak=0.9, syllables=0.5)
SWELL = Follower("swell", LOUDNESS, (0.0, 0.93), (100.0, 130.0), Unit.PERCENT, shake=Shake(2.0))
LAMP = Follower("lamp", "smile", switch=Switch(0.3, 0.2), curve=((0.0, 0.0), (1.0, 1.0)))
ALL = MotionSettings(LOUD, (read_mix("smile = spread - 0.3 jaw"),), (SWELL, LAMP), tuple(kind() for kind in KINDS))


@pytest.fixture
def file(tmp_path):
    save_motion(ALL, tmp_path / "swell.buccamotion")
    return tmp_path / "swell.buccamotion"


def test_all_of_it_comes_back_and_is_put_on_another_line(file):
    assert open_motion(file) == ALL
    line = one_line((Take(recording_path(), loudness_settings=LoudnessSettings(floor=-40.0)),), steps=(Smooth(),))
    used = UseMotion(open_motion(file)).apply(line)
    assert motion_of(used) == ALL
    assert motion_of(line).loudness == LoudnessSettings(), "a floor is that of its recording"


@pytest.mark.parametrize(("spoilt", "reason"), [
    ("", "incomplete"),
    ("[1, 2]", "incomplete"),
    ('{"format": "buccaphon motion", "version": 9}', "version"),
    (motion_as_text(ALL).replace('"threshold": 0.3', '"threshold": 7'), "threshold"),
    (motion_as_text(replace(ALL, followers=(SWELL, SWELL))), "own name"),
    (motion_as_text(ALL).replace("smile = spread", "smile = nothing here"), "wrong"),
    (motion_as_text(replace(ALL, followers=(replace(SWELL, follows="swell"),))), "follow itself"),
])  # fmt: skip
def test_what_is_no_such_file_is_refused_with_its_reason(spoilt, reason, tmp_path):
    with pytest.raises(ChannelError, match=reason):
        parse_motion(spoilt, "swell.buccamotion")
    (tmp_path / "bad.buccamotion").write_text(spoilt)
    with pytest.raises(ChannelError, match=r"bad\.buccamotion"):
        open_motion(tmp_path / "bad.buccamotion")


def test_python_and_a_batch_move_lines_by_it(file, tmp_path):
    line = bake(recording_path(), 24, loudness_only=True, motion=file)
    swell = line.bake.channels.curve("swell")
    assert swell.max() > 120
    text = script_text().replace('"', '""')
    (tmp_path / "lines.csv").write_text(f'recording,fps,script,motion\n{recording_path()},24,"{text}",{file.name}\n')
    (row,) = read_manifest(tmp_path / "lines.csv")
    assert row.motion == file
    exports = ExportList((Entry("keys-csv"),))
    done = do_line(Job(row, exports, tmp_path / "out", has_scene=False))
    assert not done.failed
    (table,) = (tmp_path / "out").iterdir()
    head, *rows = table.read_text().splitlines()
    assert {"smile", "swell", "lamp"} <= set(head.split(","))
    values = np.array([float(each.split(",")[head.split(",").index("swell")]) for each in rows])
    assert values.max() > 120
    plain = do_line(Job(Row(2, row.recording, row.script), exports, tmp_path / "plain"))
    assert plain.key != done.key, "a line is done again when its motion changes"
    broken = do_line(Job(replace(row, motion=tmp_path / "none.buccamotion"), exports, tmp_path / "broken"))
    assert "none.buccamotion" in broken.failed
