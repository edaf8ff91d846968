"""Sending files for people to keep."""

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
