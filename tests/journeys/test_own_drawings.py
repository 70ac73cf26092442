"""Own drawings: every picture equals the drawing that sheet and keys name, whatever kit it is."""

import base64
import csv
import io
import json
import re
import zipfile
from dataclasses import replace

import av
import numpy as np
import pytest
from PIL import Image
from PyQt6.QtCore import QMimeData, QPointF, Qt
from PyQt6.QtGui import QDragEnterEvent, QDropEvent
from PyQt6.QtPdf import QPdfDocument
from PyQt6.QtWidgets import QApplication

from buccaphon.app.dragging import DRAWING
from buccaphon.app.kitpage.names import SHOWN
from buccaphon.demo.line import demo_project
from buccaphon.errors import TargetError
from buccaphon.formats.pictures import Parts, Shot
from buccaphon.formats.registry import format_named
from buccaphon.formats.writing import write_files
from buccaphon.kits.casting import for_chart
from buccaphon.kits.kit import CutOut, Drawn, Kit, Model, Move, Moving, OtherFile, Part
from buccaphon.kits.own.drawing import Role
from buccaphon.mouths.chart_file import shipped_charts
from buccaphon.painting.artwork.pixels import as_png, from_array
from buccaphon.painting.characters.loading import load_character
from buccaphon.painting.pictures.alone import pictures_alone
from buccaphon.progress import no_progress
from buccaphon.project.delivering import deliver
from buccaphon.project.derived import Derived
from buccaphon.project.edits.kits import PutKit
from buccaphon.project.exposing import shown_as
from tests.helpers.hands import LEFT, NONE
from tests.helpers.heads import head
from tests.helpers.mouth_pictures import HEIGHT, WIDTH, blank, face, mouth
from tests.helpers.qtest import QTest
from tests.helpers.waiting import idle

SHAPES = {
    "shut": mouth(90, 4), "far": mouth(90, 100, teeth=0.2), "small": mouth(44, 40), "round": mouth(60, 80),
    "wide": mouth(130, 40, teeth=0.3), "half": mouth(90, 50, teeth=0.2), "teeth": mouth(96, 30, teeth=1.0),
    "tongue": mouth(90, 48, teeth=0.2, tongue=True), "bite": mouth(84, 14, teeth=0.6),
}  # fmt: skip
KITS = {  # name=shape; a name without a shape is the face, with + one that has a mouth of its own
    "two": "shut=shut open=far",
    "two and a face": "nina closed=shut open=far",
    "three": "closed=shut half=half open=far",
    "nine letters": "u=small w=small o=round ai=far r=small lth=tongue tds=teeth mbp=shut e=half",
    "nine letters and a face": "fritz u=small w=small o=round ai=far r=small lth=tongue tds=teeth mbp=shut e=half",
    "thirteen": (
        "A=far E=half I=wide O=round U=small L=tongue R=small S=teeth W=small MBP=shut FV=bite TH=tongue rest=shut"
    ),
    "vowels on a face with a mouth": "head+ a=far e=half i=wide o=round u=small",
    "vowels": "a=far e=half i=wide o=round u=small",
    "numbers": "1=shut 2=far 3=small 4=wide 5=teeth 6=half",
    "numbers and a face": "Layer_9 1=shut 2=far 3=small 4=wide 5=teeth 6=half",
    "German": "Mund_zu=shut Mund_offen=far Mund_rund=round Mund_breit=wide Zunge=tongue Zaehne=teeth",
    "Spanish": "cara boca_cerrada=shut boca_abierta=far boca_redonda=round beso=small sonrisa=wide lengua=tongue",
    "words": "closed=shut open=far wide=wide teeth=teeth tongue=tongue small_o=small big_o=round",
    "moods": "A=far O=round MBP=shut rest=shut A_sad=far O_sad=round MBP_sad=shut rest_sad=shut",
    "versions": "A_v1=half A_v2=far O_v2=round MBP_v2=shut",
    "views": "front_ah=far front_oh=round front_mbp=shut side_ah=far side_oh=round side_mbp=shut",
    "numbered letters": "01_A=far 02_E=half 03_O=round 04_MBP=shut 05_FV=bite 06_L=tongue 07_rest=shut",
    "kana": "あ=far い=wide う=small え=half お=round ん=shut",
    "chart's own names": (
        "Rest=shut Press=shut Bite=bite Tip=tongue Teeth=teeth Ajar=half Open=far Spread=wide Round=round Pucker=small"
    ),
    "no shut one": "ah=far ee=wide oh=round",
}


