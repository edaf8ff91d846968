"""One walk in another browser than all the others: Firefox, over its own protocol."""

from __future__ import annotations

import json
import os
import shutil
import subprocess
from pathlib import Path
from unittest import skipUnless

from django.contrib.staticfiles.testing import StaticLiveServerTestCase

from hobrel.labbooks.models import Book
from tests.school import client_of, make_school

FIREFOX = os.environ.get("HOBREL_FIREFOX") or shutil.which("firefox-esr") or shutil.which("firefox")
WALK = Path(__file__).with_name("firefox_walk.mjs")


@skipUnless(FIREFOX and os.environ.get("HOBREL_LONG") == "1", "with a Firefox, in ./run test --long")
class Firefox(StaticLiveServerTestCase):
    def test_a_row_is_typed_the_server_goes_and_comes_back_and_every_station_opens(self) -> None:
        school = make_school()
        session = client_of(school.students[0]).cookies["sessionid"].value
        command = ["node", str(WALK), self.live_server_url, session, str(school.book.pk), str(FIREFOX)]
        walk = subprocess.run(command, capture_output=True, text=True, timeout=180, check=False)
        self.assertEqual(walk.returncode, 0, walk.stderr[-2000:])
        seen = json.loads(walk.stdout.splitlines()[-1])
        self.assertEqual((seen["troubles"], seen["kept"]), ([], "0.400"))
        self.assertIn("2.01", seen["mean"])
        self.assertEqual([stage for stage, stopped in seen["stations"] if stopped], [])
        self.assertEqual(len(seen["stations"]), 8)
        settings = Book.objects.get(pk=school.book.pk).document["runs"][0]["settings"]
        texts = [[r["text"] if r else "" for r in s["readings"].get(q, [])] for s in settings for q in ("L", "t10")]
        self.assertEqual(texts[:3], [["0.300"], ["2.01", "2.02", "2.00"], ["0.400"]])
