"""Words of the script changed in the galley: retyped, cut, pasted, written down as they were said."""

from __future__ import annotations

from collections.abc import Sequence

from buccaphon.alignment.loose import Difference, mend_script
from buccaphon.app.session.aligning import Aligning
from buccaphon.app.session.comparing import Comparing
from buccaphon.app.session.document import Document
from buccaphon.project.edits import Together
from buccaphon.project.edits.script import SetScript
from buccaphon.project.edits.timing import MarkNotSpeech
from buccaphon.speech.script import script_words
from buccaphon.texts import _


class Rewording:
    """Each change of words is followed by aligning what changed."""

    def __init__(self, document: Document, aligning: Aligning, comparing: Comparing) -> None:
        self._document, self._aligning, self._comparing = document, aligning, comparing

    def typed(self, first: int, end: int) -> str:
        """The words from number `first` up to `end` as they stand in the script, with what is between them."""
        words, script = script_words(self._document.state.script), self._document.state.script
        return script[words[first].start : words[end - 1].end]

    def retype(self, first: int, end: int, text: str) -> None:
        """Put other words in the place of those from number `first` up to `end`, and align only what changed."""
        document = self._document
        words, script = script_words(document.state.script), document.state.script
        written = script[: words[first].start] + text + script[words[end - 1].end :]
        if written != script:
            document.apply(SetScript(written, name=_("Retype “{first}”", first=self.typed(first, end)), gesture=""))
            self._aligning.align_changes()

    def take_out(self, numbers: Sequence[int]) -> None:
        """Take words out of the script; the others stay where they are."""
        document, script = self._document, self._document.state.script
        if self._must_align_first():
            return
        words = script_words(script)
        for number in sorted(numbers, reverse=True):
            script = script[: words[number].start].rstrip(" ") + script[words[number].end :]
        document.apply(SetScript(script, name=_("Cut words"), gesture=""))
        self._aligning.align_changes()

    def write_in(self, seconds: float, text: str) -> None:
        """Write words before the one that is said at a moment or next after it, and align what changed."""
        document, score = self._document, self._document.score
        words, script = script_words(document.state.script), document.state.script
        if score is not None and self._must_align_first():
            return
        later = [n for n, word in enumerate(score.words) if word.end > seconds] if score else []
        if later and later[0] < len(words):
            at = words[later[0]].start
            script = f"{script[:at]}{text} {script[at:]}"
        else:
            script = f"{script.rstrip()} {text}".strip()
        document.apply(SetScript(script, name=_("Paste words"), gesture=""))
        self._aligning.align_changes()

    def mend(self) -> None:
        """Write what was found into the script, mark other speech as not speech, and align again."""
        state, findings = self._document.state, self._comparing.comparison.findings
        text = mend_script(state.script, script_words(state.script), findings)
        others = [MarkNotSpeech(finding.span) for finding in findings if finding.kind is Difference.OTHER]
        self._document.apply(
            Together((SetScript(text, gesture=""), *others), name=_("Update the script to what was said"))
        )
        self._aligning.forget()
        self._comparing.forget()
        self._aligning.align()

    def _must_align_first(self) -> bool:
        """Whether the script has other words than the score, so that nothing can be said of a word by its number."""
        if not self._document.state.is_in_step:
            self._document.said.emit(_("The script has changed. Align it first (Ctrl+R)."))
        return not self._document.state.is_in_step
