"""The engine as the records office shows it: what is kept, what waits."""

from django.contrib import admin
from django.shortcuts import render

from .service import answered, engine


def engine_page(request):
    """Everything kept under the byte budget, kind by kind, and the queues."""
    asked = engine().state()
    state = asked if isinstance(asked, dict) else answered(asked, 10)
    context = {
        **admin.site.each_context(request),
        "title": "The engine",
        "kept": [(h.kind, h.entries, h.size / 1e6, h.hits, h.misses) for h in state["kept"]],
        "used": state["bytes"] / 1e6,
        "budget": state["budget"] / 1e6,
        "queues": [("layers", state["layers"]), ("answers", state["answers"])],
    }
    return render(request, "rendering/engine.html", context)
