"""A pack holds all that a project uses, opens elsewhere, and never writes outside its folder."""

import stat
import zipfile
from pathlib import Path

import pytest

from buccaphon.errors import Cancelled, ProjectError, TargetError
from buccaphon.kits.kit import CutOut, Drawn, Kit, OtherFile, Reference
from buccaphon.project.file.packing import PROJECT, pack, unpack
from buccaphon.project.file.store import open_project
from buccaphon.project.state import State, one_line
from buccaphon.project.take import Take
from tests.helpers.artwork import drawings, picture


@pytest.fixture
def state(tmp_path: Path, qapp) -> State:
    here = tmp_path / "here"
    (here / "media").mkdir(parents=True)
    (here / "other").mkdir()
    for folder in ("media", "other"):
        (here / folder / "call.flac").write_bytes(folder.encode() * 100)
    art = drawings(here / "mouths", ("ah", "oh"))
    for name in ("face", "piece", "ref"):
        picture(8, 8, (0, 0, 4, 4)).save(str(here / f"{name}.png"))
    cut = CutOut(((1.0, 1.0), (5.0, 1.0)), piece=OtherFile(here / "piece.png"))
    return one_line(
        takes=(Take(here / "media" / "call.flac"), Take(here / "other" / "call.flac")),
        script="Plums!",
        kits=(
            Kit("drawn", OtherFile(art), Drawn(face=OtherFile(here / "face.png"))),
            Kit("cut", OtherFile(here / "face.png"), cut, reference=Reference(OtherFile(here / "ref.png"))),
        ),
        kit="cut",
    )


def test_a_pack_opens_elsewhere_with_the_same_bytes(state, tmp_path):
    assert pack(state, tmp_path / "all.zip") == ()
    opened = open_project(unpack(tmp_path / "all.zip", tmp_path / "there"))
    root = (tmp_path / "there").resolve()
    assert [take.path.read_bytes() for take in opened.takes] == [take.path.read_bytes() for take in state.takes]
    before, after = ([file for kit in each.kits for file in kit.files] for each in (state, opened))
    for old, new in zip(before, after, strict=True):
        assert root in new.path.parents
        if old.path.is_dir():
            assert {p.name: p.read_bytes() for p in new.path.iterdir()} == {
                p.name: p.read_bytes() for p in old.path.iterdir()
            }
        else:
            assert new.path.read_bytes() == old.path.read_bytes()
    assert (opened.script, opened.kit) == (state.script, state.kit)


def test_what_is_named_twice_is_packed_once(state, tmp_path):
    pack(state, tmp_path / "all.zip")
    with zipfile.ZipFile(tmp_path / "all.zip") as file:
        names = file.namelist()
    assert len(names) == len(set(names))
    assert sum(name.endswith("face.png") for name in names) == 1


def test_what_is_gone_is_told_and_the_rest_is_packed(state, tmp_path):
    state.takes[1].path.unlink()
    assert pack(state, tmp_path / "all.zip") == ("call.flac",)
    assert open_project(unpack(tmp_path / "all.zip", tmp_path / "there")).takes[0].path.is_file()


def test_a_pack_that_is_stopped_leaves_nothing(state, tmp_path):
    with pytest.raises(Cancelled):
        pack(state, tmp_path / "all.zip", lambda share, _what: share < 0.5)
    assert not (tmp_path / "all.zip").exists()
    assert [path.name for path in tmp_path.iterdir()] == ["here"]


def hostile(path: Path, **entries: bytes) -> Path:
    with zipfile.ZipFile(path, "w") as file:
        file.writestr(PROJECT, "{}")
        for name, data in entries.items():
            file.writestr(name, data)
    return path


@pytest.mark.parametrize("name", ["../out.txt", "/tmp/out.txt", "a/../../out.txt", "..\\out.txt", "C:\\out.txt"])
def test_nothing_is_written_outside_its_folder(name, tmp_path):
    path = hostile(tmp_path / "bad.zip", **{name: b"x"})
    with pytest.raises(ProjectError, match="outside the folder"):
        unpack(path, tmp_path / "there")
    assert not (tmp_path / "out.txt").exists()
    assert not (tmp_path / "there").exists()


