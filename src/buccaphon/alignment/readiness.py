"""Loading models ahead of the first alignment: nets, the model, the dictionary."""

from __future__ import annotations

import threading

from buccaphon.alignment.acoustic_model import english_model
from buccaphon.alignment.boundary_net import shipped_nets
from buccaphon.alignment.speech_net import shipped_net
from buccaphon.speech.dictionary import is_listed

_LOCK = threading.Lock()


def preload_models_in_background() -> None:
    """In a thread of its own, while the recording is read."""
    threading.Thread(target=get_ready, daemon=True).start()


def get_ready() -> None:
    """Load what is not loaded yet. Who asks while another thread is about it waits, for loading it twice would take twice
    as long."""
    with _LOCK:
        english_model()
        shipped_net()
        shipped_nets()
        is_listed("a")
