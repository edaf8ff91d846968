"""``./run teacher NAME``: make a teacher without a browser; with ``--reset`` a link by which one chooses another password."""

from __future__ import annotations

import sys
from getpass import getpass
from typing import Any

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError, CommandParser

from hobrel.classes.actions import sign_in_name
from hobrel.classes.models import Invitation, Person
from hobrel.classes.queries import has_begun
from hobrel.school.invitations import make_key
from hobrel.school.teachers import write_school, write_teacher
from hobrel.server.problems import Problem


class Command(BaseCommand):
    help = "Make a teacher (the first is head of department); with --reset, print a link for a new password."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("name", help="what they sign in with")
        parser.add_argument("--shown", help="their name as students know it")
        parser.add_argument("--head", action="store_true", help="make them head of department")
        parser.add_argument("--school", help="the school's name, with the first teacher")
        parser.add_argument("--reset", action="store_true", help="print a link by which this teacher chooses another password")

    def handle(self, *args: Any, **options: Any) -> None:
        call_command("migrate", verbosity=0)
        try:
            self._reset(options["name"]) if options["reset"] else self._make(options)
        except Problem as problem:
            raise CommandError(problem.message) from problem

    def _reset(self, name: str) -> None:
        person = Person.objects.filter(username=sign_in_name(name), role=Person.Role.TEACHER).first()
        if person is None:
            raise CommandError(f"Nobody who teaches signs in as {name}.")
        key = make_key(Invitation.Kind.PASSWORD, person=person).key
        self.stdout.write(f"For one day, and once, {person.shown_name} can choose a password at\n  {_address()}/invitation#{key}")

    def _make(self, options: dict[str, Any]) -> None:
        is_first = not has_begun()
        if is_first and options["school"]:
            write_school(options["school"], settings.TIME_ZONE)
        write_teacher(
            shown_name=options["shown"] or options["name"],
            name=options["name"],
            password=_ask_password(),
            is_head=is_first or options["head"],
        )
        self.stdout.write(f"{options['name']} can sign in at {_address()}")


def _address() -> str:
    return str(settings.ADDRESS or f"http://{settings.BIND}")


def _ask_password() -> str:
    """From the terminal, twice; or a line of what is piped in."""
    if not sys.stdin.isatty():
        return sys.stdin.readline().rstrip("\n")
    first = getpass("Password, of ten signs at least: ")
    if getpass("The same again: ") != first:
        raise CommandError("These two are not the same. Nobody was made.")
    return first
