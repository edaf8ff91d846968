"""How tests are run: secrets are hashed quickly, for nothing here depends on how slow that is, and there is a computing process from the
start, as a server has one: the first who asks would not wait for it as long as a busy machine needs.

Several processes share the tests, class by class, each with a database and a computing process of its own.
"""

from __future__ import annotations

import os
import traceback
from tempfile import TemporaryDirectory
from types import TracebackType
from typing import Any
from unittest import TestCase

from django.db import connection
from django.test.runner import DiscoverRunner, ParallelTestSuite, RemoteTestResult, RemoteTestRunner, _init_worker
from django.test.utils import override_settings

from hobrel.computing.asking import start_computing
from tests.server.production import SHARED

Trouble = tuple[type[BaseException], BaseException, TracebackType | None]


class ToldElsewhereError(Exception):
    """What went wrong in another process, as it was written there."""


def _as_text(err: Trouble) -> Trouble:
    """Frames hold pages, servers and locks, which cannot be sent from one process to another; what is written can."""
    return ToldElsewhereError, ToldElsewhereError("\n" + "".join(traceback.format_exception(*err))), None


class _Result(RemoteTestResult):
    def addError(self, test: TestCase, err: Trouble) -> None:
        super().addError(test, _as_text(err))

    def addFailure(self, test: TestCase, err: Trouble) -> None:
        super().addFailure(test, _as_text(err))

    def addExpectedFailure(self, test: TestCase, err: Trouble) -> None:
        super().addExpectedFailure(test, _as_text(err))

    def addSubTest(self, test: TestCase, subtest: TestCase, err: Trouble | None) -> None:
        if err is None:
            return
        # it is the test's own: what stands in a part of a test need not be of a kind that can be sent
        kind, error, frames = err
        error.add_note(f"in the part {subtest.id().removeprefix(test.id()).strip()}")
        if issubclass(kind, test.failureException):
            self.addFailure(test, (kind, error, frames))
        else:
            self.addError(test, (kind, error, frames))


class _Runner(RemoteTestRunner):
    resultclass = _Result


def _begin(*given: Any) -> None:
    """What each process does first. The suite takes it from its own method, as a plain function."""
    _init_worker(*given)
    start_computing()


class _Shared(ParallelTestSuite):
    runner_class = _Runner
    init_worker = _begin


class Runner(DiscoverRunner):
    parallel_test_suite = _Shared

    def setup_test_environment(self, **kwargs: Any) -> None:
        super().setup_test_environment(**kwargs)
        # those that the servers of other processes have made are still understood
        hashers = ["django.contrib.auth.hashers.MD5PasswordHasher", "django.contrib.auth.hashers.PBKDF2PasswordHasher"]
        self._quick = override_settings(PASSWORD_HASHERS=hashers)
        self._quick.enable()
        self._shared = TemporaryDirectory(prefix="hobrel-tests-")
        os.environ[SHARED] = self._shared.name

    def setup_databases(self, **kwargs: Any) -> Any:
        # a database of a test need not outlive a power cut; on a slow disk that is most of what writing costs. The computing process
        # does the same: who opens a file with another kind of journal than others have open is told at once that it is locked
        os.environ["HOBREL_JOURNAL"] = "MEMORY"
        connection.settings_dict["OPTIONS"]["init_command"] = "PRAGMA journal_mode=MEMORY; PRAGMA synchronous=OFF;"
        found = super().setup_databases(**kwargs)
        if found and self.parallel <= 1:
            start_computing()
        return found

    def teardown_test_environment(self, **kwargs: Any) -> None:
        self._quick.disable()
        del os.environ[SHARED]
        self._shared.cleanup()
        super().teardown_test_environment(**kwargs)
