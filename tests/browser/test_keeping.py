"""What is typed is never thrown away, and never said to be saved when it is not: failures, clashes, people, tabs, plain http."""

from __future__ import annotations

import json
import re
from collections.abc import Callable
from typing import Any
from unittest.mock import patch

from django.test import override_settings
from playwright.sync_api import Page, Route, expect

from hobrel.computing.messages import Worked
from hobrel.core.errors import CoreError
from hobrel.labbooks import computed
from hobrel.labbooks.models import Book, EditRecord
from hobrel.labbooks.summaries import Noted, write_summaries
from tests.browser.base import BrowserTest, cell, in_the_long_run, saved
from tests.browser.chromium import SIZE, launch
from tests.school import client_of, fill

EDITS = "**/edits*"


def answering(status: int, body: dict[str, Any] | None, headers: dict[str, str] | None = None) -> Any:
    """A server that answers every edit so; without a body as a proxy or a framework does, with a page."""

    def answer(route: Route) -> None:
        kind = "application/problem+json" if body else "text/html"
        text = json.dumps({"status": status, **body}) if body else "<h1>No</h1>"
        route.fulfill(status=status, content_type=kind, body=text, headers=headers or {})

    return answer


def says(page: Page, words: str) -> None:
    expect(page.locator(".saved")).to_have_text(words)


