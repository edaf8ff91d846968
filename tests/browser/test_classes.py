"""A class from nothing in the browser: named, its list pasted, benches dealt, students in, one moved, one who forgot the PIN."""

from __future__ import annotations

from datetime import timedelta

from playwright.sync_api import Page, expect

from hobrel.classes.models import Seat
from hobrel.classes.queries import local_now
from hobrel.handins.models import Answer
from hobrel.labbooks.plan_books import give_out
from hobrel.plans.models import Practical
from hobrel.reports.models import HandIn
from hobrel.school.teachers import write_school, write_teacher
from tests.browser.base import BrowserTest, in_the_long_run, paste
from tests.school import PASSWORD, PIN

NAMES = ["Ada Wren", "Tomas Lind", "Mira Sall", "Joss Aldane", "Peter Quill"]


class ClassFromNothing(BrowserTest):
    def setUp(self) -> None:
        self.troubles, self.contexts = [], []
        write_school("Tidewater", "UTC")
        teacher = write_teacher(shown_name="Ms Thorsby", name="thorsby", password=PASSWORD, is_head=True)
        self.page = self.page_of(teacher)

    def make_class(self, text: str) -> None:
        expect(self.page.get_by_label("What the class is called")).to_be_focused()
        self.check_access(self.page)
        self.page.keyboard.type("Physics 11B")
        self.page.keyboard.press("Enter")
        paste(self.page, self.page.get_by_label("The class list, a name a line"), text)

    def sign_in(self, name: str, pin: str) -> Page:
        page = self.page_of(None)
        page.get_by_label("Class code").fill(self.code())
        page.keyboard.press("Enter")
        page.get_by_text(name, exact=True).click()
        page.get_by_label("PIN", exact=False).fill(pin)
        page.keyboard.press("Enter")
        return page

    def code(self) -> str:
        return self.page.locator(".join-code b").inner_text()

    @in_the_long_run
    def test_from_a_name_to_students_at_benches(self) -> None:
        self.make_class("\n".join(NAMES))
        expect(self.page.get_by_text("5 new names")).to_be_visible()
        self.page.get_by_role("button", name="Keep the list").click()
        expect(self.page.get_by_role("heading", name="At no bench yet")).to_be_visible()
        self.page.get_by_role("button", name="Deal benches").click()
        self.page.get_by_label("by the alphabet").check()
        self.page.get_by_role("button", name="Deal", exact=True).click()
        expect(self.page.get_by_role("list", name="Benches as they would be")).to_contain_text("Bench 2")
        self.assertFalse(Seat.objects.exclude(bench=None).exists())
        self.page.get_by_role("button", name="Keep these benches").click()
        expect(self.page.get_by_role("button", name="Print slips")).to_be_visible()
        first = self.page.locator(".bench-cards > li").first
        expect(first).to_contain_text("Ada Wren")
        self.check_access(self.page)

        ada = self.sign_in("Ada Wren", PIN)
        expect(ada.get_by_role("heading", name="Physics 11B")).to_be_visible()
        expect(ada.get_by_text("No practical has been given out to this class yet.")).to_be_visible()
        expect(first).not_to_contain_text("Ada Wren · no PIN yet")

        self.page.get_by_role("button", name="Close the door").click()
        expect(self.page.get_by_text("Nobody new can choose a PIN now.")).to_be_visible()
        tomas = self.sign_in("Tomas Lind", PIN)
        expect(tomas.get_by_text("Ask your teacher to open its door.", exact=False)).to_be_visible()

        self.page.get_by_role("button", name="For Ada Wren").click()
        self.page.get_by_role("button", name="Forgot the PIN", exact=False).click()
        expect(first).to_contain_text("Ada Wren · no PIN yet")
        ada.reload()
        expect(ada.get_by_role("heading", name="Student", exact=True)).to_be_visible()
        expect(self.sign_in("Ada Wren", "97531").get_by_role("heading", name="Physics 11B")).to_be_visible()

    def test_a_list_with_a_mistake_is_said_and_put_right(self) -> None:
        self.make_class("Ada Wren, Knot\nTomas Lind, Knot\nAda Wren, Plover\n123")
        troubles = self.page.get_by_text("Ada Wren stands in lines 1 and 3.", exact=False)
        expect(troubles).to_be_visible()
        expect(self.page.get_by_text("Line 4 is no name")).to_be_visible()
        expect(self.page.get_by_role("button", name="Keep the list")).to_be_disabled()
        self.page.get_by_label("The class list, a name a line").fill("Ada Wren, Knot\nTomas Lind, Knot\nMira Sall, Plover\nJoss, Plover")
        self.page.get_by_role("button", name="Keep the list").click()
        expect(self.page.locator(".bench-cards > li").first).to_contain_text("KnotAda Wren")

        # another list later: what it would change, and nobody goes unless that is wanted
        self.page.get_by_role("button", name="Paste a list").click()
        paste(
            self.page,
            self.page.get_by_label("The class list, a name a line"),
            "Ada Wren, Plover\nMira Sall\nJoss, Plover\nIris Dune, Plover",
        )
        expect(self.page.get_by_text("1 new name, 2 stay as they are, 1 at another bench, 1 gone.")).to_be_visible()
        self.page.get_by_label("Take the name that is gone off the list", exact=False).check()
        self.page.get_by_role("button", name="Keep the list").click()
        expect(self.page.locator(".bench-cards > li").nth(1)).to_contain_text("Iris Dune")
        expect(self.page.get_by_text("Tomas Lind")).to_have_count(0)

        self.page.get_by_role("button", name="For Joss").click()
        self.page.get_by_role("combobox", name="Bench of Joss").click()
        self.page.get_by_title("Knot", exact=True).click()
        expect(self.page.locator(".bench-cards > li").first).to_contain_text("Joss")
        self.page.get_by_role("button", name="For Joss").click()
        self.page.get_by_label("How Joss is written").fill("Mira Sall")
        self.page.keyboard.press("Enter")
        expect(self.page.get_by_text("This name is on the list already.", exact=False)).to_be_visible()


