import pytest

from buccaphon.demo.line import demo_project


@pytest.fixture
def demo(window, qtbot):
    """The window with the demo's line, aligned."""
    window.session.open_prepared(demo_project())
    qtbot.waitUntil(lambda: window.session.score is not None, timeout=60_000)
    window.galley.setFocus()
    return window
