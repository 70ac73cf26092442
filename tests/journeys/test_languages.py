"""The window in a language that nobody speaks: what stays English was never marked, or was made before it could be known."""

import io
import re

import pytest
from babel.messages.catalog import Catalog
from babel.messages.mofile import write_mo
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QAbstractButton, QComboBox, QLabel, QLineEdit, QListWidget, QWidget
from tools.texts import template

from buccaphon import texts
from buccaphon.app.commands.desk import Step, View
from buccaphon.speech.languages import languages

LETTERS = re.compile(r"[A-Za-z]{3,}")


def pseudo(text: str) -> str:
    return f"⟦{text}⟧"


@pytest.fixture(scope="session")
def catalogue() -> bytes:
    spoken = Catalog(locale="eo")
    for message in template():
        if message.id and isinstance(message.id, tuple):
            spoken.add(message.id, tuple(map(pseudo, message.id)))
        elif message.id:
            spoken.add(message.id, pseudo(message.id))
    file = io.BytesIO()
    write_mo(file, spoken)
    return file.getvalue()


@pytest.fixture
def spoken(catalogue, tmp_path, monkeypatch):
    folder = tmp_path / "locale" / "eo" / "LC_MESSAGES"
    folder.mkdir(parents=True)
    (folder / "buccaphon.mo").write_bytes(catalogue)
    monkeypatch.setenv("BUCCAPHON_LOCALE", str(tmp_path / "locale"))
    assert texts.speak("eo") == "eo"
    yield
    texts.speak()


def shown(widget: QWidget):
    """The texts of a widget, each with what it is."""
    yield from (("tip", widget.toolTip()), ("name", widget.accessibleName()))
    if isinstance(widget, QLabel | QAbstractButton):
        yield "text", widget.text()
    if isinstance(widget, QLineEdit):
        yield "placeholder", widget.placeholderText()
    if isinstance(widget, QComboBox):
        yield from (("item", widget.itemText(row)) for row in range(widget.count()))
    if isinstance(widget, QListWidget):
        yield from (("item", widget.item(row).text()) for row in range(widget.count()))


def outside(text: str) -> str:
    """What of a text stands outside of ⟦ ⟧, where one that is cut after its beginning has no end."""
    while (less := re.sub(r"⟦[^⟦⟧]*(⟧|$)", "", text)) != text:
        text = less
    return text


def names(window) -> str:
    """What is never translated, as a pattern: names that the demo's maker gave, and languages by their own library."""
    state, chart = window.document.state, window.document.chart
    known = [
        r"stall[ _]call(_Marigold,_\w+)?",
        re.escape(chart.about),
        *chart.names,
        *(re.escape(kit.name) for kit in state.kits),
    ]
    known += [re.escape(language.name) for language in languages().values()]
    known += [r"\.keys\.(csv|json)", r"\.TextGrid", "smile = spread - 0.3 jaw", "Press shortcut", "Esc", "LUFS", "kHz"]
    return "|".join(sorted(known, key=len, reverse=True))


def english(window, known: str) -> set[tuple[str, str, str]]:
    return {
        (type(widget).__name__, what, text)
        for widget in [window, *window.findChildren(QWidget)]
        for what, text in shown(widget)
        if LETTERS.search(re.sub(known, "", outside(text)))
    }


def test_every_text_of_the_window_passes_through_the_catalogue(spoken, demo):
    found, known = set(), names(demo)
    for step in Step:
        demo.desk.show_step(step)
        found |= english(demo, known)
    for view in View:
        demo.desk.show_view(view)
        found |= english(demo, known)
    found |= {action.text() for action in demo.findChildren(QAction) if LETTERS.search(outside(action.text()))}
    assert sorted(found, key=str) == []


def test_a_window_without_a_line_speaks_too(spoken, window):
    assert english(window, names(window)) == set()


def test_the_palette_and_its_answers_speak_too(spoken, demo):
    demo.do("palette")
    said = [choice.text for choice in demo.desk.chooser.choices]
    assert len(said) > 150
    assert [text for text in said if LETTERS.search(re.sub(names(demo), "", outside(text)))] == []
    answers = {reason for command in demo.desk.commands if (reason := command.needs(demo.session))}
    assert answers and all("⟦" in text for text in answers)
