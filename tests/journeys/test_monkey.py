"""Two thousand random acts of hands that do not know what they do."""

import pytest
from PyQt6.QtWidgets import QFileDialog

from tests.helpers.monkey import Monkey
from tests.helpers.waiting import aligned, idle

BATCHES, BATCH = 10, 50
IN_A_SCENE = (5, 6)  # of two roles and two lines


@pytest.mark.parametrize("seed", [1, 2, 3, 4, *IN_A_SCENE])
def test_nothing_that_random_hands_do_breaks_anything(window, qtbot, tmp_path, monkeypatch, seed):
    for way in ("getSaveFileName", "getOpenFileName", "getOpenFileNames", "getExistingDirectory"):
        monkeypatch.setattr(QFileDialog, way, getattr(QFileDialog, way))  # the monkey answers them; put back afterwards
    monkey = Monkey(window, seed, tmp_path)
    if seed in IN_A_SCENE:
        monkey.open_a_scene()
    else:
        monkey.open_a_line()
    aligned(window, qtbot)
    for batch in range(BATCHES):
        acts = [monkey.act() for _ in range(BATCH)]
        monkey.let_go()
        if batch % 3 == 0:
            idle(window, qtbot)
        assert not monkey.broken(), acts
    assert not monkey.broken_in_undo()