def draw(text, folder):
    """The drawings of a kit as PNGs; what each looks like on the canvas, by name."""
    folder.mkdir()
    pictures = {}
    for place, part in enumerate(text.split()):
        name, _, shape = part.partition("=")
        pixels = SHAPES[shape].copy() if shape else face(with_mouth=name.endswith("+"))
        if shape:
            pixels[2 + 3 * place : 4 + 3 * place, 4:8] = (10 * place, 255 - 10 * place, 90, 255)  # no two are alike
        pictures[name.rstrip("+")] = pixels
        assert from_array(pixels).save(str(folder / f"{name.rstrip('+')}.png"))
    return pictures


def laid(*pictures):
    """Pictures over each other, by the plain rule (Porter and Duff 1984): all of them are opaque or clear."""
    whole = np.zeros_like(pictures[0])
    for each in pictures:
        there = each[..., 3] > 0
        whole[there] = each[there]
    return whole


MARGIN = 6  # pixels of a frame of 200, around a character of 188
SHOT = Shot(WIDTH + 2 * MARGIN, HEIGHT + 2 * MARGIN, clear=True)


@pytest.fixture(scope="module")
def derived(call, call_peaks):
    return Derived(call, call_peaks)


def delivery_of(folder, chart, aligned_call, derived):
    kit = load_character(folder, shipped_charts()[chart])
    state = PutKit(kit).apply(aligned_call).with_role(chart=chart)
    return kit, deliver(state, derived, "line")


@pytest.mark.parametrize("chart", ["Ten", "Flap"])
@pytest.mark.parametrize("which", KITS)
def test_each_picture_is_the_drawing_that_sheet_and_keys_name(which, chart, aligned_call, derived, tmp_path, qapp):
    pictures = draw(KITS[which], tmp_path / "own")
    kit, delivery = delivery_of(tmp_path / "own", chart, aligned_call, derived)
    assert isinstance(kit.look, Drawn)
    faces = [pictures[each.name] for each in kit.drawings if each.role is Role.FACE]
    (sheet,) = format_named("sheet-csv").files(delivery).values()
    rows = list(csv.DictReader(io.StringIO(sheet.decode("utf-8-sig"))))
    (keys,) = format_named("keys-json").files(delivery).values()
    named = {key["frame"]: key["mouth"] for key in json.loads(keys)["mouths"]}
    frame_of = pictures_alone(delivery, derived.peaks).frame
    now = ""
    seen = set()
    for exposure in delivery.bake.exposures:
        name = rows[exposure.start]["shown"]
        now = named.get(exposure.start + delivery.bake.start_frame, now)
        assert name == now == delivery.called(exposure.mouth)
        shown = laid(blank(), *faces, *([pictures[name]] if name != "none" else []))
        if name not in seen:
            found = frame_of(exposure.start, SHOT)[MARGIN:-MARGIN, MARGIN:-MARGIN]
            assert np.array_equal(found, shown), (exposure.mouth, name)
            seen.add(name)
    assert len(seen) > 1


