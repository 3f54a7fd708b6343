"""Answers line by line, each as soon as it is known: one JSON object a line."""

from django.http import StreamingHttpResponse
from ninja import Schema

from .problems import status_and_words


class ProblemOut(Schema):
    """An error found after the answer had begun; see problems.py."""

    status: int
    detail: str
    path: str = ""


def lines_response(schema, lines):
    """Response of JSON lines (media type application/jsonl).

    Parameters
    ----------
    schema : type of Schema
        What each line is.
    lines : async iterator of dict
    """

    async def text():
        async for line in lines:
            yield schema.model_validate(line).model_dump_json(exclude_unset=True) + "\n"

    return StreamingHttpResponse(text(), content_type="application/jsonl")


def problem_line(error):
    """The line of something that went wrong after the answer had begun."""
    status, detail, path = status_and_words(error)
    return {"problem": {"status": status, "detail": detail, "path": path}}
