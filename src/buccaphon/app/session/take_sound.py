"""Everything slow about a take, for a thread: finding its file, decoding it, and looking at what is in it."""

from __future__ import annotations

from dataclasses import dataclass, replace
from pathlib import Path

from buccaphon.audio.lufs import integrated_loudness
from buccaphon.audio.peaks import PeaksBuilder, build_peaks
from buccaphon.audio.reading import Damage, read_recording
from buccaphon.audio.recording import Channel
from buccaphon.progress import Progress
from buccaphon.project.derived import Derived
from buccaphon.project.file.relink import digest_of_any, find_again
from buccaphon.project.state import State
from buccaphon.project.take import Take


@dataclass(frozen=True)
class TakeSound:
    """A take, perhaps with its file found in another place, and what was read from it."""

    take: Take
    derived: Derived


def read_take(state: State, damage: Damage, progress: Progress) -> TakeSound:
    """Everything slow about the take that a state shows, for a thread: decode, listen to one channel, summarise, bake."""
    take = state.take
    assert take is not None
    builder = PeaksBuilder()
    whole = read_recording(take.path, damage, progress, builder.add)
    recording = whole.listened_to(take.channel)
    peaks = builder.finish(whole.rate) if recording is whole else build_peaks(recording)
    derived = Derived(recording, peaks)
    derived.bake(state)  # the first look asks for both
    return TakeSound(take, derived)


def measure(derived: Derived, path: Path, progress: Progress) -> tuple[float, str]:
    """What is good to know but need not be waited for: loudness, and the file's digest; '' of one that is gone by now. Raises
    Cancelled when `progress` returns False."""
    return integrated_loudness(derived.recording, progress), digest_of_any(path)


def find_moved(state: State, folder: Path | None) -> State:
    take = state.take
    if take is None or take.path.exists() or folder is None:
        return state
    path = find_again(take.path, take.digest, folder)
    return state.with_take(replace(take, path=path)) if path else state


Key = tuple[Path, Channel, tuple[int, int]]


def key_of(take: Take) -> Key:
    """By what a sound is known: its file as it is now, and what of it is listened to."""
    return take.path, take.channel, stamp_of(take.path)


def stamp_of(path: Path) -> tuple[int, int]:
    """When a file was written, and its size; another program that saves over it changes them."""
    try:
        found = path.stat()
    except OSError:
        return 0, 0
    return found.st_mtime_ns, found.st_size


def text_beside(path: Path) -> str | None:
    """The words in the text file beside a recording; None where there is none."""
    beside = path.with_suffix(".txt")
    try:
        return beside.read_text("utf-8-sig", errors="replace").strip() if beside.is_file() else None
    except OSError:
        return None
