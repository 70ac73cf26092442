"""eSpeak NG by ctypes from the `espeakng-loader` wheel (GPL-3.0-or-later): letters to sounds, and sounds to hear.

The library keeps global state, hence the lock.
"""

from __future__ import annotations

import ctypes
import threading
from functools import lru_cache

import numpy as np
import numpy.typing as npt

from buccaphon.texts import _

_SYNCHRONOUS, _DONT_EXIT, _UTF8, _PHONEMES = 2, 0x8000, 1, 0x100
_RATE, _WORDS_A_MINUTE = 1, 140
_CALLBACK = ctypes.CFUNCTYPE(ctypes.c_int, ctypes.POINTER(ctypes.c_short), ctypes.c_int, ctypes.c_void_p)
_IPA, _SEPARATOR = 0x02, ord("_") << 8
_lock = threading.Lock()


@lru_cache(maxsize=1)
def _library() -> tuple[ctypes.CDLL, int]:
    """The library, and the rate in Hz of what it says."""
    import espeakng_loader  # noqa: PLC0415  (loads a shared library; only needed for unlisted words)

    library = ctypes.CDLL(espeakng_loader.get_library_path())
    library.espeak_TextToPhonemes.argtypes = [ctypes.POINTER(ctypes.c_void_p), ctypes.c_int, ctypes.c_int]
    library.espeak_TextToPhonemes.restype = ctypes.c_char_p
    rate = library.espeak_Initialize(_SYNCHRONOUS, 200, espeakng_loader.get_data_path().encode(), _DONT_EXIT)
    if rate <= 0:
        raise RuntimeError(_("eSpeak NG did not start ({rate})", rate=rate))
    return library, rate


def said(mnemonics: str, voice: str) -> tuple[npt.NDArray[np.float32], int]:
    """(samples,) -1..1 of sounds in eSpeak NG's own mnemonics, such as "pl'Vmz", and their rate in Hz.

    voice: as for `ipa`. Raises ValueError when there is none of that name.
    """
    made = bytearray()

    def take(samples: ctypes.Array[ctypes.c_short], count: int, _events: int) -> int:
        made.extend(ctypes.string_at(samples, 2 * count) if count > 0 else b"")
        return 0

    with _lock:
        (library, rate), kept = _library(), _CALLBACK(take)
        if library.espeak_SetVoiceByName(voice.encode()) != 0:
            raise ValueError(f"eSpeak NG has no voice {voice!r}")
        library.espeak_SetSynthCallback(kept)
        library.espeak_SetParameter(_RATE, _WORDS_A_MINUTE, 0)
        text = f"[[{mnemonics}]]".encode() + b"\0"
        library.espeak_Synth(text, ctypes.c_size_t(len(text)), 0, 1, 0, _UTF8 | _PHONEMES, None, None)
        library.espeak_Synchronize()
        library.espeak_SetSynthCallback(_CALLBACK())
    return np.frombuffer(bytes(made), "<i2").astype(np.float32) / np.float32(32768), rate


@lru_cache(maxsize=20000)
def ipa(text: str, voice: str) -> tuple[str, ...]:
    """The sounds of a text as IPA symbols, stress marks before the vowel they belong to.

    voice: the file name of an eSpeak NG voice, such as 'gmw/en-US'. Raises ValueError when there is none of that name.
    """
    with _lock:
        library, _rest = _library()
        if library.espeak_SetVoiceByName(voice.encode()) != 0:
            raise ValueError(f"eSpeak NG has no voice {voice!r}")
        buffer = ctypes.create_string_buffer(text.encode() + b"\0")
        pointer, clauses = ctypes.c_void_p(ctypes.addressof(buffer)), []
        while pointer.value:  # one clause a call
            clauses.append(library.espeak_TextToPhonemes(ctypes.byref(pointer), _UTF8, _IPA | _SEPARATOR).decode())
    words = " ".join(clauses).split()
    return tuple(symbol for word in words for symbol in word.split("_") if symbol and not symbol.startswith("("))
