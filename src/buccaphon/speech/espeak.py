"""eSpeak NG's letter-to-sound rules, by ctypes from the `espeakng-loader` wheel (GPL-3.0-or-later).

Only text goes in and IPA comes out; no sound is made. The library keeps global state, hence the lock.
"""

from __future__ import annotations

import ctypes
import threading
from functools import lru_cache

_SYNCHRONOUS, _DONT_EXIT, _UTF8 = 2, 0x8000, 1
_IPA, _SEPARATOR = 0x02, ord("_") << 8
_lock = threading.Lock()


@lru_cache(maxsize=1)
def _library() -> ctypes.CDLL:
    import espeakng_loader  # noqa: PLC0415  (loads a shared library; only needed for unlisted words)

    library = ctypes.CDLL(espeakng_loader.get_library_path())
    library.espeak_TextToPhonemes.argtypes = [ctypes.POINTER(ctypes.c_void_p), ctypes.c_int, ctypes.c_int]
    library.espeak_TextToPhonemes.restype = ctypes.c_char_p
    rate = library.espeak_Initialize(_SYNCHRONOUS, 200, espeakng_loader.get_data_path().encode(), _DONT_EXIT)
    if rate <= 0:
        raise RuntimeError(f"eSpeak NG did not start ({rate})")
    return library


@lru_cache(maxsize=20000)
def ipa(text: str, voice: str) -> tuple[str, ...]:
    """The sounds of a text as IPA symbols, stress marks before the vowel they belong to.

    voice: the file name of an eSpeak NG voice, such as 'gmw/en-US'. Raises ValueError when there is none of that name.
    """
    with _lock:
        library = _library()
        if library.espeak_SetVoiceByName(voice.encode()) != 0:
            raise ValueError(f"eSpeak NG has no voice {voice!r}")
        buffer = ctypes.create_string_buffer(text.encode() + b"\0")
        pointer, clauses = ctypes.c_void_p(ctypes.addressof(buffer)), []
        while pointer.value:  # one clause a call
            clauses.append(library.espeak_TextToPhonemes(ctypes.byref(pointer), _UTF8, _IPA | _SEPARATOR).decode())
    words = " ".join(clauses).split()
    return tuple(symbol for word in words for symbol in word.split("_") if symbol and not symbol.startswith("("))
