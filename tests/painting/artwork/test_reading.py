"""Drawings are read from folders, layered files and sheets, by this and by other programs."""

import gzip
import zipfile

import numpy as np
import pytest
from PyQt6.QtGui import QImage

from buccaphon.errors import Cancelled, KitError
from buccaphon.painting.artwork.artwork import Artwork
from buccaphon.painting.artwork.folder import read_folder
from buccaphon.painting.artwork.openraster import read_openraster
from buccaphon.painting.artwork.pixels import LARGEST_SHOWN, as_array, decode, from_array, painted
from buccaphon.painting.artwork.sprites import propose_grid, read_sprites
from buccaphon.painting.artwork.svg import LAYERS, read_svg
from tests.conftest import DATA
from tests.helpers.artwork import NAMES, as_png, box_of, drawings, layered, picture, sheet

BY_ANOTHER = DATA / "kits" / "by_another_writer.ora"


def put_together(art: Artwork, name: str) -> QImage:
    """The face with one of its mouths."""

    def paint(painter):
        for each in (*art.under, art.drawings[name], *art.over):
            painter.drawImage(each.x, each.y, each.image)

    return painted(art.width, art.height, paint)


# --- folders ----------------------------------------------------------------------------------------------------------


def test_a_folder_gives_each_drawing_cropped_at_its_place(tmp_path):
    art = read_folder(drawings(tmp_path / "mouths"))
    assert set(art.names) == set(NAMES)
    assert (art.width, art.height, art.told) == (80, 80, [])
    found = art.drawings["fv"]
    assert (found.x, found.y, found.image.width(), found.image.height()) == box_of(2)


def test_drawings_stand_in_natural_order_and_others_are_left_out(tmp_path):
    drawings(tmp_path, ("mouth 10", "Mouth 2", "mouth 1"))
    (tmp_path / ".hidden.png").write_bytes(b"x")
    (tmp_path / "read me.txt").write_text("x")
    assert read_folder(tmp_path).names == ("mouth 1", "Mouth 2", "mouth 10")


def test_the_rest_of_the_face_is_told_by_its_name(tmp_path):
    drawings(tmp_path, ("face", "hair", "mouth_ah", "mouth_oh", "face_oh", "guide"))
    art = read_folder(tmp_path)
    assert art.names == ("mouth_ah", "mouth_oh")
    assert (len(art.under), len(art.over), list(art.faces)) == (1, 1, ["face_oh"])


def test_smaller_drawings_stand_in_the_middle_of_the_bottom_edge_and_it_is_said(tmp_path):
    drawings(tmp_path, ("ah",), (80, 80))
    picture(40, 20, (0, 0, 40, 20)).save(str(tmp_path / "oh.png"))
    art = read_folder(tmp_path)
    assert (art.drawings["oh"].x, art.drawings["oh"].y) == (20, 60)
    assert any("differ in size" in told for told in art.told)


def test_a_damaged_drawing_is_told_of_and_the_others_are_used(tmp_path):
    drawings(tmp_path, ("ah", "oh"))
    (tmp_path / "ee.png").write_bytes(as_png(picture(80, 80, (1, 1, 60, 60)))[:120])
    art = read_folder(tmp_path)
    assert art.names == ("ah", "oh")
    assert any("ee.png" in told and "damaged" in told for told in art.told)


def test_a_suffix_may_lie(tmp_path):
    drawings(tmp_path, ("ah",))
    picture(80, 80, (1, 1, 5, 5)).convertToFormat(QImage.Format.Format_RGB32).save(str(tmp_path / "oh.png"), "JPG")
    assert set(read_folder(tmp_path).names) == {"ah", "oh"}


def test_jpeg_is_warned_of(tmp_path):
    picture(80, 80).convertToFormat(QImage.Format.Format_RGB32).save(str(tmp_path / "ah.jpg"))
    assert any("transparency" in told for told in read_folder(tmp_path).told)


def test_large_drawings_are_kept_no_larger_than_they_are_shown(tmp_path):
    image = QImage(3840, 2160, QImage.Format.Format_ARGB32)
    image.fill(0xFF902030)
    image.save(str(tmp_path / "ah.png"))
    art = read_folder(tmp_path)
    assert max(art.width, art.height) == LARGEST_SHOWN
    assert art.share == pytest.approx(LARGEST_SHOWN / 3840)
    assert art.size_in_bytes < 10e6


def test_an_empty_folder_is_refused(tmp_path):
    with pytest.raises(KitError, match="no drawing"):
        read_folder(tmp_path)


def test_reading_is_stopped_on_request(tmp_path):
    with pytest.raises(Cancelled):
        read_folder(drawings(tmp_path), lambda share, _what: share < 0.3)


# --- OpenRaster -------------------------------------------------------------------------------------------------------


def test_layers_by_another_program_are_what_it_shows_itself():
    art = read_openraster(BY_ANOTHER)
    assert art.names == ("Rest", "Press", "Open", "Round"), "from the bottom up, the hidden ones too"
    assert (len(art.under), len(art.over), art.told) == (1, 1, [])
    with zipfile.ZipFile(BY_ANOTHER) as file:
        merged = as_array(decode(file.read("mergedimage.png"), "merged"))
    ours = as_array(put_together(art, "Rest"))
    there = merged[..., 3] == 255
    assert np.abs(ours.astype(int) - merged)[there].max() <= 2


