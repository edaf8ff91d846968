"""Acts at random by two benches and by a teacher, on a laptop and on a phone: whatever is done, the page stands and keeps what was kept."""

from __future__ import annotations

import os
import random
import re
import time
import unittest

from playwright.sync_api import Page, expect

from hobrel.classes.models import Person
from hobrel.demo.tidewater import TEACHER_NAME, load_tidewater
from hobrel.labbooks.models import Book
from hobrel.plans.models import Practical
from tests.browser.acts import STATIONS, Hand
from tests.browser.base import BrowserTest

SECONDS = int(os.environ.get("HOBREL_ACTS", "90"))
"""Of each of the four; `HOBREL_ACTS=600 HOBREL_ACTS_SEED=7` tries others for longer."""
SEED = int(os.environ.get("HOBREL_ACTS_SEED", "1"))
PHONE = {"width": 390, "height": 800}
LAPTOP = {"width": 1280, "height": 800}


@unittest.skipUnless(os.environ.get("HOBREL_LONG") == "1", "a minute and a half each, in ./run test --long")
class RandomActs(BrowserTest):
    def setUp(self) -> None:
        self.troubles, self.contexts = [], []
        load_tidewater()

    def test_two_of_one_bench_on_a_laptop(self) -> None:
        self.act_in_books("Dunlin", LAPTOP, SEED)

    def test_two_of_one_bench_on_phones(self) -> None:
        self.act_in_books("Sanderling", PHONE, SEED + 1000)

    def test_a_teacher_on_a_laptop(self) -> None:
        self.act_as_teacher(LAPTOP, SEED + 2000)

    def test_a_teacher_on_a_phone(self) -> None:
        self.act_as_teacher(PHONE, SEED + 3000)

    def act_in_books(self, bench: str, size: dict[str, int], seed: int) -> None:
        books = list(Book.objects.filter(bench__name=bench, bench__isnull=False).order_by("pk"))
        places = [f"{self.live_server_url}/books/{b.pk}/{station}" for b in books for station in STATIONS]
        people = [seat.person for seat in books[0].bench.seats.exclude(person=None)[:2]] if books[0].bench else []
        hands = self.act([p for p in people if p], places, size, seed)
        for hand in hands:
            self.check_kept(hand)
        self.say_what_was_found(hands)

    def act_as_teacher(self, size: dict[str, int], seed: int) -> None:
        teacher = Person.objects.get(username=TEACHER_NAME)
        practicals = Practical.objects.order_by("pk")
        paths = ["/", "/school", "/plans", *(f"/classes/{pk}" for pk in sorted({p.school_class_id for p in practicals}))]
        paths += [f"/practicals/{p.pk}/{page}" for p in practicals for page in ("walkround", "pool", "hand-ins")]
        paths += [f"/books/{p.version.plan.book.pk}/{s}" for p in practicals[:3] if p.version.plan for s in STATIONS]
        hands = self.act([teacher], [self.live_server_url + path for path in paths], size, seed)
        self.say_what_was_found(hands)

    def say_what_was_found(self, hands: list[Hand]) -> None:
        found = [what for hand in hands for what in hand.found]
        if found:
            self.fail(f"HOBREL_ACTS_SEED={SEED}\n" + "\n".join(found))

    def act(self, people: list[Person], places: list[str], size: dict[str, int], seed: int) -> list[Hand]:
        dice = random.Random(seed)
        hands = [Hand(self.page_of(p, size=size, touch=size == PHONE), dice, places) for p in people]
        for hand in hands:
            hand.page.goto(places[1])
        end, count = time.monotonic() + SECONDS, 0
        while time.monotonic() < end:
            dice.choice(hands).act()
            count += 1
            if count % 15 == 0:
                for hand in hands:
                    hand.look()
        return hands

    def check_kept(self, hand: Hand) -> None:
        """What stands in the table when everything is saved is what stands there when the page is opened anew."""
        page = hand.page
        if "/books/" not in page.url:
            return
        for _ in range(3):
            page.keyboard.press("Escape")
        expect(page.locator("main h1").first).to_be_visible()
        page.keyboard.press("Alt+2")
        expect(page).to_have_url(re.compile("/read"))
        before = self.read_table(page)
        page.reload()
        # what is said above the table may be there before it
        expect(page.locator("main input[data-at]")).to_have_count(len(before))
        self.assertEqual(self.read_table(page), before, f"{page.url} after {hand.acts[-20:]}")

    def read_table(self, page: Page) -> list[list[str]]:
        expect(page.get_by_role("status").filter(has_text=re.compile("saved|not kept")).first).to_be_visible()
        # a table that nobody has begun has its headings only; another station's words may stand there for a moment
        nothing = page.locator("main .notice").filter(has_text=re.compile("no heading in this table|The plan of this practical"))
        expect(page.locator("main table.ruled, main .new-headings input").or_(nothing).first).to_be_visible()
        found: list[list[str]] = page.locator("main input[data-at]").evaluate_all("cells => cells.map(c => [c.dataset.at, c.value])")
        return found
