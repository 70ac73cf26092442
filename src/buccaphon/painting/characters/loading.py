"""From a kit to the character that is shown: its files read, whatever kind it is."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

from PyQt6.QtGui import QImage

from buccaphon.errors import KitError
from buccaphon.files import is_folder, is_there, whole_text
from buccaphon.kits.casting import with_drawings, with_own_names
from buccaphon.kits.kit import CutOut, Drawn, Kit, Model, OtherFile
from buccaphon.kits.limits import read_bytes
from buccaphon.kits.model.head import read_head
from buccaphon.kits.model.names import MODEL_SUFFIXES
from buccaphon.kits.own.sorting import Chosen
from buccaphon.kits.store import SUFFIX as KIT_SUFFIX
from buccaphon.kits.store import open_kit
from buccaphon.mouths.chart import Chart
from buccaphon.painting.artwork.artwork import Artwork
from buccaphon.painting.artwork.folder import read_folder
from buccaphon.painting.artwork.openraster import read_openraster
from buccaphon.painting.artwork.pixels import LARGEST_SHOWN, Picture, cropped, decode, scaled, shrink_by
from buccaphon.painting.artwork.sprites import propose_grid, read_sprites
from buccaphon.painting.artwork.svg import read_svg
from buccaphon.painting.characters.character import Character
from buccaphon.painting.characters.cut_out import CutOutCharacter, Pictures
from buccaphon.painting.characters.drawn import DrawnCharacter
from buccaphon.painting.characters.model import ModelCharacter
from buccaphon.progress import Progress, no_progress
from buccaphon.texts import N_, _

LAYERED_SUFFIXES = (".ora", ".svg", ".svgz")
PICTURE_SUFFIXES = (".png", ".webp", ".jpg", ".jpeg")
KIT_SUFFIXES = (*LAYERED_SUFFIXES, *MODEL_SUFFIXES, *PICTURE_SUFFIXES)

_LAYERS = N_("OpenRaster (.ora), SVG with layers, or one PNG a layer in a folder")
_VECTORS = N_("SVG with layers, or one PNG a mouth in a folder")
_MODELS = N_("glTF (.glb) with its shapes")
_PICTURE = N_("PNG")
ARTWORK_INSTEAD = {
    **dict.fromkeys((".psd", ".psb", ".kra", ".xcf", ".clip", ".sai", ".mdp", ".pdn", ".procreate"), _LAYERS),
    **dict.fromkeys((".ai", ".eps", ".pdf", ".fla", ".xfl", ".swf", ".afdesign", ".cdr", ".sketch", ".fig"), _VECTORS),
    **dict.fromkeys(
        (".fbx", ".obj", ".blend", ".ma", ".mb", ".max", ".c4d", ".dae", ".usd", ".usda", ".usdz"), _MODELS
    ),
    **dict.fromkeys((".gif", ".bmp", ".tif", ".tiff", ".tga", ".exr", ".heic", ".avif", ".jxl"), _PICTURE),
}  # what artwork of a kind that is not read can be saved as instead, by its suffix

_MOUTH_AT = (0.5, 0.66)  # of a face given apart: where the middle of the mouths is put at first


def begin_kit(path: Path, only: tuple[str, ...] = ()) -> Kit:
    """A kit of a folder, a layered file, a picture or a model, as far as its name and kind tell; a picture is a sprite sheet
    where a grid can be seen in it, else a cut-out. only: the names of a folder's drawings that are used. Raises KitError."""
    name = whole_text(path.stem.replace("_", " ").strip() or path.name)
    file = OtherFile(path)
    suffix = path.suffix.lower()
    if is_folder(path) or suffix in LAYERED_SUFFIXES:
        return Kit(name, file, Drawn(only=only))
    if suffix in PICTURE_SUFFIXES:
        grid = propose_grid(decode(read_bytes(path), path.name))
        return Kit(name, file, Drawn(columns=grid[0], rows=grid[1]) if grid else CutOut())
    if suffix in MODEL_SUFFIXES:
        return Kit(name, file, Model())
    reason = _("it is neither pictures nor a model") if is_there(path) else _("there is no such file or folder")
    raise KitError(str(path), reason, _remedy(suffix))


