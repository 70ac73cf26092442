"""Hand and keys of whoever works in the window."""

from PyQt6.QtCore import QPoint, Qt

from tests.helpers.qtest import QTest

LEFT = Qt.MouseButton.LeftButton
NONE, ALT, SHIFT, CTRL = (
    Qt.KeyboardModifier.NoModifier,
    Qt.KeyboardModifier.AltModifier,
    Qt.KeyboardModifier.ShiftModifier,
    Qt.KeyboardModifier.ControlModifier,
)


def click(window, at: QPoint, held=NONE) -> None:
    QTest.mouseClick(window.galley.viewport(), LEFT, held, at)


def drag(window, start: QPoint, *ends: QPoint) -> None:
    """In the galley, from place to place; to one end it goes in three steps."""
    view = window.galley.viewport()
    ways = ends if len(ends) > 1 else [start + (ends[0] - start) * share for share in (0.3, 0.7, 1.0)]
    QTest.mousePress(view, LEFT, NONE, start)
    for way in ways:
        QTest.mouseMove(view, way)
    QTest.mouseRelease(view, LEFT, NONE, ends[-1])
