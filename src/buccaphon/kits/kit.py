"""Kits: what is known of a character, as frozen records that a project keeps. The artwork itself stays in its own files.

Lengths are pixels of the kit's own picture, y downwards; angles degrees, positive clockwise on the screen.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, replace
from enum import StrEnum
from functools import lru_cache
from pathlib import Path
from typing import Any

from buccaphon.choice import Choice
from buccaphon.kits.names.table import NO_NAMES, Given, NamesTable
from buccaphon.kits.own.claims import read_claims
from buccaphon.kits.own.drawing import OwnDrawing, Role
from buccaphon.kits.own.table import Table, table_of
from buccaphon.setting import setting
from buccaphon.texts import N_

Point = tuple[float, float]
Point3 = tuple[float, float, float]


_PIXELS: dict[str, Any] = {"least": -1e5, "most": 1e5, "unit": "px", "decimals": 1}
_AXES = (
    (None, N_("automatic")), ((1.0, 0.0, 0.0), N_("its X")), ((0.0, 1.0, 0.0), N_("its Y")), ((0.0, 0.0, 1.0), N_("its Z")),
)  # fmt: skip
CHANNELS = ("jaw",)  # that have a name in the host besides the mouths


class Kind(StrEnum):
    """What a character is made of."""

    DRAWN = "drawn"
    CUT_OUT = "cut-out"
    MODEL = "model"


@dataclass(frozen=True, slots=True)
class Place:
    """Where something is put: moved by x and y from where its file has it, scaled about its middle."""

    x: float = setting(0.0, N_("Across"), **_PIXELS)
    y: float = setting(0.0, N_("Down"), **_PIXELS)
    scale: float = setting(
        1.0,
        N_("Size of mouths"),
        N_("You can also drag the square in the picture"),
        least=0.01,
        most=100.0,
        scale=100,
        unit="%",
        words=N_("scale mouth size bigger smaller"),
    )


@dataclass(frozen=True, slots=True)
class OtherFile:
    """A file that a kit uses besides its own. digest: SHA-256, to find it again; '' when not known yet."""

    path: Path
    digest: str = ""


@dataclass(frozen=True, slots=True)
class Reference:
    """A picture under the character, so that sizes can be judged. opacity: 0..1. degrees: turned about its middle."""

    file: OtherFile
    opacity: float = setting(
        0.5,
        N_("Opacity of the reference"),
        N_("Opacity of the reference picture"),
        least=0.0,
        most=1.0,
        scale=100,
        unit="%",
        ends=(N_("Opacity"), ""),
        words=N_("onion skin trace reference template ghost"),
    )
    place: Place = Place()
    degrees: float = setting(
        0.0, N_("Reference turned by"), least=-360.0, most=360.0, unit="°", decimals=1, words=N_("rotate angle")
    )


class Anchor(Choice):
    """By what drawings of different sizes are aligned, centred from side to side."""

    BOTTOM = "bottom", N_("bottom edge")
    MIDDLE = "middle", N_("middle")
    TOP = "top", N_("top edge")

    @property
    def share(self) -> float:
        """Of the free height, what is above a smaller drawing."""
        return {Anchor.BOTTOM: 1.0, Anchor.MIDDLE: 0.5, Anchor.TOP: 0.0}[self]


@dataclass(frozen=True, slots=True)
class Drawn:
    """One drawing a mouth. place: of the mouths on the face. anchor: of drawings that differ in size. columns, rows: of a
    sprite sheet; 0 where there is none. only: the names of a folder's files that are used; all where there are none. face:
    a picture of the rest of the face, for artwork without one; face_over: it lies over the mouths."""

    place: Place = Place()
    anchor: Anchor = setting(
        Anchor.BOTTOM,
        N_("Align by"),
        N_("How drawings of different sizes are aligned"),
        choices=Anchor,
        words=N_("anchor pivot"),
    )
    columns: int = setting(
        0, N_("Columns"), N_("How many columns the sheet has"), least=0, most=64, words=N_("grid sprite sheet")
    )
    rows: int = setting(
        0, N_("Rows"), N_("How many rows the sheet has"), least=0, most=64, words=N_("grid sprite sheet")
    )
    face: OtherFile | None = None
    face_over: bool = setting(
        False,
        N_("Draw the face over the mouths"),
        N_("For a face with a hole where the mouth is"),
        words=N_("order stack layer"),
    )
    only: tuple[str, ...] = ()


class Moving(Choice):
    """How a piece moves as the jaw drops."""

    SLIDES = "slides", N_("slides")
    TURNS = "turns", N_("turns")


@dataclass(frozen=True, slots=True)
class Move:
    """How a piece goes at a fully dropped jaw: slid by x and y, or turned by degrees about a pivot."""

    moving: Moving = setting(
        Moving.SLIDES,
        N_("Movement"),
        N_("How the piece moves as the jaw drops"),
        choices=Moving,
        words=N_("slide rotate hinge"),
    )
    x: float = setting(0.0, N_("Moves across by"), **_PIXELS)
    y: float = setting(
        0.0, N_("Moves down by"), N_("You can also drag the arrow"), words=N_("slide distance drop"), **_PIXELS
    )
    degrees: float = setting(
        0.0,
        N_("Turns by"),
        N_("You can also drag the arrow"),
        least=-360.0,
        most=360.0,
        unit="°",
        decimals=1,
        words=N_("rotate angle hinge"),
    )
    pivot: Point = (0.0, 0.0)


@dataclass(frozen=True, slots=True)
class Part:
    """A further piece that follows the jaw: the chin, a cheek, the whole head. outline: around it, cut from the picture.
    share: of the jaw that drives it, negative goes the other way. lifted: nothing of it stays where it was. carries: the
    mouth goes with it, as a head about its neck; it is lifted, too."""

    name: str
    outline: tuple[Point, ...]
    move: Move
    share: float = setting(
        1.0,
        N_("Share of the jaw"),
        N_("How much of the jaw's movement it follows; negative values go the other way"),
        least=-10.0,
        most=10.0,
        scale=100,
        unit="%",
        words=N_("follow amount"),
    )
    lifted: bool = setting(
        False,
        N_("Erase it underneath"),
        N_("Nothing of the part stays in the picture where it was"),
        words=N_("remove hole"),
    )
    carries: bool = setting(
        False,
        N_("The mouth moves with it"),
        N_("For a head that turns about its neck"),
        words=N_("parent carry"),
    )


@dataclass(frozen=True, slots=True)
class CutOut:
    """One picture of which a piece below the lip line moves. name: of that piece; a channel of this name moves it instead of
    the jaw, and “name x”, “name y”, “name turn”, “name size”, “name width” and “name height” move it, and each part, besides.

    lip_line: points of a smooth curve across the mouth, from one corner to the other; none until it is drawn. A point that
    stands twice is a corner of the line. chin: points of a curve below that closes the piece; none lets it go down to a usual
    depth. piece: a picture of the piece instead. inside: the colour behind it, or a picture of the mouth's inside. soft:
    width of its soft edge. overlap: how far it reaches up under the lip, so that no seam shows at rest. unit: of a host's,
    for each pixel (1 keeps pixels).
    """

    lip_line: tuple[Point, ...] = ()
    chin: tuple[Point, ...] = ()
    piece: OtherFile | None = None
    move: Move = Move()
    parts: tuple[Part, ...] = ()
    inside: str = "#3a1420"
    inside_picture: OtherFile | None = None
    soft: float = setting(
        2.0,
        N_("Soft edge"),
        N_("How soft the edge of the piece is"),
        least=0.0,
        most=200.0,
        unit="px",
        words=N_("feather blur"),
    )
    overlap: float = setting(
        2.0,
        N_("Overlap"),
        N_("How far the piece reaches up to hide the seam"),
        least=0.0,
        most=500.0,
        unit="px",
        words=N_("seam gap"),
    )
    name: str = setting(
        "lips",
        N_("Name of the piece"),
        N_("Channels of this name move it: name, name x, name y, name turn, name size, name width, name height"),
        is_text=True,
        words=N_("channel rename part piece"),
    )
    unit: float = setting(
        1.0,
        N_("One pixel equals"),
        N_("Exported sizes use these units"),
        least=1e-6,
        most=1e6,
        unit=N_("host units"),
        step=0.01,
        decimals=6,
        words=N_("scale units host"),
    )


@dataclass(frozen=True, slots=True)
class Model:
    """A 3D head. yaw, pitch: how it is turned, in degrees; zoom: 1 shows all of it.

    jaw: the node that drops, by its name; None for the one that is found, '' for none. jaw_axis: of its own axes, x y z;
    None for the one that is found. jaw_degrees: how far it turns at a fully dropped jaw; negative turns it the other way.
    """

    yaw: float = setting(0.0, N_("Turned sideways by"), least=-360.0, most=360.0, unit="°")
    pitch: float = setting(0.0, N_("Tilted by"), least=-90.0, most=90.0, unit="°")
    zoom: float = setting(1.0, N_("Zoom"), least=0.05, most=50.0, scale=100, unit="%")
    jaw: str | None = setting(
        None,
        N_("Jaw"),
        N_("The node of the model that drops"),
        choices=((None, N_("automatic")),),
        words=N_("bone joint jaw bone"),
    )
    jaw_axis: Point3 | None = setting(
        None,
        N_("Rotation axis"),
        N_("The axis about which the jaw turns"),
        choices=_AXES,
        words=N_("bone x y z"),
    )
    jaw_degrees: float = setting(
        18.0,
        N_("Jaw angle"),
        N_("Angle, jaw fully open"),
        least=-120.0,
        most=120.0,
        unit="°",
        decimals=1,
        words=N_("open rotate amount"),
    )


Look = Drawn | CutOut | Model


class Weights(Choice):
    """How the weights of a character's mouths are made."""

    AUTOMATIC = "automatic", N_("automatic")
    IN_FULL = "in full", N_("each mouth in full")
    BLENDED = "blended", N_("blended from the pose")