def test_review_page_film_and_numbered_pictures_show_what_the_sheet_names(aligned_call, derived, tmp_path, qapp):
    pictures = draw(KITS["nine letters and a face"], tmp_path / "own")
    _kit, delivery = delivery_of(tmp_path / "own", "Ten", aligned_call, derived)
    delivery = replace(delivery, pictures=pictures_alone(delivery, derived.peaks))
    bake, frame_of = delivery.bake, delivery.pictures.frame
    named = [delivery.called(exposure.mouth) for exposure in bake.exposures for _ in range(exposure.length)]
    assert set(named) <= set(pictures)

    form = format_named("review")
    (page,) = write_files(form.files(delivery, form.options(width=252, height=200)), tmp_path)
    said = json.loads(re.search(r'id="data">(.*?)</script>', page.path.read_text("utf-8"))[1])
    assert [said["mouths"][number] for number in said["mouth"]] == named
    assert len(set(zip(said["shown"], named, strict=True))) == len(set(named)), "a picture a drawing"
    for picture, name in set(zip(said["shown"], named, strict=True)):
        with Image.open(io.BytesIO(base64.b64decode(said["pictures"][picture].partition(",")[2]))) as image:
            found = np.asarray(image.convert("RGB"), float)[MARGIN:-MARGIN, MARGIN:-MARGIN]
        drawn = laid(pictures["fritz"], pictures[name])
        there = drawn[..., 3] > 0
        assert np.abs(found - drawn[..., :3])[there].mean() < 8, name

    form = format_named("mov")
    (film,) = write_files(form.files(delivery, form.options(width=252, height=200)), tmp_path)
    with av.open(str(film.path)) as opened:
        frames = [frame.to_ndarray(format="rgba") for frame in opened.decode(video=0)]
    assert len(frames) == bake.frames
    for number in {named.index(name) for name in named}:
        drawn = laid(pictures["fritz"], pictures[named[number]])
        found = frames[number][MARGIN:-MARGIN, MARGIN:-MARGIN]
        there = drawn[..., 3] > 0
        assert np.abs(found[..., :3].astype(float) - drawn[..., :3])[there].mean() < 8
        assert np.array_equal(frame_of(number, SHOT)[MARGIN:-MARGIN, MARGIN:-MARGIN], drawn)


def test_two_drawings_open_as_often_as_the_chart_of_two(aligned_call, derived, tmp_path, qapp):
    draw(KITS["two"], tmp_path / "own")
    shares = {}
    for chart in ("Ten", "Flap"):
        _kit, delivery = delivery_of(tmp_path / "own", chart, aligned_call, derived)
        bake = delivery.bake
        shares[chart] = sum(e.length for e in bake.exposures if delivery.called(e.mouth) == "open") / bake.frames
    assert shares["Ten"] == pytest.approx(shares["Flap"], rel=0.1)
    assert 0.4 < shares["Flap"] < 0.8


# --- the hand ---------------------------------------------------------------------------------------------------------


def drop_on(widget, drawing, at=(8, 8)):
    """A drawing is dragged onto something and let go."""
    data, place = QMimeData(), QPointF(*at)
    data.setData(DRAWING, drawing.encode())
    for event in (
        QDragEnterEvent(place.toPoint(), Qt.DropAction.CopyAction, data, LEFT, NONE),
        QDropEvent(place, Qt.DropAction.CopyAction, data, LEFT, NONE),
    ):
        QApplication.sendEvent(widget, event)


@pytest.fixture
def thirteen(demo, qtbot, tmp_path):
    """The window with thirteen drawings, on their page."""
    draw("bob " + KITS["thirteen"], tmp_path / "own")
    demo.open(tmp_path / "own")
    idle(demo, qtbot)
    demo.do("kit-page")
    return demo


def shown(window, mouth):
    return for_chart(window.session.characters.kit, window.document.chart).shown_by(mouth)


def item(window, name):
    drawings = window.kit_page.names.drawings
    found = (drawings.item(row) for row in range(drawings.count()))
    return next(each for each in found if each.data(Qt.ItemDataRole.UserRole) == name)


def choose(window, name, text):
    menu = window.kit_page.names.drawings.menu_for(item(window, name))
    next(action for action in menu.actions() if action.text() == text).trigger()


def test_thirteen_drawings_are_welcomed_with_what_they_are_and_their_own_chart(thirteen):
    said = thirteen.notice.text.text()
    assert "13 mouths" in said
    assert "“bob” is the face" in said
    assert thirteen.notice.button.text() == "Use its own chart"
    thirteen.notice.button.click()
    chart = thirteen.document.chart
    assert len(chart.names) == 13
    assert chart.rest.name == "rest"
    assert all(shown(thirteen, name) == (name,) for name in chart.names)
    used = {exposure.mouth for exposure in thirteen.document.bake().exposures}
    assert {"W", "MBP", "rest", "A"} <= used
    assert [tile.key for tile in thirteen.grid.tiles][9:13] == ["0", "Q", "W", "E"], "more than ten have keys"


