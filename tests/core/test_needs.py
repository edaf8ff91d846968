"""What benches need: which comes first, from when on one is stuck, and what several share."""

from __future__ import annotations

import random
import unittest
from dataclasses import replace
from typing import Any

from hobrel.core.document.lab_book import Quantity
from hobrel.core.pipeline.computation import compute
from hobrel.core.presentation.analysis import analyse
from hobrel.core.presentation.needs import ORDER, STUCK_AFTER, BenchFacts, find_needs, gather_common
from hobrel.core.presentation.pool import point_out
from hobrel.core.presentation.shares import SharedFinding, share_findings
from hobrel.core.presentation.walk_notes import FINE, MOST_DOTS, NotedSlip, WalkNote, note_analysis
from hobrel.core.sentences import say
from hobrel.shelf.clamped_strip import Story, make_plan, write_bench

CALM = BenchFacts(
    hand_up=None, present=0, opened=True, changed=1.0, handed_in=0, changed_since_hand_in=False, trouble=(), pointed_out=(), has_cause=False
)
FAR = (say("bench_is_far", "It is far."),)
SLIP = NotedSlip("lone_repeat", "t", say("lone", "One repeat is far."), "run1", "s1:t:0")
OVERHANGS = tuple(round(0.3 + 0.05 * i, 3) for i in range(8))


def kinds(note: WalkNote = WalkNote(), **facts: Any) -> list[str]:
    return [need.kind for need in find_needs(replace(CALM, **facts), note)]


class Needs(unittest.TestCase):
    def test_a_bench_that_goes_on_needs_nothing(self) -> None:
        self.assertEqual(kinds(present=2), [])
        self.assertEqual(kinds(), [])

    def test_most_urgent_first(self) -> None:
        note = WalkNote((SLIP, SLIP), say("failed", "T: no."))
        found = kinds(
            note, hand_up=0.2, present=1, changed=6.0, trouble=(say("broken", "No."),), pointed_out=FAR, has_cause=True, handed_in=0
        )  # fmt: skip
        self.assertEqual(found, ["hand", "not_worked_out", "factor", "failed", "slip", "slip", "stuck"])
        self.assertEqual([kind for kind in ORDER if kind in found], list(dict.fromkeys(found)))

    def test_stuck_is_five_minutes_with_somebody_there(self) -> None:
        self.assertEqual(kinds(present=1, changed=STUCK_AFTER), ["stuck"])
        self.assertEqual(kinds(present=1, changed=STUCK_AFTER - 0.01), [])
        self.assertEqual(kinds(present=0, changed=60.0), [])
        self.assertEqual(kinds(present=1, changed=None), ["stuck"])
        self.assertEqual(kinds(present=1, changed=60.0, handed_in=1), ["handed_in"])
        (need,) = find_needs(replace(CALM, present=1, changed=7.9), WalkNote())
        self.assertEqual(need.words.text, "Nothing has been written for 7 min.")

    def test_handed_in_changed_since_and_not_opened(self) -> None:
        self.assertEqual(kinds(handed_in=1), ["handed_in"])
        self.assertEqual(kinds(handed_in=2, changed_since_hand_in=True), ["changed_since"])
        self.assertEqual(kinds(opened=False, changed=None), ["not_opened"])
        self.assertEqual(kinds(opened=False, handed_in=1), ["handed_in"])

    def test_far_and_off_by_a_factor_are_two_things(self) -> None:
        self.assertEqual(kinds(pointed_out=FAR), ["far"])
        self.assertEqual(kinds(pointed_out=FAR, has_cause=True), ["factor"])

    def test_each_leads_to_where_it_can_be_seen(self) -> None:
        note = WalkNote((SLIP,), say("failed", "T: no."))
        found = find_needs(replace(CALM, pointed_out=FAR), note)
        self.assertEqual([(n.stage, n.at) for n in found], [("find", ""), ("average", ""), ("read", "s1:t:0")])


class Common(unittest.TestCase):
    def test_what_two_share_the_commonest_first(self) -> None:
        other, blank = replace(SLIP, of="L"), replace(SLIP, kind="blank")
        notes = {1: WalkNote((SLIP, SLIP, blank)), 2: WalkNote((SLIP,)), 3: WalkNote((blank, SLIP)), 4: WalkNote((other,))}
        found = gather_common(notes, {})
        self.assertEqual([(c.kind, c.of, c.books) for c in found], [("lone_repeat", "t", (1, 2, 3)), ("blank", "t", (1, 3))])
        self.assertNotIn("3 cm", found[0].general.text)

    def test_causes_of_the_pool_are_one_whatever_their_numbers(self) -> None:
        cause = [say("bench_too_small", "About {factor}: {cause}.", factor=str(f), cause="periods not divided by ten") for f in (100, 98)]
        (found,) = gather_common({}, {7: cause[0], 9: cause[1]})
        self.assertEqual((found.kind, found.books), ("pool", (7, 9)))
        self.assertIn("periods not divided by ten", found.general.text)


class Notes(unittest.TestCase):
    def test_of_a_whole_lab_book(self) -> None:
        book = write_bench(make_plan(), Story(OVERHANGS), random.Random(3))
        note = note_analysis(analyse(book), book)
        self.assertEqual((note.slips, note.failed), ((), None))
        assert note.graph is not None
        self.assertEqual(len(note.graph.dots), 2 * 8)
        self.assertTrue(all(0 <= place <= FINE for place in (*note.graph.dots, *note.graph.line)))
        # T² rises with L³: so do the dots, in both directions
        self.assertEqual(list(note.graph.dots[0::2]), sorted(note.graph.dots[0::2]))
        self.assertEqual(list(note.graph.dots[1::2]), sorted(note.graph.dots[1::2]))
        self.assertLessEqual(len(note.graph.dots), 2 * MOST_DOTS)

    def test_what_is_not_written_yet_has_not_failed(self) -> None:
        plan = make_plan()
        self.assertIsNone(note_analysis(analyse(plan), plan).failed)

        def spoil(q: Quantity) -> Quantity:
            return replace(q, formula="t_10/10 + L") if q.id == "T" else q

        wrong = replace(plan, quantities=tuple(map(spoil, plan.quantities)))
        failed = note_analysis(analyse(wrong), wrong).failed
        assert failed is not None
        self.assertIn("m cannot be added to s", failed.text)


class TwoOff(unittest.TestCase):
    def test_two_benches_off_alike_do_not_hide_each_other(self) -> None:
        """Beside two others that know little of their own value: a bench with a large ± says nothing of the scatter between benches."""
        shares = []
        for i in range(7):
            story = Story(OVERHANGS, formula="t_10" if i < 2 else "t_10/10")
            shares.append(share_findings(compute(write_bench(make_plan(), story, random.Random(20 + i))), f"bench {i}"))
        for i, value, u in ((5, 17.4, 6.4), (6, 10.2, 1.7)):
            shares[i] = replace(shares[i], findings={key: SharedFinding(value, u) for key in shares[i].findings})
        said = point_out(make_plan().findings, shares)
        self.assertEqual(set(said), {"bench 0", "bench 1"})
        self.assertIn("not divided by ten", said["bench 0"][0].text)