DEFAULT_OVER = 0.125  # seconds


@dataclass(frozen=True, slots=True)
class Kit:
    """A character. file: its folder, layered file, picture or model. own: the names of its mouths' drawings, or its shapes,
    in the file's order. shows: which of them each mouth is shown by; of drawings only what was chosen by hand, all else is in
    the table of its drawings (see `for_chart`). names: what the host calls them. unknown: entries of the file that this
    version does not know, kept for the version that does.

    drawings: what each drawing or layer is for; none in kits of earlier versions. rests: the drawing that somebody chose for
    silence, NOTHING for the face as it is; None for the one that is found. has_mouth: the face has a mouth of its own.
    weights: whether each mouth is there in full, or all are blended from the pose; over: seconds to go over to the next."""

    name: str
    file: OtherFile
    look: Look
    own: tuple[str, ...] = ()
    shows: tuple[Given, ...] = ()
    names: NamesTable = NO_NAMES
    reference: Reference | None = None
    unknown: dict[str, Any] = field(default_factory=dict)
    drawings: tuple[OwnDrawing, ...] = ()
    rests: str | None = None
    has_mouth: bool = False
    weights: Weights = setting(
        Weights.AUTOMATIC,
        N_("Weights"),
        N_("In full for one shape a mouth; blended for shapes that make a pose together"),
        choices=Weights,
        words=N_("shape keys blend shapes morph targets influence"),
    )
    over: float = setting(
        DEFAULT_OVER,
        N_("Change over"),
        N_("Time from one mouth in full to the next in full"),
        least=0.0,
        most=1.0,
        in_frames=True,
        words=N_("transition crossfade blend frames"),
    )

    @property
    def kind(self) -> Kind:
        if isinstance(self.look, Drawn):
            return Kind.DRAWN
        return Kind.CUT_OUT if isinstance(self.look, CutOut) else Kind.MODEL

    def shown_by(self, mouth: str) -> tuple[str, ...]:
        """The kit's own drawing or shapes for a mouth; none where it is drawn by its pose."""
        return tuple(row.name for row in self.shows if row.target == mouth)

    @property
    def chosen_roles(self) -> dict[str, Role]:
        """What somebody said that drawings are for, by their names."""
        return {each.name: each.role for each in self.drawings if each.by_hand}

    @property
    def main_face(self) -> OwnDrawing | None:
        """The drawing that is the face above all others below the mouths."""
        faces = [each for each in self.drawings if each.role is Role.FACE]
        largest = [each for each in faces if any(reason.id in ("largest", "largest_below") for reason in each.why)]
        return next(iter(largest or faces[::-1]), None)

    @property
    def table(self) -> Table:
        """The one table of its drawings: which of them shows each sound, silence, and each mouth of any chart."""
        return _table(self.drawings or _drawings_by_name(self.own), self.rests, may_show_nothing=self.has_mouth)

    @property
    def files(self) -> tuple[OtherFile, ...]:
        """All files that it uses, its own first."""
        others: list[OtherFile | None] = [self.reference.file if self.reference else None]
        if isinstance(self.look, Drawn):
            others.append(self.look.face)
        if isinstance(self.look, CutOut):
            others += [self.look.piece, self.look.inside_picture]
        return (self.file, *(each for each in others if each is not None))


def with_files(kit: Kit, put: Callable[[OtherFile], OtherFile]) -> Kit:
    """The kit with each of its files put elsewhere."""

    def maybe(file: OtherFile | None) -> OtherFile | None:
        return None if file is None else put(file)

    look = kit.look
    if isinstance(look, Drawn):
        look = replace(look, face=maybe(look.face))
    elif isinstance(look, CutOut):
        look = replace(look, piece=maybe(look.piece), inside_picture=maybe(look.inside_picture))
    reference = replace(kit.reference, file=put(kit.reference.file)) if kit.reference else None
    return replace(kit, file=put(kit.file), look=look, reference=reference)


def files_of(kit: Kit) -> tuple[OtherFile, ...]:
    """All files and folders that a kit names."""
    found: list[OtherFile] = []

    def seen(file: OtherFile) -> OtherFile:
        found.append(file)
        return file

    with_files(kit, seen)
    return tuple(found)


_table = lru_cache(maxsize=32)(table_of)


@lru_cache(maxsize=32)
def _drawings_by_name(own: tuple[str, ...]) -> tuple[OwnDrawing, ...]:
    """The drawings of a kit of an earlier version, which kept their names alone."""
    return tuple(OwnDrawing(row.name, row.role) for row in read_claims(own))
