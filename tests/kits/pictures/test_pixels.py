"""Pictures are known by their first bytes, whatever they are called, and nothing else is tried."""

import io

import numpy as np
import pytest
from PIL import Image

from buccaphon.errors import KitError
from buccaphon.kits.pictures.pixels import decode, picture_size


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
