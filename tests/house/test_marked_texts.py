"""Texts for people are marked as gettext's extractors and translators need them."""

import ast
import re
import string
from pathlib import Path

import pytest

SOURCE = Path(__file__).parents[2] / "src" / "buccaphon"
MARKS = {"_": 1, "N_": 1, "ngettext": 2}  # how many texts each takes
NAMES = re.compile(r"[a-z_][a-z0-9_]*")


def calls(tree: ast.AST):
    for node in ast.walk(tree):
        if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id in MARKS:
            yield node


def fields(text: str) -> set[str]:
    return {name.split(".")[0] for _, name, _, _ in string.Formatter().parse(text) if name is not None}


@pytest.mark.parametrize("room", sorted({p.parent for p in SOURCE.rglob("*.py")}), ids=lambda p: p.name)
def test_each_text_has_the_fields_that_it_names(room):
    wrong = []
    for path in sorted(room.glob("*.py")):
        for call in calls(ast.parse(path.read_text("utf-8"))):
            mark = call.func.id
            texts = [arg.value for arg in call.args[: MARKS[mark]] if isinstance(arg, ast.Constant)]
            given = {keyword.arg for keyword in call.keywords} | ({"count"} if mark == "ngettext" else set())
            if mark == "N_" or not call.keywords or None in given:
                continue  # filled in elsewhere, or not at all
            named = set().union(*map(fields, texts))
            if named != given and texts:
                wrong.append((path.name, call.lineno, named ^ given))
            wrong += [(path.name, call.lineno, name) for name in named if not NAMES.fullmatch(name)]
    assert wrong == []


@pytest.mark.parametrize("room", sorted({p.parent for p in SOURCE.rglob("*.py")}), ids=lambda p: p.name)
def test_marked_texts_can_be_extracted(room):
    """No f-string, no sum and no name where an extractor looks for a text; plain names are those that N_ marked."""
    wrong = []
    for path in sorted(room.glob("*.py")):
        for call in calls(ast.parse(path.read_text("utf-8"))):
            for arg in call.args[: MARKS[call.func.id]]:
                plain = isinstance(arg, ast.Constant) or (
                    call.func.id == "_" and isinstance(arg, ast.Name | ast.Attribute | ast.Subscript | ast.Call)
                )
                if not plain and path.name != "texts.py":
                    wrong.append((path.name, call.lineno, ast.unparse(arg)))
    assert wrong == []


@pytest.mark.parametrize("room", sorted({p.parent for p in SOURCE.rglob("*.py")}), ids=lambda p: p.name)
def test_no_function_that_speaks_has_a_variable_called_like_the_mark(room):
    wrong = []
    for path in sorted(room.glob("*.py")):
        for function in ast.walk(ast.parse(path.read_text("utf-8"))):
            if isinstance(function, ast.FunctionDef) and any(call.func.id == "_" for call in calls(function)):
                inner = {
                    id(n) for c in ast.walk(function) if isinstance(c, ast.comprehension) for n in ast.walk(c.target)
                }
                wrong += [
                    (path.name, node.lineno)
                    for node in ast.walk(function)
                    if isinstance(node, ast.Name)
                    and node.id == "_"
                    and isinstance(node.ctx, ast.Store)
                    and id(node) not in inner
                ]
    assert wrong == []
