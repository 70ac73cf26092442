"""Drawings to start from: of one size, layered, named as files can be, and brought in again without a word."""

import xml.etree.ElementTree as ET

from PyQt6.QtGui import QImage

from buccaphon.mouths.chart import ChartDocument, Mouth
from buccaphon.mouths.chart_file import shipped_charts
from buccaphon.mouths.pose import Pose
from buccaphon.painting.artwork.folder import read_folder
from buccaphon.painting.artwork.pixels import as_array
from buccaphon.painting.artwork.svg import LAYERS, read_svg
from buccaphon.painting.templates import HEIGHT, WIDTH, templates
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
            assert (image.width(), image.height()) == (WIDTH, HEIGHT)
            assert as_array(image)[..., 3].any(), name
            assert not as_array(image)[..., 3].all(), f"{name} is transparent around"
    root = ET.fromstring(files["Ten.svg"])
    labels = [element.get(f"{LAYERS}label") for element in root.iter() if element.get(f"{LAYERS}groupmode")]
    assert labels == ["guide", "mouths", *chart.names]
    assert read_svg(tmp_path / "Ten.svg").names == chart.names
    (tmp_path / "Ten.svg").unlink()
    assert set(read_folder(tmp_path).names) == set(chart.names), "the guide is no mouth"


def test_names_that_no_file_can_have_are_written_otherwise(qapp):
    mouths = tuple(Mouth(name, Pose(jaw=0.5), ()) for name in ("a/b", "a:b", "..", "<&>", "x" * 300))
    files = templates(ChartDocument("../evil", "", mouths), color)
    assert len(files) == 7
    assert all("/" not in name and not name.startswith(".") and len(name) < 100 for name in files)
    assert ET.fromstring(files["_evil.svg"]) is not None
