"""``./run seat CODE NAME --reset``: let whoever signs in next with a name of a class choose a new PIN."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from hobrel.classes.actions import free_seat
from hobrel.classes.models import Seat


class Command(BaseCommand):
    help = "Look at a name on a class list; with --reset, free it."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("code", help="the class code")
        parser.add_argument("name", help="the name as it is on the list")
        parser.add_argument("--reset", action="store_true", help="the next one to sign in with it chooses a new PIN")

    def handle(self, *args: Any, **options: Any) -> None:
        code, name = options["code"].strip().upper(), options["name"].strip()
        seat = Seat.objects.filter(school_class__join_code=code, name__iexact=name).select_related("person").first()
        if seat is None:
            raise CommandError(f"There is no {name} on the list of a class with the code {code}.")
        if options["reset"]:
            free_seat(seat)
            self.stdout.write(f"{seat.name} is free: whoever signs in next with this name chooses a PIN. What was written stays.")
        else:
            self.stdout.write(f"{seat.name}: {'has a PIN' if seat.has_pin else 'no PIN yet'}.")
