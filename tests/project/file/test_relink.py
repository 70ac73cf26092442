from buccaphon.project.file.relink import digest_of, digest_of_any, find_again
from tests.helpers.artwork import drawings


def test_a_moved_recording_is_found_by_its_content_whatever_it_is_called(tmp_path):
    (tmp_path / "new place").mkdir()
    (tmp_path / "call.wav").write_bytes(b"another recording of the same name")
    moved = tmp_path / "new place" / "renamed.wav"
    moved.write_bytes(b"the call")
    assert find_again(tmp_path / "gone" / "call.wav", digest_of(moved), tmp_path) == moved


def test_without_a_known_content_the_name_counts(tmp_path):
    (tmp_path / "sub").mkdir()
    (tmp_path / "sub" / "call.wav").write_bytes(b"x")
    assert find_again(tmp_path / "call.wav", "", tmp_path) == tmp_path / "sub" / "call.wav"
    assert find_again(tmp_path / "other.wav", "", tmp_path) is None


def test_the_same_name_with_another_content_is_not_taken(tmp_path):
    (tmp_path / "call.wav").write_bytes(b"something else")
    assert find_again(tmp_path / "gone" / "call.wav", "0" * 64, tmp_path) is None


def test_a_folder_of_drawings_is_found_by_what_is_in_it(tmp_path, qapp):
    drawings(tmp_path / "other", ("ah",))
    moved = drawings(tmp_path / "art" / "renamed", ("ah", "oh"))
    assert find_again(tmp_path / "mouths", digest_of_any(moved), tmp_path) == moved
    assert find_again(tmp_path / "mouths", "0" * 64, tmp_path) is None
    assert digest_of_any(tmp_path / "nowhere") == ""
