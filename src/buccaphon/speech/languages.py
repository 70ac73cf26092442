"""The languages that can be aligned: all that eSpeak NG pronounces, and any other by its letters. English has a dictionary as
well."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path

from buccaphon.errors import ScriptError
from buccaphon.speech.letters import near
from buccaphon.texts import _

ENGLISH = "en-us"
BY_LETTERS = "und"  # BCP 47: undetermined
_SILENT = {"fo", "kaa", "xex", "cv", "chr-us-qaaa-x-west"}  # listed there without pronunciations
_INVENTED = {"piqd", "qdb", "qya", "sjn"}  # belong to stories that are not ours


@dataclass(frozen=True, slots=True)
class Language:
    """code: as in BCP 47, lower case. voice: eSpeak NG's file of it; '' for what is read by its letters."""

    code: str
    name: str
    voice: str

    @property
    def is_mapped(self) -> bool:
        """Whether its sounds are listened for as the English ones nearest to them."""
        return not self.code.startswith("en")


@lru_cache(maxsize=1)
def languages() -> dict[str, Language]:
    """All languages by code, in the order of their names."""
    import espeakng_loader  # noqa: PLC0415  (finds its shared library)

    folder = Path(espeakng_loader.get_data_path()) / "lang"
    found = [_described(file, folder) for file in folder.rglob("*") if file.is_file()]
    known = [language for language in found if language and language.code not in _SILENT | _INVENTED]
    in_order = sorted(known, key=lambda language: (language.name, language.code))
    other = Language(BY_LETTERS, _("Other, by its letters"), "")
    return {language.code: language for language in (*in_order, other)}


def _described(file: Path, folder: Path) -> Language | None:
    entries = [line.split(None, 1) for line in file.read_text("utf-8", errors="replace").splitlines()]
    names = [entry[1].strip() for entry in entries if len(entry) == 2 and entry[0] == "name"]
    codes = [entry[1].split()[0].lower() for entry in entries if len(entry) == 2 and entry[0] == "language"]
    if not names or not codes:
        return None
    return Language(codes[0], names[0].replace("_", " "), file.relative_to(folder).as_posix())


def find_language(text: str) -> Language:
    """By code or name in any case: 'es', 'en-US', 'German'; 'en' alone is American. ScriptError when there is none."""
    wanted = text.strip().lower()
    wanted = ENGLISH if wanted in ("en", "english") else wanted
    known = languages()
    if wanted in known:
        return known[wanted]
    at_home = f"{wanted}-{wanted}"  # fr is that of France
    for language in sorted(known.values(), key=lambda language: language.code != at_home):
        name = language.name.lower()
        if name == wanted or name.startswith(f"{wanted} (") or language.code.startswith(f"{wanted}-"):
            return language
    nearest = nearest_listed(wanted)
    raise ScriptError(
        _("language “{text}”", text=text),
        _("no pronunciation is known for it"),
        _(
            "Use {code} ({name}), which is nearest, or “und” to read it by its letters",
            code=nearest.code,
            name=nearest.name,
        )
        if nearest is not None
        else _("Use a code such as en-us, es, de or fi, or “und” to read it by its letters"),
    )


def nearest_listed(name: str) -> Language | None:
    """The listed language that is said most like one that is not; None where that is not known."""
    wanted = name.strip().lower()
    code = next((code for each, code in near().items() if each.lower() == wanted), "")
    return languages().get(code)
