"""Files of motion come back, frame by frame, through readers that did not write them."""

import io
import json
import re
import subprocess
from dataclasses import replace
from fractions import Fraction
from pathlib import Path

import bvhio
import mido
import numpy as np
import pytest
from pxr import Usd, UsdGeom, UsdSkel, UsdValidation
from pygltflib import GLTF2
from scipy.spatial.transform import Rotation

from buccaphon.errors import TargetError
from buccaphon.formats.lost import lost_of
from buccaphon.formats.options import chosen_options
from buccaphon.formats.out.bvh import BvhOptions
from buccaphon.formats.out.gltf.animating import Between
from buccaphon.formats.out.gltf.vrma import VOWELS
from buccaphon.formats.out.gltf.writing import GltfOptions
from buccaphon.formats.out.midi import MidiOptions, ticks
from buccaphon.formats.out.shapes import own_model
from buccaphon.formats.out.usd import UsdOptions
from buccaphon.formats.registry import format_named
from buccaphon.formats.writing import write_files
from buccaphon.kits.kit import Kit, Model, OtherFile, Weights
from buccaphon.kits.names.table import NamesTable, give
from buccaphon.motion.followers import Follower, Shake, Switch, Unit
from buccaphon.motion.plan import BakeSettings, Plan, frame_loudness
from buccaphon.motion.remaking import bake
from buccaphon.mouths.chart_file import find_chart
from buccaphon.mouths.settings import MouthSettings, SettingsTrack
from buccaphon.timing import FrameRate
from tests.formats.test_formats import Delivery, made
from tests.helpers.heads import document, head, head_with_data_inside, write_glb

NOD = Follower("nod", "jaw", (0.0, 1.0), (0.0, 12.0), Unit.DEGREES)
LANTERN = Follower("lantern glow", "jaw", (0.0, 1.0), (0.2, 1.0), Unit.SHARE)


@pytest.fixture(scope="module")
def line(call_peaks, call_score):
    rate = FrameRate.parse("23.976")
    settings = BakeSettings(rate, 101, SettingsTrack(MouthSettings(hold=2)), followers=(NOD, LANTERN))
    plan = Plan(call_score, find_chart("Ten"), frame_loudness(call_peaks, rate), settings)
    return Delivery("call", call_score, bake(plan))


def model_at(path, line, **look):
    return replace(line, kit=Kit("head", OtherFile(path), Model(**look)))


class Read:
    """A glTF by an independent reader, its first animation as arrays."""

    def __init__(self, content: bytes) -> None:
        self.gltf = GLTF2().load_from_bytes(content)
        self.blob = self.gltf.binary_blob()

    def array(self, number):
        accessor = self.gltf.accessors[number]
        view = self.gltf.bufferViews[accessor.bufferView]
        width = {"SCALAR": 1, "VEC3": 3, "VEC4": 4}[accessor.type]
        found = np.frombuffer(self.blob, "<f4", accessor.count * width, view.byteOffset)
        return found.reshape(-1, width)

    def track(self, node, path):
        """Times, values and how they are joined."""
        (animation,) = self.gltf.animations
        (channel,) = [
            c for c in animation.channels if (self.gltf.nodes[c.target.node].name, c.target.path) == (node, path)
        ]
        sampler = animation.samplers[channel.sampler]
        return self.array(sampler.input)[:, 0], self.array(sampler.output), sampler.interpolation


def mouths_by_frame(line):
    return [e.mouth for e in line.bake.exposures for _ in range(e.length)]


