"""Words of the script changed in the galley: retyped, cut, pasted, written down as they were said."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from buccaphon.alignment.loose import Kind, mended_script
from buccaphon.project.edits import Together
from buccaphon.project.edits.script import SetScript
from buccaphon.project.edits.timing import MarkNotSpeech
from buccaphon.speech.script import script_words

if TYPE_CHECKING:
    from buccaphon.app.session import Session


class Rewording:
    """Each change of words is followed by aligning what changed."""

    def __init__(self, session: Session) -> None:
        self._session = session

    def typed(self, first: int, end: int) -> str:
        """The words from number `first` up to `end` as they stand in the script, with what is between them."""
        words, script = script_words(self._session.state.script), self._session.state.script
        return script[words[first].start : words[end - 1].end]

    def retype(self, first: int, end: int, text: str) -> None:
        """Put other words in the place of those from number `first` up to `end`, and align only what changed."""
        session = self._session
        words, script = script_words(session.state.script), session.state.script
        written = script[: words[first].start] + text + script[words[end - 1].end :]
        if written != script:
            session.apply(SetScript(written, name=f"Retype “{self.typed(first, end)}”", gesture=""))
            session.words.align_changes()

    def take_out(self, numbers: Sequence[int]) -> None:
        """Take words out of the script; the others stay where they are."""
        session, script = self._session, self._session.state.script
        if self._must_align_first():
            return
        words = script_words(script)
        for number in sorted(numbers, reverse=True):
            script = script[: words[number].start].rstrip(" ") + script[words[number].end :]
        session.apply(SetScript(script, name="Cut words", gesture=""))
        session.words.align_changes()

    def write_in(self, seconds: float, text: str) -> None:
        """Write words before the one that is said at a moment or next after it, and align what changed."""
        session, score = self._session, self._session.score
        words, script = script_words(session.state.script), session.state.script
        if score is not None and self._must_align_first():
            return
        later = [n for n, word in enumerate(score.words) if word.end > seconds] if score else []
        if later and later[0] < len(words):
            at = words[later[0]].start
            script = f"{script[:at]}{text} {script[at:]}"
        else:
            script = f"{script.rstrip()} {text}".strip()
        session.apply(SetScript(script, name="Paste words", gesture=""))
        session.words.align_changes()

    def mend(self) -> None:
        """Write what was found into the script, mark other speech as not speech, and align again."""
        state, findings = self._session.state, self._session.comparing.comparison.findings
        text = mended_script(state.script, script_words(state.script), findings)
        others = [MarkNotSpeech(finding.span) for finding in findings if finding.kind is Kind.OTHER]
        self._session.apply(Together((SetScript(text, gesture=""), *others), "Write down what was said"))
        self._session.words.forget()
        self._session.words.align()

    def _must_align_first(self) -> bool:
        """Whether the script has other words than the score, so that nothing can be said of a word by its number."""
        if not self._session.state.is_in_step:
            self._session.said.emit("The script was changed since. Align it first, with Ctrl+R.")
        return not self._session.state.is_in_step