def test_groups_are_laid_on_as_one_and_modes_that_are_not_known_are_told(tmp_path):
    stack = """<image w="8" h="8"><stack>
        <stack name="mouths"><layer name="ah" src="a.png" visibility="hidden"/><layer name="oh" src="a.png" x="2"/></stack>
        <layer name="face" src="b.png" composite-op="svg:color"/></stack></image>"""
    path = layered(
        tmp_path / "a.ora", stack, a=as_png(picture(8, 8, (1, 1, 3, 2))), b=as_png(picture(8, 8, (0, 0, 8, 8)))
    )
    art = read_openraster(path)
    assert art.names == ("oh", "ah")
    assert (art.drawings["oh"].x, art.drawings["ah"].x) == (3, 1)
    assert "svg:color" in art.told[0]


def test_a_file_without_mouths_says_how_to_name_them(tmp_path):
    stack = '<image w="8" h="8"><stack><layer name="hat" src="a.png"/></stack></image>'
    with pytest.raises(KitError) as told:
        read_openraster(layered(tmp_path / "a.ora", stack, a=as_png(picture(8, 8))))
    assert "Name them" in told.value.remedy


# --- SVG --------------------------------------------------------------------------------------------------------------

SVG = f"""<svg xmlns="http://www.w3.org/2000/svg" xmlns:i="{LAYERS[1:-1]}" viewBox="0 0 100 100" width="100" height="100">
  <g i:groupmode="layer" i:label="Face"><rect width="100" height="100" fill="#e08a2e"/></g>
  <g i:groupmode="layer" i:label="Mouths" transform="translate(10 0)">
    <g i:groupmode="layer" i:label="ah" style="display:none"><rect x="20" y="60" width="40" height="30" fill="#300"/></g>
    <g i:groupmode="layer" i:label="oh"><rect x="30" y="60" width="20" height="20" fill="#300"/></g>
  </g>
  <g i:groupmode="layer" i:label="Hat"><rect width="100" height="10" fill="#123"/></g>
</svg>"""


def test_svg_layers_become_drawings_hidden_or_not_where_their_groups_put_them(tmp_path):
    (tmp_path / "face.svg").write_text(SVG)
    art = read_svg(tmp_path / "face.svg")
    assert art.names == ("ah", "oh")
    scale = art.width / 100
    found = art.drawings["ah"]
    assert (found.x, found.y) == (round(30 * scale), round(60 * scale))
    assert (len(art.under), len(art.over)) == (1, 1)
    assert art.over[0].image.height() == pytest.approx(10 * scale, abs=1)


def test_svgz_is_unpacked(tmp_path):
    (tmp_path / "face.svgz").write_bytes(gzip.compress(SVG.encode()))
    assert read_svg(tmp_path / "face.svgz").names == ("ah", "oh")


def test_named_groups_do_where_there_are_no_layers(tmp_path):
    (tmp_path / "face.svg").write_text(
        '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 10 10"><g id="g12"><path id="mouth1" d="M1 1h3v3z"/>'
        '<path id="mouth2" d="M1 1h5v3z"/><path id="path77" d="M0 0h1v1z"/></g></svg>'
    )
    assert read_svg(tmp_path / "face.svg").names == ("mouth1", "mouth2")


def test_what_qt_does_not_clip_is_drawn_by_another_hand(tmp_path):
    (tmp_path / "face.svg").write_text(
        '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 100"><defs><clipPath id="c"><rect width="50" height="100"/>'
        '</clipPath></defs><g id="ah" clip-path="url(#c)"><rect width="100" height="20" fill="#300"/></g>'
        '<g id="oh"><rect width="100" height="20" fill="#300"/></g></svg>'
    )
    art = read_svg(tmp_path / "face.svg")
    assert art.drawings["ah"].image.width() == pytest.approx(art.width / 2, abs=2)
    assert art.drawings["oh"].image.width() == art.width


def test_pictures_beside_an_svg_are_never_opened(tmp_path):
    picture(8, 8, (0, 0, 8, 8)).save(str(tmp_path / "beside.png"))
    (tmp_path / "face.svg").write_text(
        '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 8 8"><image href="beside.png" width="8" height="8"/>'
        '<g id="ah"><rect width="2" height="2"/></g><g id="oh"><rect width="3" height="3"/></g></svg>'
    )
    art = read_svg(tmp_path / "face.svg")
    assert art.under == []
    assert "beside.png" in art.told[0]


# --- sprite sheets ----------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(("columns", "rows", "used"), [(5, 2, None), (4, 3, 10), (1, 4, None), (6, 1, None)])
def test_the_grid_of_a_sheet_is_seen(columns, rows, used, tmp_path):
    image = sheet(columns, rows, used=used)
    assert propose_grid(image) == (columns, rows)
    image.save(str(tmp_path / "sheet.png"))
    art = read_sprites(tmp_path / "sheet.png", columns, rows)
    assert art.names == tuple(str(n) for n in range(1, (used or columns * rows) + 1))
    assert (art.drawings["1"].x, art.drawings["1"].y) == (4, 5)


def test_no_grid_is_proposed_where_the_ground_is_opaque_or_one_drawing_is_all():
    assert propose_grid(picture(40, 40, (0, 0, 40, 40))) is None
    assert propose_grid(picture(40, 40, (1, 1, 38, 38))) is None


def test_a_grid_that_cannot_be_is_refused(tmp_path):
    sheet(5, 2).save(str(tmp_path / "sheet.png"))
    with pytest.raises(KitError, match="too many"):
        read_sprites(tmp_path / "sheet.png", 64, 64)


def test_pixels_go_into_an_array_and_back():
    image = picture(5, 4, (1, 1, 2, 2))
    pixels = as_array(image)
    assert pixels.shape == (4, 5, 4)
    assert tuple(pixels[1, 1]) == (0x90, 0x20, 0x30, 255)
    assert (as_array(from_array(pixels)) == pixels).all()