def test_ten_rows_are_in_sight(thirteen, qtbot):
    table = thirteen.kit_page.names.table
    qtbot.waitUntil(lambda: table.viewport().height() > 0)
    assert table.rowAt(table.viewport().height() - 1) >= 9


def test_a_drawing_is_dragged_onto_a_tile_a_row_or_gets_a_mouths_key(thirteen):
    tile = thirteen.grid.tiles[3]
    assert tile.mouth.name == "Tip"
    drop_on(tile, "L")
    assert shown(thirteen, "Tip") == ("L",)
    thirteen.document.undo()
    assert shown(thirteen, "Tip") == ("TH",)
    drawings = thirteen.kit_page.names.drawings
    drawings.setFocus()
    drawings.setCurrentItem(item(thirteen, "W"))
    QTest.keyClick(drawings, Qt.Key.Key_0)
    assert shown(thirteen, "Pucker") == ("W",)
    assert not thirteen.document.state.pins
    table = thirteen.kit_page.names.table
    table.item(0, SHOWN).setText("nothing")
    assert shown(thirteen, "Rest") == ("",)
    table.item(0, SHOWN).setText("automatic")
    assert shown(thirteen, "Rest") == ("rest",)


def test_what_a_drawing_is_for_is_changed_by_a_click_and_read_again(thirteen, qtbot):
    before = thirteen.document.state
    choose(thirteen, "bob", "Not used")
    idle(thirteen, qtbot)
    kit = thirteen.session.characters.kit
    assert kit.main_face is None
    assert "not used" in item(thirteen, "bob").text()
    choose(thirteen, "A", "Over the mouth")
    idle(thirteen, qtbot)
    assert "A" not in thirteen.session.characters.kit.own
    assert shown(thirteen, "Open") != ("A",)
    assert thirteen.session.characters.character._art.over
    thirteen.document.undo()
    idle(thirteen, qtbot)
    thirteen.document.undo()
    idle(thirteen, qtbot)
    assert thirteen.document.state == before
    assert thirteen.session.characters.character._art.under


def test_any_drawing_rests_and_numbers_follow_an_order_of_ones_own(thirteen):
    choose(thirteen, "S", "Shown in silence")
    assert shown(thirteen, "Rest") == ("S",)
    choose(thirteen, "S", "Nothing is shown in silence")
    assert shown(thirteen, "Rest") == ("",)
    choose(thirteen, "S", "Find what is shown in silence")
    assert shown(thirteen, "Rest") == ("rest",)
    thirteen.session.characters.use_own_chart()
    names = thirteen.session.characters.kit.names
    last = names.host[-1]
    drawings = thirteen.kit_page.names.drawings
    drawings.scrollToItem(drawings.item(0))
    drop_on(drawings.viewport(), last, (2, 20))
    kit = thirteen.session.characters.kit
    assert kit.names.host == (last, *names.host[:-1])
    numbers = {name: number for number, name in shown_as(thirteen.document.state).values()}
    assert numbers[last] == 0
    thirteen.kit_page.names.count.setCurrentIndex(1)
    thirteen.kit_page.names.count.activated.emit(1)
    assert {name: number for number, name in shown_as(thirteen.document.state).values()}[last] == 1
    tile = next(tile for tile in thirteen.grid.tiles if shown(thirteen, tile.mouth.name) == (last,))
    assert tile.number == "no. 1"


def test_the_mouths_are_printed_on_a_card_with_numbers_keys_and_sounds(thirteen, tmp_path, monkeypatch):
    monkeypatch.setattr(thirteen.desk.ask, "file_to_write", lambda *_: tmp_path / "card")
    thirteen.notice.button.click()
    thirteen.do("print-mouths")
    document = QPdfDocument(None)
    document.load(str(tmp_path / "card.pdf"))
    assert document.pageCount() == 1
    text = document.getAllText(0).text()
    assert all(name in text for name in thirteen.document.chart.names)
    assert "key Q" in text
    assert "silence" in text
    document.close()


