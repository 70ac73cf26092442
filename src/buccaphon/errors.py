"""Everything that can go wrong for a user, as one tree.

BuccaphonError            what, why and what to do; shown as is, never with a traceback
├── InputError            something given to us cannot be used
│   ├── RecordingError    a sound file
│   │   └── DamagedRecordingError   breaks off; what comes before can be used
│   ├── ScriptError       the typed words
│   ├── SheetError        an exposure sheet, or a list of mouths
│   ├── ChartError        a mouth chart
│   ├── RateError         a frame rate
│   ├── KitError          a kit, or the names of a host
│   ├── ChannelError      a channel of one's own
│   └── ProjectError      a project file
├── AlignmentError        recording and script cannot be brought together
├── TargetError           a file cannot be written
└── Cancelled             the user stopped the work; nobody is to be told
"""

from buccaphon.texts import _

_LONGEST = 400  # letters


class BuccaphonError(Exception):
    """A sentence for the user: the thing it is about, the reason and a remedy."""

    def __init__(self, subject: str, reason: str, remedy: str) -> None:
        subject, reason = _shown(subject), _shown(reason)
        super().__init__(f"{subject}: {reason}. {remedy}")
        self.subject = subject
        self.reason = reason
        self.remedy = remedy


def _shown(text: str) -> str:
    """Text for the user: of a length that can be read, and without what cannot be printed."""
    cut = text if len(text) <= _LONGEST else f"{text[: _LONGEST // 2]} … {text[-_LONGEST // 2 :]}"
    return cut.encode("utf-8", "replace").decode()


class InputError(BuccaphonError):
    """Something given to us cannot be used."""


class RecordingError(InputError):
    """A sound file is missing, broken, empty or not sound at all."""


class DamagedRecordingError(RecordingError):
    """A sound file breaks off. readable, missing: seconds that can be read and that should follow."""

    def __init__(self, subject: str, readable: float, missing: float) -> None:
        reason = _(
            "it breaks off after {readable:.1f} s; {missing:.1f} s are missing", readable=readable, missing=missing
        )
        super().__init__(subject, reason, "Get the file again, or use the readable part")
        self.readable, self.missing = readable, missing


class ScriptError(InputError):
    """The typed words are missing or hold nothing that is spoken."""


class SheetError(InputError):
    """An exposure sheet cannot be read, or is none."""


class MarkersError(ScriptError):
    """A file has no labelled markers or regions, or they cannot be read."""


class ChartError(InputError):
    """A mouth chart is unknown or does not hold together."""


class RateError(InputError):
    """A frame rate cannot be understood."""


class KitError(InputError):
    """A kit is missing, broken, far too large or hostile, or a list holds no names."""


class ChannelError(InputError):
    """What is written is no channel."""


class ListError(InputError):
    """An export list that cannot be."""


class NotesError(InputError):
    """A file with notes that cannot be read."""


class CorrectionsError(InputError):
    """A file with corrections that cannot be read."""


class ProjectError(InputError):
    """A project file is missing, broken or from a newer version."""


class AlignmentError(BuccaphonError):
    """Recording and script cannot be brought together."""


class TargetError(BuccaphonError):
    """A file cannot be written."""


class Cancelled(Exception):  # noqa: N818  (nothing went wrong)
    """The user stopped the work; it leaves no trace and needs no message."""