def _remedy(suffix: str) -> str:
    """What to save instead of a file that is not read."""
    if suffix in ARTWORK_INSTEAD:
        return _("Save it as {instead}", instead=_(ARTWORK_INSTEAD[suffix]))
    return _("Choose a folder of drawings, a PNG, SVG or OpenRaster file, or a glTF or VRM model")


def load_character(path: Path, chart: Chart) -> Kit:
    """A whole kit from a kit file, or from what `begin_kit` takes, with its own names matched to a chart. Raises KitError."""
    if path.suffix.lower() == KIT_SUFFIX:
        return open_kit(path)
    kit = begin_kit(path)
    return as_read(kit, load(kit), chart)


def as_read(kit: Kit, character: Character, chart: Chart) -> Kit:
    """The kit with what was found when its files were read: what each drawing is for, or a model's shapes."""
    if isinstance(character, DrawnCharacter):
        return with_drawings(kit, character.drawings, has_mouth=character.has_mouth)
    return with_own_names(kit, character.own, chart)


def load(kit: Kit, progress: Progress = no_progress, longest: int = LARGEST_SHOWN) -> Character:
    """Read the kit's files. longest: pixels on the longer side of artwork that are kept. Raises KitError, Cancelled."""
    if isinstance(kit.look, CutOut):
        return CutOutCharacter(_cut_out_pictures(kit.file.path, kit.look, longest))
    if isinstance(kit.look, Model):
        return ModelCharacter(read_head(kit.file.path))
    art = _artwork(kit.file.path, kit.look, kit.chosen_roles, progress, longest)
    return DrawnCharacter(art if kit.look.face is None else _on_face(art, kit.look))


def _artwork(path: Path, look: Drawn, chosen: Chosen, progress: Progress, longest: int) -> Artwork:
    if path.is_dir():
        return read_folder(path, progress, look.anchor, look.only, chosen, longest)
    if look.columns and look.rows:
        return read_sprites(path, look.columns, look.rows, chosen, longest)
    read = read_openraster if path.suffix.lower() == ".ora" else read_svg
    return read(path, progress, chosen, longest)


def _on_face(art: Artwork, look: Drawn) -> Artwork:
    """The artwork on a picture of the rest of the face. Where that is of another size the mouths are put where mouths mostly
    are, to be dragged from there."""
    assert look.face is not None
    path = look.face.path
    image = decode(read_bytes(path), path.name)
    face = cropped(scaled(image, art.share))
    same = (round(image.width() * art.share), round(image.height() * art.share)) == (art.width, art.height)
    width, height = (
        (art.width, art.height) if same else (round(image.width() * art.share), round(image.height() * art.share))
    )
    right = 0 if same else round(_MOUTH_AT[0] * width - art.width / 2)
    down = 0 if same else round(_MOUTH_AT[1] * height - art.height / 2)

    def put(picture: Picture) -> Picture:
        return Picture(picture.image, picture.x + right, picture.y + down)

    under, over = [put(each) for each in art.under], [put(each) for each in art.over]
    return replace(
        art,
        width=width,
        height=height,
        drawings={name: put(picture) for name, picture in art.drawings.items()},
        others={name: put(picture) for name, picture in art.others.items()},
        faces={name: put(picture) for name, picture in art.faces.items()},
        under=under if look.face_over else [face, *under],
        over=[*over, face] if look.face_over else over,
    )


def read_picture(path: Path) -> QImage:
    """A picture, no larger than it is shown. Raises KitError."""
    image = decode(read_bytes(path), path.name)
    return scaled(image, shrink_by(image.width(), image.height()))


def _cut_out_pictures(path: Path, look: CutOut, longest: int) -> Pictures:
    image = decode(read_bytes(path), path.name)
    share = shrink_by(image.width(), image.height(), longest)
    piece, apart, inside = None, False, None
    if look.piece is not None:
        whole = decode(read_bytes(look.piece.path), look.piece.path.name)
        piece, apart = cropped(scaled(whole, share)), whole.size() != image.size()
    if look.inside_picture is not None:
        inside = scaled(decode(read_bytes(look.inside_picture.path), look.inside_picture.path.name), share)
    return Pictures(scaled(image, share), share, piece, apart, inside)
