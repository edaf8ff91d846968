"""Every task is done on every device, for what the table says."""

from __future__ import annotations

import os
from pathlib import Path
from unittest import skipUnless

from playwright.sync_api import expect

from hobrel.labbooks.actions import load_document
from hobrel.reports.models import HandIn
from tests.browser.base import BrowserTest
from tests.school import fill
from tests.tasks import at_the_graph, at_the_table
from tests.tasks.hand import DEVICES, STATIONS, Device, Hand
from tests.tasks.task import Task

TASKS = sorted((*at_the_table.TASKS, *at_the_graph.TASKS), key=lambda task: ("start", *STATIONS).index(task.at))
WRITTEN = Path(__file__).parents[2] / "docs/tasks.md"
WRITE = os.environ.get("HOBREL_WRITE") == "1"
HEAD = """# What tasks cost

Presses (a click, a tap, a drag, a file that is chosen) and keys struck (each letter one, a shortcut one) for {count} tasks,
each begun at the station named, done in the running application on a laptop (1280 × 800, with a keyboard), a tablet
(820 × 1180) and a phone (390 × 844). “First” is what it took when it was first counted, where it was. Made by
`HOBREL_WRITE=1 python manage.py test tests.tasks`, which without it compares (`tests/tasks`).

| begun at | task | laptop | tablet | phone | first |
|---|---|---|---|---|---|
"""


@skipUnless(WRITE or os.environ.get("HOBREL_LONG") == "1", "it takes some minutes; see ./run test --long")
class Tasks(BrowserTest):
    def do(self, task: Task, device: Device) -> str:
        """Presses and keys, as the table has them."""
        if device.name in task.without:
            return "–"
        book = self.school.book
        load_document(book, self.empty)
        HandIn.objects.all().delete()
        if task.full:
            fill(book)
        path = "/" if task.at == "start" else f"/books/{book.pk}/{task.at}"
        page = self.page_of(self.school.students[0], path, size=device.size, touch=device.touch)
        page.set_default_timeout(5000)
        expect(page.locator("main:not(.opening)").first).to_be_visible()
        expect(page.locator("main h1, main h2").first).to_be_attached()
        hand = Hand(page, device)
        task.do(hand)
        expect(task.done(page)).to_be_attached()
        self.contexts.pop().close()
        return f"{hand.presses}, {hand.keys}"

    def test_each_costs_what_the_table_says(self) -> None:
        self.empty = dict(self.school.book.document)
        rows = []
        for task in TASKS:
            costs = []
            for device in DEVICES:
                with self.subTest(task.words, device=device.name):
                    costs.append(self.do(task, device))
            rows.append(f"| {task.at} | {task.words} | {' | '.join(costs)} | {task.first} |")
        table = HEAD.format(count=len(TASKS)) + "\n".join(rows) + "\n"
        if WRITE:
            WRITTEN.write_text(table, "utf-8")
        self.assertEqual(table, WRITTEN.read_text("utf-8"))
