"""The house's words: none of those that docs/glossary.md says are not used, in anything that people read."""

import ast
import re
from pathlib import Path

import pytest
from tools.settings_page import PAGE, settings_page

TOP = Path(__file__).parents[2]
NOT_USED = [
    r"\bgiv(?:e|es|en|ing) (?:\w+ ){1,4}back\b", r"\bgives? back\b", r"\bgiven back\b",
    r"\bt(?:ake|akes|aken|ook) (?:it |them |one |some )?out\b", r"\bb(?:ring|rings|rought) (?:it |them |one )?(?:in|over)\b",
    r"\bby (?:itself|themselves)\b", r"\bof (?:one's|its) own\b", r"\banew\b", r"\bso many\b", r"\bthe machine\b",
    r"\bas (?:it|they) came\b", r"\bas it was found\b", r"\bparted by\b", r"\bstrike\b", r"\bin doubt\b",
    r"\bmend(?:s|ed|ing)?\b", r"\bas usual\b", r"\bdrawn on the ruler\b",
    r"\bis no (?:file|number|address|time|name|picture)\b",
    r"\b(?:frames|changes|rows?|lines?) a (?:second|phone|frame|line)\b", r"\bmanner\b", r"\bleads on\b",
]  # fmt: skip
WORDS = re.compile("|".join(NOT_USED), re.IGNORECASE)
ALLOWED = {  # places where a word means something else
    "src/buccaphon/project/file/upgrades.py",  # reads what older versions wrote
    "docs/glossary.md",  # lists them
    "docs/alignment.md", "docs/alignment-history.md",  # place and manner of articulation
    "docs/motion.md",  # a figure of speech in a history
}  # fmt: skip


def texts(path: Path):
    """What people read in a module: its strings of several words that are no docstring, with … for what is filled in."""
    tree = ast.parse(path.read_text("utf-8"))
    docs = {id(node.value) for node in ast.walk(tree) if isinstance(node, ast.Expr)}
    inside = set()
    for node in ast.walk(tree):
        if isinstance(node, ast.JoinedStr):
            inside |= {id(part) for part in ast.walk(node)}
            yield "".join(str(part.value) if isinstance(part, ast.Constant) else "…" for part in node.values)
    for node in ast.walk(tree):
        text = node.value if isinstance(node, ast.Constant) else None
        if isinstance(text, str) and " " in text and id(node) not in docs and id(node) not in inside:
            yield text


@pytest.mark.parametrize("room", sorted({p.parent for p in (TOP / "src").rglob("*.py")}), ids=lambda p: p.name)
def test_no_message_or_label_uses_a_word_that_is_not_ours(room):
    found = [
        (str(path.relative_to(TOP)), text)
        for path in sorted(room.glob("*.py"))
        for text in texts(path)
        if WORDS.search(text) and str(path.relative_to(TOP)) not in ALLOWED
    ]
    assert found == []


@pytest.mark.parametrize("page", [*sorted((TOP / "docs").glob("*.md")), TOP / "README.md"], ids=lambda p: p.name)
def test_no_page_uses_a_word_that_is_not_ours(page):
    lines = [] if str(page.relative_to(TOP)) in ALLOWED else page.read_text("utf-8").splitlines()
    assert [line for line in lines if WORDS.search(line)] == []


def test_the_test_finds_what_it_looks_for():
    for text in (
        "Give the mouth back",
        "Bring in words…",
        "it is no file",
        "8 changes a second",
        "Taken out",
        "In doubt",
    ):
        assert WORDS.search(text), text
    for text in ("Back to the line", "Import words…", "8 changes per second", "a new chart", "Recommend a friend"):
        assert not WORDS.search(text), text


def test_the_page_of_settings_is_what_the_declarations_say():
    """`python -m tools.settings_page` writes it again."""
    assert PAGE.read_text("utf-8") == settings_page()
