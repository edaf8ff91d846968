"""The API, assembled from the apps' routers."""

from __future__ import annotations

import logging
from typing import Any

from django.db import OperationalError
from django.http import HttpRequest, HttpResponse
from ninja import NinjaAPI
from ninja.errors import AuthenticationError, HttpError, ValidationError
from ninja.parser import Parser
from ninja.security import django_auth

from hobrel.classes.api import router as classes_router
from hobrel.core.errors import NOT_WORKED_OUT, CoreError
from hobrel.handins.api import router as handins_router
from hobrel.interchange.api import router as interchange_router
from hobrel.labbooks.api import router as labbooks_router
from hobrel.labbooks.asking_api import router as asking_router
from hobrel.labbooks.own_api import router as own_books_router
from hobrel.labbooks.plan_api import router as plans_router
from hobrel.labbooks.pointing_api import router as pointing_router
from hobrel.labbooks.rig_api import router as rig_router
from hobrel.lessons.api import router as lessons_router
from hobrel.pools.api import router as pools_router
from hobrel.reports.api import router as reports_router
from hobrel.school.api import router as school_router
from hobrel.school.class_life_api import router as class_life_router
from hobrel.school.classes_api import router as school_classes_router
from hobrel.school.practicals_api import router as practicals_router
from hobrel.server.problems import Problem, problem_response
from hobrel.server.texts import refuse_no_text

_log = logging.getLogger(__name__)


class PlainParser(Parser):
    """Reads what is sent, and refuses texts that cannot be kept."""

    def parse_body(self, request: HttpRequest) -> Any:
        content = super().parse_body(request)
        refuse_no_text(content)
        return content

    def parse_querydict(self, data: Any, list_fields: list[str], request: HttpRequest) -> Any:
        content = super().parse_querydict(data, list_fields, request)
        refuse_no_text(content)
        return content


api = NinjaAPI(title="Hobrel", version="1", auth=django_auth, docs_url=None, urls_namespace="api", parser=PlainParser())
api.add_router("", classes_router)
api.add_router("", school_router)
api.add_router("", school_classes_router)
api.add_router("", class_life_router)
api.add_router("", practicals_router)
api.add_router("", labbooks_router)
api.add_router("", own_books_router)
api.add_router("", plans_router)
api.add_router("", asking_router)
api.add_router("", rig_router)
api.add_router("", pointing_router)
api.add_router("", interchange_router)
api.add_router("", pools_router)
api.add_router("", lessons_router)
api.add_router("", reports_router)
api.add_router("", handins_router)


@api.exception_handler(Problem)
def answer_problem(request: HttpRequest, problem: Problem) -> HttpResponse:
    return problem_response(problem)


@api.exception_handler(CoreError)
def answer_core_error(request: HttpRequest, trouble: CoreError) -> HttpResponse:
    if trouble.code == NOT_WORKED_OUT:
        return problem_response(Problem(503, trouble.code, trouble.message, {"retry_after": 2}))
    return problem_response(Problem(422, trouble.code, trouble.message, trouble.fields))


@api.exception_handler(OperationalError)
def answer_unavailable(request: HttpRequest, trouble: OperationalError) -> HttpResponse:
    """Somebody else is writing for long, or the disk is full: nothing has been written, and it can be sent again."""
    _log.error("the database could not be used: %s", trouble)
    message = "The server cannot write just now. Nothing has been changed, and what you wrote is still here. Try again in a moment."
    return problem_response(Problem(503, "unavailable", message, {"retry_after": 2}))


@api.exception_handler(AuthenticationError)
def answer_stranger(request: HttpRequest, trouble: AuthenticationError) -> HttpResponse:
    return problem_response(Problem(401, "signed_out", "You are not signed in any more. Sign in again; what waits here is kept."))


@api.exception_handler(HttpError)
def answer_unread(request: HttpRequest, trouble: HttpError) -> HttpResponse:
    """A body that could not be parsed, or was refused while it was."""
    if isinstance(trouble.__cause__, Problem):
        return problem_response(trouble.__cause__)
    return problem_response(Problem(trouble.status_code, "bad_request", "The request cannot be read."))


@api.exception_handler(ValidationError)
def answer_invalid(request: HttpRequest, trouble: ValidationError) -> HttpResponse:
    first = trouble.errors[0] if trouble.errors else {}
    place = ".".join(str(p) for p in first.get("loc", ()))
    return problem_response(Problem(422, "bad_request", f"The request does not fit: {place}: {first.get('msg', '')}."))
