"""How tests are run: secrets are hashed quickly, for nothing here depends on how slow that is, and there is a computing process from the
start, as a server has one: the first who asks would not wait for it as long as a busy machine needs.
"""

from __future__ import annotations

import os
from typing import Any

from django.db import connection
from django.test.runner import DiscoverRunner
from django.test.utils import override_settings

from hobrel.computing.asking import start_computing


class Runner(DiscoverRunner):
    def setup_test_environment(self, **kwargs: Any) -> None:
        super().setup_test_environment(**kwargs)
        # those that the servers of other processes have made are still understood
        hashers = ["django.contrib.auth.hashers.MD5PasswordHasher", "django.contrib.auth.hashers.PBKDF2PasswordHasher"]
        self._quick = override_settings(PASSWORD_HASHERS=hashers)
        self._quick.enable()

    def setup_databases(self, **kwargs: Any) -> Any:
        # a database of a test need not outlive a power cut; on a slow disk that is most of what writing costs. The computing process
        # does the same: who opens a file with another kind of journal than others have open is told at once that it is locked
        os.environ["HOBREL_JOURNAL"] = "MEMORY"
        connection.settings_dict["OPTIONS"]["init_command"] = "PRAGMA journal_mode=MEMORY; PRAGMA synchronous=OFF;"
        found = super().setup_databases(**kwargs)
        if found:
            start_computing()
        return found

    def teardown_test_environment(self, **kwargs: Any) -> None:
        self._quick.disable()
        super().teardown_test_environment(**kwargs)