class Keeping(BrowserTest):
    def setUp(self) -> None:
        super().setUp()
        fill(self.school.book, 3)
        self.before = self.texts("t10")

    def type_first(self, page: Page, text: str) -> None:
        cell(page, 0, 1).fill(text)
        page.keyboard.press("Enter")

    @in_the_long_run
    def test_a_server_that_fails_for_a_while_gets_it_later(self) -> None:
        page = self.open_book(self.school.students[0])
        soon = {"Retry-After": "1"}
        failures: list[tuple[int, dict[str, Any] | None]] = [
            (500, None),
            (502, None),
            (503, {"code": "busy", "detail": "Busy."}),
            (429, {"code": "slow", "detail": "Slowly."}),
            (401, {"code": "signed_out"}),
        ]
        for i, (status, body) in enumerate(failures):
            with self.subTest(status):
                answer = answering(status, body, soon)
                page.route(EDITS, answer)
                self.type_first(page, f"2.0{i}")
                expect(page.locator(".saved")).to_contain_text("1 change waiting")
                expect(cell(page, 0, 1)).to_have_value(f"2.0{i}")
                page.unroute(EDITS, answer)
                page.evaluate("window.dispatchEvent(new Event('online'))")
                saved(page)
                self.assertEqual(self.texts("t10")[0][0], f"2.0{i}")
        self.assertEqual(EditRecord.objects.count(), 5, "each was made once")

    @in_the_long_run
    def test_a_token_that_has_changed_is_fetched_anew(self) -> None:
        page = self.open_book(self.school.students[0])
        tries: list[str] = []

        def once(route: Route) -> None:
            tries.append(route.request.url)
            if len(tries) == 1:
                answering(403, None)(route)
            else:
                route.continue_()

        page.route(EDITS, once)
        self.type_first(page, "2.01")
        saved(page)
        self.assertEqual((len(tries), self.texts("t10")[0][0]), (2, "2.01"))

    def test_what_is_refused_stays_in_its_cell_while_the_rest_goes_on(self) -> None:
        page = self.open_book(self.school.students[0])
        for status, body, said in (
            (422, {"code": "bad_text", "detail": "This text cannot be kept."}, "This text cannot be kept."),
            (413, None, "This is more than can be kept at once."),
        ):
            with self.subTest(status):
                answer = answering(status, body)
                page.route(EDITS, answer)
                self.type_first(page, "77.7")
                says(page, "1 not kept: look")
                page.unroute(EDITS, answer)
                cell(page, 1, 1).fill("3.33")
                page.keyboard.press("Enter")
                expect(page.locator(".saved")).not_to_contain_text("waiting")
                self.assertEqual(self.texts("t10")[0][0], self.before[0][0])
                expect(cell(page, 0, 1)).to_have_value("77.7")
                expect(page.locator("td.reading.trouble")).to_have_attribute("title", re.compile(f"^Not kept: {said}"))
                with self.subTest("and through a reload"):
                    page.reload()
                    expect(cell(page, 0, 1)).to_have_value("77.7")
                    says(page, "1 not kept: look")
                page.locator(".saved").click()
                sheet = page.get_by_role("dialog", name="Not kept yet")
                expect(sheet).to_contain_text("77.7")
                expect(sheet).to_contain_text(said)
                sheet.get_by_role("button", name="Leave it").click()
                expect(sheet).to_contain_text("Everything you wrote is kept.")
                expect(cell(page, 0, 1)).to_have_value(str(self.before[0][0]))
                sheet.get_by_role("button", name="Close").click()
                saved(page)

    @in_the_long_run
    def test_a_refused_one_can_be_tried_again(self) -> None:
        page = self.open_book(self.school.students[0])
        answer = answering(403, {"code": "closed", "detail": "The lesson is over."})
        page.route(EDITS, answer)
        self.type_first(page, "2.01")
        says(page, "1 not kept: look")
        page.unroute(EDITS, answer)
        page.locator(".saved").click()
        page.get_by_role("button", name="Try again").click()
        saved(page)
        self.assertEqual(self.texts("t10")[0][0], "2.01")

    def test_all_clashes_are_shown_one_by_one(self) -> None:
        ann, bo = (self.open_book(p) for p in self.school.students)
        bo.route("**/changes*", lambda route: route.abort())
        for row in (0, 1):
            cell(ann, row, 1).fill(f"2.1{row}")
            ann.keyboard.press("Enter")
        saved(ann)
        bo.context.set_offline(True)
        for row in (0, 1):
            cell(bo, row, 1).fill(f"2.2{row}")
            bo.keyboard.press("Enter")
        bo.context.set_offline(False)
        bo.unroute("**/changes*")
        for row in (0, 1):
            alert = bo.get_by_role("alert").filter(has_text="meanwhile")
            expect(alert).to_contain_text(f"2.1{row}")
            expect(alert).to_contain_text(f"2.2{row}")
            alert.get_by_role("button", name=f"Write 2.2{row}" if row == 0 else f"Keep 2.1{row}").click()
        saved(bo)
        self.assertEqual([r[0] for r in self.texts("t10")[:2]], ["2.20", "2.11"])

    def test_signing_out_with_something_waiting_asks_and_the_next_person_does_not_send_it(self) -> None:
        page = self.open_book(self.school.students[0])
        page.route(EDITS, lambda route: route.abort())
        self.type_first(page, "2.01")
        says(page, "1 change waiting")
        page.get_by_role("button", name="Sign out").click()
        question = page.locator(".ant-popconfirm")
        expect(question).to_contain_text("One change is not kept by the server yet.")
        question.get_by_role("button", name="Sign out").click()
        expect(page.get_by_text("class code", exact=False).first).to_be_visible()
        page.unroute(EDITS)
        self.sign_in(page, 1)
        expect(cell(page, 0, 1)).to_have_value(str(self.before[0][0]))
        saved(page)
        self.assertEqual(EditRecord.objects.count(), 0)
        with self.subTest("who wrote it signs in again at that computer, and it goes"):
            self.sign_in(page, 0)
            expect(cell(page, 0, 1)).to_have_value("2.01")
            saved(page)
            self.assertEqual(EditRecord.objects.get().author, self.school.students[0])

    def sign_in(self, page: Page, who: int) -> None:
        """Somebody else comes to this computer."""
        cookie = client_of(self.school.students[who]).cookies["sessionid"].value
        page.context.add_cookies([{"name": "sessionid", "value": cookie, "url": self.live_server_url}])
        page.goto(self.live_server_url + f"/books/{self.school.book.pk}/read")
        expect(page.locator("main h1").first).to_be_visible()

    def test_a_page_that_is_left_at_once_has_kept_what_was_typed(self) -> None:
        page = self.open_book(self.school.students[0])
        for i in range(4):
            self.type_first(page, f"2.0{i}")
            page.goto(self.live_server_url + f"/books/{self.school.book.pk}/look")
            page.goto(self.live_server_url + f"/books/{self.school.book.pk}/read")
            expect(cell(page, 0, 1)).to_have_value(f"2.0{i}")
            saved(page)
            self.assertEqual(self.texts("t10")[0][0], f"2.0{i}")

    @in_the_long_run
    def test_what_is_being_typed_is_kept_however_its_page_is_left(self) -> None:
        fill(self.school.book)
        page = self.open_book(self.school.students[0], "read")
        ways: dict[str, Callable[[], object]] = {
            "the key of another station": lambda: page.keyboard.press("Alt+3"),
            "back": page.go_back,
            "a reload": page.reload,
            # a finger does not take the focus along as a mouse does
            "a finger on a link": lambda: page.get_by_role("link", name=re.compile("^Fit,")).dispatch_event("click"),
        }
        for i, (way, leave) in enumerate(ways.items()):
            with self.subTest(way):
                page.keyboard.press("Alt+2")
                expect(cell(page, 0, 1)).to_be_visible()
                page.keyboard.press("Alt+1")
                expectation = page.get_by_role("textbox", name="What do you expect?")
                expectation.focus()
                page.keyboard.type(f"{i}")
                with page.expect_response(EDITS):
                    leave()
                written = Book.objects.get(pk=self.school.book.pk).document["texts"]["expectation"]
                self.assertEqual(sorted(written), [str(n) for n in range(i + 1)])
                # and the reading in a cell
                page.goto(f"{self.live_server_url}/books/{self.school.book.pk}/ask")
                expect(expectation).to_be_visible()
                page.keyboard.press("Alt+2")
                cell(page, i, 1).focus()
                page.keyboard.type(f"{i}.71")
                with page.expect_response(EDITS):
                    leave()
                self.assertEqual(self.texts("t10")[i][0], f"{i}.71")

    @in_the_long_run
    def test_what_is_being_typed_in_a_sheet_is_kept_when_it_is_closed(self) -> None:
        page = self.page_of(self.school.teacher, "/")
        page.get_by_role("button", name="New plan").click()
        expect(page.get_by_role("heading", name="The plan says at Ask")).to_be_visible()
        for i, leave in enumerate(
            (lambda: page.keyboard.press("Escape"), lambda: page.get_by_role("button", name="Close").dispatch_event("click"))
        ):
            page.get_by_role("button", name="Try it dry").click()
            page.get_by_label("Another value, as symbol = value unit").focus()
            page.keyboard.type(f"q_{i} = {i}.5 mV")
            with page.expect_response(EDITS):
                leave()
            expect(page.get_by_role("dialog")).to_have_count(0)
        plan = Book.objects.latest("pk")
        self.assertEqual(plan.document["plan"]["dry"]["truths"], {"q_0": "0.5 mV", "q_1": "1.5 mV"})

    @in_the_long_run
    def test_a_device_without_room_is_said_and_what_is_typed_is_sent_all_the_same(self) -> None:
        page = self.page_of(self.school.students[0], "/")
        page.add_init_script(
            "IDBObjectStore.prototype.add = IDBObjectStore.prototype.put = () => { throw new DOMException('full', 'QuotaExceededError'); }"
        )
        refuse = answering(503, {"code": "unavailable", "detail": "Not now."}, {"Retry-After": "1"})
        page.route(EDITS, refuse)
        page.goto(f"{self.live_server_url}/books/{self.school.book.pk}/read")
        self.type_first(page, "2.01")
        expect(page.get_by_role("status").filter(has_text="keep this page open")).to_be_visible()
        page.unroute(EDITS, refuse)
        saved(page)
        self.assertEqual(self.texts("t10")[0][0], "2.01")

    @in_the_long_run
    def test_two_tabs_share_what_waits_and_send_it_once(self) -> None:
        one = self.open_book(self.school.students[0])
        two = one.context.new_page()
        two.goto(one.url)
        expect(cell(two, 0, 1)).to_have_value(str(self.before[0][0]))
        one.context.set_offline(True)
        self.type_first(one, "2.01")
        cell(two, 1, 1).fill("2.02")
        two.keyboard.press("Enter")
        for page in (one, two):
            says(page, "2 changes waiting")
            expect(cell(page, 0, 1)).to_have_value("2.01")
        one.close()
        two.context.set_offline(False)
        saved(two)
        self.assertEqual([r[0] for r in self.texts("t10")[:2]], ["2.01", "2.02"])
        self.assertEqual(EditRecord.objects.count(), 2)

    def test_while_nothing_can_be_worked_out_readings_are_kept_and_numbers_come_by_themselves(self) -> None:
        gone = CoreError("not_worked_out", "This is not worked out yet; your readings are kept.")
        with patch("hobrel.labbooks.computed.ask_book", side_effect=gone):
            page = self.open_book(self.school.students[0])
            expect(page.locator(".not-worked-out")).to_contain_text("your readings are kept")
            self.type_first(page, "2.01")
            saved(page)
            self.assertEqual(self.texts("t10")[0][0], "2.01")
            expect(page.locator("td.ruled-mean:not(.ruled-derived) button")).to_have_count(0)
        expect(page.locator("td.ruled-mean:not(.ruled-derived) button")).to_have_count(3)
        expect(page.locator(".not-worked-out")).to_have_count(0)

    @in_the_long_run
    def test_an_edit_whose_analysis_is_ended_can_be_taken_back_from_the_page(self) -> None:
        asked = computed.ask_book

        def ends(about: Any, supply: Any, *rest: Any, **more: Any) -> Any:
            if '"text": "300"' in json.dumps(supply(f"book:{about.stamp}")):
                raise CoreError("ended", "This took so long that it was ended. Look for a mistyped number.")
            return asked(about, supply, *rest, **more)

        with patch("hobrel.labbooks.computed.ask_book", ends), patch("hobrel.labbooks.summaries.note_book"):
            page = self.open_book(self.school.students[0])
            cell(page, 0, 0).fill("300")
            page.keyboard.press("Enter")
            notice = page.locator(".not-worked-out")
            expect(notice).to_contain_text("was ended")
            saved(page)
            expect(cell(page, 0, 0)).to_have_value("300")
            expect(page.locator("td.ruled-mean:not(.ruled-derived) button")).to_have_count(0)
            with self.subTest("typing goes on"):
                cell(page, 1, 1).fill("4.44")
                page.keyboard.press("Enter")
                saved(page)
            with self.subTest("the teacher's page has the bench, and says so"):
                book = Book.objects.get(pk=self.school.book.pk)
                write_summaries([Worked(Noted(book.pk, book.stamp), None, CoreError("ended", "This took so long that it was ended."))])
                teacher = self.page_of(self.school.teacher)
                expect(teacher.get_by_text("was ended").first).to_be_visible()
            for _ in range(2):
                notice.get_by_role("button", name="Undo").click()
            expect(notice).to_have_count(0)
            expect(page.locator("td.ruled-mean:not(.ruled-derived) button")).to_have_count(3)