class AYearLater(BrowserTest):
    """The first page when a class has done more than one practical."""

    @in_the_long_run
    def test_what_is_earlier_is_folded_for_both_and_what_was_given_back_is_not(self) -> None:
        first, today = self.school.practical, local_now().date()
        Practical.objects.filter(pk=first.pk).update(given_out=today - timedelta(days=60))
        later = give_out(first.version.plan, self.school.school_class, today)
        Practical.objects.filter(pk=later.pk).update(title="The second strip")
        teacher = self.page_of(self.school.teacher)
        expect(teacher.get_by_role("heading", name="The second strip")).to_be_visible()
        expect(teacher.get_by_role("heading", name=first.title, exact=True)).to_have_count(0)
        line = teacher.get_by_role("link", name=f"Walkround of {first.title}")
        expect(line).to_be_hidden()
        teacher.get_by_text("Earlier: one practical").press("Enter")
        expect(teacher.get_by_role("link", name=f"0 of 2 handed in: {first.title}")).to_be_visible()
        self.check_access(teacher)
        line.click()
        expect(teacher.get_by_role("heading", name="Walkround")).to_be_visible()
        expect(teacher.get_by_role("banner")).to_contain_text(first.title)

        student = self.page_of(self.school.students[0])
        student.get_by_text("Earlier: one practical").click()
        student.get_by_role("link", name=first.title, exact=True).click()
        expect(student.get_by_role("navigation")).to_contain_text("Report")
        handed = HandIn.objects.create(book=self.school.book, number=1, revision=1, document={}, analysis={}, html="", pdf=b"")
        Answer.objects.create(hand_in=handed, by=self.school.teacher, verdict="returned", words="Say what g you expect.")
        student.goto(self.live_server_url)
        expect(student.get_by_text("given back, to hand in again")).to_be_visible()
        expect(student.get_by_text("Earlier:")).to_have_count(0)
