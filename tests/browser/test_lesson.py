"""A lesson of one bench and three teachers in a few seconds, over the wire but without a browser: nothing that was acknowledged is lost.

The whole department's is among the long tests (`tests/server/test_load`).
"""

from __future__ import annotations

from django.contrib.staticfiles.testing import StaticLiveServerTestCase

from tests.bench.lesson import check_diary, hold_lesson
from tests.bench.room import SEATS_AT_BENCH, make_room


class Lesson(StaticLiveServerTestCase):
    def test_a_lesson_of_a_bench_loses_nothing(self) -> None:
        make_room()
        check_diary(self, hold_lesson(int(self.live_server_url.rsplit(":", 1)[1]), 4.0, SEATS_AT_BENCH), 1)
