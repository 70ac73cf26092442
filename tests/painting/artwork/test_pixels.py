"""Pictures are known by their first bytes, whatever they are called, and nothing else is tried."""

import base64
import io
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from PyQt6.QtGui import QImage

from buccaphon.errors import KitError
from buccaphon.painting.artwork.pixels import decode, painting_on, picture_size
from buccaphon.painting.artwork.svg import read_svg


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
    with pytest.raises(KitError, match="not a readable picture"):
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


def test_a_painter_is_ended_whatever_happens_so_that_no_traceback_keeps_it_alive(qapp):
    image, kept = QImage(8, 8, QImage.Format.Format_ARGB32), []
    with pytest.raises(KeyError), painting_on(image) as painter:
        kept.append(painter)
        assert painter.isActive()
        raise KeyError("mouth")
    assert not kept[0].isActive()


def test_a_print_that_breaks_off_leaves_no_painter_behind(qapp, call, call_peaks, call_score):
    """What was painted so far lies in a buffer that is gone before the error is."""
    import gc

    from buccaphon.painting.pictures.printing import Print, sheet_pdf
    from buccaphon.project.delivering import deliver
    from buccaphon.project.derived import Derived
    from buccaphon.project.state import one_line
    from buccaphon.project.take import Take

    delivery = deliver(one_line((Take(Path("call.flac"), score=call_score),)), Derived(call, call_peaks), "call")
    painters = []

    def mouth(painter, _mouth, _box):
        painters.append(painter)
        raise KeyError("stopped")

    with pytest.raises(KeyError) as told:
        sheet_pdf(Print(delivery, call_peaks, mouth))
    assert not painters[0].isActive()
    del told
    gc.collect()
