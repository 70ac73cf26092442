from buccaphon.project.file.relink import digest_of, find_again
from buccaphon.project.state import Take


def test_a_moved_recording_is_found_by_its_content_whatever_it_is_called(tmp_path):
    (tmp_path / "new place").mkdir()
    (tmp_path / "call.wav").write_bytes(b"another recording of the same name")
    moved = tmp_path / "new place" / "renamed.wav"
    moved.write_bytes(b"the call")
    take = Take(tmp_path / "gone" / "call.wav", digest=digest_of(moved))
    assert find_again(take, tmp_path) == moved


def test_without_a_known_content_the_name_counts(tmp_path):
    (tmp_path / "sub").mkdir()
    (tmp_path / "sub" / "call.wav").write_bytes(b"x")
    assert find_again(Take(tmp_path / "call.wav"), tmp_path) == tmp_path / "sub" / "call.wav"
    assert find_again(Take(tmp_path / "other.wav"), tmp_path) is None


def test_the_same_name_with_another_content_is_not_taken(tmp_path):
    (tmp_path / "call.wav").write_bytes(b"something else")
    assert find_again(Take(tmp_path / "gone" / "call.wav", digest="0" * 64), tmp_path) is None
