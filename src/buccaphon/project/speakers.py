"""Who says what: the words of a line given to the roles of its scene, by the names in its script."""

from __future__ import annotations

import re
from functools import lru_cache

from buccaphon.project.state import State
from buccaphon.score.records import Score, Word
from buccaphon.speech.script import script_words
from buccaphon.timing import Span

_AND = re.compile(r"\s+(?:and|und|y|et|e)\s+", re.IGNORECASE)  # MAREN AND TIMO: both say it


def names_in(script: str) -> tuple[str, ...]:
    """The speakers that a script names, in the order in which they come, each as it is written first."""
    found: dict[str, str] = {}
    for word in script_words(script):
        for name in _AND.split(word.speaker) if word.speaker else ():
            found.setdefault(name.casefold(), name)
    return tuple(found.values())


def said_by(state: State) -> tuple[frozenset[str], ...] | None:
    """For each word of the shown take the names of the roles that say it; None where one role says all of the line."""
    take = state.take
    if len(state.roles) < 2 or take is None or take.score is None:
        return None
    roles = tuple(role.name for role in state.roles)
    said = _said_by(take.aligned_script, roles, state.line.role)
    return said if said is not None and len(said) == len(take.score.words) else None


def speaking(state: State) -> tuple[str, ...]:
    """The names of the roles that speak in the open line, in the order of the scene's roles."""
    said = said_by(state)
    if said is None:
        return (state.role_named(state.line.role).name,)
    names = frozenset[str]().union(*said)
    return tuple(role.name for role in state.roles if role.name in names)


def own_words(state: State, score: Score) -> Score:
    """The words that the role on show says, of all that are said in the shown take."""
    role, said = state.role.name, said_by(state)
    if state.line.heard_only:
        return Score((), score.duration)
    if said is None:
        return score if _is_of_line(state) else Score((), score.duration)
    if all(role in names for names in said):
        return score
    # a score that is cut short for a shorter file has fewer words
    mine = (word for word, names in zip(score.words, said, strict=False) if role in names)
    return Score(tuple(mine), score.duration)


def of_others(state: State, duration: float) -> tuple[Span, ...]:
    """Where only other roles speak in the shown take, from the middle of the pause before to the middle of the one after:
    nothing that is heard there is the role's on show. duration: of the recording, in seconds."""
    role, said, score = state.role.name, said_by(state), state.score
    if state.line.heard_only:
        return (Span(0.0, duration + 1.0),)
    if said is None or score is None:
        return () if _is_of_line(state) else (Span(0.0, duration + 1.0),)
    words, found = score.words, list[Span]()
    for number, (word, names) in enumerate(zip(words, said, strict=True)):
        if role in names:
            continue
        start = _middle(words[number - 1], word) if number else 0.0
        end = _middle(word, words[number + 1]) if number + 1 < len(words) else duration + 1.0
        if found and found[-1].end >= start:
            found[-1] = Span(found[-1].start, end)
        else:
            found.append(Span(start, end))
    return tuple(found)


def _is_of_line(state: State) -> bool:
    """Whether the role on show is the one that the line is of."""
    return state.role is state.role_named(state.line.role)


def _middle(left: Word, right: Word) -> float:
    return (left.end + right.start) / 2


@lru_cache(maxsize=64)
def _said_by(script: str, roles: tuple[str, ...], usual: str) -> tuple[frozenset[str], ...] | None:
    """As `said_by`; None where the names lead to one role alone. usual: who says what the script gives to nobody."""
    known = {name.casefold(): name for name in roles if name}
    usual = usual if usual in roles else roles[0]
    words = script_words(script)
    named = frozenset(known[name.casefold()] for name in names_in(script) if name.casefold() in known)
    if any(_speakers(word.speaker, known) == frozenset() for word in words):
        named |= {usual}
    if named <= {usual}:
        return None
    return tuple(named if word.together else _speakers(word.speaker, known) or frozenset((usual,)) for word in words)


def _speakers(name: str, known: dict[str, str]) -> frozenset[str]:
    """The roles that a speaker's name means; it may name several."""
    if name.casefold() in known:
        return frozenset((known[name.casefold()],))
    parts = (part.casefold() for part in _AND.split(name))
    return frozenset(known[part] for part in parts if part in known)