@in_the_long_run
class Renewed(BrowserTest):
    def test_a_page_from_before_draws_nothing_it_cannot_read_and_loses_nothing(self) -> None:
        page = self.open_book(self.school.students[0])
        cell(page, 0, 1).fill("2.00")
        page.keyboard.press("Enter")
        saved(page)

        def of_another_form(route: Route) -> None:
            answer = route.fetch()
            text = answer.text().replace('"text":', '"reading":').replace('"analysis":', '"findings":')
            route.fulfill(response=answer, body=text, headers={**answer.headers, "hobrel-form": "of another time"})

        page.route("**/api/**", of_another_form)
        cell(page, 1, 1).fill("4.44")
        page.keyboard.press("Enter")
        notice = page.get_by_role("alert").filter(has_text="The server has been renewed")
        expect(notice).to_be_visible()
        expect(cell(page, 1, 1)).to_have_value("4.44")
        expect(page.get_by_text("has stopped")).to_have_count(0)
        cell(page, 2, 1).fill("5.55")
        page.keyboard.press("Enter")
        # one that is on its way just now is let go
        page.unroute_all(behavior="ignoreErrors")
        notice.get_by_role("button", name="Load the page anew").click()
        expect(cell(page, 2, 1)).to_have_value("5.55")
        expect(cell(page, 1, 1)).to_have_value("4.44")
        saved(page)
        expect(notice).to_have_count(0)


