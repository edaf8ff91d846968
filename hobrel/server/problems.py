"""Errors on their way out: HTTP problem+json (RFC 9457) with a stable code and a sentence for a person."""

from __future__ import annotations

import json
from collections.abc import Mapping
from typing import Any

from django.http import HttpResponse
from ninja import Schema


class Problem(Exception):
    """Something that the person should know about, with its HTTP status."""

    def __init__(self, status: int, code: str, message: str, fields: Mapping[str, object] | None = None) -> None:
        super().__init__(message)
        self.status = status
        self.code = code
        self.message = message
        self.fields = dict(fields or {})


class OfferOut(Schema):
    """An edit that may be wanted instead, ready to be sent, and what it would do."""

    words: str
    edit: dict[str, Any]


class ProblemOut(Schema):
    """RFC 9457 problem details; `code` is stable, `detail` is for people."""

    status: int
    code: str
    detail: str
    theirs: str | None = None
    at: int | None = None
    field: str | None = None
    retry_after: int | None = None
    offers: list[OfferOut] = []


def describe_problem(problem: Problem) -> dict[str, object]:
    """A problem as `ProblemOut` has it."""
    return {"type": "about:blank", "status": problem.status, "code": problem.code, "detail": problem.message, **problem.fields}


def problem_response(problem: Problem) -> HttpResponse:
    response = HttpResponse(json.dumps(describe_problem(problem)), status=problem.status, content_type="application/problem+json")
    if "retry_after" in problem.fields:
        response["Retry-After"] = str(problem.fields["retry_after"])
    return response


NOT_FOUND = "There is nothing here for you, or it is gone."


def not_found() -> Problem:
    """The same answer for what does not exist and for what somebody may not see, so that nothing can be guessed."""
    return Problem(404, "not_found", NOT_FOUND)