def test_gltf_alone_has_every_weight_and_the_jaw_on_every_frame(line):
    read = Read(made("glb", line))
    (mesh,) = read.gltf.meshes
    names = mesh.extras["targetNames"]
    assert names == [*line.bake.chart.names, "lantern glow"], "degrees are no weight"
    times, values, joined = read.track("Mouth", "weights")
    weights = values.reshape(len(times), len(names))
    assert joined == "LINEAR"
    assert np.abs(weights[:, :10] - line.bake.weights).max() < 1e-6
    assert np.abs(weights[:, 10] - line.bake.channels.curve("lantern glow")).max() < 1e-6
    exact = np.array([float(frame / line.bake.rate.value) for frame in range(line.bake.frames)])
    assert (times.astype(float) <= exact).all(), "a held key that lies later is shown a frame late"
    assert (np.round(times.astype(float) * float(line.bake.rate.value)) == np.arange(line.bake.frames)).all()
    _, turned, _ = read.track("jaw", "rotation")
    degrees = np.degrees(2 * np.arctan2(turned[:, 0], turned[:, 3]))
    assert np.abs(degrees - 20 * line.bake.jaw).max() < 1e-3
    extras = read.gltf.animations[0].extras
    assert extras == {"rate": {"numerator": 24000, "denominator": 1001}, "start_frame": 101, "length": line.bake.frames}


def test_held_gltf_has_keys_only_where_the_mouth_changes_and_shows_it_whole(call_peaks, call_score):
    rate = FrameRate.parse("24")
    settings = BakeSettings(rate, 0, SettingsTrack(MouthSettings(hold=2)))
    held = Delivery(
        "call", call_score, bake(Plan(call_score, find_chart("Ten"), frame_loudness(call_peaks, rate), settings))
    )
    read = Read(made("glb", held, GltfOptions(Between.HELD)))
    times, values, joined = read.track("Mouth", "weights")
    assert joined == "STEP"
    assert len(times) == len(held.bake.exposures)
    shown = values.reshape(len(times), -1)
    moments: np.ndarray = np.arange(held.bake.frames) / 24
    at = np.searchsorted(np.asarray(times, np.float64), moments, side="right") - 1
    assert [held.bake.chart.names[n] for n in shown[at].argmax(axis=1)] == mouths_by_frame(held)
    assert (shown.sum(axis=1) == 1).all()


def test_smooth_gltf_does_not_overshoot(line):
    times, values, joined = Read(made("glb", line, GltfOptions(Between.SMOOTH))).track("Mouth", "weights")
    assert joined == "CUBICSPLINE"
    into, value, out = values.reshape(len(times), 3, -1).transpose(1, 0, 2)
    assert np.abs(value[:, :10] - line.bake.weights).max() < 1e-6
    step = np.diff(times)[:, None]
    for t in (0.25, 0.5, 0.75):
        between = (2 * t**3 - 3 * t**2 + 1) * value[:-1] + (t**3 - 2 * t**2 + t) * step * out[:-1]
        between += (3 * t**2 - 2 * t**3) * value[1:] + (t**3 - t**2) * step * into[1:]
        assert between.min() > -1e-4
        assert between.max() < 1 + 1e-4


def test_the_users_model_gets_the_line_and_loses_nothing(line, tmp_path):
    found, data = document()
    found["extensionsUsed"] = ["VENDOR_own"]
    found["extensions"] = {"VENDOR_own": {"deep": [1, 2]}}
    found["animations"] = [{"name": "blink", "samplers": [], "channels": []}, {"name": "call", "channels": []}]
    found["nodes"][2] |= {"matrix": [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 2, 3, 1]}
    path = write_glb(tmp_path / "head.glb", found, data)
    content = made("glb", model_at(path, line))
    text = json.loads(content[20 : 20 + int.from_bytes(content[12:16], "little")])
    assert text["extensions"] == found["extensions"]
    for name in ("accessors", "bufferViews"):
        assert text[name][: len(found[name])] == found[name]
    assert [each["name"] for each in text["animations"]] == ["blink", "call"], "one of the same name is replaced"
    assert text["nodes"][2]["translation"] == [0, 2, 3]
    assert "matrix" not in text["nodes"][2]
    read = Read(content.replace(b'{"name":"blink","samplers":[],"channels":[]},', b" " * 45))
    times, values, _ = read.track("face", "weights")
    weights = values.reshape(len(times), 2)
    assert np.corrcoef(weights[:, 1], line.bake.channels.curve("spread"))[0, 1] > 0.5
    _, turned, _ = read.track("jaw", "rotation")
    assert np.abs(np.degrees(2 * np.arctan2(turned[:, 0], turned[:, 3])) - 18 * line.bake.jaw).max() < 1e-3
    assert path.read_bytes() == write_glb(tmp_path / "again.glb", found, data).read_bytes(), (
        "the user's stays as it was"
    )


