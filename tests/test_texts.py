import struct

import pytest

from buccaphon import texts
from buccaphon.audio.loudness_settings import Band
from buccaphon.mouths.settings import MouthSettings
from buccaphon.setting import settings_of

CATALOGUE = {
    "": "Language: xx\nContent-Type: text/plain; charset=UTF-8\nPlural-Forms: nplurals=2; plural=(n != 1);\n",
    "voice": "vóíçé",
    "Hold": "Hóld",
    "{count} word\0{count} words": "{count} wórd\0{count} wórds",
}


def catalogue(entries: dict[str, str]) -> bytes:
    """A .mo file (GNU gettext manual, "The Format of GNU MO Files")."""
    rows = sorted((key.encode(), value.encode()) for key, value in entries.items())
    head, data, at = 28, b"", 28 + 16 * len(rows)
    tables = []
    for column in (0, 1):
        table = b""
        for row in rows:
            table += struct.pack("<II", len(row[column]), at + len(data))
            data += row[column] + b"\0"
        tables.append(table)
    return struct.pack("<7I", 0x950412DE, 0, len(rows), head, head + 8 * len(rows), 0, 0) + b"".join(tables) + data


@pytest.fixture
def xx(tmp_path, monkeypatch):
    folder = tmp_path / "xx" / "LC_MESSAGES"
    folder.mkdir(parents=True)
    (folder / "buccaphon.mo").write_bytes(catalogue(CATALOGUE))
    monkeypatch.setenv("BUCCAPHON_LOCALE", str(tmp_path))
    yield texts.speak("xx")
    texts.speak()


def test_labels_are_said_in_the_language_in_use_and_ids_stay(xx):
    assert xx == "xx"
    assert (Band.VOICE.label, Band.VOICE.title, Band.VOICE.value) == ("vóíçé", "Vóíçé", "voice")
    assert settings_of(MouthSettings)["hold"].name == "Hóld"
    assert Band.WHOLE.label == "full range", "what is not translated is English"


def test_counts_have_their_plural(xx):
    assert texts.ngettext("{count} word", "{count} words", 1) == "1 wórd"
    assert texts.ngettext("{count} word", "{count} words", 3) == "3 wórds"
    assert texts._("") == ""


def test_without_a_catalogue_it_is_english():
    assert texts.speak("yy") == ""
    assert texts.ngettext("{count} word", "{count} words", 2) == "2 words"
