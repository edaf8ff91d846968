"""``manage.py load_demo``: bring the database up to date, and fill an empty one with the demo."""

from __future__ import annotations

from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand

from hobrel.classes.models import Person
from hobrel.computing.asking import start_computing
from hobrel.demo.tidewater import BENCHES, JOIN_CODE, PIN, TEACHER_NAME, TEACHER_PASSWORD, load_tidewater


class Command(BaseCommand):
    help = "Load Tidewater College, unless somebody is in the database already; then only print the sign-ins."

    def handle(self, *args: Any, **options: Any) -> None:
        call_command("migrate", verbosity=0)
        if not Person.objects.exists():
            # a report is handed in, for which it is needed
            start_computing()
            load_tidewater()
        student = next(iter(BENCHES.values()))[0]
        self.stdout.write(
            f"Demo sign-ins (one click on the first page, or by hand):\n"
            f"  teacher  {TEACHER_NAME} / {TEACHER_PASSWORD}\n"
            f"  student  class code {JOIN_CODE}, name {student} (or any other), PIN {PIN}"
        )
