"""``manage.py open_school``: bring the database up to date, say where the server is, and print a key where nobody could sign in yet."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand

from hobrel.school.teachers import make_first_key


class Command(BaseCommand):
    help = "Bring the database up to date; print the key for the first teacher, as long as there is none."

    def handle(self, *args: Any, **options: Any) -> None:
        call_command("migrate", verbosity=0)
        address = settings.ADDRESS or f"http://{settings.BIND}"
        self.stdout.write(f"Hobrel is at {address}   (stop it with Ctrl+C)")
        if key := make_first_key():
            self.stdout.write(
                "There is no teacher yet. Whoever opens this address makes the school and its first teacher, once:\n"
                f"  {address}/begin#{key}\n"
                f"or type the key there by hand:  {key}"
            )
