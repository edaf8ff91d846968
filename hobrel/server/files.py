"""Sending files for people to keep, and pages of ours that are looked at in a frame."""

from __future__ import annotations

import re

from django.http import HttpResponse


def file_name(ending: str, *parts: str) -> str:
    """A name that every file system takes: “the-clamped-strip-curlew.pdf”."""
    plain = re.sub(r"[^A-Za-z0-9]+", "-", " ".join(parts)).strip("-").lower()
    return f"{plain or 'hobrel'}.{ending}"


def send_file(content: bytes | str, kind: str, name: str) -> HttpResponse:
    response = HttpResponse(content, content_type=kind)
    response["Content-Disposition"] = f'attachment; filename="{name}"'
    response["X-Content-Type-Options"] = "nosniff"
    return response


def show_in_frame(page: bytes | str) -> HttpResponse:
    """A page with everything in it, shown in a frame of our own pages: no script in it runs, and nothing is fetched."""
    response = HttpResponse(page, content_type="text/html; charset=utf-8")
    response["Content-Security-Policy"] = (
        "default-src 'none'; style-src 'unsafe-inline'; img-src data:; font-src data:; base-uri 'none'; form-action 'none'; "
        "frame-ancestors 'self'; sandbox"
    )
    response["X-Frame-Options"] = "SAMEORIGIN"
    response["Cache-Control"] = "private, no-cache"
    return response
