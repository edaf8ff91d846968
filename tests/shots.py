"""``./run shots``: one picture of each main view, from the demo data, for the README."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Page, expect

from hobrel.classes.models import Person
from hobrel.demo.tidewater import TEACHER_NAME, load_tidewater
from hobrel.labbooks.models import Book
from hobrel.plans.models import Practical
from tests.browser.base import BrowserTest, paste

FROM_ELSEWHERE = "L (cm);t1;t2;t3;note\n30,0;3,77;3,71;3,70;ok\n35,0;4,70;4,62;4,75;\n40,0;5,71;5,80;5,75;wind\n45,0;6,82;6,90;6,79;\n"
TYPED = "time t (s)\tdistance x / m\n0.2\t0.31\n0.4\t0.62\n0.6\t0.88\n0.8\t1.23\n1.0\t1.49\n1.2\t1.82\n"
TARGET = Path(__file__).resolve().parent.parent / "docs" / "screenshots"


class Shots(BrowserTest):
    def setUp(self) -> None:
        self.troubles, self.contexts = [], []
        load_tidewater()

    def shoot(self, page: Page, name: str, wait: str = "main h1") -> None:
        expect(page.locator(wait).first).to_be_visible()
        page.evaluate("document.fonts.ready")
        # formulas are typeset when the page has nothing else to do
        expect(page.locator(".maths:empty")).to_have_count(0)
        page.mouse.move(2, 2)
        page.screenshot(path=TARGET / f"{name}.png")

    def test_take_them(self) -> None:
        TARGET.mkdir(parents=True, exist_ok=True)
        teacher = Person.objects.get(username=TEACHER_NAME)
        practical = Practical.objects.get(title="The clamped strip")
        sanderling, dunlin = (Book.objects.get(practical=practical, bench__name=n) for n in ("Sanderling", "Dunlin"))
        iris, mira = (Person.objects.get(shown_name=n) for n in ("Iris Dune", "Mira Sall"))
        start = self.page_of(teacher)
        # lab books are looked at one after the other once they are there
        expect(start.get_by_text("Pool: 5 of 6 benches have a finding")).to_be_visible(timeout=60_000)
        self.shoot(start, "start", ".benches")
        self.shoot(self.page_of(teacher, f"/classes/{practical.school_class_id}"), "class", ".bench-cards")
        self.shoot(self.page_of(teacher, f"/practicals/{practical.pk}/pool"), "pool", ".number-line")
        round_ = self.page_of(teacher, f"/practicals/{practical.pk}/walkround")
        expect(round_.locator(".tile").first).to_contain_text("off by a factor")
        self.shoot(round_, "walkround", ".small-graph circle")
        handed = self.page_of(teacher, f"/practicals/{practical.pk}/hand-ins")
        expect(handed.frame_locator("iframe").locator("h1")).to_be_visible()
        self.shoot(handed, "hand-ins", ".mark-facts")
        views: list[tuple[str, Person, Book, str, Callable[[Page], None] | None]] = [
            ("ask", iris, sanderling, ".katex", None),
            ("read", mira, dunlin, "table.ruled", lambda page: page.locator('input[data-at="4:2"]').focus()),
            ("average", iris, sanderling, ".katex", None),
            ("look", iris, sanderling, ".graph svg", None),
            ("straighten", iris, sanderling, ".straighten-plot .graph svg", None),
            ("fit", iris, sanderling, ".katex", None),
            ("find", iris, sanderling, ".katex", None),
            ("report", iris, sanderling, ".paper-drawing svg", None),
        ]
        for stage, person, book, wait, prepare in views:
            page = self.open_book(person, stage, book)
            expect(page.locator(wait).first).to_be_visible()
            if prepare:
                prepare(page)
            self.shoot(page, stage, wait)
        ada = Person.objects.get(shown_name="Ada Wren")
        own = self.page_of(ada)
        own.get_by_role("button", name="New lab book").click()
        paste(own, own.get_by_label("First heading: what you set"), TYPED)
        expect(own.get_by_label("distance, setting 6, in m")).to_have_value("1.82")
        self.shoot(own, "own", "table.ruled")
        own.goto(self.live_server_url)
        own.get_by_role("button", name="Practise at an apparatus").click()
        own.get_by_role("menuitem", name="Iron in tea").click()
        expect(own.locator(".rig-bench[aria-busy=false]")).to_be_visible()
        own.keyboard.press("Alt+b")
        for key in "wesgggm":
            own.keyboard.press(key)
            expect(own.locator(".rig-bench[aria-busy=false]")).to_have_count(1)
        self.shoot(own, "rig", ".burette-liquid")
        page = self.open_book(mira, "read", dunlin)
        page.get_by_role("button", name="Bring in").click()
        page.get_by_label("or paste a table").fill(FROM_ELSEWHERE)
        page.get_by_role("button", name="Look it over").click()
        self.shoot(page, "bring-in", ".bring-columns")
        plan = Book.objects.get(plan=practical.version.plan)
        page = self.page_of(teacher, f"/books/{plan.pk}/average")
        page.get_by_role("button", name="Fill it").click()
        self.shoot(page, "plan", ".average-table")
        page.get_by_role("button", name="Try it dry").click()
        page.get_by_role("button", name="What would make it better?").click()
        expect(page.locator(".dry-answer table")).to_be_visible(timeout=60_000)
        self.shoot(page, "dry-run", ".dry-value")
        page = self.open_book(iris, "find", sanderling)
        page.locator(".find-statement button").click()
        self.shoot(page, "working", ".working .katex")
