import pytest
from PyQt6.QtCore import QSettings

from buccaphon.app.galley.look import LOOK, Look
from buccaphon.app.mirror.look import MIRROR, Backdrop, Beside, MirrorLook
from buccaphon.app.settings import READING, RECENT, SCALE, THEME, Remembered
from buccaphon.timing import TimeDisplay


@pytest.fixture(autouse=True)
def settings(qapp, tmp_path):
    QSettings.setDefaultFormat(QSettings.Format.IniFormat)
    QSettings.setPath(QSettings.Format.IniFormat, QSettings.Scope.UserScope, str(tmp_path))
    qapp.setOrganizationName("Buccaphon")
    qapp.setApplicationName("Buccaphon tests")


@pytest.mark.parametrize(
    ("setting", "value"),
    [
        (THEME, "night"),
        (SCALE, 1.5),
        (READING, TimeDisplay.FEET_16),
        (RECENT, ["/a b/c, d.buccaphon", "“x”.wav"]),
        (RECENT, ["/no unicode/\udcff.buccaphon"]),
        (MIRROR, MirrorLook(True, Beside.EARLIER, Backdrop.COLOR, "#123456")),
        (LOOK, Look(scale=300.0, loudness=True)),
        (Remembered("on", bool, True, ""), False),
    ],
)
def test_what_is_remembered_is_read_back(setting, value):
    assert setting.read() == setting.default
    setting.write(value)
    assert setting.read() == value


@pytest.mark.parametrize(
    ("setting", "kept", "value"),
    [
        (THEME, "night", "night"),
        (SCALE, 1.25, 1.25),
        (READING, "timecode", TimeDisplay.TIMECODE),
        (RECENT, ["/a.buccaphon", "/b.buccaphon"], ["/a.buccaphon", "/b.buccaphon"]),
        (RECENT, "/a.buccaphon", ["/a.buccaphon"]),
    ],
)
def test_what_earlier_versions_kept_plain_is_read(setting, kept, value):
    QSettings().setValue(setting.id, kept)
    assert setting.read() == value


@pytest.mark.parametrize("setting", [SCALE, READING, MIRROR, LOOK])
def test_what_makes_no_sense_is_the_default(setting):
    QSettings().setValue(setting.id, '{"scale": "wide", "beside": 3}')
    assert setting.read() == setting.default
