"""How gunicorn runs the server: the application is loaded once, the database brought up to date in it, and workers forked from it."""

from typing import Any

from django.conf import settings

preload_app = True
workers = 2
threads = 8
loglevel = "warning"


def on_starting(server: Any) -> None:
    """Called with the application loaded, before there are workers; connections are not carried over into them."""
    from django.core.management import call_command
    from django.db import connections

    from hobrel.computing.asking import begin_computing, start_computing
    from hobrel.computing.sweeping import keep_loaded

    begin_computing()
    # what answers is loaded here and not by the first who asks each worker
    import hobrel.server.urls  # noqa: F401

    call_command("load_demo" if settings.DEMO else "open_school")
    start_computing()
    connections.close_all()
    keep_loaded()
