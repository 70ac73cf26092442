"""The page docs/formats.md, written from the registry: `python -m buccaphon.formats.describing`."""

from __future__ import annotations

from importlib import resources
from pathlib import Path

from buccaphon.formats.format import Format, Needs
from buccaphon.formats.options import may_be, option_text
from buccaphon.formats.registry import FORMATS, READERS
from buccaphon.setting import settings_of, values_of

HOSTS = Path(str(resources.files("buccaphon.formats"))) / "hosts"  # schema and readers of keys, for other programs
_PAGE = Path(__file__).parents[3] / "docs" / "formats.md"
_HEAD = """# Import and export formats

<!-- Written from the registry by `python -m buccaphon.formats.describing`; a test compares them. -->

## In

Recordings: WAV, FLAC, AIFF, CAF, OGG (Vorbis, Opus), MP3, M4A/AAC; the sound of MP4, MOV, MKV and WebM; 1 to 8 channels,
any sample rate.

Words, and the times that a file knows of them:
"""
_LEXICON = """
A lexicon (`.lexicon`): one word a line, two spaces, its sounds in IPA or ARPAbet; `read#2` means the second time it is said.
A mouth chart (`.toml`): as the shipped ones in `src/buccaphon/mouths/charts`; it is kept with the project.

Corrections: a file that was exported and corrected elsewhere is read back with *Import corrections* (Ctrl+Shift+I). What
differs is listed first, and becomes pins, painted mouths and notes when it is taken: exposure sheets (`.csv`, `.xlsx`,
`.ods`) and keys as `.csv`, TextGrids, timings as `.csv`, WebVTT, WAV with cues, OpenTimelineIO, and the `.notes.json` that
a review page saves.

## Out
"""
_COMMANDS = """
In the window, the Export step writes the ticked files. On the command line the suffix of `-o` selects the format, and
`--set NAME=VALUE` chooses an option."""


def formats_page() -> str:
    """All formats and readers as Markdown."""
    readers: list[tuple[str, ...]] = [("format", "suffixes", "reads")]
    readers += [
        (reader.name, " ".join(f"`{suffix}`" for suffix in reader.suffixes), reader.about) for reader in READERS
    ]
    formats: list[tuple[str, ...]] = [("file", "format", "holds", "leaves out", "from")]
    formats += [(f"`{form.ending}`", form.name, form.about, form.loses, _command(form)) for form in FORMATS]
    parts = [_HEAD, _table(readers), _LEXICON, _table(formats), _COMMANDS]
    parts += [_section(form) for form in FORMATS if _details(form) or settings_of(form.options)]
    return "\n".join(parts) + "\n"


def _command(form: Format) -> str:
    return "`align`, `bake`" if Needs.FRAMES not in form.needs else "`bake`"


def _section(form: Format) -> str:
    options: list[tuple[str, ...]] = [("option", "default", "values", "what it does")]
    default = values_of(form.options())
    options += [
        (f"`{name}`", option_text(default[name]), may_be(form.options, name), each.hint)
        for name, each in settings_of(form.options).items()
    ]
    table = [_table(options)] if len(options) > 1 else []
    details = _details(form)
    return "\n\n".join([f"\n### {form.name}", *([details] if details else []), *table])


def _details(form: Format) -> str:
    """How a file is set out, from details/<id>.md; '' where nothing needs saying."""
    page = resources.files("buccaphon.formats").joinpath("details", f"{form.id}.md")
    return page.read_text("utf-8").strip() if page.is_file() else ""


def _table(rows: list[tuple[str, ...]]) -> str:
    head, *rest = ("| " + " | ".join(row) + " |" for row in rows)
    return "\n".join([head, "|" + "---|" * len(rows[0]), *rest])


if __name__ == "__main__":
    _PAGE.write_text(formats_page(), "utf-8")
