"""Addresses: the API, and the one page that the front end lives in."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.urls import path, re_path
from django.views.decorators.cache import never_cache
from django.views.decorators.csrf import ensure_csrf_cookie

from hobrel.server.api import api


@never_cache
@ensure_csrf_cookie
def show_page(request: HttpRequest) -> HttpResponse:
    """The page. Its build leaves a placeholder where this request's nonce goes."""
    page = render(request, "index.html").content.decode()
    return HttpResponse(page.replace("__CSP_NONCE__", request.csp_nonce))  # type: ignore[attr-defined]


urlpatterns = [path("api/", api.urls), re_path(r"^(?!static/|api/).*$", show_page)]
