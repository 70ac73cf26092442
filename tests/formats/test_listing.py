"""The export list as data, as a file, and written as a whole."""

from dataclasses import replace

import pytest

from buccaphon.errors import Cancelled, ListError, TargetError
from buccaphon.formats.delivering import deliver_all, in_the_way, resolve_targets
from buccaphon.formats.listing import (
    DEFAULT_LIST,
    FIELDS,
    MOST_ENTRIES,
    Entry,
    ExportList,
    list_as_text,
    parse_list,
    read_list,
    require_valid_list,
    stem,
)
from tests.formats.test_formats import small_delivery

FACTS = {
    "title": "market day",
    "take": "two",
    "chart": "Ten",
    "role": "Maren",
    "character": "Marigold",
    "fps": "23.976",
}


@pytest.mark.parametrize(
    ("pattern", "wanted"),
    [
        ("{title}", "market_day"),
        ("{title}_{take}_{chart}", "market_day_two_Ten"),
        ("{character} at {fps}", "Marigold_at_23.976"),
        ("sub/dir\\x:y{{}}", "sub_dir_x_y{}"),
        (" .hidden\n", "hidden_"),
    ],
)
def test_a_name_is_made_of_its_fields_and_fits_every_system(pattern, wanted):
    assert stem(pattern, FACTS) == wanted


@pytest.mark.parametrize("pattern", ["", "{", "{nothing}", "{title.upper}", "{0}", "..."])
def test_a_name_that_cannot_be_is_refused_with_what_can(pattern):
    with pytest.raises(ListError, match="title"):
        stem(pattern, FACTS)


def test_a_list_is_the_same_again_from_its_file(tmp_path):
    entries = (
        Entry("glb", "{title}_{take}", "models", (("between", "held"), ("alone", "yes"))),
        Entry("usda", options=(("over", './say "hi".usda'),), on=False),
    )
    kept = ExportList(entries, "../out", again=True, each=False)
    (tmp_path / "list.toml").write_text(list_as_text(kept))
    assert read_list(tmp_path / "list.toml") == kept
    assert parse_list(list_as_text(DEFAULT_LIST), "usual") == DEFAULT_LIST
    by_hand = parse_list('[[export]]\nas = "mp4"\nset = { width = 640, number = true }\n', "by hand")
    assert by_hand.entries == (Entry("mp4", options=(("width", "640"), ("number", "yes"))),)


@pytest.mark.parametrize(
    "text",
    [
        "",
        "[[export]]\nas = 3\n",
        '[[export]]\nas = "fbx"\n',
        '[[export]]\nas = "glb"\nset = { between = "bouncing" }\n',
        '[[export]]\nas = "glb"\nset = { colour = "red" }\n',
        '[[export]]\nas = "glb"\nname = "{who}"\n',
        '[[export]]\nas = "glb"\nwhere = "x"\n',
        'folder = "a\\u0000b"\n[[export]]\nas = "glb"\n',
        "[[export]\n",
    ],
)
def test_what_is_no_list_is_refused(text):
    with pytest.raises(ListError):
        parse_list(text, "broken.toml")


def test_a_list_has_an_end():
    with pytest.raises(ListError, match="more than"):
        require_valid_list(ExportList((Entry("glb"),) * (MOST_ENTRIES + 1)))


def test_all_of_a_list_is_written_and_only_what_changed_is_written_again(tmp_path):
    exports = ExportList(
        (Entry("keys-csv"), Entry("textgrid", folder="timing"), Entry("bvh", on=False), Entry("mp4")), "out"
    )
    wanted = resolve_targets(exports, FACTS, tmp_path)
    assert not in_the_way(wanted)
    small = small_delivery()
    first = deliver_all(replace(small, pictures=None), wanted)
    names = [path.relative_to(tmp_path).as_posix() for path in first.new]
    assert names == ["out/market_day.keys.csv", "out/timing/market_day.TextGrid"]
    (problem,) = first.problems
    assert "pictures cannot be drawn here" in str(problem), "it keeps no other from being written"
    assert in_the_way(wanted) == first.new
    stamps = [path.stat().st_mtime_ns for path in first.new]
    again = deliver_all(replace(small, score=replace_first_word(small.score)), wanted[:2])
    assert again.unchanged == [first.new[0]]
    assert again.new == [first.new[1]]
    assert first.new[0].stat().st_mtime_ns == stamps[0]


def replace_first_word(score):
    first, *rest = score.words
    return type(score)((replace(first, text="Pears,"), *rest), score.duration)


def test_two_that_would_write_over_each_other_are_refused(tmp_path):
    with pytest.raises(TargetError, match="overwrite each other"):
        resolve_targets(ExportList((Entry("glb"), Entry("glb", "{title}"))), FACTS, tmp_path)
    resolve_targets(ExportList((Entry("glb"), Entry("glb", "{title}_held"))), FACTS, tmp_path)


def test_numbered_pictures_are_found_whatever_their_numbers(tmp_path):
    wanted = resolve_targets(ExportList((Entry("png-sequence"),)), FACTS, tmp_path)
    assert not in_the_way(wanted)
    (tmp_path / "market_day.0107.png").touch()
    (tmp_path / "market_day.contact.png").touch()
    assert [path.name for path in in_the_way(wanted)] == ["market_day.0107.png"]


def test_a_folder_that_cannot_be_made_is_said_and_stopping_stops(tmp_path):
    (tmp_path / "out").write_text("a file")
    wanted = resolve_targets(ExportList((Entry("bvh"),), "out"), FACTS, tmp_path)
    (problem,) = deliver_all(small_delivery(), wanted).problems
    assert "folder" in str(problem)
    with pytest.raises(Cancelled):
        deliver_all(small_delivery(), wanted, lambda _share, _what: False)


def test_every_field_is_told():
    assert set(FACTS) == set(FIELDS)


def test_names_say_for_whom_a_file_is_where_there_are_several_characters(tmp_path):
    exports = ExportList((Entry("bvh"), Entry("keys-csv", "{character} {title}"), Entry("srt")))
    wanted = resolve_targets(exports, FACTS, tmp_path, characters=("Pip", "Marigold"))
    assert [(each.place.name, each.character) for each in wanted] == [
        ("market_day_Pip", "Pip"),
        ("market_day_Marigold", "Marigold"),
        ("Pip_market_day", "Pip"),
        ("Marigold_market_day", "Marigold"),
        ("market_day", "Pip"),
    ], "words are the same for all of them"
    (alone,) = resolve_targets(ExportList((Entry("bvh"),)), FACTS, tmp_path, characters=("Pip",))
    assert alone.place.name == "market_day_Pip"
    with pytest.raises(TargetError, match="overwrite each other"):
        resolve_targets(ExportList((Entry("bvh"),)), FACTS, tmp_path, characters=("P p", "P_p"))
