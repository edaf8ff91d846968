"""A plan in the browser: written from an empty page, tried dry, given out, worked in by a bench, put right while it runs."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from hobrel.labbooks.models import Book
from hobrel.plans.models import Practical
from tests.browser.base import cell, in_the_long_run, saved
from tests.browser.planning import PlanTest


class Plans(PlanTest):
    def begin(self) -> Page:
        """A plan of a hanging bob, as far as its table and the relation."""
        question, prompt = "How does the time of a swing depend on the length?", "Longer or shorter: which is slower?"
        page = self.begin_plan("The hanging bob", question, "T = 2 pi sqrt(l/g)", prompt)
        page.get_by_label("after the bench has written what it expects").check()
        self.head_table(page, "length l / m", "time of ten swings t_10 / s")
        page.get_by_role("button", name="Quantities").click()
        self.read_from(page, "length", "ruler", "0.001")
        page.get_by_role("button", name="Close").click()
        # what is still to be said leads to where it is written
        note = page.locator(".plan-note", has_text="time of ten swings")
        note.get_by_role("link").click()
        page.get_by_role("button", name="Leave it").click()
        expect(page.get_by_label("called")).to_have_count(0)
        # and the same link once more, as often as it is asked for
        note.get_by_role("link").click()
        expect(page.get_by_label("called")).to_have_value("time of ten swings")
        page.get_by_label("read from").fill("stopwatch")
        page.get_by_label("smallest division").fill("0.01")
        page.get_by_label("smallest division").press("Enter")
        expect(note).to_have_count(0)
        self.derive(page, "period", "T", "t_10/10")
        page.get_by_role("button", name="Add a quantity").click()
        page.get_by_text("derived by a formula").click()
        page.get_by_label("symbol").fill("v")
        page.get_by_role("textbox", name="formula").fill("l + T")
        expect(page.get_by_role("dialog")).to_contain_text("s cannot be added to m")
        page.get_by_role("button", name="Close").click()
        # and once left it stays left
        page.reload()
        expect(page.get_by_role("dialog")).to_have_count(0)
        self.write(page, "How many settings of length", "8-10")
        expect(page.get_by_role("alert")).to_have_text("A whole number up to 200 belongs here.")
        expect(page.get_by_label("How many settings of length")).to_have_value("8-10")
        self.set_range(page, "length", "0.20", "0.90", 8)
        expect(page.get_by_role("alert")).to_have_count(0)
        saved(page)
        return page

    def test_written_from_an_empty_page_tried_dry_and_given_to_a_bench(self) -> None:
        page = self.begin()
        self.check_access(page)
        self.station(page, "Fit")
        offer = page.get_by_role("region", name="What the relation offers").get_by_role("button", name="Take it").first
        offer.click()
        saved(page)
        # the one that was taken is looked at
        expect(page.locator(".choice-words")).to_contain_text("T² against l")
        page.get_by_role("button", name="Try it dry").click()
        dry = page.get_by_role("dialog")
        # nobody has said what g is believed to be
        expect(dry.get_by_role("alert")).to_contain_text("Say what g is, with its unit")
        self.write(page, "What g truly is", "9.81 m/s^2")
        expect(dry.locator(".dry-value")).to_contain_text("9.8")
        expect(dry).to_contain_text("of 100 benches would be told that it differs from what it truly is")
        self.check_access(page)
        page.get_by_role("button", name="Close").click()
        page.get_by_role("button", name="Fill it").click()
        # the trial readings make a line, and no bench gets them
        expect(page.locator(".fit-graph svg")).to_be_visible()
        page.get_by_text("benches see it", exact=True).click()
        expect(page.get_by_text("Nothing is kept here", exact=False)).to_be_visible()
        page.get_by_text("I write it").click()
        self.give_out(page)

        student = self.open_practical(self.school.students[0], "The hanging bob")
        student.get_by_role("link", name="Ask,").click()
        expect(student.get_by_text("The relation is shown when you have written what you expect.")).to_be_visible()
        expect(student.locator(".margin-prompt")).to_have_text("Longer or shorter: which is slower?")
        student.get_by_role("textbox", name="What do you expect?").fill("Longer is slower.")
        student.get_by_role("textbox", name="What do you expect?").press("Tab")
        expect(student.get_by_text("The relation to be tried:")).to_be_visible()
        student.get_by_role("link", name="Read,").click()
        expect(cell(student, 0, 0)).to_have_value("")
        self.check_access(student)

    def test_a_practical_is_amended_and_that_is_taken_back(self) -> None:
        plan = Book.objects.get(plan=self.school.practical.version.plan)
        page = self.page_of(self.school.teacher, f"/books/{plan.pk}/read")
        self.write(page, "Prompt, in the benches’ margin", "Read at eye level.")
        saved(page)
        page.goto(f"{self.live_server_url}/classes/{self.school.school_class.pk}")
        page.get_by_role("button", name="Its plan has changed").click()
        sheet = page.get_by_role("dialog")
        expect(sheet).to_contain_text("the prompt at Read")
        expect(sheet.get_by_role("row")).to_have_count(2)
        self.check_access(page)
        student = self.open_book(self.school.students[0], "read")
        sheet.get_by_role("button", name="Amend it").click()
        expect(student.locator(".margin-prompt")).to_have_text("Read at eye level.")
        page.get_by_role("button", name="Take the amendment back").click()
        expect(student.locator(".margin-prompt")).not_to_have_text("Read at eye level.")
        expect(page.get_by_role("button", name="Its plan has changed")).to_be_visible()

    @in_the_long_run
    def test_stations_open_one_after_the_other_and_readings_close(self) -> None:
        page = self.page_of(self.school.teacher, f"/classes/{self.school.school_class.pk}")
        student = self.open_book(self.school.students[0], "fit")
        page.get_by_role("button", name="Dates and stations").click()
        page.get_by_role("combobox", name="Stations open up to").click()
        page.get_by_title("Read", exact=True).click()
        page.get_by_role("button", name="Set it so").click()
        expect(student.get_by_role("heading", name="Not open yet")).to_be_visible()
        expect(student.get_by_text("Fit opens when your teacher says so.")).to_be_visible()
        self.check_access(student)
        Practical.objects.filter(pk=self.school.practical.pk).update(open_to="", readings_close="2026-01-01T10:00:00Z")
        student.reload()
        student.get_by_role("link", name="Read,").click()
        expect(student.get_by_text("Readings closed on Thursday 1 January", exact=False)).to_be_visible()

    @in_the_long_run
    def test_a_plan_on_a_small_screen(self) -> None:
        plan = Book.objects.get(plan=self.school.practical.version.plan)
        page = self.page_of(self.school.teacher, f"/books/{plan.pk}/find", size={"width": 390, "height": 800})
        expect(page.get_by_role("heading", name="The plan says at Find")).to_be_visible()
        self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 390)
        page.get_by_label("after the bench has stated its own").check()
        saved(page)
        page.get_by_role("button", name="Try it dry").click()
        expect(page.locator(".dry-value")).to_be_visible()
        self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 390)
        page.set_viewport_size({"width": 360, "height": 800})
        page.goto(f"{self.live_server_url}/books/{plan.pk}/read")
        page.get_by_role("button", name="Quantities").click()
        remove = page.get_by_role("row", name="time of ten swings").get_by_role("button", name="Remove")
        expect(remove).to_be_visible()
        box = remove.bounding_box()
        assert box is not None
        self.assertLessEqual(box["x"] + box["width"], 360, "what can be done with a quantity lies within the page")

    @in_the_long_run
    def test_all_of_a_sentence_is_seen_and_stays_one_line(self) -> None:
        plan = Book.objects.get(plan=self.school.practical.version.plan)
        page = self.page_of(self.school.teacher, f"/books/{plan.pk}/read", size={"width": 390, "height": 800})
        page.get_by_role("button", name="Add a step").click()
        step = page.get_by_role("textbox", name="Step 1")
        expect(step).to_be_focused()
        page.keyboard.insert_text("Set the strip\n by its mark and let it come to rest, then count ten swings, beginning with nought.")
        sentence = "Set the strip by its mark and let it come to rest, then count ten swings, beginning with nought."
        expect(step).to_have_value(sentence)
        self.assertTrue(step.evaluate("e => e.scrollHeight <= e.clientHeight && e.clientHeight > 40"), "all of it is in sight")
        page.keyboard.press("Enter")
        expect(step).not_to_be_focused()
        saved(page)
        page.reload()
        expect(step).to_have_value(sentence)

    @in_the_long_run
    def test_ask_says_who_measures_what_is_measured_once(self) -> None:
        plan = Book.objects.get(plan=self.school.practical.version.plan)
        page = self.page_of(self.school.teacher, f"/books/{plan.pk}/read")
        page.get_by_role("group", name="Each bench writes its own value of").get_by_role("checkbox", name="load").check()
        saved(page)
        page.get_by_role("link", name="Ask,").click()
        expect(page.get_by_role("row", name="load")).to_contain_text("you measure it, once")
        expect(page.get_by_role("row", name="width of the strip")).to_contain_text("measured once, given")

    @in_the_long_run
    def test_two_teachers_at_one_plan_write_over_nothing_unseen(self) -> None:
        first = self.begin_plan("The hanging bob", "How long does a swing take?", prompt="Longer or shorter?")
        second = self.page_of(self.school.teacher, f"/{first.url.split('/', 3)[3]}")
        prompts = [page.get_by_label("Prompt, in the benches’ margin") for page in (first, second)]
        expect(prompts[1]).to_have_value("Longer or shorter?")
        prompts[1].fill("Which is slower?")
        prompts[0].fill("Which is faster?")
        prompts[0].press("Tab")
        first.get_by_label("Safety, in a sentence").fill("Stand clear of the bob.")
        first.get_by_label("Safety, in a sentence").press("Tab")
        expect(second.get_by_label("Safety, in a sentence")).to_have_value("Stand clear of the bob.")
        # what the first wrote is on the second's page by now, and was never seen there
        prompts[1].press("Tab")
        expect(prompts[1]).to_have_value("Which is faster?")
        second.get_by_text("1 not kept").click()
        sheet = second.get_by_role("dialog", name="Not kept yet")
        expect(sheet).to_contain_text("Which is slower?")
        expect(sheet).to_contain_text("Somebody else has changed this part of the plan meanwhile.")
        expect(sheet).to_contain_text("There stands now: Which is faster?")
        # theirs of another station stays, whichever is chosen here
        self.station(first, "Fit")
        self.write(first, "Prompt, in the benches’ margin", "Is it straight?")
        expect(first.get_by_role("status").filter(has_text="Saved")).to_be_visible()
        sheet.get_by_role("button", name="Write mine").click()
        expect(prompts[1]).to_have_value("Which is slower?")
        expect(first.get_by_label("Prompt, in the benches’ margin")).to_have_value("Is it straight?")
        self.station(first, "Ask")
        expect(prompts[0]).to_have_value("Which is slower?")
        self.station(first, "Fit")
        expect(first.get_by_label("Prompt, in the benches’ margin")).to_have_value("Is it straight?")