def test_text_gltf_has_its_data_beside_it_and_copies_what_belongs_to_it(line, tmp_path):
    folder = tmp_path / "out"
    folder.mkdir()
    found, data = document()
    found["buffers"][0]["uri"] = "geometry%201.bin"
    (tmp_path / "geometry 1.bin").write_bytes(data)
    path = tmp_path / "head.gltf"
    path.write_text(json.dumps(found))
    there = replace(model_at(path, line), place=folder / "take")
    files = format_named("gltf").files(there)
    assert list(files) == ["take.gltf", "take.line.bin", "geometry 1.bin"]
    write_files(files, folder)
    text = json.loads((folder / "take.gltf").read_text())
    assert [each["uri"] for each in text["buffers"]] == ["geometry%201.bin", "take.line.bin"]
    for buffer, name in zip(text["buffers"], ("geometry 1.bin", "take.line.bin"), strict=True):
        assert buffer["byteLength"] == (folder / name).stat().st_size
    with pytest.raises(TargetError, match="files beside it"):
        made("glb", there)
    for other, beside in (
        (head_with_data_inside(tmp_path / "in.gltf"), []),
        (head(tmp_path / "h.glb"), ["take.model.bin"]),
    ):
        files = format_named("gltf").files(replace(model_at(other, line), place=folder / "take"))
        assert list(files) == ["take.gltf", "take.line.bin", *beside]


NODE = Path(__file__).parents[2] / ".venv" / "node" / "node_modules" / "gltf-validator"
CHECK = """
const validator = require(process.argv[1]);
const fs = require("fs"), path = require("path");
const file = process.argv[2];
validator.validateBytes(new Uint8Array(fs.readFileSync(file)), {
  externalResourceFunction: async (name) =>
    new Uint8Array(fs.readFileSync(path.join(path.dirname(file), decodeURIComponent(name)))),
}).then((report) => console.log(JSON.stringify(report.issues)));
"""


@pytest.mark.skipif(not NODE.exists(), reason="the validator of glTF's makers is not here")
@pytest.mark.parametrize("ident", ["glb", "gltf", "vrma"])
@pytest.mark.parametrize("kind", ["alone", "model"])
@pytest.mark.parametrize("between", list(Between))
def test_the_validator_of_gltf_finds_no_error(ident, kind, between, line, tmp_path):
    there = replace(line, place=tmp_path / "line")
    if kind == "model":
        there = model_at(head(tmp_path / "head.glb"), there)
    options = None if ident == "vrma" else GltfOptions(between)
    main, *_ = write_files(format_named(ident).files(there, options), tmp_path)
    command = ["node", "-e", CHECK, str(NODE), str(main.path)]
    issues = json.loads(subprocess.run(command, capture_output=True, text=True, check=True).stdout)
    own = [each for each in issues["messages"] if each["severity"] < 2 and "meshes" not in each.get("pointer", "")]
    assert own == []


@pytest.fixture(scope="module")
def moved(call_peaks, call_score):
    """A line whose channels go beyond a shape, and move nodes."""
    ways = (
        ("jaw_open", (-0.5, 2.0), Unit.SHARE), ("lid", (0.0, 30.0), Unit.DEGREES), ("lid turn z", (0.0, 10.0), Unit.DEGREES),
        ("lid x", (0.0, 4.0), Unit.PIXELS), ("jaw size", (100.0, 150.0), Unit.PERCENT), ("lift", (0.0, 3.0), Unit.SCENE),
    )  # fmt: skip
    followers = tuple(Follower(name, "aperture", (0.0, 1.0), gives, unit) for name, gives, unit in ways)
    rate = FrameRate.parse("24")
    plan = Plan(
        call_score, find_chart("Ten"), frame_loudness(call_peaks, rate), BakeSettings(rate, 101, followers=followers)
    )
    return Delivery("call", call_score, bake(plan))


