"""Drawings to start from: of one size, layered, named as files can be, and brought in again without a word."""

import xml.etree.ElementTree as ET

import numpy as np
from PyQt6.QtGui import QImage

from buccaphon.mouths.chart import ChartDocument, Mouth
from buccaphon.mouths.chart_file import shipped_charts
from buccaphon.mouths.pose import Pose
from buccaphon.painting.artwork.folder import read_folder
from buccaphon.painting.artwork.pixels import as_array
from buccaphon.painting.artwork.svg import LAYERS, read_svg
from buccaphon.painting.templates import Sheet, sheet_for, templates
from buccaphon.painting.theme import PAPER


def color(role):
    return PAPER.color(role).name()


def test_each_mouth_is_a_layer_and_a_picture_of_one_size(qapp, tmp_path):
    chart = shipped_charts()["Ten"]
    files = templates(chart, color)
    assert set(files) == {"Ten.svg", "guide.png", *(f"{name}.png" for name in chart.names)}
    for name, content in files.items():
        (tmp_path / name).write_bytes(content)
        if name.endswith(".png"):
            image = QImage.fromData(content)
            assert (image.width(), image.height()) == (Sheet().width, Sheet().height)
            assert as_array(image)[..., 3].any(), name
            assert not as_array(image)[..., 3].all(), f"{name} is transparent around"
    root = ET.fromstring(files["Ten.svg"])
    labels = [element.get(f"{LAYERS}label") for element in root.iter() if element.get(f"{LAYERS}groupmode")]
    assert labels == ["guide", "mouths", *chart.names]
    assert read_svg(tmp_path / "Ten.svg").names == chart.names
    (tmp_path / "Ten.svg").unlink()
    assert set(read_folder(tmp_path).names) == set(chart.names), "the guide is no mouth"


def test_they_come_in_a_faces_own_size_with_the_mouths_where_its_own_are(qapp):
    sheet = sheet_for(300, 420, (140.0, 310.0, 90.0))
    files = templates(shipped_charts()["Ten"], color, sheet)
    for name in ("Rest.png", "Open.png", "Spread.png"):
        drawn = as_array(QImage.fromData(files[name]))[..., 3] > 0
        assert drawn.shape == (420, 300)
        ys, xs = drawn.nonzero()
        assert abs((xs.min() + xs.max()) / 2 - 140) < 2
        assert ys.min() < 310 < ys.max() + 3
        assert np.ptp(xs) < 100
    assert 'viewBox="0 0 300 420"' in files["Ten.svg"].decode()


def test_names_that_no_file_can_have_are_written_otherwise(qapp):
    mouths = tuple(Mouth(name, Pose(jaw=0.5), ()) for name in ("a/b", "a:b", "..", "<&>", "x" * 300))
    files = templates(ChartDocument("../evil", "", mouths), color)
    assert len(files) == 7
    assert all("/" not in name and not name.startswith(".") and len(name) < 100 for name in files)
    assert ET.fromstring(files["_evil.svg"]) is not None
