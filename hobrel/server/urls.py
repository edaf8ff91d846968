"""Addresses: the API, and the one page that the front end lives in."""

from __future__ import annotations

from hashlib import blake2b

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


@never_cache
def show_worker(request: HttpRequest) -> HttpResponse:
    """The worker that keeps the page for when there is no network (decision 39): another one for each build."""
    build = blake2b(render(request, "index.html").content, digest_size=8).hexdigest()
    worker = render(request, "sw.js").content.decode()
    return HttpResponse(worker.replace("__BUILD__", build), content_type="text/javascript; charset=utf-8")


urlpatterns = [path("sw.js", show_worker), path("api/", api.urls), re_path(r"^(?!static/|api/).*$", show_page)]