@pytest.fixture(scope="module")
def switched(call_peaks, call_score):
    """A line with what is on or off: a shape, a node's place, and one that shakes."""
    ways = (("gap", Unit.SHARE, None), ("lamp", Unit.SCENE, None), ("flicker", Unit.SHARE, Shake(0.1)))
    followers = tuple(
        Follower(name, "aperture", gives=(0.0, 1.0), unit=unit, switch=Switch(0.3, 0.15), shake=shake)
        for name, unit, shake in ways
    )
    rate = FrameRate.parse("23.976")
    plan = Plan(
        call_score, find_chart("Ten"), frame_loudness(call_peaks, rate), BakeSettings(rate, 101, followers=followers)
    )
    return Delivery("call", call_score, bake(plan))


def test_what_is_on_or_off_stays_so_between_frames_in_gltf(switched):
    wanted, jaw = switched.bake.channels.curve("gap"), switched.bake.channels.curve("weight:Open")
    assert set(np.unique(wanted)) == {0, 1}
    read = Read(made("glb", switched))
    names = read.gltf.meshes[0].extras["targetNames"]
    times, values, joined = read.track("Mouth", "weights")
    assert joined == "LINEAR"
    assert (np.diff(times) > 0).all()
    values = values.reshape(len(times), -1)
    at = np.arange(0, switched.bake.frames - 1, 0.25) / float(switched.bake.rate.value)
    gap = np.interp(at, times, values[:, names.index("gap")])
    assert np.array_equal(gap, np.repeat(wanted[:-1], 4))
    opened = np.interp(at, times, values[:, names.index("Open")])
    frames = np.interp(at * float(switched.bake.rate.value), np.arange(len(jaw)), jaw)
    assert np.abs(opened - frames).max() < 1e-3, "all else goes straight on"
    times, values, joined = read.track("lamp", "translation")
    assert joined == "STEP"
    assert len(times) == 1 + np.count_nonzero(np.diff(switched.bake.channels.curve("lamp")))


def test_what_is_on_or_off_stays_so_between_frames_in_vrm_and_usd(switched, tmp_path):
    wanted = switched.bake.channels.curve("gap")
    read = Read(made("vrma", switched))
    assert read.track("gap", "translation")[2] == "STEP"
    assert read.track("flicker", "translation")[2] == "LINEAR"
    stage = usd_stage(made("usda", switched), tmp_path)
    query, _ = usd_weights(stage, "/Mouth", switched)
    gap = list(query.GetBlendShapeOrder()).index("gap")
    half = [query.ComputeBlendShapeWeights(101.5 + frame)[gap] for frame in range(switched.bake.frames - 1)]
    assert np.array_equal(half, wanted[:-1])
    lamp = UsdGeom.Xformable(stage.GetPrimAtPath("/Mouth/lamp"))
    moved = [lamp.GetLocalTransformation(101.5 + frame)[3][1] for frame in range(switched.bake.frames - 1)]
    assert np.allclose(moved, wanted[:-1])


def test_weights_below_nothing_and_above_full_arrive(moved, tmp_path):
    read = Read(made("glb", model_at(head(tmp_path / "head.glb"), moved)))
    wanted = moved.bake.channels.curve("jaw_open")
    assert wanted.min() < -0.4
    assert wanted.max() > 1.3
    _, values, _ = read.track("face", "weights")
    assert np.abs(values.reshape(-1, 2)[:, 0] - wanted).max() < 1e-6


def test_channels_in_units_move_the_nodes_of_their_names_or_nodes_that_are_made(moved, tmp_path):
    aperture = moved.bake.channels.curve("aperture")
    for content in (moved, model_at(head(tmp_path / "head.glb"), moved)):
        read = Read(made("glb", content))
        assert {"lid", "lift", "jaw"} <= {node.name for node in read.gltf.nodes}
        _, slid, _ = read.track("lid", "translation")
        assert np.abs(slid - np.outer(4 * aperture, [1, 0, 0])).max() < 1e-4
        _, turned, _ = read.track("lid", "rotation")
        angles = Rotation.from_quat(turned).as_euler("XYZ", degrees=True)
        assert np.abs(angles - np.outer(aperture, [30, 0, 10])).max() < 1e-3
        _, lifted, _ = read.track("lift", "translation")
        assert np.abs(lifted[:, 1] - 3 * aperture).max() < 1e-4
        _, grown, _ = read.track("jaw", "scale")
        assert np.abs(grown - (1 + 0.5 * aperture)[:, None]).max() < 1e-4
    joints = bvh_of(made("bvh", moved))
    assert np.abs(joints["lid"][:, 0] - 4 * aperture).max() < 1e-3
    assert np.abs(joints["lift"][:, 1] - 3 * aperture).max() < 1e-3
    assert joints["jaw"].shape[1] == 3


