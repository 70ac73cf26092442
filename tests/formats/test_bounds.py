"""Files that come in are read within bounds, and what goes out never takes the place of what it is made from."""

import json
import os
import zipfile

import numpy as np
import pytest
import soundfile
from click.testing import CliRunner

from buccaphon.cli import main
from buccaphon.demo.line import recording_path
from buccaphon.errors import (
    BuccaphonError,
    CorrectionsError,
    ListError,
    NotesError,
    ScriptError,
    SheetError,
    TargetError,
)
from buccaphon.formats.delivering import Outside, resolve_targets
from buccaphon.formats.in_.corrected import read_corrected
from buccaphon.formats.in_.mouth_list import is_mouth_list, parse_mouth_list, read_mouth_list
from buccaphon.formats.in_.notes import read_notes
from buccaphon.formats.in_.sheet import read_sheet
from buccaphon.formats.in_.timed import read_cues, read_subtitles
from buccaphon.formats.listing import Entry, ExportList
from buccaphon.formats.out.cues import Mark, with_cues
from buccaphon.formats.writing import require_no_source, write_files

FACTS = {"title": "call", "take": "call", "chart": "Ten", "character": "Marigold", "fps": "24"}


# --- lists of mouths ---------------------------------------------------------------------------------------------------


def test_a_list_of_mouths_is_understood_however_it_is_parted():
    wanted = ((12, "Open"), (20, "O wide"), (-3, "4"))
    for text in ("12 Open\n20 O wide\n-3 4", "12\tOpen\n20\tO wide\n-3\t4\n", "frame,mouth\n12,Open\n20,O wide\n-3,4",
                 "mouth;frame\nOpen;12\nO wide;20\n4;-3", "# by ear\nf 12 Open\nF20 O wide\n-3 4\n\n"):  # fmt: skip
        assert parse_mouth_list(text, "x") == wanted, text
        assert is_mouth_list(text)


@pytest.mark.parametrize("text", ["", "warm plums", "12", "1.5 Open", "12 Open\nsoon Bite", "frame,mouth\n"])
def test_what_is_no_list_of_mouths_says_which_row(text):
    with pytest.raises(SheetError):
        parse_mouth_list(text, "x")
    assert not is_mouth_list(text)


def test_a_list_of_mouths_is_read_from_a_table(tmp_path):
    from openpyxl import Workbook

    book = Workbook()
    for row in (("frame", "mouth"), (3, "Open"), (9, "Rest"), (12, None)):
        book.active.append(row)
    book.save(tmp_path / "list.xlsx")
    assert read_mouth_list(tmp_path / "list.xlsx") == ((3, "Open"), (9, "Rest"))


def test_a_list_is_baked_exactly_without_a_script(tmp_path, tone):
    listed, out = tmp_path / "list.csv", tmp_path / "keys.csv"
    listed.write_text("frame,mouth\n103,Open\n105,2\n109,pucker\n")
    args = ["bake", str(tone(seconds=1.0)), "--fps", "24", "--start-frame", "101", "--mouths", str(listed), "--blank"]
    done = CliRunner().invoke(main, [*args, "-o", str(out)])
    assert done.exit_code == 0, done.output
    mouths = [line.split(",")[2] for line in out.read_text().splitlines()[1:]]
    assert mouths == ["Rest"] * 2 + ["Open"] * 2 + ["Bite"] * 4 + ["Pucker"] * 16
    for row, reason in (("103,Nose", "no mouth of the chart"), ("99,Open", "outside the recording")):
        listed.write_text(f"frame,mouth\n{row}\n")
        done = CliRunner().invoke(main, [*args, "-o", str(out)])
        assert (done.exit_code, reason in done.output) == (2, True), done.output


# --- what comes in -----------------------------------------------------------------------------------------------------


def test_notes_from_outside_keep_within_what_a_project_can_hold(tmp_path):
    path = tmp_path / "a.notes.json"
    path.write_text(
        json.dumps({"format": "buccaphon.notes", "version": 1, "notes": [{"seconds": 50_000, "text": "x"}]})
    )
    with pytest.raises(NotesError, match="50000"):
        read_notes(path)


@pytest.mark.parametrize("line", ["<" * 100_000, "<00:00:0" * 50_000])
def test_subtitles_with_endless_lines_are_refused(tmp_path, line):
    path = tmp_path / "odd.vtt"
    path.write_text(f"WEBVTT\n\n00:00.000 --> 00:11.000\n{line}\n")
    with pytest.raises(ScriptError, match="letters"):
        read_subtitles(path)
    with pytest.raises(CorrectionsError, match="letters"):
        read_corrected(path)


