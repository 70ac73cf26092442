"""The word graph: every way the script may be said, as a network of phones in context.

Each word offers all its pronunciations; a pause may stand before, between and after words. The first and last phone of
a word exist once for every neighbour that changes their sound (cross-word triphones), merged where the acoustic model
does not tell them apart.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
import numpy.typing as npt

from buccaphon.alignment.acoustic_model import BEGIN, END, INSIDE, SILENCE, SINGLE, AcousticModel

Ints = npt.NDArray[np.int32]
Variants = Sequence[Sequence[str]]  # the pronunciations of one word, in the acoustic model's phones


@dataclass(frozen=True, eq=False)
class Graph:
    """Nodes are phones in context, numbered in the order of the script.

    senones: (nodes, 3). phone: (nodes,) base phone. word: (nodes,) word number; a pause carries that of the word after
    it. variant: (nodes,) pronunciation number, -1 for pauses. before: for each node the nodes that may precede it.
    first, last: nodes where a path may start and end.
    """

    senones: Ints
    phone: Ints
    word: Ints
    variant: Ints
    before: tuple[tuple[int, ...], ...]
    first: Ints
    last: Ints

    def __len__(self) -> int:
        return len(self.phone)


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
        self.before: list[list[int]] = []

    def add(self, phone: int, senones: tuple[int, ...], word: int, variant: int) -> int:
        self.senones.append(senones)
        self.phone.append(phone)
        self.word.append(word)
        self.variant.append(variant)
        self.before.append([])
        return len(self.phone) - 1

    def pause(self, word: int) -> int:
        return self.add(self.silence, self.model.senones(self.silence, 0, 0, INSIDE), word, -1)

    def variants(
        self, word: int, spoken: list[list[int]], lefts: set[int], rights: set[int]
    ) -> tuple[list[_Edge], list[_Edge]]:
        """Add all pronunciations of a word; returns their entering and leaving nodes."""
        entries: list[_Edge] = []
        exits: list[_Edge] = []
        for number, phones in enumerate(spoken):
            if len(phones) == 1:
                single = self._rim(word, number, phones[0], lefts, rights, SINGLE)
                entries += single
                exits += single
                continue
            begin = self._rim(word, number, phones[0], lefts, {phones[1]}, BEGIN)
            previous = [edge.node for edge in begin]
            for left, phone, right in zip(phones, phones[1:], phones[2:], strict=False):
                node = self.add(phone, self.model.senones(phone, left, right, INSIDE), word, number)
                self.before[node] += previous
                previous = [node]
            end = self._rim(word, number, phones[-1], {phones[-2]}, rights, END)
            for edge in end:
                self.before[edge.node] += previous
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


def word_graph(model: AcousticModel, words: Sequence[Variants]) -> Graph:
    """Build the graph of a script. words: for each word its pronunciations, each at least one phone; at least one word."""
    build = _Builder(model)
    spoken = [[[model.index[name] for name in variant] for variant in variants] for variants in words]
    silence = build.silence
    pause, leaving = build.pause(0), list[_Edge]()
    first = [pause]
    for number, variants in enumerate(spoken):
        after = spoken[number + 1] if number + 1 < len(spoken) else []
        lefts = {silence} | {edge.phone for edge in leaving}
        rights = {silence} | {phones[0] for phones in after}
        entries, exits = build.variants(number, variants, lefts, rights)
        for entry in entries:
            if silence in entry.lefts:
                build.before[entry.node].append(pause)
            build.before[entry.node] += [
                edge.node for edge in leaving if edge.phone in entry.lefts and entry.phone in edge.rights
            ]
            if number == 0:
                first.append(entry.node)
        pause, leaving = build.pause(number + 1), exits
        build.before[pause] += [edge.node for edge in exits if silence in edge.rights]
    last = [pause] + [edge.node for edge in leaving if silence in edge.rights]
    return Graph(
        senones=np.array(build.senones, np.int32),
        phone=np.array(build.phone, np.int32),
        word=np.array(build.word, np.int32),
        variant=np.array(build.variant, np.int32),
        before=tuple(tuple(nodes) for nodes in build.before),
        first=np.array(first, np.int32),
        last=np.array(last, np.int32),
    )