def test_usd_moves_transforms_of_their_names(moved, tmp_path):
    stage = usd_stage(made("usda", moved), tmp_path)
    aperture = moved.bake.channels.curve("aperture")
    lid, jaw = (UsdGeom.Xformable(stage.GetPrimAtPath(f"/Mouth/{name}")) for name in ("lid", "jaw"))
    for frame in range(0, moved.bake.frames, 7):
        matrix = np.array(lid.GetLocalTransformation(frame + 101)).T
        assert matrix[:3, 3] == pytest.approx([4 * aperture[frame], 0, 0], abs=1e-3)
        wanted = Rotation.from_euler("XYZ", [30 * aperture[frame], 0, 10 * aperture[frame]], degrees=True).as_matrix()
        assert np.abs(matrix[:3, :3] - wanted).max() < 1e-4
        grown = np.array(jaw.GetLocalTransformation(frame + 101)).T
        assert grown[0, 0] == pytest.approx(1 + 0.5 * aperture[frame], abs=1e-4)


def bvh_of(content):
    """(frames, channels) of each joint by its name."""
    head_text, motion = content.decode().split("MOTION\n")
    names = re.findall(r"(?:ROOT|JOINT) (\S+)", head_text)
    counts = [int(number) for number in re.findall(r"CHANNELS (\d)", head_text)]
    rows = np.array([[float(each) for each in line.split()] for line in motion.splitlines()[2:]])
    edges = np.cumsum([0, *counts])
    assert rows.shape[1] == edges[-1]
    return {name: rows[:, a:b] for name, a, b in zip(names, edges[:-1], edges[1:], strict=True)}


def test_what_a_format_cannot_hold_is_known_channel_by_channel(moved, tmp_path):
    own = model_at(head(tmp_path / "head.glb"), moved)
    own = replace(own, kit=replace(own.kit, own=("jaw_open", "mouth_wide")))
    assert lost_of("glb", moved) == lost_of("glb", own) == lost_of("keys-csv", moved) == ()
    assert lost_of("bvh", moved) == ("jaw_open", "jaw size")
    assert lost_of("vrma", moved) == ("lid", "lid turn z", "lid x", "jaw size", "lift")
    other = replace(own, kit=replace(own.kit, own=("mouth_wide",)))
    assert lost_of("glb", other) == ("jaw_open",)


def test_a_name_given_to_a_mouth_counts_for_ones_own_model(line, tmp_path):
    own = model_at(head(tmp_path / "head.glb"), line)
    kit = replace(own.kit, own=("jaw_open", "mouth_wide"), weights=Weights.BLENDED)
    named = replace(own, kit=replace(kit, names=give(kit.names, "Ajar", ["mouth_wide"])))
    model = own_model(named)
    assert model.played.weights["Ajar"] == {"mouth_wide": 1.0}
    assert own_model(replace(own, kit=kit)).played.weights["Ajar"] != {"mouth_wide": 1.0}


