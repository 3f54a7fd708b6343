"""Errors as application/problem+json (RFC 9457)."""

import logging
import sys
import time

from django.core.exceptions import RequestDataTooBig
from django.db import InterfaceError, OperationalError
from django.http import Http404, JsonResponse
from ninja.errors import AuthenticationError, HttpError, Throttled, ValidationError
from psycopg_pool import PoolTimeout

from inkwell.rendering.away import EngineAway
from moth.document import UNFIT
from moth.errors import Cancelled, MothError

log = logging.getLogger(__name__)
TITLES = {
    400: "The request cannot be understood",
    401: "Sign in first",
    403: "Not yours to change",
    404: "Not found",
    409: "Somebody was quicker",
    410: "No longer wanted",
    413: "Too large",
    422: "That cannot be",
    429: "Too many tries",
    500: "Something broke here",
    503: "Not to be had just now",
}
AWAY = "The records cannot be reached just now; nothing of yours was changed. Try again."
BROKEN = "Something broke on the server; nothing of yours was changed."


class Problem(Exception):
    """An answer that is not the wanted one, with a sentence and, for edits, a place in the
    document.
    """

    def __init__(self, status, detail, path="", **extra):
        super().__init__(detail)
        self.status, self.detail, self.path, self.extra = status, detail, path, extra


def problem_response(status, detail, path="", **extra):
    """Response of type application/problem+json."""
    body = {
        "type": "about:blank",
        "title": TITLES.get(status, "Error"),
        "status": status,
        "detail": detail,
        "path": path,
        **extra,
    }
    return JsonResponse(body, status=status, content_type="application/problem+json")


TRY_AGAIN = 1.0
"""How long [s] nobody asks the database after it was found away: everybody is told at once."""
_found_away = [float("-inf")]


def status_and_words(error):
    """Status, sentence and place of an error as a person may read it; one that nobody foresaw is
    logged and says nothing of the inside.
    """
    if isinstance(error, Problem):
        return error.status, error.detail, error.path
    if isinstance(error, MothError):
        return 422, error.sentence, error.path
    if isinstance(error, Cancelled):
        return 410, "This was given up for something newer.", ""
    if isinstance(error, (OperationalError, InterfaceError, PoolTimeout)):
        log.error("the database is away: %s", error)
        _found_away[0] = time.monotonic()
        return 503, AWAY, ""
    if isinstance(error, EngineAway):
        log.error("the engine is away: %s", error)
        return 503, "The light was being worked out and was lost. It is begun again.", ""
    log.error("unhandled error", exc_info=error)
    return 500, BROKEN, ""


def database_away():
    """The answer while the database is known to be away, else None."""
    return answer_to(503, AWAY) if time.monotonic() - _found_away[0] < TRY_AGAIN else None


def answer_to(status, detail, path="", **extra):
    """Response of a problem, with Retry-After where asking again may help."""
    response = problem_response(status, detail, path, **extra)
    if status in (429, 503):
        response.headers["Retry-After"] = "60" if status == 429 else "2"
    return response


def broke(request):
    """Django's last word on an error (handler500): a problem, too."""
    error = sys.exc_info()[1]
    return answer_to(*(status_and_words(error) if error else (500, BROKEN)))


def _place(location):
    text = ""
    for part in location:
        if part in ("body", "payload", "data"):
            continue
        text += f"[{part}]" if isinstance(part, int) else ("." if text else "") + str(part)
    return text.removeprefix("document.")


def install(api):
    """Give an API the house's way of saying errors."""

    @api.exception_handler(Problem)
    def problem(request, error):
        return answer_to(error.status, error.detail, error.path, **error.extra)

    @api.exception_handler(MothError)
    def moth_error(request, error):
        return answer_to(*status_and_words(error))

    @api.exception_handler(ValidationError)
    def invalid(request, error):
        first = error.errors[0]
        sentence = str(first["msg"]).removeprefix("Value error, ")
        return problem_response(
            422, sentence[:1].upper() + sentence[1:] + ".", _place(first["loc"])
        )

    @api.exception_handler(AuthenticationError)
    def anonymous(request, error):
        return problem_response(401, "You are not signed in, or no longer.")

    @api.exception_handler(Throttled)
    def throttled(request, error):
        return problem_response(429, "Wait a minute before you try again.")

    @api.exception_handler(Http404)
    def missing(request, error):
        return problem_response(404, "There is nothing here that you can see.")

    @api.exception_handler(RequestDataTooBig)
    def too_big(request, error):
        return problem_response(413, "The request is larger than is taken.")

    @api.exception_handler(HttpError)
    def http_error(request, error):
        if hasattr(request, "unfit"):
            return problem_response(422, UNFIT, request.unfit)
        return problem_response(error.status_code, str(error))

    @api.exception_handler(Exception)
    def broken(request, error):
        log.error("at %s", request.path)
        return answer_to(*status_and_words(error))
