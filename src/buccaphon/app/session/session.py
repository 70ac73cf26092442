"""The session: the document and all helpers, made in the order in which they hear of changes."""

from __future__ import annotations

from PyQt6.QtCore import QObject

from buccaphon.app.session.aligning import Aligning
from buccaphon.app.session.beside import ComparisonMouths
from buccaphon.app.session.characters import CharacterLoader
from buccaphon.app.session.comparing import Comparing
from buccaphon.app.session.correcting import Correcting
from buccaphon.app.session.docketing import Docketing
from buccaphon.app.session.document import Document
from buccaphon.app.session.exporting import Exporting
from buccaphon.app.session.issues import Issues
from buccaphon.app.session.jobs import Jobs
from buccaphon.app.session.lines import Lines
from buccaphon.app.session.listening import Listening
from buccaphon.app.session.moving import Moving
from buccaphon.app.session.opening import Opening
from buccaphon.app.session.own_lexicon import OwnLexicon
from buccaphon.app.session.pronouncing import Pronouncing
from buccaphon.app.session.replacing import Replacing
from buccaphon.app.session.rewording import Rewording
from buccaphon.app.session.safekeeping import Safekeeping
from buccaphon.app.session.saving import Saving
from buccaphon.app.session.scene_playing import ScenePlaying
from buccaphon.app.session.sending import Sending
from buccaphon.app.session.takes import Takes
from buccaphon.app.sound.device import Device


class Session(QObject):
    """document: what is open. curve_shown: the channel that is looked at. The others each do one kind of work on the
    document; none knows of those below it."""

    def __init__(self, device: Device, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.document = Document(device, self)
        self.curve_shown = "jaw"  # the channel in the first lane of motion
        self.jobs = Jobs(self)
        self.document.changed.connect(self.jobs.make_way)
        self.lexicon = OwnLexicon(self.document)
        self.takes = Takes(self.document, self.jobs)
        self.lines = Lines(self.document, self.takes, self.lexicon, self.jobs)
        self.scene_playing = ScenePlaying(self.document, self.lines)
        self.listening = Listening(self.document, self.jobs)
        self.replacing = Replacing(self.document, self.takes)
        self.moving = Moving(self.document, self.jobs)
        self.comparing = Comparing(self.document, self.jobs)
        self.aligning = Aligning(self.document, self.comparing, self.lexicon, self.jobs)
        self.takes.align_again = self.aligning.align
        self.pronouncing = Pronouncing(self.document, self.aligning, self.lexicon, self.jobs)
        self.rewording = Rewording(self.document, self.aligning, self.comparing)
        self.characters = CharacterLoader(self.document, self.jobs)
        self.correcting = Correcting(self.document, self.aligning, self.jobs)
        self.takes.brought.connect(self.correcting.offer_markers)
        self.opening = Opening(
            self.document, self.takes, self.aligning, self.characters, self.correcting, self.lines, self.jobs
        )
        self.issues = Issues(self.document, self.comparing)
        self.beside = ComparisonMouths(self.document)
        self.exporting = Exporting(self.document, self.lines, self.jobs)
        self.sending = Sending(self.document)
        self.saving = Saving(self.document, self.takes, self.jobs)
        self.saving.saved.connect(self.exporting.again)
        self.docketing = Docketing(self.document, self.takes, self.jobs)
        self.docketing.reopen = self.opening.open
        self.safekeeping = Safekeeping(self.document, self.opening)

    def shut_down(self) -> None:
        """Stop everything, for closing the window."""
        self.document.player.stop()
        self.aligning.rest()
        self.sending.switch_off()
        self.exporting.shut_down()
        self.jobs.shut_down()