def test_a_vrm_character_is_animated_by_its_own_expressions_and_the_names_given_to_its_mouths(line, tmp_path):
    binds = {"morphTargetBinds": [{"node": 1, "index": 0, "weight": 1.0}]}
    wide = {"morphTargetBinds": [{"node": 1, "index": 1, "weight": 1.0}]}
    vrm = {"VRMC_vrm": {"expressions": {"preset": {"aa": binds}, "custom": {"grin": wide}}}}
    own = model_at(head(tmp_path / "pip.vrm", extensions=vrm), line)
    kit = replace(own.kit, own=("aa", "grin"), weights=Weights.IN_FULL)
    named = give(give(kit.names, "Open", ["aa"]), "Spread", ["grin"])
    read = Read(made("vrma", replace(own, kit=replace(kit, names=named))))
    told = read.gltf.extensions["VRMC_vrm_animation"]["expressions"]
    assert set(told["preset"]) == {"aa"}
    assert "grin" in told["custom"]
    for name, mouth in (("aa", "Open"), ("grin", "Spread")):
        _, moved, _ = read.track(name, "translation")
        assert (moved[:, 0] >= line.bake.channels.curve(f"weight:{mouth}") - 1e-6).all(), "in full, and part of others"
        assert moved.max() <= 1.0
    groups = [{"presetName": "a", "binds": [{"mesh": 0, "index": 0, "weight": 100}]}]
    old = model_at(
        head(tmp_path / "old.vrm", extensions={"VRM": {"blendShapeMaster": {"blendShapeGroups": groups}}}), line
    )
    old = replace(old, kit=replace(old.kit, own=("a",), names=give(old.kit.names, "Open", ["a"])))
    told = Read(made("vrma", old)).gltf.extensions["VRMC_vrm_animation"]["expressions"]
    assert set(told["preset"]) == {"aa"}, "as the new format calls it"


def test_a_vrm_animation_moves_the_five_vowels_by_what_the_mouths_look_like(line):
    read = Read(made("vrma", line))
    told = read.gltf.extensions["VRMC_vrm_animation"]
    assert tuple(told["expressions"]["preset"]) == VOWELS
    assert list(told["expressions"]["custom"]) == ["lantern glow"]
    found = {name: read.track(name, "translation")[1] for name in VOWELS}
    assert all((values[:, 1:] == 0).all() for values in found.values())
    wide_open = line.bake.channels.curve("aperture") > 0.6
    assert found["aa"][wide_open, 0].mean() > 2 * found["aa"][~wide_open, 0].mean()
    rounded = line.bake.channels.curve("round") > 0.6
    assert found["ou"][rounded, 0].mean() > 2 * found["ou"][~rounded, 0].mean()


def test_a_chart_of_the_vowels_goes_out_as_it_is(call_peaks, call_score):
    rate = FrameRate.parse("30")
    plan = Plan(call_score, find_chart("Vowels"), frame_loudness(call_peaks, rate), BakeSettings(rate))
    vowels = Delivery("call", call_score, bake(plan))
    read = Read(made("vrma", vowels))
    for name in VOWELS:
        assert (
            np.abs(read.track(name, "translation")[1][:, 0] - vowels.bake.channels.curve(f"weight:{name}")).max() < 1e-6
        )


def usd_stage(content: bytes, folder, name="line.usda"):
    (folder / name).write_bytes(content)
    stage = Usd.Stage.Open(str(folder / name))
    context = UsdValidation.ValidationContext(UsdValidation.ValidationRegistry().GetOrLoadAllValidators())
    assert [error.GetMessage() for error in context.Validate(stage)] == []
    return stage


def usd_weights(stage, root, line):
    cache = UsdSkel.Cache()
    cache.Populate(UsdSkel.Root(stage.GetPrimAtPath(root)), Usd.PrimDefaultPredicate)
    query = cache.GetSkelQuery(UsdSkel.Skeleton(stage.GetPrimAtPath(f"{root}/Skel"))).GetAnimQuery()
    frames = range(101, 101 + line.bake.frames)
    return query, np.array([query.ComputeBlendShapeWeights(frame) for frame in frames])


@pytest.mark.parametrize("root", ["/Mouth", "/Set/Head/Face"])
def test_usd_is_sound_and_has_every_weight_at_the_scenes_frames(line, tmp_path, root):
    named = replace(line, names=give(NamesTable(before="m:"), "Open", ['wide "o"', "ö 1"]))
    stage = usd_stage(made("usda", named, UsdOptions(prim=root)), tmp_path)
    assert (stage.GetStartTimeCode(), stage.GetEndTimeCode()) == (101, 100 + line.bake.frames)
    assert Fraction(stage.GetTimeCodesPerSecond()).limit_denominator(1001) == Fraction(24000, 1001)
    query, weights = usd_weights(stage, root, line)
    names = list(query.GetBlendShapeOrder())
    assert {'m:wide "o"', "m:ö 1", "m:Press", "lantern glow"} < set(names)
    for name, curve in (("m:Press", "weight:Press"), ('m:wide "o"', "weight:Open"), ("lantern glow", "lantern glow")):
        assert np.abs(weights[:, names.index(name)] - line.bake.channels.curve(curve)).max() < 1e-5
    most = 101 + int(line.bake.jaw.argmax())
    turned = query.ComputeJointLocalTransforms(most)[0].ExtractRotation()
    assert turned.angle == pytest.approx(20 * float(line.bake.jaw.max()), abs=1e-2)


