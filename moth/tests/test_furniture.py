"""Pieces of furniture: what they are made of, where they end, what their light is."""

from typing import get_args

import numpy as np
import pytest

from moth.colour import LUMINANCE
from moth.document import Furniture, load
from moth.document.model import FurnitureKind
from moth.errors import PlacementError
from moth.photometry import lamp_of
from moth.place import PIECES, SOLIDS, flats_of, parts_of
from moth.tests.scenes import BLACK_ROOM, data
from moth.tests.test_properties import Room, fallen, level
from moth.transport import sources
from moth.world import build_world, check_placement, world_key
from moth.world.bodies import body_of

WAYS = np.array([[i, j] for i in (-1, 1) for j in (-1, 1)]) / 2


def piece(kind, size=None, **more):
    size = size or PIECES[kind].size
    return Furniture(
        **{"id": "p", "name": "Piece", "kind": kind, "position": (3, 3, 0), "size": size, **more}
    )


def reach(parts, flats=()):
    """Lowest and highest corner of parts and flats; of round parts the box about them."""
    corners = [
        np.add(flat.centre, np.array([i * flat.facing[1], -i * flat.facing[0], j]) * half)
        for flat in flats
        for half in [np.array([flat.size[0], flat.size[0], flat.size[1]])]
        for i, j in WAYS
    ]
    corners = [np.array(corners).reshape(-1, 3)]
    for part in parts:
        c, s = np.cos(np.radians(part.turn)), np.sin(np.radians(part.turn))
        half = np.array(part.size[:2])
        if part.kind == "box":
            flat = WAYS * half @ np.array([[c, s], [-s, c]])
        else:
            # An ellipse turned: the box about it is touched, not cut.
            wide = np.hypot(half[0] * c, half[1] * s), np.hypot(half[0] * s, half[1] * c)
            flat = WAYS * wide
        for z in (0, part.size[2]):
            corners.append(np.column_stack([flat, np.full(4, z)]) + part.position)
    corners = np.concatenate(corners)
    return corners.min(0), corners.max(0)


def test_the_document_and_the_table_know_the_same_kinds():
    # A scan is whatever its file holds.
    assert set(get_args(FurnitureKind)) == {*PIECES, "scan"}


@pytest.mark.parametrize("kind", PIECES)
def test_a_piece_fills_its_size_and_no_more(kind):
    draw = np.random.default_rng(7)
    usual = np.array(PIECES[kind].size)
    sizes = [usual, *(usual * draw.uniform(0.5, 2, (8, 3)))]
    sizes += [*draw.uniform((0.2, 0.1, 0.1), (4.0, 3.0, 3.0), (8, 3))]
    sizes = [size.tolist() for size in sizes]
    for size in sizes:
        parts, flats = parts_of(piece(kind, size)), flats_of(piece(kind, size))
        assert all(min(part.size) > 0 for part in parts) and len(parts) < 160
        low, high = reach(parts, flats)
        size = np.array(size)
        assert (low >= [3, 3, 0] - 0.501 * size * [1, 1, 0] - 1e-6).all(), (kind, size, low)
        assert (high <= [3, 3, 0] + size * [0.501, 0.501, 1.001] + 1e-6).all(), (kind, size, high)
        assert high[2] - low[2] > 0.94 * size[2] and low[2] == 0
        usual = size / PIECES[kind].size
        if usual.min() > 0.5 and usual.max() < 2:
            assert (high[:2] - low[:2] > 0.6 * size[:2]).all(), (kind, size, low, high)


def test_a_piece_turns_about_its_middle():
    low, high = reach(parts_of(piece("desk", (1.6, 0.8, 0.75), turn=90)))
    assert (high - low)[:2] == pytest.approx([0.8, 1.6]) and (low + high)[:2] / 2 == pytest.approx(
        [3, 3]
    )


def test_the_front_is_to_the_north_where_nothing_is_turned():
    """Backs stand at the south, as the backs of people who face north do."""
    for kind in ("chair", "armchair", "sofa", "bed", "shelf"):
        tall = [
            p
            for p in parts_of(piece(kind))
            if p.position[2] + p.size[2] > 0.9 * PIECES[kind].size[2]
        ]
        backs = [p.position[1] for p in tall if p.size[0] > p.size[1] and p.size[2] > p.size[1]]
        assert backs and min(backs) < 3, kind


@pytest.mark.parametrize("kind", PIECES)
def test_every_piece_can_be_lit(kind):
    scene = load(data(furniture=[piece(kind, position=(1.2, 1.2, 0), turn=20).model_dump()]))
    world = build_world(scene)
    mine = world.mesh.body == 1
    assert mine.any() and np.isfinite(world.mesh.normals).all()
    # Every triangle faces the way its normals say, and the whole is shut.
    corners = world.mesh.vertices[world.mesh.faces[mine]]
    flat = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    told = world.mesh.normals[world.mesh.faces[mine]].mean(1)
    big = np.linalg.norm(flat, axis=1) > 1e-9
    assert ((flat * told).sum(1)[big] > 0).all()
    assert np.abs(flat.sum(0)).max() < 1e-4 * np.abs(flat).sum()
    # And links stay few enough for a room full of pieces.
    assert len(np.unique(world.mesh.front[mine])) < 260


