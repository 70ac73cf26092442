"""Which drawings and layers are mouths, which are the face, and which stay out."""

import numpy as np

from buccaphon.kits.own.drawing import Role
from buccaphon.kits.own.entries import Entry, titles, unique
from buccaphon.kits.own.seen import cover
from buccaphon.kits.own.sorting import sort_drawings, sort_layers
from buccaphon.kits.own.table import NOTHING, table_of
from tests.helpers.mouth_pictures import blank, face, mouth


class Looked:
    def __init__(self, pixels):
        self._pixels = pixels
        self.cover = cover(pixels)

    def pixels(self, _longest):
        return self._pixels


MOUTHS = {
    "1": mouth(90, 4), "2": mouth(90, 100, teeth=0.2), "3": mouth(44, 50), "4": mouth(130, 40, teeth=0.3),
    "5": mouth(96, 30, teeth=1.0),
}  # fmt: skip


def entry(name, picture=None, parent=-1, **more):
    return Entry(name, Looked(blank() if picture is None else picture), parent, **more)


def roles(found):
    return {each.name: each.role for each in found.drawings.values()}


def test_drawings_without_telling_names_are_sorted_by_how_they_look():
    found = sort_drawings([entry(name, picture) for name, picture in MOUTHS.items()])
    table = table_of(list(found.drawings.values()))
    assert table.rest.name == "1"
    assert [table.answers[sound].name for sound in ("ɑ", "u", "i", "s", "p")] == ["2", "3", "4", "5", "1"]
    assert not table.answers["ɑ"].sure, "what is but seen needs a look"


def test_the_face_is_found_by_what_it_covers_whatever_it_is_called():
    for name in ("nina", "Layer 7", "oo"):
        found = sort_drawings([entry(name, face()), *(entry(each, mouth(80, 40)) for each in ("A", "E", "O", "MBP"))])
        assert roles(found) == {name: Role.FACE, **dict.fromkeys(("A", "E", "O", "MBP"), Role.MOUTH)}


def test_a_face_with_a_mouth_lets_nothing_be_shown():
    vowels = [entry(name, mouth(60, 30 + 10 * n)) for n, name in enumerate("aeiou")]
    found = sort_drawings([entry("face", face(with_mouth=True)), *vowels])
    assert found.has_mouth
    assert table_of(list(found.drawings.values()), may_show_nothing=found.has_mouth).rest.name == NOTHING
    assert not sort_drawings([entry("face", face()), *vowels]).has_mouth


def layers(*more):
    """A file from the bottom up: background, a face with a name of its own, eyes in a group, mouths in a group, more."""
    found = [entry("paper", blank((255, 255, 255), 255)), entry("nina", face()), entry("Eyes", is_group=True)]
    found += [entry("open", parent=2), entry("closed", parent=2, hidden=True), entry("Mouth", is_group=True)]
    found += [entry(name, mouth(60, 20 + n), 5, hidden=n > 0) for n, name in enumerate(("rest", "ah", "oh", "closed"))]
    return [*found, *more]


def test_of_layers_the_group_called_mouth_is_read_and_what_is_seen_below_is_the_face():
    found = sort_layers(layers(entry("hair", face()), entry("notes guide"), entry("old hair", hidden=True)))
    assert roles(found) == {
        "paper": Role.FACE, "nina": Role.FACE, "open": Role.FACE, "Eyes/closed": Role.UNUSED, "rest": Role.MOUTH,
        "ah": Role.MOUTH, "oh": Role.MOUTH, "closed": Role.MOUTH, "hair": Role.OVER, "notes guide": Role.GUIDE,
        "old hair": Role.UNUSED,
    }  # fmt: skip
    told = {each.name: each.why[0].id for each in found.drawings.values() if each.why}
    assert told["nina"] == "largest_below"
    assert told["old hair"] == "hidden"


def test_mouths_in_another_group_are_another_way_and_not_the_face():
    more = [entry("Side", is_group=True), *(entry(name, mouth(40, 30), 10) for name in ("ah", "oh", "mbp"))]
    found = sort_layers(layers(*more))
    assert {name for name, role in roles(found).items() if role is Role.OTHER_WAY} == {"Side/ah", "Side/oh", "mbp"}


def test_layers_inside_a_mouth_belong_to_it():
    inner = [entry("ee", is_group=True, parent=5), entry("ink", parent=10), entry("fill", parent=10)]
    found = sort_layers(layers(*inner))
    assert roles(found)["ee"] is Role.MOUTH
    assert not {"ink", "fill"} & roles(found).keys()


def test_what_somebody_said_comes_first():
    chosen = {"hair": Role.FACE, "oh": Role.GUIDE, "Eyes/closed": Role.OVER}
    found = sort_layers(layers(entry("hair", face())), chosen)
    assert {name: roles(found)[name] for name in chosen} == chosen
    assert {each.name for each in found.drawings.values() if each.by_hand} == chosen.keys()


def test_layers_without_any_mouth_are_none():
    assert not sort_layers([entry("tree", face()), entry("house", face())]).having(Role.MOUTH)
    assert sort_layers([]).drawings == {}
    assert sort_layers([entry(f"Layer {n}", each) for n, each in MOUTHS.items()]).having(Role.MOUTH) == [0, 1, 2, 3, 4]


def test_names_that_come_again_are_told_apart():
    assert unique(["a", "a", "a 2", "a"]) == ["a", "a 2", "a 2 2", "a 3"]
    found = titles(
        [Entry("Mouth", is_group=True), Entry("1", parent=0), Entry("Eyes", is_group=True), Entry("1", parent=2)], [1]
    )
    assert found == {0: "Mouth", 1: "1", 2: "Eyes", 3: "Eyes/1"}


def test_mouths_of_a_folder_that_come_in_colours_of_their_own_are_not_thrown_out():
    odd = np.roll(MOUTHS["3"], 1, axis=2)
    found = sort_drawings(
        [entry("mouth a", MOUTHS["2"]), entry("mouth o", odd), entry("mouth zz", MOUTHS["4"]), entry("mouth m")]
    )
    assert set(roles(found).values()) == {Role.MOUTH}