def test_held_usd_shows_one_whole_mouth_on_and_between_frames(line, tmp_path):
    stage = usd_stage(made("usda", line, UsdOptions(held=True)), tmp_path)
    query, weights = usd_weights(stage, "/Mouth", line)
    names = list(query.GetBlendShapeOrder())
    mouths = [names.index(name) for name in line.bake.chart.names]
    assert [line.bake.chart.names[n] for n in weights[:, mouths].argmax(axis=1)] == mouths_by_frame(line)
    half = np.array(query.ComputeBlendShapeWeights(101.5 + line.bake.exposures[1].end - 1))[mouths]
    assert sorted(half.tolist())[-2:] == [0, 1]


def test_usd_over_another_asset_is_a_layer_that_moves_it(line, tmp_path):
    (tmp_path / "head.usda").write_bytes(made("usda", line))
    layer = usd_stage(made("usda", line, UsdOptions(over="./head.usda", degrees=0)), tmp_path, "layer.usda")
    _, weights = usd_weights(layer, "/Mouth", line)
    assert weights.shape[0] == line.bake.frames
    for wrong in ({"up": "X"}, {"prim": "Mouth"}, {"over": "a@b"}):
        with pytest.raises(TargetError):
            chosen_options(UsdOptions, wrong)


def test_bvh_turns_the_jaw_and_what_is_in_degrees(line, tmp_path):
    (tmp_path / "line.bvh").write_bytes(made("bvh", line, BvhOptions(degrees=25)))
    read = bvhio.readAsBvh(str(tmp_path / "line.bvh"))
    assert Fraction(1 / read.FrameTime).limit_denominator(1001) == Fraction(24000, 1001)
    joints = {joint.Name: joint for joint, _, _ in read.Root.layout()}
    assert set(joints) == {"head", "jaw", "nod"}
    for name, wanted in (("jaw", 25 * line.bake.jaw), ("nod", line.bake.channels.curve("nod"))):
        turned = [np.degrees(2 * np.arctan2(key.Rotation.x, key.Rotation.w)) for key in joints[name].Keyframes]
        assert np.abs(np.array(turned) - wanted).max() < 1e-3


@pytest.mark.parametrize("fine", [False, True])
def test_midi_follows_a_channel_one_tick_a_frame(line, fine):
    read = mido.MidiFile(file=io.BytesIO(made("midi", line, MidiOptions(fine=fine))))
    assert read.length == pytest.approx(float(line.bake.frames / line.bake.rate.value), abs=1e-6)
    coarse, low, at = 0, 0, 0
    seen = np.zeros(line.bake.frames)
    for message in read.tracks[0]:
        seen[at : at + message.time] = (coarse * 128 + low) / 16383 if fine else coarse / 127
        at += message.time
        if message.type == "control_change" and message.control == 1:
            coarse = message.value
        elif message.type == "control_change":
            low = message.value
    assert at == line.bake.frames
    assert np.abs(seen - line.bake.jaw).max() <= (0.0001 if fine else 0.004)
    for wrong in ({"controller": "32", "fine": "yes"}, {"controller": "120"}):
        with pytest.raises(TargetError):
            chosen_options(MidiOptions, wrong)


@pytest.mark.parametrize("rate", ["8", "12.5", "23.976", "24", "25", "29.97", "30", "48", "59.94", "60", "120"])
def test_a_midi_tick_is_a_frame_at_every_rate(rate):
    value = FrameRate.parse(rate).value
    division, tempo = ticks(value)
    assert Fraction(division * 1_000_000, tempo) == value
