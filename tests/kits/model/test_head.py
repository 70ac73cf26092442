"""Heads are read, posed and refused as they should be."""

import json
from pathlib import Path

import numpy as np
import pytest

from buccaphon.errors import KitError
from buccaphon.kits.model.head import read_head
from buccaphon.kits.model.skeleton import turn
from buccaphon.kits.model.solving import solver_of
from buccaphon.mouths.chart_file import shipped_charts
from buccaphon.mouths.pose import Pose
from tests.helpers.heads import POINTS, SHAPES, document, head, head_with_data_inside, write_glb

TEN = shipped_charts()["Ten"]


def test_shapes_move_the_points_and_add_up(tmp_path):
    found = read_head(head(tmp_path / "a.glb"))
    assert found.shapes == ("jaw_open", "mouth_wide")
    (posed,) = found.pose({"jaw_open": 0.5, "mouth_wide": 1.0})
    assert np.allclose(posed, POINTS + 0.5 * SHAPES["jaw_open"] + SHAPES["mouth_wide"])
    (rest,) = found.pose({})
    assert np.allclose(rest, POINTS)


def test_data_may_stand_inside_the_text_or_beside_it(tmp_path):
    assert read_head(head_with_data_inside(tmp_path / "a.gltf")).triangles == 2
    found, data = document()
    found["buffers"][0]["uri"] = "my%20data.bin"
    (tmp_path / "my data.bin").write_bytes(data)
    (tmp_path / "b.gltf").write_text(json.dumps(found))
    assert read_head(tmp_path / "b.gltf").triangles == 2


def test_sparse_and_normalized_data_is_read(tmp_path):
    found, data = document({"smile": SHAPES["mouth_wide"]})
    place = len(data)
    data += np.array([1, 2], "<u2").tobytes() + np.array([[0.25, 0, 0], [0.5, 0, 0]], "<f4").tobytes()
    found["bufferViews"] += [
        {"buffer": 0, "byteOffset": place, "byteLength": 4},
        {"buffer": 0, "byteOffset": place + 4, "byteLength": 24},
    ]
    number = found["meshes"][0]["primitives"][0]["targets"][0]["POSITION"]
    views = len(found["bufferViews"])
    found["accessors"][number] = {
        "componentType": 5126, "count": 4, "type": "VEC3",
        "sparse": {
            "count": 2,
            "indices": {"bufferView": views - 2, "componentType": 5123},
            "values": {"bufferView": views - 1},
        },
    }  # fmt: skip
    (posed,) = read_head(write_glb(tmp_path / "a.glb", found, data)).pose({"smile": 1.0})
    assert np.allclose(posed[:, 0] - POINTS[:, 0], [0, 0.25, 0.5, 0])


def test_names_come_from_extras_or_accessors_or_numbers(tmp_path):
    found, data = document()
    del found["meshes"][0]["extras"]
    assert read_head(write_glb(tmp_path / "a.glb", found, data)).shapes == ("target 0", "target 1")
    first = found["meshes"][0]["primitives"][0]["targets"][0]["POSITION"]
    found["accessors"][first]["name"] = "thin"
    assert read_head(write_glb(tmp_path / "a.glb", found, data)).shapes == ("thin", "target 1")


def test_vrm_expressions_are_shapes_of_their_own(tmp_path):
    binds = [{"node": 1, "index": 0, "weight": 0.5}, {"node": 1, "index": 1, "weight": 1.0}]
    vrm = {
        "VRMC_vrm": {
            "expressions": {"preset": {"aa": {"morphTargetBinds": binds}}, "custom": {}},
            "humanoid": {"humanBones": {"jaw": {"node": 2}}},
        }
    }
    found = read_head(head(tmp_path / "a.vrm", extensions=vrm))
    assert found.shapes[0] == "aa"
    assert found.jaw.why == "named in the model"
    (posed,) = found.pose({"aa": 1.0})
    assert np.allclose(posed, POINTS + 0.5 * SHAPES["jaw_open"] + SHAPES["mouth_wide"])