def test_what_is_unsure_is_told_before_anything_is_written(demo, qtbot, tmp_path):
    draw(KITS["no shut one"], tmp_path / "own")
    demo.open(tmp_path / "own")
    idle(demo, qtbot)
    assert "?" in demo.notice.text.text()
    demo.show_step(4)
    assert "Rest" in demo.export_panel.unsure.text.text()
    assert demo.export_panel.unsure.text.isVisible()


def test_a_still_picture_is_welcomed_with_what_it_is_good_for(demo, qtbot, tmp_path):
    assert from_array(face()).save(str(tmp_path / "portrait.png"))
    demo.open(tmp_path / "portrait.png")
    idle(demo, qtbot)
    assert "cut out" in demo.notice.text.text()
    assert "drawings" not in demo.notice.text.text()


def test_drawings_that_come_while_a_mouth_is_held_and_files_that_go_lose_nothing(thirteen, qtbot, tmp_path):
    (tmp_path / "own" / "ZH.png").write_bytes((tmp_path / "own" / "S.png").read_bytes())
    qtbot.waitUntil(lambda: "ZH" in thirteen.session.characters.kit.own, timeout=8000)
    assert thirteen.session.characters.kit.names.host[-1] == "ZH", "new ones come last: no number changes"
    (tmp_path / "own" / "ZH.png").unlink()
    qtbot.waitUntil(lambda: "ZH" not in thirteen.session.characters.kit.own, timeout=8000)
    assert shown(thirteen, "Open") == ("A",)


def test_a_careless_hand_may_say_that_nothing_is_a_mouth(demo, qtbot, tmp_path):
    draw(KITS["two"], tmp_path / "own")
    demo.open(tmp_path / "own")
    idle(demo, qtbot)
    demo.do("kit-page")
    for name in ("shut", "open"):
        choose(demo, name, "Guide")
        idle(demo, qtbot)
    kit = demo.session.characters.kit
    assert kit.own == ()
    assert not demo.session.characters.problem
    demo.do("chart-of-kit")
    assert "Fewer than two" in demo.notice.text.text()
    choose(demo, "open", "Mouth")
    idle(demo, qtbot)
    assert set(sum((shown(demo, name) for name in demo.document.chart.names), ())) == {"open"}
    for _ in range(3):
        demo.document.undo()
        idle(demo, qtbot)
    assert set(demo.session.characters.kit.own) == {"shut", "open"}


def test_another_project_that_comes_while_a_drawing_is_dragged_takes_nothing_of_it(thirteen, qtbot):
    drawings = thirteen.kit_page.names.drawings
    drawings.setCurrentItem(item(thirteen, "W"))
    thirteen.session.opening.open_prepared(demo_project())
    idle(thirteen, qtbot)
    before = thirteen.document.state
    drop_on(thirteen.grid.tiles[0], "W")
    drop_on(thirteen.grid.tiles[0], "rubbish")
    assert thirteen.document.state == before


# --- whole jobs -------------------------------------------------------------------------------------------------------


def in_layers(text, path):
    """The drawings of a kit as an OpenRaster file: the face below, the mouths in a group, a guide and hidden rest above."""
    folder = path.with_suffix("")
    pictures = draw(text, folder)
    parts = [part.partition("=") for part in text.split()]
    mouths = [name for name, _, shape in reversed(parts) if shape]
    faces = [name.rstrip("+") for name, _, shape in parts if not shape]
    stack = '<layer name="pencil guide" src="guide.png"/><layer name="old face" visibility="hidden" src="guide.png"/>'
    stack += f'<stack name="gob">{"".join(_layer(name, hidden=n > 0) for n, name in enumerate(mouths))}</stack>'
    stack += "".join(map(_layer, faces))
    with zipfile.ZipFile(path, "w") as packed:
        packed.writestr("mimetype", "image/openraster")
        packed.writestr("stack.xml", f'<image w="{WIDTH}" h="{HEIGHT}"><stack>{stack}</stack></image>')
        packed.writestr("guide.png", as_png(from_array(mouth(200, 8))))
        for name in pictures:
            packed.write(folder / f"{name}.png", f"{name}.png")
    return path


def _layer(name, *, hidden=False):
    seen = "hidden" if hidden else "visible"
    return f'<layer name="{name}" src="{name}.png" visibility="{seen}"/>'


