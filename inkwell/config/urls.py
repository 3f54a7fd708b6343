"""Addresses: the API, the admin site, and the application for everything else."""

from django.conf import settings
from django.contrib import admin
from django.http import HttpResponse
from django.urls import path, re_path
from django.views.decorators.csrf import ensure_csrf_cookie
from django.views.decorators.http import require_safe

from inkwell.rendering.office import engine_page
from inkwell.trials.office import trials_page

from .api import api
from .problems import problem_response

admin.site.site_header = admin.site.site_title = "Inkwell Moth records"


@require_safe
@ensure_csrf_cookie
def application(request, **_):
    """The page that holds the application."""
    page = settings.WEB_DIST / "index.html"
    if not page.exists():
        return HttpResponse(
            "The screen is not built yet: run script/setup.", status=503, content_type="text/plain"
        )
    response = HttpResponse(page.read_bytes(), content_type="text/html; charset=utf-8")
    response.headers["Cache-Control"] = "no-cache"
    return response


def no_such_endpoint(request, **_):
    return problem_response(404, "There is no such address in the API.")


handler500 = "inkwell.config.problems.broke"
urlpatterns = [
    path("api/", api.urls),
    re_path(r"^api/.*$", no_such_endpoint),
    path("admin/engine/", admin.site.admin_view(engine_page)),
    path("admin/trials-at-work/", admin.site.admin_view(trials_page)),
    path("admin/", admin.site.urls),
    re_path(r"^(?!static/|assets/).*$", application),
]
