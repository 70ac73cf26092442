"""`buccaphon names`: the table that it prints and writes, and what it says of bad lists."""

import csv
import io

from buccaphon.painting.artwork.pixels import from_array
from buccaphon.speech.phones import SOUNDS
from tests.cli.test_cli import run
from tests.helpers.heads import head
from tests.helpers.mouth_pictures import face, mouth


def table(text):
    return list(csv.DictReader(io.StringIO(text)))


def test_a_list_becomes_a_table_of_mouths(tmp_path):
    (tmp_path / "shapes.txt").write_text("mouth_rest\nmouth_mbp\nmouth_ah\nhat\n")
    result = run("names", tmp_path / "shapes.txt")
    assert result.exit_code == 0, result.output
    rows = {row["target"]: row for row in table(result.stdout)}
    assert rows["Press"] == {
        "target": "Press", "name": "mouth_mbp", "sure": "yes", "reason": "“mbp” stands for m b p"
    }  # fmt: skip
    assert rows["Pucker"]["sure"] == "no"
    assert "Not used: hat" in result.stderr


def test_a_list_becomes_parts_of_a_pose_in_a_file(tmp_path):
    (tmp_path / "shapes.txt").write_text("jawOpen\nsmile_L\nsmile_R\n")
    out = tmp_path / "names.csv"
    assert run("names", tmp_path / "shapes.txt", "--to", "pose", "-o", out).exit_code == 0
    assert [(row["target"], row["name"]) for row in table(out.read_text())] == [
        ("jaw", "jawOpen"), ("spread", "smile_L"), ("spread", "smile_R")
    ]  # fmt: skip


def test_an_alphabet_is_not_guessed_at(tmp_path):
    (tmp_path / "shapes.txt").write_text("\n".join("ABCDEFG"))
    result = run("names", tmp_path / "shapes.txt")
    assert result.exit_code == 0
    assert table(result.stdout) == []
    assert "could be matched to a mouth" in result.stderr


def test_a_list_without_names_is_refused(tmp_path):
    (tmp_path / "shapes.txt").write_text("\n")
    result = run("names", tmp_path / "shapes.txt")
    assert result.exit_code == 2
    assert "it contains no names" in result.stderr


def test_names_are_taken_from_a_model(tmp_path):
    result = run("names", head(tmp_path / "head.glb"), "--to", "pose")
    assert [(row["target"], row["name"]) for row in table(result.stdout)] == [
        ("jaw", "jaw_open"), ("spread", "mouth_wide")
    ]  # fmt: skip
    (tmp_path / "broken.glb").write_bytes(b"glTF")
    assert run("names", tmp_path / "broken.glb").exit_code == 2


def own(text):
    return {row["what"]: row for row in table(text) if row["what"] != "unused"}


def test_a_folder_of_drawings_becomes_the_table_of_a_characters_own_chart(tmp_path):
    for name, shape in (("ah", mouth(90, 100)), ("oo", mouth(40, 40)), ("mbp", mouth(90, 4)), ("nina", face())):
        assert from_array(shape).save(str(tmp_path / f"{name}.png"))
    assert from_array(mouth(20, 20)).save(str(tmp_path / "guide.png"))
    result = run("names", tmp_path, "--own", "-o", tmp_path / "own.csv")
    assert result.exit_code == 0, result.output
    text = (tmp_path / "own.csv").read_text("utf-8")
    rows = own(text)
    assert text.splitlines()[0] == "what,name,why"
    assert rows.keys() == {*SOUNDS, "silence", "face"}
    named = {what: row["name"] for what, row in rows.items()}
    assert (named["ɑ"], named["u"], named["p"], named["silence"], named["face"]) == ("ah", "oo", "mbp", "mbp", "nina")
    assert [row["name"] for row in table(text) if row["what"] == "unused"] == ["guide"]
    assert rows["s"]["why"].startswith("? "), "what needs a look is told"
    assert not rows["p"]["why"].startswith("?")


def test_a_list_of_names_alone_is_read_the_same_way(tmp_path):
    (tmp_path / "mine.txt").write_text("A\nE\nO\nMBP\nrest\n")
    rows = own(run("names", tmp_path / "mine.txt", "--own").stdout)
    assert (rows["silence"]["name"], rows["ɑ"]["name"], rows["m"]["name"]) == ("rest", "A", "MBP")


def test_what_is_no_set_of_drawings_is_refused_with_what_to_save_instead(tmp_path):
    for name, remedy in (("a.psd", "OpenRaster"), ("a.fbx", "glTF"), ("a.ai", "SVG"), ("a.tiff", "PNG")):
        (tmp_path / name).write_bytes(b"x")
        result = run("names", tmp_path / name, "--own")
        assert result.exit_code == 2
        assert name in result.stderr
        assert remedy in result.stderr
    assert run("names", head(tmp_path / "head.glb"), "--own").exit_code == 2
