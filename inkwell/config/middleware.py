"""Refuse bodies over the limit before they are read; say what a page may load."""

from asgiref.sync import iscoroutinefunction
from django.conf import settings
from django.utils.decorators import sync_and_async_middleware, sync_only_middleware

from .problems import database_away, problem_response

POLICY = (
    "default-src 'self'; img-src 'self' data: blob:; style-src 'self' 'unsafe-inline'; font-src"
    " 'self' data:; connect-src 'self'; object-src 'none'; base-uri 'self'; form-action 'self';"
    " frame-ancestors 'none'"
)


def _too_large(request):
    try:
        length = int(request.META.get("CONTENT_LENGTH") or 0)
    except ValueError:
        length = 0
    # Pictures and models alone may be large; they come as files, which are laid on disk while they
    # are read.
    file = request.method == "POST" and request.path_info.endswith(("/stills", "/scans"))
    largest = settings.LARGEST_PICTURE if file else settings.LARGEST_BODY
    if length > largest:
        return problem_response(
            413,
            f"The request holds {length / 1e6:.1f} MB; at most {largest / 1e6:.1f} MB are taken.",
        )
    return None


@sync_and_async_middleware
def body_limit(get_response):
    """413 for a declared body over LARGEST_BODY."""
    if iscoroutinefunction(get_response):

        async def waiting(request):
            return _too_large(request) or await get_response(request)

        return waiting

    def plain(request):
        return _too_large(request) or get_response(request)

    return plain


def _early(request):
    """The answer that needs no asking: an address with NUL is none, and while the database is away
    everybody is told at once.
    """
    if "\x00" in request.path_info or "%00" in request.META.get("QUERY_STRING", ""):
        return problem_response(404, "There is no such address.")
    return database_away() if request.path_info.startswith(("/api/", "/admin/")) else None


@sync_and_async_middleware
def away(get_response):
    """Outermost: 503 at once while the database is known to be away."""
    if iscoroutinefunction(get_response):

        async def waiting(request):
            return _early(request) or await get_response(request)

        return waiting
    return lambda request: _early(request) or get_response(request)


def _with_policy(response):
    response.headers.setdefault("Content-Security-Policy", POLICY)
    return response


@sync_and_async_middleware
def content_policy(get_response):
    """Content-Security-Policy on every answer."""
    if iscoroutinefunction(get_response):

        async def waiting(request):
            return _with_policy(await get_response(request))

        return waiting
    return lambda request: _with_policy(get_response(request))


@sync_only_middleware
def one_thread(get_response):
    """Innermost: keeps a request on one thread. Without it Django hops between loop and thread at
    each middleware.
    """
    return get_response
