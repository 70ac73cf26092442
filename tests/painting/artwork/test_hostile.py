"""Damaged, huge and hostile files get their sentence, at once, and take nothing with them."""

import io
import time
import zipfile

import pytest

from buccaphon.errors import KitError
from buccaphon.kits.limits import MOST_DEPTH, file_inside
from buccaphon.painting.artwork.folder import read_folder
from buccaphon.painting.artwork.openraster import read_openraster
from buccaphon.painting.artwork.pixels import decode
from buccaphon.painting.artwork.svg import read_svg
from buccaphon.painting.characters.loading import begin_kit
from tests.helpers.artwork import as_png, layered, picture, png_that_says

ONE = '<image w="8" h="8"><stack>{}</stack></image>'
AH = '<layer name="ah" src="{0}"/><layer name="oh" src="{0}"/>'
SMALL = as_png(picture(8, 8, (1, 1, 3, 3)))


def bomb() -> bytes:
    """More than a gigabyte of zeros in a few megabytes."""
    made = io.BytesIO()
    with zipfile.ZipFile(made, "w", zipfile.ZIP_DEFLATED, compresslevel=1) as file:
        file.writestr("stack.xml", ONE.format(AH.format("a.png")))
        with file.open("a.png", "w", force_zip64=True) as entry:
            for _ in range(300):
                entry.write(b"\0" * (4 << 20))
    return made.getvalue()


STACKS = {
    "a path out of it": (ONE.format(AH.format("../../../etc/passwd")), "etc/passwd"),
    "an absolute path": (ONE.format(AH.format("/etc/passwd")), "etc/passwd"),
    "a picture that says it is huge": (ONE.format(AH.format("huge.png")), "60000"),
    "a picture that breaks off": (ONE.format(AH.format("short.png")), "damaged"),
    "entities": ('<!DOCTYPE a [<!ENTITY b "c">]>' + ONE.format(AH.format("a.png")), "entities"),
    "groups in groups": (ONE.format("<stack>" * 200 + "</stack>" * 200), f"{MOST_DEPTH} deep"),
    "a canvas without end": ('<image w="999999999" h="9"><stack/></image>', "999999999"),
    "no numbers": ('<image w="wide" h="9"><stack/></image>', "damaged"),
    "no stack": ("<image w='8' h='8'/>", "no stack"),
    "no XML": ("<image", "damaged"),
    "a layer that is not there": (ONE.format(AH.format("b.png")), "b.png"),
}


@pytest.mark.parametrize("what", STACKS)
def test_a_hostile_layered_file_is_refused_with_its_reason(what, tmp_path):
    stack, reason = STACKS[what]
    path = layered(tmp_path / "a.ora", stack, a=SMALL, huge=png_that_says(60000, 60000), short=png_that_says(100, 100))
    with pytest.raises(KitError) as told:
        read_openraster(path)
    assert reason in str(told.value)


@pytest.mark.parametrize(
    ("data", "reason"),
    [(bomb, "too much data"), (lambda: b"PK\3\4junk", "damaged"), (lambda: b"", "damaged"), (lambda: SMALL, "damaged")],
    ids=["a bomb", "half a zip", "nothing", "a picture"],
)
def test_what_is_no_layered_file_is_refused(data, reason, tmp_path):
    (tmp_path / "a.ora").write_bytes(data())
    start = time.perf_counter()
    with pytest.raises(KitError, match=reason):
        read_openraster(tmp_path / "a.ora")
    assert time.perf_counter() - start < 2, "nothing was unpacked"


def test_another_mimetype_is_refused(tmp_path):
    path = layered(tmp_path / "a.ora", ONE.format(AH.format("a.png")), b"application/zip", a=SMALL)
    with pytest.raises(KitError, match="no OpenRaster"):
        read_openraster(path)


def svg(inner: str, head: str = 'viewBox="0 0 8 8"') -> str:
    return f'<svg xmlns="http://www.w3.org/2000/svg" {head}>{inner}</svg>'


SVGS = {
    "entities": ('<!DOCTYPE svg [<!ENTITY a "b">]>' + svg("&a;"), "entities"),
    "groups in groups": (svg("<g>" * 300 + "</g>" * 300), "deep"),
    "no size": (svg('<g id="ah"/>', ""), "neither its size"),
    "a size without end": (svg('<g id="ah"/><g id="oh"/>', 'width="1e9" height="1e9"'), "pixels"),
    "no SVG": ("<html/>", "no SVG"),
    "no XML": ("<svg", "damaged"),
    "no mouths": (svg('<g id="hat"/>'), "none of its layers"),
}


@pytest.mark.parametrize("what", SVGS)
def test_a_hostile_svg_is_refused_with_its_reason(what, tmp_path):
    text, reason = SVGS[what]
    (tmp_path / "a.svg").write_text(text)
    with pytest.raises(KitError, match=reason):
        read_svg(tmp_path / "a.svg")


@pytest.mark.parametrize("data", [b"", b"\x1f\x8bjunk", b"GIF89a", b"\0" * 500, "ä".encode("utf-16")])
def test_what_is_no_picture_is_refused(data, tmp_path):
    with pytest.raises(KitError):
        decode(data, "a.png")
    (tmp_path / "ah.png").write_bytes(data)
    with pytest.raises(KitError, match="none of its drawings"):
        read_folder(tmp_path)


def test_a_picture_is_asked_for_its_size_before_it_gets_memory():
    with pytest.raises(KitError, match="100 million"):
        decode(png_that_says(16000, 16000), "a.png")


def test_a_file_that_a_kit_names_must_lie_inside(tmp_path):
    (tmp_path / "kit").mkdir()
    (tmp_path / "kit" / "a.bin").write_bytes(b"x")
    (tmp_path / "secret").write_bytes(b"x")
    (tmp_path / "kit" / "link").symlink_to(tmp_path / "secret")
    assert file_inside(tmp_path / "kit", "a.bin") is not None
    for name in ("../secret", str(tmp_path / "secret"), "link", "none", "."):
        assert file_inside(tmp_path / "kit", name) is None


@pytest.mark.parametrize("name", ["none.png", "text.txt"])
def test_what_is_no_kit_is_refused(name, tmp_path):
    (tmp_path / "text.txt").write_text("x")
    with pytest.raises(KitError):
        begin_kit(tmp_path / name)