@in_the_long_run
class Stations(BrowserTest):
    rests = True

    def setUp(self) -> None:
        super().setUp()
        fill(self.school.book, 8)

    def test_a_station_that_has_stopped_leaves_the_others(self) -> None:
        page = self.page_of(self.school.students[0], "/")

        def spoil(route: Route) -> None:
            answer = route.fetch()
            state = answer.json()
            state["analysis"]["fits"] = [None]
            route.fulfill(response=answer, json=state)

        page.route(f"**/api/books/{self.school.book.pk}?*", spoil)
        page.goto(self.live_server_url + f"/books/{self.school.book.pk}/fit")
        expect(page.get_by_role("alert").filter(has_text="Only this station has stopped")).to_be_visible()
        page.get_by_role("link", name="Read", exact=False).first.click()
        expect(cell(page, 0, 1)).to_be_visible()
        cell(page, 0, 1).fill("2.01")
        page.keyboard.press("Enter")
        saved(page)

    def test_a_station_opens_without_a_network_once_the_page_has_rested(self) -> None:
        page = self.page_of(self.school.students[0])
        with page.expect_response(lambda answer: "/assets/Report-" in answer.url):
            page.goto(self.live_server_url + f"/books/{self.school.book.pk}/read")
        expect(page.locator("main h1").first).to_be_visible()
        page.context.set_offline(True)
        page.keyboard.press("Alt+4")
        expect(page.locator("main svg").first).to_be_visible()

    def test_one_that_could_not_be_loaded_says_so_and_comes_back_by_itself(self) -> None:
        context = self.page_of(self.school.students[0]).context
        page = context.new_page()
        page.route("**/assets/Fit-*.js", lambda route: route.abort())
        page.goto(self.live_server_url + f"/books/{self.school.book.pk}/fit")
        expect(page.get_by_role("heading", name="Fit is not here yet")).to_be_visible()
        page.unroute("**/assets/Fit-*.js")
        expect(page.locator("main h1").filter(has_text="Fit is not here yet")).to_have_count(0)
        expect(page.locator("main svg").first).to_be_visible()


