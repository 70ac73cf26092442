"""Pictures are known by their first bytes, whatever they are called, and nothing else is tried."""

import base64
import io

import numpy as np
import pytest
from PIL import Image

from buccaphon.errors import KitError
from buccaphon.kits.pictures.pixels import decode, picture_size
from buccaphon.kits.pictures.svg import read_svg


def written_as(kind: str) -> bytes:
    made = io.BytesIO()
    Image.fromarray(np.full((6, 9, 3), 90, np.uint8)).save(made, kind)
    return made.getvalue()


@pytest.mark.parametrize("kind", ["PNG", "JPEG", "GIF", "BMP", "WEBP"])
def test_every_usual_kind_is_read(kind):
    data = written_as(kind)
    assert picture_size(data, "a") == (9, 6)
    image = decode(data, "a")
    assert (image.width(), image.height()) == (9, 6)
    assert abs(image.pixelColor(4, 3).red() - 90) < 8


@pytest.mark.parametrize(
    "data",
    [
        b"",
        b"PNG",
        b"<svg xmlns='http://www.w3.org/2000/svg' width='9' height='6'/>",
        written_as("TIFF"),
        b"RIFF....WAVE",
    ],
)
def test_what_is_of_no_such_kind_is_refused(data):
    with pytest.raises(KitError, match="no picture that can be read"):
        decode(data, "a")


def test_a_picture_within_a_drawing_is_drawn(tmp_path):
    inner = base64.b64encode(written_as("PNG")).decode()
    drawing = tmp_path / "ah.svg"
    drawing.write_text(
        '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="40" height="40">'
        f'<g id="ah"><image x="10" y="10" width="20" height="20" xlink:href="data:image/png;base64,{inner}"/></g>'
        '<g id="oh"><rect width="3" height="3"/></g></svg>'
    )
    art = read_svg(drawing)
    mouth, scale = art.drawings["ah"], art.width / 40
    assert mouth.image.width() == pytest.approx(20 * scale, abs=2)
    assert (mouth.x, mouth.y) == pytest.approx((10 * scale, (10 + 10 / 3) * scale), abs=2)
