"""A model from a file to a thing that stands in the light."""

import re

import trimesh
from playwright.sync_api import expect
from trimesh.visual.material import PBRMaterial

from .test_desk import open_copy, settled, signal

BEHIND = (0.6, 0.05, 0.7, 0.2)
"""Part of the frame beside and over the head."""


def column(path, paint=(200, 40, 30)):
    """A round column 1 high and 0.4 wide, as a file has it that counts in something unknown."""
    mesh = trimesh.creation.cylinder(0.2, 1.0, sections=48)
    mesh.apply_transform(trimesh.transformations.rotation_matrix(-3.14159265 / 2, [1, 0, 0]))
    mesh.visual = trimesh.visual.TextureVisuals(
        uv=[[0, 0]] * len(mesh.vertices), material=PBRMaterial(baseColorFactor=[*paint, 255])
    )
    path.write_bytes(mesh.export(file_type="glb"))
    return path


def test_a_model_is_brought_in_made_true_to_scale_and_stood_in_the_light(desk, tmp_path):
    open_copy(desk)
    before = signal(desk, BEHIND)
    desk.get_by_role("tab", name="Room").click()
    desk.get_by_role("button", name="Furniture", exact=True).click()
    desk.get_by_role("button", name="Scans and models").click()
    chosen = desk.get_by_label("GLB, OBJ, or a zip with textures")
    broken = tmp_path / "broken.glb"
    broken.write_bytes(b"glTF no model")
    chosen.set_input_files(broken)
    desk.get_by_role("button", name="Bring it in").click()
    expect(desk.get_by_role("alert")).to_contain_text("no model that can be read")
    chosen.set_input_files(column(tmp_path / "column.glb"))
    expect(desk.get_by_role("alert")).to_have_count(0)
    desk.get_by_role("button", name="Bring it in").click()
    size = desk.get_by_label("Its size")
    expect(size).to_contain_text("0.40 × 0.40 × 1.00 m")
    # Two points of a known length: the column is 1.6 m high.
    picture = desk.get_by_role("img", name="column, from the front")
    box = picture.bounding_box()
    middle, edge = box["x"] + box["width"] / 2, box["height"] * 0.02 / 1.04
    desk.mouse.click(middle, box["y"] + edge)
    desk.mouse.click(middle, box["y"] + box["height"] - edge)
    apart = desk.get_by_label("They are apart")
    apart.fill("1.6")
    apart.press("Enter")
    expect(size).to_contain_text(re.compile(r"0\.6[3-5] × 0\.6[3-5] × 1\.(59|60|61) m"))
    desk.get_by_role("button", name="Stand it here").click()
    expect(desk.get_by_role("button", name="Piece in hand")).to_contain_text("column")
    settled(desk)
    # It is seen behind the face, and takes the place of what was there.
    after = signal(desk, BEHIND)
    assert abs(after / before - 1) > 0.2
    expect(desk.get_by_role("button", name="column on the plan")).to_be_visible()
    # It keeps its proportions, and takes one paint over all.
    high = desk.get_by_label("High", exact=True)
    high.fill("0.8")
    high.press("Enter")
    expect(desk.get_by_label("Wide", exact=True)).to_have_value("0.32")
    settled(desk)
    desk.reload()
    settled(desk)
    expect(desk.get_by_role("button", name="column on the plan")).to_be_visible()
    # A set-up holds it: it is not thrown away.
    desk.get_by_role("tab", name="Room").click()
    desk.get_by_role("button", name="Furniture", exact=True).click()
    desk.get_by_role("button", name="Scans and models").click()
    desk.get_by_role("button", name="Delete", exact=True).click()
    desk.get_by_role("button", name="Delete for good").click()
    expect(desk.get_by_role("alert")).to_contain_text("holds it")
