"""What a plan learns from the last time: slips noted once, minutes read off the edits, values, advice; by whose classes."""

from __future__ import annotations

import datetime
import unittest
from dataclasses import replace
from typing import Any

from django.test import TestCase
from django.utils import timezone

from hobrel.core.presentation.last_time import SeenSlip, StationMinutes, advise, gather_minutes
from hobrel.core.presentation.pool import present_pools
from hobrel.core.presentation.shares import BenchShare, SharedFinding
from hobrel.labbooks.models import Book, EditRecord, SlipSeen
from hobrel.shelf.clamped_strip import make_plan
from tests.lesson import make_lesson
from tests.school import add_setting, client_of, fill, keep_summaries, make_school, send_edit


class Advised(unittest.TestCase):
    def test_of_slips_that_a_quarter_of_the_benches_had_and_two_at_least(self) -> None:
        def stages(benches: int, *seen: tuple[str, int]) -> list[str]:
            return [a.words.code for a in advise([SeenSlip(kind, "t", n) for kind, n in seen], benches, (), ())]

        self.assertEqual(stages(8, ("wrong_decimals", 2), ("lone_repeat", 1)), ["advise_decimals"])
        self.assertEqual(stages(9, ("wrong_decimals", 2)), [])
        self.assertEqual(stages(2, ("wrong_decimals", 1)), [])
        # most first; of two quantities the same is said once; what there is no advice for is left out
        seen = [SeenSlip("swapped", "t", 2), SeenSlip("factor", "t", 4), SeenSlip("factor", "m", 3), SeenSlip("pool", "", 5)]
        self.assertEqual([a.words.code for a in advise(seen, 8, (), ())], ["advise_factor", "advise_swapped"])

    def test_of_a_class_that_is_away_from_the_accepted_value(self) -> None:
        finding = make_plan().findings[0]
        assert finding.accepted is not None
        for value, said in ((12.4, 0), (14.0, 1)):
            benches = [BenchShare(f"b{i}", "one_or_two", {finding.id: SharedFinding(value + 0.02 * i, 0.1)}, None) for i in range(5)]
            pools = present_pools([finding], benches)
            self.assertEqual(len(advise([], 5, (), pools)), said)
        unknown = present_pools([replace(finding, accepted=None)], benches)
        self.assertEqual(advise([], 5, (), unknown), ())

    def test_of_a_station_that_takes_more_than_half(self) -> None:
        read, fit = StationMinutes("read", 30.0, 4), StationMinutes("fit", 10.0, 4)
        self.assertEqual([a.stage for a in advise([], 4, (read, fit), ())], ["read"])
        self.assertEqual(advise([], 4, (replace(read, minutes=10.0), fit), ()), ())
        self.assertEqual(advise([], 4, (read,), ()), ())
        self.assertEqual(advise([], 4, (replace(read, minutes=10.0), fit, replace(fit, stage="find")), ()), ())

    def test_minutes_are_of_the_bench_in_the_middle(self) -> None:
        found = gather_minutes([{"read": 10.0, "fit": 2.0}, {"read": 20.0}, {"read": 90.0, "fit": 4.0}])
        self.assertEqual([(m.stage, m.minutes, m.benches) for m in found], [("read", 20.0, 3), ("fit", 3.0, 2)])


class LookedBack(TestCase):
    def look(self, school: Any) -> list[dict[str, Any]]:
        found: list[dict[str, Any]] = client_of(school.teacher).get(f"/api/plans/{school.practical.version.plan_id}/last-time").json()
        return found

    def test_slips_of_a_lesson_are_noted_once_and_stay_when_they_are_mended(self) -> None:
        lesson = make_lesson(5)
        school = lesson.school
        self.assertEqual(self.look(school), [])
        Book.objects.filter(practical=school.practical).update(revision=1)
        before = SlipSeen.objects.count()
        self.assertGreater(before, 4)
        keep_summaries(school.practical)
        self.assertEqual(SlipSeen.objects.count(), before)
        self.assertFalse(SlipSeen.objects.filter(kind__in=("blank", "missing_repeat")).exists())
        (time,) = self.look(school)
        self.assertEqual((time["benches"], time["class_name"]), (5, school.school_class.name))
        slips = {(s["of"], s["words"]["code"]): s["benches"] for s in time["slips"]}
        self.assertEqual(slips["t₁₀", "common_wrong_decimals"], SlipSeen.objects.filter(kind="wrong_decimals", of="t₁₀").count())
        self.assertIn("GPa", time["values"][0]["value"])
        # mended, what was seen is still known; gone with the lab book
        for book in lesson.books.values():
            fill(book)
        keep_summaries(school.practical)
        self.assertEqual(SlipSeen.objects.count(), before)
        lesson.books["Curlew"].delete()
        self.assertFalse(SlipSeen.objects.filter(book=lesson.books["Curlew"].pk).exists())

    def test_minutes_are_from_one_change_to_the_next_and_a_pause_is_five(self) -> None:
        school = make_school()
        ann = client_of(school.students[0])
        send_edit(ann, school.book, add_setting("a"))
        send_edit(ann, school.book, add_setting("b"))
        send_edit(ann, school.book, {"type": "write_text", "section": "conclusion", "text": "It bends.", "was": ""})
        send_edit(ann, school.book, {"type": "write_text", "section": "expectation", "text": "A line.", "was": ""})
        at = timezone.now() - datetime.timedelta(hours=3)
        for record, minutes in zip(EditRecord.objects.order_by("revision"), (0, 3, 63, 65), strict=True):
            EditRecord.objects.filter(pk=record.pk).update(at=at + datetime.timedelta(minutes=minutes))
        (time,) = self.look(school)
        self.assertEqual({m["stage"]: round(m["minutes"], 3) for m in time["minutes"]}, {"read": 3.0, "report": 5.0, "ask": 2.0})

    def test_classes_of_others_are_not_told(self) -> None:
        school, other = make_school(), make_school("two", "CODE22")
        send_edit(client_of(school.students[0]), school.book, add_setting("a"))
        school.practical.version.plan.book.shared_with.add(other.teacher)
        self.assertEqual(len(self.look(school)), 1)
        answer = client_of(other.teacher).get(f"/api/plans/{school.practical.version.plan_id}/last-time")
        self.assertEqual(answer.json(), [])
