"""After an edit only what shows something else is painted again; it looks as if all had been."""

import pytest
from PyQt6.QtCore import QPoint

from buccaphon.app.galley.look import Lane
from buccaphon.app.galley.shown import Shown
from buccaphon.project.edits.mouths import Paint
from buccaphon.project.edits.timing import MoveBoundary
from buccaphon.score.edits import Boundary
from buccaphon.timing import Span
from tests.helpers.hands import LEFT, NONE
from tests.helpers.qtest import QTest

HELD = Shown("ones", ((0.0, 0.2, "Rest"), (0.2, 0.4, "Open"), (0.4, 0.6, "Press"), (0.6, 0.9, "Rest")))


@pytest.mark.parametrize(
    ("parts", "differing"),
    [
        (HELD.parts, None),
        ((*HELD.parts[:2], (0.4, 0.6, "Bite"), HELD.parts[3]), Span(0.4, 0.6)),
        ((HELD.parts[0], (0.2, 0.5, "Open"), (0.5, 0.6, "Press"), HELD.parts[3]), Span(0.2, 0.6)),
        (HELD.parts[1:], Span(0.0, 0.2)),
        ((*HELD.parts, (0.9, 1.0, "Open")), Span(0.9, 1.0)),
        ((), Span(0.0, 0.9)),
    ],
)
def test_what_differs_is_found_between_what_is_the_same(parts, differing):
    assert HELD.differs_in(Shown("ones", parts)) == differing
    assert Shown("ones", parts).differs_in(HELD) == differing


def looks_as_painted_whole(window) -> bool:
    before = window.galley.viewport().grab().toImage()
    window.galley.forget_pictures()
    return window.galley.viewport().grab().toImage() == before


def test_a_part_that_is_painted_again_looks_as_if_all_had_been(demo):
    galley, view = demo.galley, demo.galley.viewport()
    demo.resize(1100, 800)
    view.grab()
    moves = 0
    for number in (1, 3, 6):
        grip = galley.point_at(demo.document.score.words[number].start, Lane.WORDS)
        QTest.mousePress(view, LEFT, NONE, grip)
        for by in (9, -14, 5):
            before = demo.document.score
            QTest.mouseMove(view, grip + QPoint(by, 0))
            moves += demo.document.score is not before
            assert looks_as_painted_whole(demo)
        QTest.mouseRelease(view, LEFT, NONE, grip)
    assert moves >= 6
    demo.document.apply(Paint(Span(0.5, 0.9), "Press"))
    assert looks_as_painted_whole(demo)
    demo.document.undo()
    demo.document.undo()
    assert looks_as_painted_whole(demo)


def test_strips_that_an_edit_does_not_reach_are_not_even_looked_at_and_are_right_all_the_same(demo):
    galley, document = demo.galley, demo.document
    demo.resize(1100, 800)
    galley.zoom_at(2.5, QPoint(0, 0))
    galley.viewport().grab()
    pictures = galley.page.pictures
    seen = {strip for strip, _ in pictures}
    assert len(seen) >= 3
    left_alone = 0
    for number in range(1, len(document.score.words), 3):
        before = {key: kept.shown for key, kept in pictures.items()}
        document.apply(MoveBoundary(Boundary(number, 0), document.score.words[number].start + 0.03))
        left_alone += len({strip for strip in seen if pictures[strip, Lane.WORDS].shown is before[strip, Lane.WORDS]})
        assert looks_as_painted_whole(demo)
    assert left_alone > len(seen)
