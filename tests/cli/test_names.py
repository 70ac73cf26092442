"""`buccaphon names`: the table that it prints and writes, and what it says of bad lists."""

import csv
import io

from tests.cli.test_cli import run
from tests.helpers.heads import head


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
