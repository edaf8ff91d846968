"""Plans made of a lab book of one's own, and practicals given out from them: the tables, the day, closing, taking back."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from django.test import Client

from hobrel.classes.models import Person, Seat
from hobrel.classes.queries import local_now
from hobrel.labbooks.models import Book, EditRecord
from hobrel.plans.actions import bench_document
from hobrel.plans.models import Plan, Practical
from tests.school import client_of, reading, send_edit
from tests.server.test_own_books import OwnBookTest, post, table


class Giving(OwnBookTest):
    """A teacher's own lab book becomes a plan, which a class gets, sees from its day on, and that is closed."""

    def setUp(self) -> None:
        super().setUp()
        self.teacher = client_of(self.school.teacher)
        self.own = self.begin(self.teacher)
        send_edit(self.teacher, self.own, table(["t (s)", "x / m"], [["1", "2"], ["2", "4"], ["3", "6.1"]]))
        self.own.refresh_from_db()

    def describe(self, title: str) -> None:
        was = {"title": self.own.document["title"]}
        send_edit(self.teacher, self.own, {"type": "describe_book", "was": was, "becomes": {"title": title}})
        self.own.refresh_from_db()

    def give(self, days: int = 0) -> Any:
        self.describe("Rolling marbles")
        plan = self.plan()
        day = local_now().date() + timedelta(days=days)
        return post(self.teacher, f"/my-classes/{self.school.school_class.pk}/practicals", {"plan": plan.pk, "day": day.isoformat()})

    def plan(self) -> Plan:
        return Plan.objects.get(book=post(self.teacher, "/plans", {"book": self.own.pk}).json()["id"])

    def seen(self, client: Client | None = None) -> list[str]:
        return [p["title"] for c in (client or self.client_).get("/api/classes").json() for p in c["practicals"] if not p["coming"]]

    def test_a_plan_holds_no_reading_and_gives_what_it_holds(self) -> None:
        body = {"plan": self.plan().pk, "day": local_now().date().isoformat()}
        refused = post(self.teacher, f"/my-classes/{self.school.school_class.pk}/practicals", body)
        self.assertEqual(refused.json()["code"], "no_title")
        begins = bench_document(Practical.objects.get(pk=self.give().json()["id"]))
        self.assertEqual([r["settings"] for r in begins["runs"]], [[]])
        self.assertEqual({q["given"] for q in begins["quantities"]}, {True})
        self.assertFalse(begins["freedoms"]["plan"])
        self.assertEqual(len(begins["fits"]), 1)

    def test_tables_with_other_headings_are_given_as_tables(self) -> None:
        second = {"type": "add_run", "run": "r2", "name": "Cooling", "headings": []}
        for edit in (second, table(["T (°C)", "t (s)"], [["80", "0"]]) | {"run": "r2", "graph": "g2", "fit": "f2"}):
            self.assertEqual(send_edit(self.teacher, self.own, edit).status_code, 200, edit)
        self.own.refresh_from_db()
        cooling = self.own.document["runs"][1]["headings"]
        again = second | {"run": "r3", "name": "Cooling again", "headings": cooling}
        self.assertEqual(send_edit(self.teacher, self.own, again).status_code, 200)
        practical = self.give().json()
        self.seen()
        book = Book.objects.get(practical=practical["id"], bench=self.school.book.bench)
        symbols = {q["symbol"]: q["id"] for q in book.document["quantities"]}
        held = {"run1": [symbols["t"], symbols["x"]], "r2": [symbols["T"], symbols["t"]]}
        self.assertEqual({r["id"]: r["headings"] for r in book.document["runs"]}, held)

        for run, rows, fit, gradient in (
            # by hand, over equal steps: (6.2 - 2.0)/(3 - 1) and (100 - 0)/(60 - 80)
            ("run1", (("1", "2.0"), ("2", "4.0"), ("3", "6.2")), "f1", "2.10 ± "),
            ("r2", (("80", "0"), ("70", "48"), ("60", "100")), "f2", "−5.00 ± "),
        ):
            for i, row in enumerate(rows):
                at = {"run": run, "setting": f"{run}s{i}"}
                typed = (reading(text, quantity=key) for key, text in zip(held[run], row, strict=True))
                for edit in ({"type": "add_setting"}, *typed):
                    book.refresh_from_db()
                    self.assertEqual(send_edit(self.client_, book, edit | at).status_code, 200)
            fits = self.client_.get(f"/api/books/{book.pk}?run={run}").json()["analysis"]["fits"]
            self.assertIn(gradient, next(f["gradient"]["text"] for f in fits if f["fit"] == fit))

        book.refresh_from_db()
        self.assertEqual(send_edit(self.client_, book, again).status_code, 200, "fresh readings are the bench's to take")
        book.refresh_from_db()
        refused = send_edit(self.client_, book, again | {"run": "r4", "name": "Mine", "headings": cooling[:1]})
        self.assertEqual((refused.status_code, refused.json()["code"]), (403, "given"))
        marks = [
            b["stages"]
            for c in self.teacher.get("/api/classes").json()
            for p in c["practicals"]
            if p["id"] == practical["id"]
            for b in p["benches"]
        ]
        self.assertTrue(marks)
        self.assertEqual(self.teacher.get(f"/api/practicals/{practical['id']}/pool").json()["title"], "Rolling marbles")
        report = self.teacher.get(f"/api/books/{book.pk}/report.html").content.decode()
        self.assertTrue(": Cooling. Each" in report and "What the line says: time against temperature, Cooling" in report)

    def test_from_a_plan_to_a_reading_of_a_bench(self) -> None:
        self.give()
        self.assertIn("Rolling marbles", self.seen())
        book = Book.objects.get(practical__title="Rolling marbles", bench=self.school.book.bench)
        x = book.document["quantities"][1]["id"]
        send_edit(self.client_, book, {"type": "add_setting", "run": "run1", "setting": "a"})
        self.assertEqual(send_edit(self.client_, book, reading("2.1", quantity=x)).status_code, 200)

    def test_it_is_seen_from_its_day_on(self) -> None:
        practical = self.give(days=2).json()
        self.assertNotIn("Rolling marbles", self.seen())
        (coming,) = [p for c in self.client_.get("/api/classes").json() for p in c["practicals"] if p["coming"]]
        self.assertEqual((coming["title"], coming["benches"], coming["question"]), ("Rolling marbles", [], ""))
        self.assertEqual(coming["given_out"], (local_now().date() + timedelta(days=2)).isoformat())
        self.assertIn("Rolling marbles", self.seen(self.teacher))
        post(self.teacher, f"/practicals/{practical['id']}/day", {"day": local_now().date().isoformat()})
        self.assertIn("Rolling marbles", self.seen())

    def test_before_its_day_no_way_leads_to_its_lab_books(self) -> None:
        practical = self.give(days=2).json()
        book = Book.objects.get(practical=practical["id"], bench=self.school.book.bench)
        sent = send_edit(self.client_, book, {"type": "add_setting", "run": "run1", "setting": "a"})
        for answer in (self.client_.get(f"/api/books/{book.pk}"), self.client_.get(f"/api/books/{book.pk}/report.html"), sent):
            self.assertEqual((answer.status_code, answer.json()["code"]), (403, "not_yet"))
        self.assertEqual(self.teacher.get(f"/api/books/{book.pk}").status_code, 200)
        Practical.objects.filter(pk=practical["id"]).update(given_out=local_now().date())
        self.assertEqual(self.client_.get(f"/api/books/{book.pk}").status_code, 200)

    def test_every_bench_has_a_lab_book_from_the_start_and_one_that_is_left_untouched_has_none(self) -> None:
        def benches() -> list[str]:
            return sorted(tile["bench"] for tile in self.teacher.get(f"/api/practicals/{practical['id']}/walkround").json()["tiles"])

        practical = self.give().json()
        self.assertEqual(benches(), ["Godwit", "Redshank"])
        seats = {s.name: s.pk for s in Seat.objects.filter(school_class=self.school.school_class)}
        path, at = f"/my-classes/{self.school.school_class.pk}/benches", [{"name": "Knot", "seats": list(seats.values())}]
        # the one at the first bench has looked in; nobody of the second has
        mine = Book.objects.get(practical=practical["id"], bench=self.school.book.bench)
        post(self.client_, f"/books/{mine.pk}/opened", {"stage": "ask"})
        self.assertEqual(post(self.teacher, path, {"benches": at, "practicals": [practical["id"]]}).status_code, 200)
        self.assertEqual(benches(), ["Godwit", "Knot"])

    def test_closed_it_is_read_and_not_written(self) -> None:
        practical = self.give().json()
        self.seen()
        book = Book.objects.get(practical=practical["id"], bench=self.school.book.bench)
        post(self.teacher, f"/practicals/{practical['id']}/close", {"closed": True})
        sent = send_edit(self.client_, book, {"type": "add_setting", "run": "run1", "setting": "a"})
        self.assertEqual((sent.status_code, sent.json()["code"]), (403, "closed"))
        self.assertFalse(self.client_.get(f"/api/books/{book.pk}").json()["can_edit"])
        post(self.teacher, f"/practicals/{practical['id']}/close", {"closed": False})
        self.assertEqual(send_edit(self.client_, book, {"type": "add_setting", "run": "run1", "setting": "a"}).status_code, 200)

    def test_taken_back_only_while_nobody_has_written(self) -> None:
        practical = self.give().json()
        self.seen()
        book = Book.objects.get(practical=practical["id"], bench=self.school.book.bench)
        send_edit(self.client_, book, {"type": "add_setting", "run": "run1", "setting": "a"})
        self.assertEqual(self.teacher.delete(f"/api/practicals/{practical['id']}").json()["code"], "begun")
        EditRecord.objects.filter(book=book).delete()
        Book.objects.filter(pk=book.pk).update(revision=0)
        self.assertEqual(self.teacher.delete(f"/api/practicals/{practical['id']}").json()["code"], "begun", "it holds a setting")
        Book.objects.filter(pk=book.pk).update(document=bench_document(Practical.objects.get(pk=practical["id"])))
        self.assertEqual(self.teacher.delete(f"/api/practicals/{practical['id']}").status_code, 200)
        self.assertNotIn("Rolling marbles", self.seen(self.teacher))

    def test_not_to_a_class_where_nobody_sits_nor_a_year_away(self) -> None:
        self.assertEqual(self.give(days=900).json()["code"], "bad_day")
        Seat.objects.filter(school_class=self.school.school_class).update(bench=None)
        self.assertEqual(self.give().json()["code"], "no_benches")

    def test_the_plans_of_others_are_not_given_out(self) -> None:
        plan = self.give().json()
        other = client_of(self.other.teacher)
        body = {"plan": plan["id"], "day": local_now().date().isoformat()}
        self.assertEqual(post(other, f"/my-classes/{self.other.school_class.pk}/practicals", body).status_code, 404)

    def test_a_person_is_gone_with_their_own_books(self) -> None:
        Person.objects.filter(pk=self.ann.pk).delete()
        self.assertFalse(Book.objects.filter(pk=self.book.pk).exists())