def test_vrm_0_groups_are_shapes_and_the_face_looks_back(tmp_path):
    groups = [{"presetName": "a", "binds": [{"mesh": 0, "index": 0, "weight": 100}]}]
    found = read_head(head(tmp_path / "a.vrm", extensions={"VRM": {"blendShapeMaster": {"blendShapeGroups": groups}}}))
    assert found.shapes[0] == "a"
    assert found.looks_back


@pytest.mark.parametrize(
    ("names", "want"),
    [
        (("Root", "head", "jaw", "jaw_end"), 2),
        (("rig:Head", "DEF-jaw", "MCH-jaw_master", "jaw.L"), 1),
        (("Bip_Jaw_Nub", "Bip_Jaw"), 1),
        (("J_Bip_C_Jaw", "x"), 0),
        (("head", "neck"), None),
        (("c_jawbone.x", "jaw_ctrl"), 0),
        (("Unter", "Kiefer"), 1),
        (("jawbreaker_left",), None),
    ],
)
def test_the_jaw_is_found_by_its_name(names, want, tmp_path):
    found, data = document()
    found["nodes"] = [{"name": name} for name in names] + [{"name": "face", "mesh": 0}]
    jaw = read_head(write_glb(tmp_path / "a.glb", found, data)).jaw
    assert (jaw.node if jaw else None) == want


def test_a_skins_joint_is_the_jaw_before_a_plain_node(tmp_path):
    found, data = document()
    found["nodes"] = [{"name": "Jaw"}, {"name": "LowerJaw"}, {"name": "face", "mesh": 0}]
    found["skins"] = [{"joints": [1]}]
    assert read_head(write_glb(tmp_path / "a.glb", found, data)).jaw.node == 1


def test_the_jaw_drops_what_lies_before_it(tmp_path):
    found, data = document()
    found["nodes"] = [
        {"name": "jaw", "rotation": [0, 0, 0.7071068, 0.7071068], "children": [1]},  # its own axes are turned
        {"name": "chin mesh", "mesh": 0, "translation": [0, 0, 1], "rotation": [0, 0, -0.7071068, 0.7071068]},
    ]
    made = read_head(write_glb(tmp_path / "a.glb", found, data))
    (rest,), (dropped,) = made.pose({}), made.pose({}, made.drop(20.0, made.jaw))
    assert (dropped[:, 1] < rest[:, 1] - 0.2).all()


def test_turning_is_a_rotation():
    turned = turn((0.0, 0.0, 1.0), 90.0)[:3, :3]
    assert np.allclose(turned @ [1, 0, 0], [0, 1, 0], atol=1e-12)
    assert np.allclose(turned @ turned.T, np.eye(3))


# --- refused ----------------------------------------------------------------------------------------------------------


def bend(**changes):
    return lambda found: found | changes


def in_a_circle(found):
    nodes = [{"name": "a", "children": [1]}, {"name": "b", "children": [0], "mesh": 0}]
    return found | {"nodes": nodes}


def beyond_the_points(found):
    found["accessors"][1]["count"] = 3
    found["accessors"][0]["count"] = 2
    return found


def beyond_the_data(found):
    found["accessors"][0]["count"] = 4000
    return found


def no_such(found):
    found["meshes"][0]["primitives"][0]["indices"] = 99
    return found


def a_flood(found):
    found["accessors"][0]["count"] = 1 << 30
    return found


HOSTILE = {
    "draco": (bend(extensionsRequired=["KHR_draco_mesh_compression"]), "compressed"),
    "meshopt": (bend(extensionsRequired=["EXT_meshopt_compression"]), "compressed"),
    "an older version": (bend(asset={"version": "1.0"}), "glTF 1.0"),
    "no version": (bend(asset={}), "without a version"),
    "nodes in a circle": (in_a_circle, "loop"),
    "a child that is not there": (bend(nodes=[{"children": [7]}]), "damaged"),
    "a corner beyond the points": (beyond_the_points, "damaged"),
    "points beyond the data": (beyond_the_data, "damaged"),
    "no such data": (no_such, "damaged"),
    "a flood of points": (a_flood, "damaged"),
    "no meshes": (bend(nodes=[{"name": "jaw"}]), "no triangles"),
}


