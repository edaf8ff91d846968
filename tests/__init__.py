"""Tests: core (without Django), server, browser, and the published cases they check against."""

import os

from hypothesis import settings

# the same examples every time, and no clock: a slow machine is no failure
settings.register_profile("steady", deadline=None, derandomize=True)
settings.load_profile("steady")

# what nobody foresaw fails a test, in the computing process too
os.environ.setdefault("HOBREL_STRICT", "1")
