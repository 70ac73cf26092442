"""The house rules that can be checked by reading."""

import ast
import re
import subprocess
import sys
from pathlib import Path

import pytest

from buccaphon.app.commands.catalogue import COMMANDS
from buccaphon.painting.theme import NIGHT, PAPER

ROOT = Path(__file__).parents[2]
SOURCES = sorted((ROOT / "src").rglob("*.py"))


@pytest.mark.parametrize("path", SOURCES, ids=lambda path: str(path.relative_to(ROOT / "src")))
def test_modules_say_what_they_are_for_and_stay_small(path):
    text = path.read_text("utf-8")
    assert ast.get_docstring(ast.parse(text)), "no module docstring"
    assert len(text.splitlines()) <= 420


def test_the_readme_names_the_two_commands_and_shows_pictures():
    readme = (ROOT / "README.md").read_text("utf-8")
    assert "./run demo" in readme
    assert "./run test" in readme
    for picture in re.findall(r"\((docs/[^)]*\.png)\)", readme):
        assert (ROOT / picture).is_file(), picture
    assert "docs/screenshots/" in readme


def test_links_in_the_documents_lead_somewhere():
    for document in (*ROOT.glob("*.md"), *(ROOT / "docs").glob("*.md")):
        for link in re.findall(r"\]\((?!https?:|#)([^)#]+)", document.read_text("utf-8")):
            assert (document.parent / link).exists(), f"{document.name} links to {link}"


def test_commands_are_whole_and_no_two_share_a_key():
    keys = [key for command in COMMANDS for key in command.keys]
    assert len(keys) == len(set(keys))
    assert len({command.id for command in COMMANDS}) == len(COMMANDS)
    for command in COMMANDS:
        assert callable(command.run), command.id


def contrast(a: str, b: str) -> float:
    """WCAG 2.2 contrast ratio of two '#rrggbb' colours."""

    def luminance(color: str) -> float:
        parts = [int(color[i : i + 2], 16) / 255 for i in (1, 3, 5)]
        red, green, blue = (c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in parts)
        return 0.2126 * red + 0.7152 * green + 0.0722 * blue

    high, low = sorted((luminance(a), luminance(b)), reverse=True)
    return (high + 0.05) / (low + 0.05)


@pytest.mark.parametrize("theme", [PAPER, NIGHT], ids=["paper", "night"])
@pytest.mark.parametrize(
    ("text", "ground"),
    [
        ("ink", "paper"), ("ink", "panel"), ("ink_soft", "paper"), ("ink_soft", "panel"), ("doubt", "panel"),
        ("doubt", "paper"), ("rail_ink", "rail"), ("rail_soft", "rail"), ("paper", "ink"), ("ink", "loop"),
    ],
)  # fmt: skip
def test_text_can_be_read(theme, text, ground):
    assert contrast(getattr(theme, text), getattr(theme, ground)) >= 4.5


def test_scipy_is_imported_at_one_place_alone():
    """Two threads that import parts of it at once find them half done; `numerics.scipy_part` lets one wait."""
    importing = re.compile(r"^\s*(from|import) scipy\b", re.MULTILINE)
    found = [path.name for path in SOURCES if importing.search(path.read_text("utf-8"))]
    assert found == []


def test_parts_of_scipy_can_be_asked_for_by_many_threads_at_once():
    code = """
import threading
from buccaphon.numerics import scipy_part
faults = []
def ask(name):
    try:
        scipy_part(name)
    except BaseException as problem:
        faults.append(problem)
names = ["signal", "ndimage", "optimize", "interpolate", "spatial.transform"] * 2
threads = [threading.Thread(target=ask, args=[name]) for name in names]
[thread.start() for thread in threads]
[thread.join() for thread in threads]
assert not faults, faults
"""
    assert subprocess.run([sys.executable, "-c", code], check=False).returncode == 0