def test_a_link_in_a_pack_is_refused(tmp_path):
    path = hostile(tmp_path / "bad.zip")
    with zipfile.ZipFile(path, "a") as file:
        link = zipfile.ZipInfo("link")
        link.external_attr = (stat.S_IFLNK | 0o777) << 16
        file.writestr(link, "/etc/passwd")
    with pytest.raises(ProjectError, match="outside"):
        unpack(path, tmp_path / "there")


def test_what_is_no_pack_is_refused(tmp_path):
    (tmp_path / "a.zip").write_bytes(b"PK\3\4junk")
    with pytest.raises(ProjectError):
        unpack(tmp_path / "a.zip", tmp_path / "there")
    with zipfile.ZipFile(tmp_path / "b.zip", "w") as file:
        file.writestr("other.txt", "x")
    with pytest.raises(ProjectError, match="there is no"):
        unpack(tmp_path / "b.zip", tmp_path / "there")


def test_a_folder_with_something_in_it_is_left_alone(state, tmp_path):
    pack(state, tmp_path / "all.zip")
    (tmp_path / "there").mkdir()
    (tmp_path / "there" / "mine.txt").write_text("mine")
    with pytest.raises(TargetError, match="not empty"):
        unpack(tmp_path / "all.zip", tmp_path / "there")
    assert [path.name for path in (tmp_path / "there").iterdir()] == ["mine.txt"]


def test_a_pack_that_unpacks_to_far_too_much_is_refused(tmp_path, monkeypatch):
    monkeypatch.setattr("buccaphon.project.file.packing.MOST_BYTES", 1000)
    with pytest.raises(ProjectError, match="too much data"):
        unpack(hostile(tmp_path / "big.zip", big=b"\0" * 2000), tmp_path / "there")


def test_only_what_a_project_can_be_made_of_is_packed(state, tmp_path):
    """A project from elsewhere may name anything as its recording or its character."""
    key, folder = tmp_path / "id_rsa", tmp_path / "private"
    key.write_text("secret")
    drawings(folder, ("ah",))
    (folder / "diary.txt").write_text("secret")
    theirs = one_line(takes=(Take(key),), kits=(Kit("x", OtherFile(folder), Drawn()),), kit="x")
    assert sorted(pack(theirs, tmp_path / "all.zip")) == ["diary.txt", "id_rsa"]
    with zipfile.ZipFile(tmp_path / "all.zip") as file:
        assert sorted(file.namelist()) == ["kits/private/ah.png", PROJECT]


def test_names_that_are_no_text_are_packed_under_ones_that_are(state, tmp_path):
    import os

    odd = Path(os.fsdecode(os.fsencode(tmp_path) + b"/caf\xe9.flac"))
    odd.write_bytes(b"sound")
    assert pack(one_line(takes=(Take(odd),)), tmp_path / "all.zip") == ()
    unpack(tmp_path / "all.zip", tmp_path / "there")
    assert open_project(tmp_path / "there" / PROJECT).takes[0].path.read_bytes() == b"sound"


def test_an_entry_without_a_name_is_refused_and_half_a_pack_is_cleared_away(tmp_path, monkeypatch):
    path = tmp_path / "odd.zip"
    with zipfile.ZipFile(path, "w") as file:
        file.writestr(PROJECT, b"{}")
        file.writestr("recordings/a.flac", b"sound" * 100)
        file.writestr("recordings/b.flac", b"other sound")
    data = path.read_bytes()
    path.write_bytes(data.replace(b"other sound", b"OTHER SOUND", 1))  # its checksum is wrong now
    with pytest.raises(ProjectError, match="damaged"):
        unpack(path, tmp_path / "there")
    assert list((tmp_path / "there").iterdir()) == []
    with zipfile.ZipFile(path, "w") as file:
        file.writestr(PROJECT, b"{}")
        file.writestr("x", b"")
    monkeypatch.setattr(zipfile.ZipFile, "infolist", lambda self: [zipfile.ZipInfo(PROJECT), nameless()])
    with pytest.raises(ProjectError, match="no name"):
        unpack(path, tmp_path / "again")


def nameless() -> zipfile.ZipInfo:
    info = zipfile.ZipInfo("x")
    info.filename = ""
    return info
