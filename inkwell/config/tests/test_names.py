"""What the API tells of goes by its class's name alone: two of one name would be one."""

from collections import Counter
from dataclasses import is_dataclass

from pydantic import BaseModel

from inkwell.config.api import api


def shapes():
    """Classes that bodies and answers are made of, all the way down."""
    found, seen = [], set()

    def walk(kind):
        for part in getattr(kind, "__args__", ()):
            walk(part)
        known = isinstance(kind, type) and (is_dataclass(kind) or issubclass(kind, BaseModel))
        if not known or kind in seen:
            return
        seen.add(kind)
        found.append(kind)
        fields = getattr(kind, "model_fields", None)
        parts = [f.annotation for f in fields.values()] if fields else []
        parts += getattr(kind, "__annotations__", {}).values()
        for part in parts:
            walk(part)

    for _, router in api._routers:
        for view in router.path_operations.values():
            for operation in view.operations:
                for model in operation.models:
                    walk(model)
                for answer in operation.response_models.values():
                    if answer not in (None, NotImplemented):
                        walk(answer)
    return [k for k in found if k.__module__.startswith(("moth.", "inkwell."))]


def test_no_two_shapes_share_a_name():
    kinds = shapes()
    assert len(kinds) > 80
    counts = Counter(kind.__name__ for kind in kinds)
    assert [name for name, count in counts.items() if count > 1] == []
