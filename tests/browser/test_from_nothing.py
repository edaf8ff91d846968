"""A server that began empty, carried through in the browser: school, class, benches, students, a colleague, and the end of the class."""

from __future__ import annotations

import re
from concurrent.futures import ThreadPoolExecutor

from django.test import Client
from playwright.sync_api import Page, expect

from hobrel.classes.models import Person, SchoolClass, Seat
from hobrel.labbooks.models import Book
from hobrel.plans.models import Sitting
from hobrel.school.teachers import make_first_key
from tests.browser.base import BrowserTest, paste, saved
from tests.school import PASSWORD, PIN

GIVEN, FAMILY = ("Ada", "Tom", "Mira", "Joss", "Iris", "Obi", "Noor"), ("Wren", "Lind", "Sall", "Quill")
NAMES = [f"{given} {family}" for family in FAMILY for given in GIVEN]
TABLE = "L / m\tT / s\n0.30\t1.10\n0.40\t1.27\n0.50\t1.42"


class FromNothing(BrowserTest):
    def setUp(self) -> None:
        self.troubles, self.contexts = [], []

    def begin(self) -> Page:
        page = self.page_of(None, f"/begin#{make_first_key()}")
        expect(page.get_by_label("The school", exact=True)).to_be_focused()
        for words in ("Tidewater College", "Ms Thorsby", "thorsby", PASSWORD):
            page.keyboard.type(words)
            page.keyboard.press("Tab")
        page.get_by_role("button", name="Make the school").click()
        expect(page.get_by_role("heading", name="There are three things to begin with", exact=False)).to_be_visible()
        return page

    def make_class(self, page: Page) -> str:
        page.get_by_label("What the class is called").fill("Physics 11B")
        page.keyboard.press("Enter")
        paste(page, page.get_by_label("The class list, a name a line"), "\n".join(NAMES))
        page.get_by_role("button", name="Keep the list").click()
        page.get_by_role("button", name="Deal benches").click()
        page.get_by_role("button", name="Deal", exact=True).click()
        page.get_by_role("button", name="Keep these benches").click()
        expect(page.locator(".bench-cards > li")).to_have_count(14)
        return page.locator(".join-code b").inner_text()

    def give_out(self, page: Page) -> None:
        page.goto(self.live_server_url)
        page.get_by_role("button", name="New lab book").click()
        paste(page, page.get_by_label("First heading: what you set"), TABLE)
        expect(page.get_by_label("period, setting 3, in s")).to_have_value("1.42")
        page.get_by_role("link", name="Ask").click()
        page.get_by_label("Title").fill("The swinging bob")
        page.get_by_role("button", name="Make a plan of it").click()
        expect(page.get_by_role("heading", name="The plan says at Ask")).to_be_visible()
        page.goto(f"{self.live_server_url}/classes/{SchoolClass.objects.get().pk}")
        page.get_by_role("combobox", name="Plan to give out").click()
        page.get_by_title("The swinging bob").click()
        page.get_by_role("button", name="Give it out").click()
        expect(page.locator(".practical-lines li")).to_have_count(1)

    def come_in(self, code: str) -> None:
        """All 28 at once, each choosing a PIN."""

        def come(key: int) -> int:
            body = {"code": code, "seat": key, "pin": PIN}
            return int(Client().post("/api/sign-in/student", body, content_type="application/json").status_code)

        with ThreadPoolExecutor(28) as pool:
            answers = list(pool.map(come, Seat.objects.values_list("pk", flat=True)))
        self.assertEqual(answers, [200] * 28)
        self.assertEqual(Person.objects.filter(role=Person.Role.STUDENT).count(), 28)

    def test_a_class_of_28_from_an_empty_server_to_its_end(self) -> None:
        page = self.begin()
        code = self.make_class(page)
        self.give_out(page)
        self.come_in(code)
        ada = Person.objects.get(shown_name="Ada Wren")
        student = self.page_of(ada)
        student.get_by_role("link", name="Open the lab book").click()
        student.get_by_role("link", name=re.compile("^Read,")).click()
        student.get_by_label("length, setting 1, in m").fill("0.30")
        student.keyboard.press("Enter")
        saved(student)
        book = Book.objects.get(practical__title="The swinging bob", bench=ada.seats.get().bench)
        self.assertEqual(book.document["runs"][0]["settings"][0]["readings"].popitem()[1][0]["text"], "0.30")

        # moved in the running practical: the new bench's lab book is written in, the old one can be read
        other = "Bench 1" if book.bench.name != "Bench 1" else "Bench 2"
        there = page.locator(".bench-cards > li").filter(has=page.get_by_role("heading", name=other, exact=True))
        # all benches in sight: a page that has to be scrolled for it lets go of what is held
        page.evaluate("scrollTo(0, 150)")
        page.locator(".bench-cards").get_by_text("Ada Wren", exact=True).drag_to(there)
        expect(there).to_contain_text("Ada Wren")
        student.goto(self.live_server_url)
        expect(student.get_by_text(re.compile(rf"Before, you sat at {book.bench.name}"))).to_be_visible()
        self.assertEqual(Sitting.objects.filter(seat__name="Ada Wren").count(), 2)

        # a colleague is invited, comes in, and teaches it too
        page.get_by_role("link", name="School").click()
        page.get_by_role("button", name="Invite a colleague").click()
        link = page.locator(".one-time input").input_value()
        colleague = self.page_of(None, "/invitation" + link.partition("/invitation")[2])
        colleague.get_by_label("Your name", exact=False).first.fill("Mr Aldane")
        colleague.get_by_label("sign in", exact=False).first.fill("aldane")
        colleague.locator("input[type=password]").fill(PASSWORD)
        colleague.keyboard.press("Enter")
        expect(colleague.get_by_role("heading", name="There are three things to begin with", exact=False)).to_be_visible()
        page.goto(f"{self.live_server_url}/classes/{SchoolClass.objects.get().pk}")
        page.get_by_role("combobox", name="A colleague who teaches it too").click()
        page.get_by_title("Mr Aldane").click()
        colleague.reload()
        expect(colleague.get_by_role("heading", name="Physics 11B")).to_be_visible()

        # and it ends: by its name, and with it everybody who was in no other
        page.get_by_role("button", name="Erase this class…").click()
        page.get_by_label("To erase it, type Physics 11B").fill("Physics 11B")
        page.keyboard.press("Enter")
        expect(page.get_by_role("heading", name="There are three things to begin with", exact=False)).to_be_visible()
        self.assertEqual(set(Person.objects.values_list("shown_name", flat=True)), {"Ms Thorsby", "Mr Aldane"})
        student.reload()
        expect(student.get_by_role("heading", name="Student", exact=True)).to_be_visible()