@pytest.mark.parametrize("seed", range(4))
def test_light_in_a_furnished_room_is_kept(seed):
    """Energy: what a lamp sends is absorbed, by walls and pieces, to 1.5 %."""
    room = Room(seed)
    kinds = room.draw.choice([k for k in PIECES if k not in SOLIDS], 4, replace=False)
    width = room.size[0]
    more = [
        {
            "id": f"f{k}",
            "name": f"f{k}",
            "kind": str(kind),
            "position": [float((k + 0.5) / 4 * width), 0.7, 0],
            "size": [min(s, 0.22 * width, 1.2) for s in PIECES[kind].size[:2]]
            + [PIECES[kind].size[2]],
            "surface": {"reflectance": float(room.draw.uniform(0.1, 0.8))},
        }
        for k, kind in enumerate(kinds)
    ]
    room.furniture = []
    scene = room.scene([room.lamp()], more=more)
    lumens = lamp_of(scene.units[0]).distribution.lumens
    assert len(sources(scene)) >= 1
    assert fallen(scene)[1] == pytest.approx(lumens, rel=0.015)


def test_a_piece_is_the_solids_it_is_made_of():
    """A sideboard's light a metre off, half of all there, is that of as many single boxes in its
    place: to what patches of 0.4 m can tell.
    """
    surface, second = {"reflectance": 0.7}, {"reflectance": 0.3}
    whole = piece("sideboard", turn=30, surface=surface, second=second)
    apart = [
        {
            "id": f"b{k}",
            "name": "b",
            "position": part.position,
            "size": part.size,
            "turn": part.turn,
            "surface": second if part.second else surface,
        }
        for k, part in enumerate(parts_of(whole))
    ]
    lamp = {
        "id": "k",
        "name": "k",
        "head": "point-600",
        "position": [3.5, 6, 1.5],
        "aim": [3, 3, 0.5],
    }
    away = [{"id": "s", "name": "s", "position": [0.35, 6.6]}]
    bare, one, many = (
        load(data(furniture=things, figures=away, units=[lamp]))
        for things in ([], [whole.model_dump()], apart)
    )
    for place, way in (((3.4, 4.0, 0.6), (-0.4, -1, 0)), ((2, 4.4, 1.2), (1, -1.4, -0.7))):
        way = np.array(way) / np.linalg.norm(way)
        whole, split = level(one, place, way), level(many, place, way)
        assert whole > 1.3 * level(bare, place, way)
        assert whole == pytest.approx(split, rel=0.04)


def test_a_table_shades_the_floor_beneath_it_and_no_more():
    lamp = {
        "id": "k",
        "name": "k",
        "head": "point-600",
        "position": [3, 1.5, 2.9],
        "aim": [3, 1.5, 0],
    }
    room = {"width": 6, "depth": 7, "height": 3, **BLACK_ROOM}
    table = piece("table", (1.4, 0.8, 0.75), position=(3, 1.5, 0), surface={"reflectance": 0})
    bare, laid = (
        load(data(room=room, units=[lamp], furniture=things))
        for things in ([], [table.model_dump()])
    )
    up = (0, 0, 1)
    assert level(laid, (3, 1.5, 0.1), up) < 1e-3 * level(bare, (3, 1.5, 0.1), up)
    assert level(laid, (3, 3.2, 0.1), up) == pytest.approx(level(bare, (3, 3.2, 0.1), up), rel=1e-3)
    assert level(laid, (3, 1.5, 0.76), up) == pytest.approx(
        level(bare, (3, 1.5, 0.76), up), rel=1e-3
    )


def test_a_lamp_may_stand_under_a_table_and_not_in_its_top():
    def scene(height):
        lamp = {"id": "k", "name": "Tube", "head": "tube-2ft", "position": [3, 1.5, height]}
        table = piece("table", position=(3, 1.5, 0)).model_dump() | {"name": "Chart table"}
        return load(data(units=[{**lamp, "aim": [3, 4, 0.3]}], furniture=[table]))

    check_placement(scene(0.4))
    with pytest.raises(PlacementError, match="'Tube' is inside 'Chart table'"):
        check_placement(scene(0.735))


def test_a_lock_and_a_name_are_no_light():
    table = piece("table").model_dump()
    one = load(data(furniture=[table]))
    other = load(data(furniture=[{**table, "locked": True, "name": "Chart table"}]))
    assert world_key(one) == world_key(other)
    painted = load(data(furniture=[{**table, "second": {"reflectance": 0.9}}]))
    assert world_key(one) != world_key(painted)


def test_what_is_second_has_its_own_surface():
    bed = piece("bed", surface={"reflectance": 0.1}, second={"reflectance": 0.8})
    world = build_world(load(data(furniture=[bed.model_dump()])))
    shown = world.mesh.albedo[world.mesh.faces[world.mesh.body == 1]].mean(1) @ LUMINANCE
    assert sorted(set(np.round(shown, 3))) == [0.1, 0.8]


@pytest.mark.parametrize("kind", ["cylinder", "ball", "round-table", "floor-lamp"])
def test_a_patch_of_a_round_piece_faces_an_eighth_of_a_turn_at_most(kind):
    """It sends its light all over, so a beam on its left must not leave by its front."""
    item = Furniture(id="f", name="F", kind=kind, position=(2, 2, 0), size=(1.4, 1.4, 1.0))
    body = body_of(item)
    corners = body.vertices[body.faces]
    normal = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    twice = np.linalg.norm(normal, axis=1)
    for cell in range(body.cell.max() + 1):
        some = (body.cell == cell) & (twice > 1e-9)
        own = normal[some] / twice[some, None]
        # An eighth about the axis and one in height, over the corner of the two.
        assert (own @ own.T).min() > np.cos(np.radians(66))
