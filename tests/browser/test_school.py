"""From an empty server to two teachers, in the browser: the first key, a link for a colleague, a password given anew."""

from __future__ import annotations

from typing import Any

from playwright.sync_api import Page, expect

from hobrel.classes.models import Invitation, Person, School
from hobrel.school.invitations import make_key
from hobrel.school.teachers import make_first_key, write_school, write_teacher
from tests.browser.base import BrowserTest, in_the_long_run
from tests.school import PASSWORD

SMALL: Any = {"width": 390, "height": 780}


def type_along(page: Page, *words: str) -> None:
    """Each in its field, by Tab; then Enter."""
    for i, text in enumerate(words):
        page.keyboard.press("Control+A")
        page.keyboard.type(text)
        page.keyboard.press("Tab" if i + 1 < len(words) else "Enter")


class EmptyServer(BrowserTest):
    def setUp(self) -> None:
        self.troubles, self.contexts = [], []

    @in_the_long_run
    def test_the_first_teacher_makes_the_school_and_lets_a_colleague_in(self) -> None:
        key = make_first_key()
        page = self.page_of(None, f"/begin#{key}", SMALL)
        school = page.get_by_label("The school", exact=True)
        expect(school).to_be_focused()
        self.assertNotIn("#", page.url)
        self.check_access(page)
        # a reload in between does not cost the key
        page.reload()
        expect(school).to_be_focused()
        type_along(page, "Tidewater College", "Ms Thorsby", "two words", "short")
        expect(page.get_by_role("alert")).to_contain_text("letters, digits")
        page.get_by_label("A name to sign in with").fill("thorsby")
        page.keyboard.press("Enter")
        expect(page.get_by_text("too short")).to_be_visible()
        page.get_by_label("A password").fill(PASSWORD)
        page.keyboard.press("Enter")
        page.get_by_role("link", name="School", exact=True).click()
        expect(page.get_by_role("heading", name="Tidewater College")).to_be_visible()
        self.assertEqual(School.objects.get().name, "Tidewater College")
        page.get_by_role("button", name="Invite a colleague").click()
        line = page.get_by_label("The link for one colleague")
        expect(line).to_be_focused()
        link = line.input_value()
        self.check_access(page)

        colleague = self.page_of(None, link.removeprefix(self.live_server_url))
        expect(colleague.get_by_text("Ms Thorsby invites you to Tidewater College.")).to_be_visible()
        expect(colleague.get_by_label("Your name, as students know it")).to_be_focused()
        type_along(colleague, "Mr Gale", "gale", "storm-at-midnight")
        expect(colleague.get_by_text("Mr Gale")).to_be_visible()
        self.assertFalse(Person.objects.get(username="gale").is_head)
        again = self.page_of(None, link.removeprefix(self.live_server_url))
        expect(again.get_by_text("This link has been used.", exact=False)).to_be_visible()
        again.get_by_role("button", name="To the first page").click()
        expect(again.get_by_role("heading", name="Student", exact=True)).to_be_visible()

    @in_the_long_run
    def test_a_wrong_key_is_said_at_its_field_and_what_was_typed_stays(self) -> None:
        key = make_first_key()
        page = self.page_of(None, "/")
        expect(page.get_by_label("The key that the server has printed")).to_be_focused()
        type_along(page, "AAAA-BBBB-CCCC-DDDD-EEEE", "Tidewater College", "Ms Thorsby", "thorsby", PASSWORD)
        expect(page.get_by_text("This key opens nothing.", exact=False)).to_be_visible()
        page.get_by_label("The key that the server has printed").fill(str(key))
        page.keyboard.press("Enter")
        expect(page.get_by_text("Ms Thorsby")).to_be_visible()

    @in_the_long_run
    def test_a_head_gives_a_password_anew_and_calls_a_link_back(self) -> None:
        write_school("Tidewater", "UTC")
        head = write_teacher(shown_name="Head", name="head", password=PASSWORD, is_head=True)
        plain = write_teacher(shown_name="Plain", name="plain", password=PASSWORD, is_head=False)
        make_key(Invitation.Kind.COLLEAGUE, plain)
        page, of_plain = self.page_of(head, "/school"), self.page_of(plain, "/school")
        expect(of_plain.get_by_role("button", name="Call back")).to_be_visible()
        expect(of_plain.get_by_role("button", name="Invite a head of department")).to_have_count(0)
        page.get_by_role("button", name="A link for Plain to choose another password").click()
        link = page.get_by_label("The link for Plain, to choose another password").input_value()
        expect(page.get_by_role("button", name="Call back")).to_have_count(2)
        page.get_by_role("listitem").filter(has_text="A colleague").get_by_role("button").click()
        expect(page.get_by_role("button", name="Call back")).to_have_count(1)

        forgot = self.page_of(None, link.removeprefix(self.live_server_url))
        expect(forgot.get_by_text("You sign in as plain.")).to_be_visible()
        type_along(forgot, "calm-at-sunrise")
        expect(forgot.get_by_text("My classes")).to_be_visible()
        of_plain.reload()
        expect(of_plain.get_by_role("heading", name="Teacher", exact=True)).to_be_visible()

        page.get_by_label("The school", exact=True).fill("Tidewater School")
        page.get_by_label("time zone", exact=False).fill("Europe/Atlantis")
        page.keyboard.press("Enter")
        expect(page.get_by_text("There is no time zone of this name.", exact=False)).to_be_visible()
        page.get_by_label("time zone", exact=False).fill("Europe/Lisbon")
        page.keyboard.press("Enter")
        expect(page.get_by_role("heading", name="Tidewater School")).to_be_visible()
        page.get_by_text("Letter", exact=True).click()
        page.get_by_role("button", name="Keep").click()
        expect(page.get_by_role("button", name="Keep")).to_be_disabled()
        page.reload()
        expect(page.get_by_role("radio", name="Letter")).to_be_checked()
