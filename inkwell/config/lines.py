"""Answers told line by line, each as soon as it is known: one JSON object a line."""

from asgiref.sync import sync_to_async
from django.http import StreamingHttpResponse
from ninja import Schema

from .problems import plainly


class ProblemOut(Schema):
    """An error found after the answer had begun; see problems.py."""

    status: int
    detail: str
    path: str = ""


def told(schema, lines):
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


async def later(work, name):
    """The line of a result that is worked out on a thread now: under its name, or as a problem."""
    try:
        return {name: await sync_to_async(work, thread_sensitive=False)()}
    except Exception as error:
        status, detail, path = plainly(error)
        return {"problem": {"status": status, "detail": detail, "path": path}}
