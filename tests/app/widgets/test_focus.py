"""The focus goes back to what had it, and nowhere where that has gone."""

from __future__ import annotations

from PyQt6 import sip
from PyQt6.QtWidgets import QLineEdit, QWidget

from buccaphon.app.widgets.focus import focus_again


def test_the_focus_goes_back_unless_the_widget_has_gone(qtbot) -> None:  # type: ignore[no-untyped-def]
    page = QWidget()
    qtbot.addWidget(page)
    first, second = QLineEdit(page), QLineEdit(page)
    with qtbot.waitExposed(page):
        page.show()
    second.setFocus()
    focus_again(first)
    assert page.focusWidget() is first
    focus_again(None)
    assert page.focusWidget() is first
    sip.delete(second)
    focus_again(second)
    assert page.focusWidget() is first
