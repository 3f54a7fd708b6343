"""What surfaces of a world are called: names come on here, at the edge."""

from ..place import ceiling_over, nearest_wall, wall_name
from ..transport import Way
from ..world import pieces

_WAYS = {
    Way.LAMP: "straight from the lamp",
    Way.MIRROR: "by mirror",
    Way.ROOM: "walls, furniture, people",
}


def body_name(setup, world, triangle):
    """What the thing that a triangle belongs to is called.

    Parameters
    ----------
    setup : moth.document.Setup
    world : moth.world.World
    triangle : int

    Returns
    -------
    str
    """
    body = int(world.mesh.body[triangle])
    furniture, figures = len(setup.furniture), len(setup.figures)
    if body == 0:
        normal = world.mesh.flat[triangle]
        middle = world.mesh.vertices[world.mesh.faces[triangle]].mean(0)
        if setup.room.gaps and middle[2] > ceiling_over(setup.room, [middle])[0] + 0.01:
            return "the dark over the set"
        if abs(normal[2]) > 0.1:
            return "the floor" if normal[2] > 0 else "the ceiling"
        return wall_name(nearest_wall(setup.room, middle).key)
    if body <= furniture:
        return f"'{setup.furniture[body - 1].name}'"
    if body <= furniture + figures:
        return f"the body of '{setup.figures[body - 1 - furniture].name}'"
    at = body - 1 - furniture - figures
    if at >= len(world.sheets):
        return f"the stand of '{setup.units[at - len(world.sheets)].name}'"
    sheet = world.sheets[at]
    return f"'{pieces(setup)[sheet.piece].name}'"


def patch_name(setup, world, patch):
    """The same for a patch."""
    p = world.patches
    return body_name(setup, world, p.triangle[p.start[patch]])


def surface_name(setup, world, surface):
    """The same for a surface that light meets on its way.

    Parameters
    ----------
    setup : moth.document.Setup
    world : moth.world.World
    surface : moth.inspection.paths.OnWay

    Returns
    -------
    str
    """
    if surface.sheet >= 0:
        return pieces(setup)[world.sheets[surface.sheet].piece].name
    return patch_name(setup, world, surface.patch)


def route_name(setup, world, route):
    """What the light of a route comes from last.

    Parameters
    ----------
    setup : moth.document.Setup
    world : moth.world.World
    route : moth.transport.Route

    Returns
    -------
    str
    """
    if route.way == Way.SHEET:
        return pieces(setup)[route.last].name
    if route.way == Way.WALL:
        return patch_name(setup, world, route.last)
    return _WAYS[route.way]


def met_by(setup, world, place, forward):
    """What a ray from a place meets first."""
    triangle, _, _ = world.rays.first((place + 0.02 * forward)[None], forward[None])
    return "nothing" if triangle[0] < 0 else body_name(setup, world, triangle[0])
