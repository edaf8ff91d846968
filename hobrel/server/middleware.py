"""What every answer carries: the content security policy (nothing inline but styles that carry this request's nonce, nothing from another
host), and of which form the API's answers are.
"""

from __future__ import annotations

import hashlib
import secrets
from collections.abc import Callable

from django.conf import settings
from django.http import HttpRequest, HttpResponse


class ContentSecurityPolicy:
    """Give every request a nonce (``request.csp_nonce``) and every response the policy that names it."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        nonce = secrets.token_urlsafe(16)
        request.csp_nonce = nonce  # type: ignore[attr-defined]
        response = self.get_response(request)
        response.setdefault(
            "Content-Security-Policy",
            f"default-src 'self'; script-src 'self'; style-src 'self' 'nonce-{nonce}'; style-src-attr 'unsafe-inline'; "
            "img-src 'self' data: blob:; media-src 'self' blob:; font-src 'self' data:; connect-src 'self'; "
            "object-src 'none'; base-uri 'none'; "
            "form-action 'self'; frame-ancestors 'none'",
        )
        return response


class FormOfTheApi:
    """Say with every answer of the API of which form it is: a page from before the server was renewed does not draw what it cannot read.

    The form is the description that pages are built from; `./run check` holds it to the API.
    """

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response
        self.form = hashlib.sha256((settings.ROOT / "web" / "openapi.json").read_bytes()).hexdigest()[:12]

    def __call__(self, request: HttpRequest) -> HttpResponse:
        response = self.get_response(request)
        if request.path.startswith("/api/"):
            response["Hobrel-Form"] = self.form
        return response