JOBS = {
    "nine letters": ("nine letters and a face", "fritz", "mbp"),
    "two drawings": ("two and a face", "nina", "closed"),
    "thirteen in layers": ("thirteen", "bob", "rest"),
}


@pytest.mark.parametrize("job", JOBS)
def test_from_drawings_to_keys_in_two_gestures(job, demo, qtbot, tmp_path):
    which, face_name, rest = JOBS[job]
    text = KITS[which] if face_name in KITS[which].split() else f"{face_name} {KITS[which]}"
    place = tmp_path / "own"
    if "layers" in job:
        place = in_layers(text, tmp_path / "own.ora")
    else:
        draw(text, place)
    demo.open(place)  # one
    idle(demo, qtbot)
    assert f"“{face_name}” is the face" in demo.notice.text.text()
    demo.notice.button.click()  # two: its own chart
    document, kit = demo.document, demo.session.characters.kit
    assert document.chart.rest.name == rest
    assert set(kit.own) == set(document.chart.names) == {p.partition("=")[0] for p in text.split() if "=" in p}
    assert kit.main_face.name == face_name
    delivery = deliver(document.state, document.derived, "line")
    (keys,) = format_named("keys-json").files(delivery).values()
    named = [key["mouth"] for key in json.loads(keys)["mouths"]]
    assert named[0] == named[-1] == rest
    assert set(named) <= set(kit.own)
    (sheet,) = format_named("sheet-csv").files(delivery).values()
    rows = list(csv.DictReader(io.StringIO(sheet.decode("utf-8-sig"))))
    assert {row["shown"] for row in rows} == set(named)
    assert {int(row["number"]) for row in rows} <= set(range(len(kit.own)))
    said = [word.text for word in document.score.words]
    assert len(named) > len(said) / 2


# --- in the artwork's own size ----------------------------------------------------------------------------------------


@pytest.mark.parametrize("parts", list(Parts))
@pytest.mark.parametrize("grown", [1, 12], ids=["small", "larger than is kept"])
def test_pictures_in_the_artworks_own_size_have_its_own_pixels(parts, grown, aligned_call, derived, tmp_path, qapp):
    pictures = draw("nina closed=shut open=far", tmp_path / "own")
    for name, pixels in pictures.items():
        pictures[name] = np.repeat(np.repeat(pixels, grown, axis=0), grown, axis=1)
        assert from_array(pictures[name]).save(str(tmp_path / "own" / f"{name}.png"))
    _kit, delivery = delivery_of(tmp_path / "own", "Flap", aligned_call, derived)
    delivery = replace(delivery, pictures=pictures_alone(delivery, derived.peaks))
    form = format_named("png-sequence")
    files = form.files(delivery, form.options(artwork=True, parts=parts))
    named = [delivery.called(e.mouth) for e in delivery.bake.exposures for _ in range(e.length)]
    for number in (named.index("open"), named.index("closed")):
        made = io.BytesIO()
        list(files.values())[number](made, no_progress)
        with Image.open(made) as image:
            found = np.asarray(image)
        mouth_one = [] if parts is Parts.FACE else [pictures[named[number]]]
        face_one = [] if parts is Parts.MOUTH else [pictures["nina"]]
        wanted = laid(np.zeros_like(pictures["nina"]), *face_one, *mouth_one)
        assert found.shape == wanted.shape
        assert np.array_equal(found, wanted), (parts, named[number])


def test_a_film_in_the_artworks_own_size_is_even_and_a_head_has_none(aligned_call, derived, tmp_path, qapp):
    (tmp_path / "own").mkdir()
    for name, pixels in (("closed", SHAPES["shut"]), ("open", SHAPES["far"])):
        assert from_array(np.ascontiguousarray(pixels[:-1, :-1])).save(str(tmp_path / "own" / f"{name}.png"))
    _kit, delivery = delivery_of(tmp_path / "own", "Flap", aligned_call, derived)
    delivery = replace(delivery, pictures=pictures_alone(delivery, derived.peaks))
    form = format_named("mp4")
    (film,) = write_files(form.files(delivery, form.options(artwork=True)), tmp_path)
    with av.open(str(film.path)) as opened:
        stream = opened.streams.video[0]
        assert (stream.width, stream.height) == (WIDTH, HEIGHT), "a pixel more"
    bare = replace(delivery, kit=None)
    with pytest.raises(TargetError, match="no artwork"):
        form.files(replace(bare, pictures=pictures_alone(bare, derived.peaks)), form.options(artwork=True))


