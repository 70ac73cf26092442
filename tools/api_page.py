"""The page docs/api.md, written from the library's docstrings: `python -m tools.api_page`."""

from __future__ import annotations

import dataclasses
import inspect
from pathlib import Path
from types import FunctionType

from buccaphon import api

PAGE = Path(__file__).parents[1] / "docs" / "api.md"
_HEAD = """# The library

<!-- Written from the docstrings by `python -m tools.api_page`; a test compares them, and runs the examples. -->

```python
import buccaphon

line = buccaphon.bake("call.wav", fps=24, script="Warm plums, and ripe pears!")
for exposure in line.bake.exposures:
    print(exposure.start, exposure.mouth)
buccaphon.deliver(line, ["glb", "keys-json"], "out")
```

A scene of several lines and roles:

```python
scene = buccaphon.Scene(
    24,
    [buccaphon.Line("ask.wav", role="Maren"), buccaphon.Line("answer.wav", begins="f48", role="Timo")],
    [buccaphon.Role("Maren", chart="Ten"), buccaphon.Role("Timo", character="timo.buccakit")],
)
buccaphon.deliver(scene, ["keys-json", "otio"], "out")  # a file for each role, and one timeline
```

Times are seconds from the start of the recording; frames count from 0 in a bake, whose `start_frame` is the scene's number of
the first. All records are frozen. It is typed (`py.typed`), and what is listed here keeps its name, arguments and
result until the major version changes; arguments and fields may be added.

## Functions
"""


def api_page() -> str:
    """Functions with what they are given, then the records that they give back."""
    functions = [api.align, api.bake, api.deliver]
    parts = [_HEAD, *(_function(each) for each in functions), "## Records\n"]
    records = [getattr(api, name) for name in api.__all__ if inspect.isclass(getattr(api, name))]
    parts += [_record(each) for each in records]
    return "\n".join(parts)


def _function(found: FunctionType) -> str:
    signature = inspect.signature(found)
    shown = ",\n    ".join(str(each).replace("'", "") for each in _with_stars(signature))
    head = f"{found.__name__}(\n    {shown},\n) -> {signature.return_annotation}"
    return f"### {found.__name__}\n\n```python\n{head}\n```\n\n{_text(found)}\n"


def _with_stars(signature: inspect.Signature) -> list[str]:
    found, starred = [], False
    for parameter in signature.parameters.values():
        if parameter.kind is inspect.Parameter.KEYWORD_ONLY and not starred:
            found.append("*")
            starred = True
        usual = "" if parameter.default is inspect.Parameter.empty else f" = {_value(parameter.default)}"
        found.append(f"{parameter.name}: {parameter.annotation}{usual}")
    return found


def _value(value: object) -> str:
    return "unheard" if callable(value) else repr(value).replace("'", '"')


def _record(found: type) -> str:
    if dataclasses.is_dataclass(found):
        fields = [
            f"`{field.name}: {field.type}`" for field in dataclasses.fields(found) if not field.name.startswith("_")
        ]
        given = f"\n\n{', '.join(fields)}"
    else:
        told = vars(found).items() if found is api.Scene else ()
        given = "".join(_method(name, each) for name, each in told if _is_told(name, each))
    return f"### {found.__name__}\n\n{_text(found)}{given}\n"


def _is_told(name: str, each: object) -> bool:
    is_own = name == "__init__" or not name.startswith("_")
    return is_own and isinstance(each, FunctionType | classmethod | property) and bool(inspect.getdoc(each))


def _method(name: str, each: object) -> str:
    if isinstance(each, property):
        return f"\n\n`{name}`: {_text(each)}"
    function = each.__func__ if isinstance(each, classmethod) else each
    assert isinstance(function, FunctionType)
    signature = inspect.signature(function)
    shown = ", ".join(_with_stars(signature)[1:])
    result = "" if name == "__init__" else f" -> {signature.return_annotation}"
    called = "Scene" if name == "__init__" else f"Scene.{name}" if isinstance(each, classmethod) else f".{name}"
    return f"\n\n`{called}({shown}){result}`\n: {_text(function)}"


def _text(found: object) -> str:
    """The docstring, its example set apart."""
    lines, example = [], False
    for line in (inspect.getdoc(found) or "").splitlines():
        if line.startswith(">>>") and not example:
            lines.append("```python")
            example = True
        lines.append(line)
    return "\n".join([*lines, "```"] if example else lines)


if __name__ == "__main__":
    PAGE.write_text(api_page(), "utf-8")