@pytest.mark.parametrize("what", HOSTILE)
def test_a_hostile_model_is_refused_with_its_reason(what, tmp_path):
    change, reason = HOSTILE[what]
    found, data = document()
    with pytest.raises(KitError, match=reason):
        read_head(write_glb(tmp_path / "a.glb", change(found), data))


def test_data_outside_its_folder_is_never_opened(tmp_path):
    found, data = document()
    (tmp_path / "secret.bin").write_bytes(data)
    (tmp_path / "kit").mkdir()
    for name in ("../secret.bin", str(tmp_path / "secret.bin"), "missing.bin"):
        found["buffers"][0]["uri"] = name
        (tmp_path / "kit" / "a.gltf").write_text(json.dumps(found))
        with pytest.raises(KitError, match="not beside it"):
            read_head(tmp_path / "kit" / "a.gltf")


@pytest.mark.parametrize("data", [b"", b"glTF", b"{}", b"[1]", b"glTF\2\0\0\0\xff\xff\xff\xff", b"\xff\xfe"])
def test_what_is_no_model_is_refused(data, tmp_path):
    (tmp_path / "a.glb").write_bytes(data)
    with pytest.raises(KitError):
        read_head(tmp_path / "a.glb")


# --- solving ----------------------------------------------------------------------------------------------------------


def test_poses_are_solved_onto_shapes_by_what_their_names_say(tmp_path):
    solver = solver_of(read_head(head(tmp_path / "a.glb")), TEN, jaw_turns=False)
    opened = solver.weights(Pose(jaw=0.8))
    assert opened["jaw_open"] == pytest.approx(0.8, abs=0.1)
    assert "mouth_wide" not in opened
    wide = solver.weights(Pose(jaw=0.3, spread=1.0))
    assert wide["mouth_wide"] > 0.8
    assert solver.weights(Pose()) == {}


def test_a_jaw_that_turns_leaves_the_dropping_to_itself(tmp_path):
    solver = solver_of(read_head(head(tmp_path / "a.glb")), TEN, jaw_turns=True)
    assert solver.weights(Pose(jaw=0.9)) == {}


def test_shapes_without_a_telling_name_are_known_by_how_they_move(tmp_path):
    shapes = {"mouth_open": SHAPES["jaw_open"], "slider_77": SHAPES["jaw_open"] * 0.8, "blink": SHAPES["mouth_wide"]}
    found, data = document(shapes | {"slider_9": SHAPES["jaw_open"] * 0.01})
    solver = solver_of(read_head(write_glb(tmp_path / "a.glb", found, data)), TEN, jaw_turns=False)
    assert "blink" not in solver.shapes, "no mouth"
    assert "slider_9" not in solver.shapes, "it hardly moves anything"
    assert set(solver.shapes) == {"mouth_open", "slider_77"}


def test_marigolds_head_is_read_and_each_of_its_mouths_differs():
    media = Path(__file__).parents[3] / "src" / "buccaphon" / "demo" / "media"
    found = read_head(media / "marigold_head.glb")
    assert found.jaw is not None
    solver = solver_of(found, TEN, jaw_turns=True)
    weights = {mouth.name: solver.weights(mouth.pose) for mouth in TEN.mouths}
    assert max(weights["Press"], key=weights["Press"].get) == "lips_press"
    assert max(weights["Bite"], key=weights["Bite"].get) == "lower_lip_bite"
    assert max(weights["Round"], key=weights["Round"].get) == "mouth_round"
    assert not {name for mine in weights.values() for name in mine} & {"blink_L", "blink_R"}