def pieces_in(delivery, folder):
    """What was written of a character's pieces: the places, and the pictures by name."""
    written = write_files(format_named("pieces").files(delivery), folder)
    told = json.loads(written[0].path.read_text("utf-8"))
    pictures = {}
    for row in told["pieces"]:
        with Image.open(folder / row["file"]) as image:
            pictures[row["name"]] = np.asarray(image.convert("RGBA"))
    table = io.StringIO(written[1].path.read_text("utf-8-sig"))
    assert [row["name"] for row in csv.DictReader(table)] == list(pictures)
    return told, pictures


def test_the_drawings_of_a_kit_go_out_in_one_size_with_their_places(aligned_call, derived, tmp_path, qapp):
    pictures = draw(KITS["nine letters and a face"], tmp_path / "own")
    _kit, delivery = delivery_of(tmp_path / "own", "Ten", aligned_call, derived)
    delivery = replace(delivery, pictures=pictures_alone(delivery, derived.peaks))
    told, found = pieces_in(delivery, tmp_path)
    assert (told["width"], told["height"]) == (WIDTH, HEIGHT)
    assert np.array_equal(found.pop("face"), laid(pictures["fritz"]))
    assert found.keys() == pictures.keys() - {"fritz"}
    for row in told["pieces"][1:]:
        assert np.array_equal(found[row["name"]], laid(pictures[row["name"]]))
        ys, xs = np.nonzero(pictures[row["name"]][..., 3])
        box = (xs.min(), ys.min(), xs.max() - xs.min() + 1, ys.max() - ys.min() + 1)
        assert (row["x"], row["y"], row["width"], row["height"]) == box
    assert {mouth for row in told["pieces"] for mouth in row["mouths"]} == set(delivery.bake.chart.names)


def test_the_parts_of_a_cut_out_laid_over_each_other_are_the_picture(aligned_call, derived, tmp_path, qapp):
    assert from_array(face(with_mouth=True)).save(str(tmp_path / "portrait.png"))
    lip = ((90.0, 94.0), (120.0, 96.0), (150.0, 94.0))
    ear = Part(
        "ear",
        ((20.0, 60.0), (40.0, 60.0), (40.0, 90.0), (20.0, 90.0)),
        Move(Moving.TURNS, degrees=9.0, pivot=(40.0, 75.0)),
    )
    look = CutOut(lip, name="jaw flap", move=Move(y=20.0), parts=(ear,), soft=0.0, overlap=0.0)
    kit = Kit("portrait", OtherFile(tmp_path / "portrait.png"), look)
    delivery = deliver(PutKit(kit).apply(aligned_call), derived, "line")
    delivery = replace(delivery, pictures=pictures_alone(delivery, derived.peaks))
    told, found = pieces_in(delivery, tmp_path)
    assert [(row["name"], row["role"]) for row in told["pieces"]] == [
        ("face", "face"), ("jaw flap", "piece"), ("ear", "part")
    ]  # fmt: skip
    assert (told["pieces"][2]["pivot_x"], told["pieces"][2]["pivot_y"]) == (40.0, 75.0)
    whole = Image.new("RGBA", (WIDTH, HEIGHT))
    for picture in found.values():
        whole = Image.alpha_composite(whole, Image.fromarray(picture))
    assert np.abs(np.asarray(whole).astype(int) - laid(face(with_mouth=True))).max() <= 2


def test_a_head_has_no_pieces(aligned_call, derived, tmp_path, qapp):
    delivery = deliver(
        PutKit(Kit("h", OtherFile(head(tmp_path / "head.glb")), Model())).apply(aligned_call), derived, "line"
    )
    delivery = replace(delivery, pictures=pictures_alone(delivery, derived.peaks))
    with pytest.raises(TargetError, match="no artwork"):
        format_named("pieces").files(delivery)
