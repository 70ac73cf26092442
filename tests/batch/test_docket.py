"""The docket: order, marks of several people at once, and what is cut off."""

import multiprocessing

from buccaphon.batch.docket import Marks, next_after, read_docket, read_marks
from buccaphon.batch.ledger import Ledger
from buccaphon.batch.line import Outcome
from buccaphon.project.standing import Standing

CHANGES = 200


def scenes_in(folder, count=4):
    ledger = Ledger(folder)
    for number in range(count):
        name = f"line {number}.buccaphon"
        (folder / name).write_text("{}")
        issues = tuple(f"{n}.00 s: shut" for n in range(number))
        ledger.put(Outcome(f"k{number}", f"line {number}", "x.wav", issues=issues, files=(name,), scene=name))
    (folder / "by hand.buccaphon").write_text("{}")
    return folder


def test_what_needs_an_eye_most_comes_first_and_what_was_looked_at_last(tmp_path):
    folder = scenes_in(tmp_path)
    assert [scene.title for scene in read_docket(folder)] == ["line 3", "line 2", "line 1", "by hand", "line 0"]
    mark = Marks(folder, "odile").put("line 3.buccaphon", Standing.LOOKED_AT)
    found = read_docket(folder)
    assert [scene.title for scene in found][-1] == "line 3"
    assert (found[-1].standing, found[-1].mark.who) == (Standing.LOOKED_AT, "odile")
    following = next_after(folder / "line 3.buccaphon", found, mark)
    assert following.title == "line 2"


def test_of_one_scene_the_latest_mark_counts_whoever_made_it(tmp_path):
    one, other = Marks(tmp_path, "odile"), Marks(tmp_path, "bruno / 2")
    one.put("a.buccaphon", Standing.LOOKED_AT, 10.0)
    other.put("a.buccaphon", Standing.DELIVERED, 12.0)
    one.put("a.buccaphon", Standing.TO_DO, 11.0)
    assert read_marks(tmp_path)["a.buccaphon"].standing is Standing.DELIVERED
    assert len(list(tmp_path.glob("docket.*.jsonl"))) == 2
    (torn,) = tmp_path.glob("docket.odile*.jsonl")
    torn.write_bytes(torn.read_bytes()[:-7])
    assert read_marks(tmp_path)["a.buccaphon"].standing is Standing.DELIVERED
    other.put("a.buccaphon", Standing.TO_DO, 20.0)
    assert read_marks(tmp_path)["a.buccaphon"].standing is Standing.TO_DO


def change(folder, who, first, many):
    marks = Marks(folder, who)
    for number in range(many):
        marks.put(f"{first}{number}.buccaphon", Standing.LOOKED_AT)


def test_two_people_and_one_of_them_twice_lose_nothing(tmp_path):
    spawn = multiprocessing.get_context("spawn")
    working = [
        spawn.Process(target=change, args=(tmp_path, who, first, CHANGES))
        for who, first in (("odile", "a"), ("bruno", "b"), ("odile", "c"))
    ]
    for each in working:
        each.start()
    for each in working:
        each.join(60)
    assert [each.exitcode for each in working] == [0, 0, 0]
    assert len(read_marks(tmp_path)) == 3 * CHANGES
