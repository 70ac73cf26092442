import re
from pathlib import Path

import pytest

from buccaphon.app.style.dressing import dress, style_sheet
from buccaphon.painting.theme import theme_named


@pytest.mark.parametrize("name", ["paper", "night"])
def test_the_sheet_names_pictures_that_are_there_and_leaves_nothing_unfilled(name):
    sheet = style_sheet(theme_named(name))
    pictures = re.findall(r"url\((.*?)\)", sheet)
    assert len(pictures) >= 2
    assert all(Path(picture).is_file() for picture in pictures), pictures
    assert "@" not in sheet


def test_another_theme_keeps_the_style(qapp):
    """Setting it again fits every widget of the window anew, which takes seconds."""
    dress(qapp, theme_named("paper"))
    style = qapp.style()
    dress(qapp, theme_named("night"))
    assert qapp.style() is style
    assert qapp.palette().window().color().name() == theme_named("night").panel
    dress(qapp, theme_named("paper"))