@override_settings(ALLOWED_HOSTS=["*"])
@in_the_long_run
class PlainHttp(BrowserTest):
    """A school's own network: a host name without a certificate, where browsers hold much of themselves back."""

    def test_readings_are_typed_kept_and_sent_over_plain_http(self) -> None:
        fill(self.school.book, 3)
        rules = "--host-resolver-rules=MAP hobrel.example 127.0.0.1"
        browser = launch(self.playwright, rules)
        try:
            context = browser.new_context(viewport=SIZE)
            address = self.live_server_url.replace("localhost", "hobrel.example").replace("127.0.0.1", "hobrel.example")
            cookie = client_of(self.school.students[0]).cookies["sessionid"].value
            context.add_cookies([{"name": "sessionid", "value": cookie, "url": address}])
            page = context.new_page()
            page.on("pageerror", lambda error: self.troubles.append(str(error)))
            page.goto(f"{address}/books/{self.school.book.pk}/read")
            self.assertFalse(page.evaluate("window.isSecureContext"))
            self.assertEqual(page.evaluate("[typeof crypto.randomUUID, typeof navigator.locks]"), ["undefined", "undefined"])
            cell(page, 0, 1).fill("2.01")
            page.keyboard.press("Enter")
            saved(page)
            context.set_offline(True)
            page.keyboard.type("2.02")
            page.keyboard.press("Enter")
            says(page, "1 change waiting")
            context.set_offline(False)
            saved(page)
            self.assertEqual([r[0] for r in self.texts("t10")[:2]], ["2.01", "2.02"])
            cell(page, 3, 0).fill("0.450")
            page.keyboard.press("Enter")
            saved(page)
            self.assertEqual(len(self.texts("t10")), 4)
        finally:
            browser.close()