def test_tens_of_thousands_of_cues_are_read_at_once(tmp_path):
    path = tmp_path / "many.wav"
    soundfile.write(path, np.zeros(48_000, np.float32), 48_000, "PCM_16")
    marks = [Mark(number, 0, f"w{number}") for number in range(20_000)]
    path.write_bytes(with_cues(path.read_bytes(), marks, "many.wav"))
    assert len(read_cues(path).times) == 20_000


def test_a_timeline_nested_without_end_is_refused(tmp_path):
    path = tmp_path / "deep.otio"
    path.write_text('{"a":' * 20_000 + "1" + "}" * 20_000)
    with pytest.raises(BuccaphonError):
        read_corrected(path)


def ods(path, rows: str):
    head = (
        '<office:document-content xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0" '
        'xmlns:table="urn:oasis:names:tc:opendocument:xmlns:table:1.0" '
        'xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0">'
    )
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as packed:
        packed.writestr("content.xml", f"{head}<office:body><office:spreadsheet><table:table>{rows}</table:table>"
                        "</office:spreadsheet></office:body></office:document-content>")  # fmt: skip
    return path


def test_a_table_is_read_row_by_row_and_repeated_spaces_stay_few(tmp_path):
    cell = "<table:table-cell><text:p>{}</text:p></table:table-cell>"
    row = "<table:table-row>{}</table:table-row>"
    number = '<table:table-cell office:value="7"/>'
    mouth = cell.format('Op<text:s text:c="2000000000"/>en')
    rows = row.format(cell.format("frame") + cell.format("mouth")) + row.format(number + mouth)
    assert read_sheet(ods(tmp_path / "spaces.ods", rows)) == {7: "Open"}


def test_a_table_with_more_text_than_any_sheet_is_refused(tmp_path):
    path = tmp_path / "bomb.xlsx"
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as packed:
        packed.writestr("xl/sharedStrings.xml", b"<si><t>x</t></si>" * 2_000_000)
    with pytest.raises(SheetError, match="unpacked"):
        read_sheet(path)


# --- what goes out -----------------------------------------------------------------------------------------------------


def test_what_a_file_is_made_from_is_never_written_over(tmp_path):
    source, link = tmp_path / "call.keys.csv", tmp_path / "by another name.csv"
    source.write_text("years of work")
    os.link(source, link)
    for target in (source, link, tmp_path / "." / "call.keys.csv"):
        with pytest.raises(TargetError, match="made from"):
            require_no_source(target, [source])
    with pytest.raises(TargetError):
        write_files({"other.csv": b"x", "call.keys.csv": b"x"}, tmp_path, sources=[source])
    assert not (tmp_path / "other.csv").exists(), "nothing of a set that cannot be whole"
    assert source.read_text() == "years of work"


def test_bake_and_deliver_leave_recording_and_character_alone(tmp_path):
    import shutil

    call = tmp_path / "call.wav"
    samples, rate = soundfile.read(recording_path(), dtype="float32")
    soundfile.write(call, samples[: rate // 2], rate)
    shutil.copy(call, tmp_path / "call.cues.wav")
    before = call.read_bytes()
    done = CliRunner().invoke(main, ["bake", str(call), "--fps", "24", "--loudness-only", "-o", str(call)])
    assert done.exit_code == 2
    assert call.read_bytes() == before


def test_a_full_disk_under_a_film_is_told_as_that(tmp_path):
    class LibraryError(Exception):
        """As PyAV tells what its file object has raised."""

    def film(file, progress):
        try:
            raise OSError(28, "No space left on device")
        except OSError as problem:
            raise LibraryError("callback") from problem

    with pytest.raises(TargetError, match="No space left"):
        write_files({"film.mp4": film}, tmp_path)
    assert list(tmp_path.iterdir()) == []


@pytest.mark.parametrize("folder", ["/etc", "../up", "x/../../up"])
def test_a_list_leads_out_of_its_folder_only_where_somebody_looks(tmp_path, folder):
    exports = ExportList((Entry("keys-csv", folder=folder),))
    with pytest.raises(ListError, match="leads out"):
        resolve_targets(exports, FACTS, tmp_path)
    assert len(resolve_targets(exports, FACTS, tmp_path, Outside.LOOKED_AT)) == 1


def test_a_link_out_of_the_folder_counts_as_what_it_leads_to(tmp_path):
    (tmp_path / "out").mkdir()
    (tmp_path / "out" / "sub").symlink_to("/etc")
    with pytest.raises(ListError, match="leads out"):
        resolve_targets(ExportList((Entry("keys-csv", folder="sub"),)), FACTS, tmp_path / "out")


def test_two_of_a_list_at_one_place_are_refused_however_it_is_written(tmp_path):
    with pytest.raises(TargetError, match="overwrite each other"):
        resolve_targets(ExportList((Entry("bvh", folder="x"), Entry("bvh", folder="y/../x"))), FACTS, tmp_path)
