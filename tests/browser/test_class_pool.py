"""The pool of a class in the browser: conditions beside each other, every setting, and the page that is turned over on the projector."""

from __future__ import annotations

import random
import re
from dataclasses import replace

from playwright.sync_api import expect

from hobrel.classes.models import Bench
from hobrel.core.document.lab_book import write_lab_book
from hobrel.core.document.plan_part import Condition
from hobrel.labbooks.actions import load_document, open_book
from hobrel.reports.actions import hand_in
from hobrel.shelf.clamped_strip import MODULUS, Story, make_plan, write_bench
from tests.browser.base import BrowserTest, in_the_long_run
from tests.school import keep_summaries, make_school

CONDITIONS = (Condition("cold", "cold water", trials=4), Condition("warm", "warm water"))


class ClassPool(BrowserTest):
    def setUp(self) -> None:
        super().setUp()
        self.class_ = make_school("four", "CODE44")
        practical = self.class_.practical
        version = practical.version
        version.document["plan"]["conditions"] = [{"id": c.id, "name": c.name, "words": "", "trials": c.trials} for c in CONDITIONS]
        version.save()
        more = [Bench.objects.create(school_class=self.class_.school_class, name=name) for name in ("Avocet", "Dunlin")]
        self.books = [self.class_.book, self.class_.other_book, *(open_book(practical, bench) for bench in more)]
        for i, book in enumerate(self.books):
            stories = [Story((0.3, 0.4, 0.5, 0.6), modulus=MODULUS * stiff) for stiff in (1.0, 0.8)]
            written = [write_bench(make_plan(), story, random.Random(10 * i + k)) for k, story in enumerate(stories)]
            runs = tuple(replace(b.runs[0], id=f"r-{c.id}", name=c.name, condition=c.id) for b, c in zip(written, CONDITIONS, strict=True))
            load_document(book, write_lab_book(replace(written[0], runs=runs, plan=replace(written[0].plan, conditions=CONDITIONS))))
        keep_summaries(practical)
        self.address = f"/practicals/{practical.pk}/pool"

    @in_the_long_run
    def test_conditions_stand_beside_each_other_with_their_pools_and_settings(self) -> None:
        page = self.page_of(self.class_.teacher, self.address)
        beside = page.locator(".beside-conditions")
        expect(beside).to_contain_text("4 of 4 trials")
        expect(beside).to_contain_text("The conditions differ by more than the values of 4 benches that have done all of them scatter")
        expect(page.locator(".pool-quoted")).to_contain_text("cold water")
        page.locator(".pool-conditions").get_by_text("warm water").click()
        expect(page.locator(".pool-quoted")).to_contain_text("warm water")
        # who points at a bench sees where it is in everything
        page.locator(".beside-benches .tag").filter(has_text="Dunlin").first.hover()
        expect(page.locator(".number-line-mark[data-lit]")).to_have_text(re.compile("Dunlin"))
        expect(page.locator(".graph-point[data-lit]")).to_have_count(8)
        page.get_by_text("Every setting, over all benches").click()
        expect(page.locator(".class-settings table")).to_have_count(2)
        expect(page.locator(".class-settings tbody tr").first).to_contain_text("12")
        expect(page.locator(".class-line").first).to_contain_text("Of 16 points of 4 benches")
        self.check_access(page)

    def test_nobody_sees_a_value_before_the_page_is_turned_over(self) -> None:
        page = self.page_of(self.class_.teacher, self.address)
        page.get_by_role("button", name="On the projector").click()
        sheet = page.get_by_role("dialog", name="The pool for everybody")
        expect(sheet).to_contain_text("0 of 4 benches have handed in")
        hand_in(self.books[1], self.class_.other_bench)
        expect(sheet).to_contain_text("1 of 4 benches have handed in")
        said = sheet.inner_text()
        self.assertFalse([name for name in ("Godwit", "Redshank", "Avocet", "Dunlin", "GPa", "±") if name in said], said)
        page.keyboard.press("Enter")
        expect(sheet).to_contain_text("GPa")
        expect(sheet.get_by_role("img").first).to_be_visible()
        self.check_access(page)
        page.keyboard.press("Enter")
        expect(sheet).not_to_contain_text("GPa")
        page.keyboard.press("Escape")
        expect(sheet).to_have_count(0)
        expect(page.locator(".pool-quoted")).to_be_visible()
