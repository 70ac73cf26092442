"""The word graph: every way the script may be said, as a network of phones in context; or, without a script, every way
sounds may follow each other.

Each word offers all its pronunciations; a pause may stand before, between and after words. The first and last phone of
a word exist once for every neighbour that changes their sound (cross-word triphones), merged where the acoustic model
does not tell them apart.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from enum import Enum

import numpy as np
import numpy.typing as npt

from buccaphon.alignment.acoustic_model import BEGIN, END, INSIDE, SILENCE, SINGLE, AcousticModel

Ints = npt.NDArray[np.int32]
Variants = Sequence[Sequence[str]]  # the pronunciations of one word, in the acoustic model's phones


PAUSE, GARBAGE = -1, -2  # stand for the number of the pronunciation
PAUSE_COST = 4.0  # nats for entering a pause: keeps stop closures and soft sounds from being taken for one
GARBAGE_COST = 14.0  # for taking something as speech that is not in the script
_SKIP_COST = 20.0  # for leaving a word out, or saying words again
_BACK_COST = 4.0  # for each word more that is said again
_SAID_AGAIN = 3  # words, at most
_LOOP_WEIGHT = 2.0  # how much the order of sounds counts against how they sound


class Looseness(Enum):
    """How the words are held to the script."""

    EXACT = "every word once, in order"
    LOOSE = "words may be left out, said again, or be others"


@dataclass(frozen=True, eq=False)
class Graph:
    """Nodes are phones in context, numbered in the order of the script.

    senones: (nodes, 3); one past the model's last stands for any speech. phone: (nodes,) base phone; that of silence for
    pauses, for stops that are held, and for speech not in the script. held: (nodes,) where a stop is held. word: (nodes,)
    word number; a pause carries that of the word after it. variant: (nodes,) pronunciation number, PAUSE or GARBAGE.
    before: for each node the nodes that may precede it, and what that costs. entry: (nodes,) cost of entering a node.
    first, last: nodes where a path may start and end.
    """

    senones: Ints
    phone: Ints
    held: npt.NDArray[np.bool_]
    word: Ints
    variant: Ints
    before: tuple[tuple[tuple[int, float], ...], ...]
    entry: npt.NDArray[np.float32]
    first: Ints
    last: Ints

    def __len__(self) -> int:
        return len(self.phone)

    @property
    def is_loose(self) -> bool:
        return bool((self.variant == GARBAGE).any())

    def sources(self, node: int) -> tuple[int, ...]:
        """The nodes that may precede one."""
        return tuple(source for source, _ in self.before[node])

    def start_of(self, word: int) -> int:
        """The first node that is no longer before a word: all from here on lie at or after its start."""
        inside = np.flatnonzero((self.word == word) & (self.variant >= 0))
        return int(inside[0]) if len(inside) else len(self)

    def end_of(self, word: int) -> int:
        """The first node that lies after a word: the pause behind it."""
        return int(np.searchsorted(self.word, word + 1))


@dataclass
class _Edge:
    """A node at the rim of a word, and the neighbours it is meant for."""

    node: int
    phone: int
    lefts: set[int] = field(default_factory=set)
    rights: set[int] = field(default_factory=set)


class _Builder:
    def __init__(self, model: AcousticModel) -> None:
        self.model = model
        self.silence = model.index[SILENCE]
        self.senones: list[tuple[int, ...]] = []
        self.phone: list[int] = []
        self.word: list[int] = []
        self.variant: list[int] = []
        self.before: list[list[tuple[int, float]]] = []
        self.entry: dict[int, float] = {}  # what it costs to enter a node that is no pause

    def add(self, phone: int, senones: tuple[int, ...], word: int, variant: int) -> int:
        self.senones.append(senones)
        self.phone.append(phone)
        self.word.append(word)
        self.variant.append(variant)
        self.before.append([])
        return len(self.phone) - 1

    def pause(self, word: int) -> int:
        return self.add(self.silence, self.model.senones(self.silence, 0, 0, INSIDE), word, PAUSE)

    def garbage(self, word: int) -> int:
        anything = len(self.model.senone_phone)
        return self.add(self.silence, (anything,) * 3, word, GARBAGE)

    def link(self, node: int, sources: Iterable[int], cost: float = 0.0) -> None:
        self.before[node] += [(source, cost) for source in sources]

    def graph(self, first: Sequence[int], last: Sequence[int]) -> Graph:
        entry = {PAUSE: PAUSE_COST, GARBAGE: GARBAGE_COST}
        return Graph(
            senones=np.array(self.senones, np.int32),
            phone=np.array(self.phone, np.int32),
            held=(np.array(self.phone) == self.silence) & (np.array(self.variant) >= 0),
            word=np.array(self.word, np.int32),
            variant=np.array(self.variant, np.int32),
            before=tuple(tuple(arcs) for arcs in self.before),
            entry=np.array(
                [entry.get(variant, self.entry.get(node, 0.0)) for node, variant in enumerate(self.variant)], np.float32
            ),
            first=np.array(first, np.int32),
            last=np.array(last, np.int32),
        )

    def variants(
        self, word: int, spoken: list[list[int]], costs: Sequence[float], lefts: set[int], rights: set[int]
    ) -> tuple[list[_Edge], list[_Edge]]:
        """Add all pronunciations of a word; returns their entering and leaving nodes."""
        entries: list[_Edge] = []
        exits: list[_Edge] = []
        for number, (phones, cost) in enumerate(zip(spoken, costs, strict=True)):
            if len(phones) == 1:
                single = self._rim(word, number, phones[0], lefts, rights, SINGLE)
                self.entry.update((edge.node, cost) for edge in single)
                entries += single
                exits += single
                continue
            begin = self._rim(word, number, phones[0], lefts, {phones[1]}, BEGIN)
            self.entry.update((edge.node, cost) for edge in begin)
            previous = [edge.node for edge in begin]
            for left, phone, right in zip(phones, phones[1:], phones[2:], strict=False):
                node = self.add(phone, self.model.senones(phone, left, right, INSIDE), word, number)
                self.link(node, previous)
                previous = [node]
            end = self._rim(word, number, phones[-1], {phones[-2]}, rights, END)
            for edge in end:
                self.link(edge.node, previous)
            entries += begin
            exits += end
        return entries, exits

    def _rim(
        self, word: int, variant: int, phone: int, lefts: set[int], rights: set[int], position: int
    ) -> list[_Edge]:
        merged: dict[tuple[int, ...], _Edge] = {}
        for left in sorted(lefts):
            for right in sorted(rights):
                senones = self.model.senones(phone, left, right, position)
                if senones not in merged:
                    merged[senones] = _Edge(self.add(phone, senones, word, variant), phone)
                merged[senones].lefts.add(left)
                merged[senones].rights.add(right)
        return list(merged.values())


def word_graph(
    model: AcousticModel,
    words: Sequence[Variants],
    looseness: Looseness = Looseness.EXACT,
    costs: Sequence[Sequence[float]] | None = None,
) -> Graph:
    """Build the graph of a script. words: for each word its pronunciations, each at least one phone; at least one word.
    costs: nats for taking each pronunciation of each word; None for nothing."""
    build = _Builder(model)
    spoken = [[[model.index[name] for name in variant] for variant in variants] for variants in words]
    loose = looseness is Looseness.LOOSE
    reach = 2 if loose else 1  # how many words away a neighbour may be
    stops: list[_Stop] = [_stop(build, 0, loose)]
    exits: list[list[_Edge]] = []  # of each word
    entries: list[list[_Edge]] = []
    for number, variants in enumerate(spoken):
        after = [phones[0] for later in spoken[number + 1 : number + 1 + reach] for phones in later]
        lefts = {build.silence} | {edge.phone for earlier in exits[-reach:] for edge in earlier}
        mine = costs[number] if costs is not None else [0.0] * len(variants)
        entering, leaving = build.variants(number, variants, mine, lefts, {build.silence, *after})
        entries.append(entering)
        exits.append(leaving)
        for entry in entering:
            _enter(build, entry, stops, exits[:-1], reach)
        stops.append(_stop(build, number + 1, loose))
        for stop in stops[-1].nodes:
            build.link(stop, _against_silence(build, leaving))
        if loose:
            _leave_out(build, stops, exits)
            _say_again(build, stops[-1], entries)
    first = [*stops[0].nodes, *(entry.node for entry in entries[0])]
    last = [*stops[-1].nodes, *_against_silence(build, exits[-1])]
    if loose:
        last += _against_silence(build, exits[-2] if len(exits) > 1 else [])
    return build.graph(first, last)


@dataclass(frozen=True)
class _Stop:
    """Where nothing of the script is said: a pause, and in a loose graph other speech beside it."""

    pause: int
    garbage: int | None

    @property
    def nodes(self) -> list[int]:
        return [self.pause] if self.garbage is None else [self.pause, self.garbage]


def _stop(build: _Builder, word: int, loose: bool) -> _Stop:
    stop = _Stop(build.pause(word), build.garbage(word) if loose else None)
    if stop.garbage is not None:
        build.link(stop.garbage, [stop.pause])
        build.link(stop.pause, [stop.garbage])
    return stop


def _enter(build: _Builder, entry: _Edge, stops: Sequence[_Stop], exits: Sequence[Sequence[_Edge]], reach: int) -> None:
    """What may come before a word: the stop, the word before it, and at a cost what lies before that."""
    for back in range(1, reach + 1):
        cost = _SKIP_COST * (back - 1)
        if len(stops) >= back and build.silence in entry.lefts:
            build.link(entry.node, stops[-back].nodes, cost)
        if len(exits) >= back:
            build.link(
                entry.node,
                [e.node for e in exits[-back] if e.phone in entry.lefts and entry.phone in e.rights],
                cost,
            )


def _leave_out(build: _Builder, stops: Sequence[_Stop], exits: Sequence[Sequence[_Edge]]) -> None:
    """The last word may not be said: its stop follows the one before it, or the word before that."""
    for node in stops[-1].nodes:
        build.link(node, stops[-2].nodes, _SKIP_COST)
        if len(exits) > 1:
            build.link(node, _against_silence(build, exits[-2]), _SKIP_COST)


def _say_again(build: _Builder, stop: _Stop, entries: Sequence[Sequence[_Edge]]) -> None:
    for back, again in enumerate(reversed(entries[-_SAID_AGAIN:])):
        for entry in again:
            if build.silence in entry.lefts:
                build.link(entry.node, [stop.pause], _SKIP_COST + back * _BACK_COST)


def _against_silence(build: _Builder, edges: Sequence[_Edge]) -> list[int]:
    return [edge.node for edge in edges if build.silence in edge.rights]


def phone_loop(model: AcousticModel, order: npt.NDArray[np.float64]) -> Graph:
    """Any sound after any other. order: (phones, phones) natural log probability of the second after the first, in the
    model's numbering; -inf where a phone is no speech sound."""
    build = _Builder(model)
    pause = build.pause(0)
    sounds = [int(phone) for phone in np.flatnonzero(np.isfinite(order[build.silence]))]
    nodes = {}
    for phone in sounds:
        nodes[phone] = build.add(phone, tuple(int(s) for s in model.triples[model.plain[phone]]), 0, 0)
    for phone, node in nodes.items():
        build.link(node, [pause], -_LOOP_WEIGHT * float(order[build.silence, phone]))
        for before, source in nodes.items():
            build.link(node, [source], -_LOOP_WEIGHT * float(order[before, phone]))
        build.link(pause, [node], -_LOOP_WEIGHT * float(order[phone, build.silence]))
    everywhere = [pause, *nodes.values()]
    return build.graph(everywhere, everywhere)
