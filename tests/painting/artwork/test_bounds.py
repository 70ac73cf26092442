"""Characters from anywhere are read within bounds of pixels, parts and seconds, and end in a sentence."""

import base64

import pytest

from buccaphon.errors import KitError
from buccaphon.kits.limits import MOST_NAMES, within_limits
from buccaphon.kits.model.head import read_head
from buccaphon.kits.store import kit_from_data
from buccaphon.painting.artwork.openraster import read_openraster
from buccaphon.painting.artwork.svg import read_svg
from tests.helpers.artwork import as_png, layered, picture, png_that_says
from tests.helpers.heads import document, write_glb

MOUTHS = '<g id="rest"><path d="M0 0h9"/></g><g id="ah"><path d="M0 0h9"/></g>'


def svg(inside: str, box: str = 'viewBox="0 0 90 90"') -> str:
    namespaces = 'xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink"'
    return f"<svg {namespaces} {box}>{MOUTHS}{inside}</svg>"


def image(data: bytes) -> str:
    return f'<image width="9" height="9" href="data:image/png;base64,{base64.b64encode(data).decode()}"/>'


AGAIN = "".join(f'<g id="l{n}">' + f'<use href="#l{n - 1}"/>' * 10 + "</g>" for n in range(1, 9))
ODD = {
    "a bomb within": (image(png_that_says(30_000, 30_000)), "30000 x 30000"),
    "many pictures": (image(png_that_says(9_000, 9_000)) * 2, "million pixels"),
    "another SVG": ('<image href="data:image/svg+xml;base64,PHN2Zy8+"/>', "another SVG"),
    "markers": (
        f'<defs><marker id="k"><path d="M0 0L1 1"/></marker></defs><path d="M{"0,1 " * 9000}" marker-mid="url(#k)"/>',
        "markers",
    ),
    "used again and again": (f'<defs><g id="l0"><path d="M0 0h9"/></g>{AGAIN}</defs>', "used again"),
    "used within itself": ('<g id="loop"><use href="#loop"/></g>', "within themselves"),
    "a long text": (f"<text>{'x' * 9000}</text>", "letters"),
    "thousands of groups": ("".join(f'<g id="ah{n}"/>' for n in range(MOST_NAMES + 1)), "named groups"),
}


@pytest.mark.parametrize("name", ODD)
def test_an_svg_that_would_never_end_is_refused(tmp_path, qapp, name):
    inside, reason = ODD[name]
    path = tmp_path / "odd.svg"
    path.write_text(svg(inside))
    with pytest.raises(KitError, match=reason):
        read_svg(path)


def test_an_svg_with_small_pictures_and_a_few_uses_is_drawn(tmp_path, qapp):
    path = tmp_path / "fine.svg"
    path.write_text(
        svg(f'<defs><g id="l0"><path d="M0 0h9"/></g></defs><use href="#l0"/>{image(as_png(picture(9, 9)))}')
    )
    assert sorted(read_svg(path).drawings) == ["ah", "rest"]


@pytest.mark.parametrize("box", ["- . - .", "1e-300 0 0 0", "a b c d"])
def test_a_canvas_that_is_no_canvas_is_told(tmp_path, qapp, box):
    path = tmp_path / "odd.svg"
    path.write_text(svg("", f'viewBox="{box}"'))
    with pytest.raises(KitError):
        read_svg(path)


def test_layers_a_world_away_are_drawn_or_refused_in_a_sentence(tmp_path, qapp):
    stack = (
        '<image w="40" h="40"><stack><layer name="rest" src="data/a.png" x="99999999999999" y="-1e300"/>'
        '<layer name="ah" src="data/a.png"/></stack></image>'
    )
    layered(tmp_path / "far.ora", stack, **{"data/a": as_png(picture(20, 20))})
    assert "ah" in read_openraster(tmp_path / "far.ora").drawings


@pytest.mark.parametrize(
    "extensions",
    [
        None,
        [],
        {"VRMC_vrm": []},
        {"VRMC_vrm": {"expressions": None}},
        {"VRM": {"blendShapeMaster": {"blendShapeGroups": {"a": 1}}}},
    ],
    ids=str,
)
def test_a_model_with_odd_extensions_is_read_or_refused(tmp_path, extensions):
    found, data = document()
    path = write_glb(tmp_path / "head.glb", found | {"extensions": extensions}, data)
    try:
        assert read_head(path).shapes
    except KitError as problem:
        assert "head.glb" in str(problem)


def test_a_model_nested_too_deep_or_with_too_many_shapes_is_refused(tmp_path):
    found, data = document()
    deep: object = 1
    for _ in range(200):
        deep = [deep]
    with pytest.raises(KitError, match="nested"):
        read_head(write_glb(tmp_path / "deep.glb", found | {"extras": deep}, data))
    primitive = found["meshes"][0]["primitives"][0]
    primitive["targets"] = primitive["targets"] * MOST_NAMES
    with pytest.raises(KitError, match="shapes"):
        read_head(write_glb(tmp_path / "many.glb", found, data))


def test_a_kit_with_hundreds_of_thousands_of_names_is_refused(tmp_path):
    data = {"name": "x", "kind": "drawn", "file": {"path": "x.png", "digest": ""}, "look": {}, "own": ["a"] * 300_000}
    with pytest.raises(ValueError, match="more than"):
        kit_from_data(data, tmp_path)


def test_what_goes_wrong_while_a_file_is_read_is_told_as_its_fault():
    for problem in (KeyError("mesh"), RecursionError(), ZeroDivisionError("by zero")):
        with pytest.raises(KitError, match="model is damaged"), within_limits("head.glb", "model"):
            raise problem
    with pytest.raises(KeyboardInterrupt), within_limits("head.glb"):
        raise KeyboardInterrupt
