"""Slowing those who guess, and nobody else. See decision 5."""

from __future__ import annotations

import secrets
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import timedelta
from hashlib import blake2b

from django.conf import settings
from django.db.models import Count, Q
from django.http import HttpRequest, HttpResponse
from django.utils import timezone

from hobrel.classes.models import WrongTry
from hobrel.server.problems import Problem
from hobrel.server.writing import writing

REMEMBERED = timedelta(minutes=15)
FIRST_WAIT = 5
FREE_TRIES = 5
DEVICE = "hobrel_device"
DEVICE_KNOWN_FOR = timedelta(days=400)


@dataclass(frozen=True)
class Limit:
    """So many tries are free; then each further one doubles the wait, up to the longest (in seconds).

    What a right try `forgives` is all that was counted under the key; else only itself. `seat` is the name that is tried, so that its
    teacher can see that somebody waits.
    """

    key: str
    free: int
    longest: int
    forgives: bool = False
    seat: int | None = None


def who_tries(request: HttpRequest) -> tuple[str, bool]:
    """The device where somebody has signed in before, or else the address; and whether it is such a device."""
    device = request.get_signed_cookie(DEVICE, default=None)
    return (f"device:{device}", True) if device else (f"address:{_address_of(request)}", False)


def _address_of(request: HttpRequest) -> str:
    """Where a request comes from: as the proxy says before a server that stands behind one, on this machine."""
    address = str(request.META.get("REMOTE_ADDR", ""))
    if settings.BEHIND_PROXY and address in ("127.0.0.1", "::1", ""):
        return request.headers.get("X-Forwarded-For", address).rpartition(",")[2].strip()
    return address


def know_device(request: HttpRequest, response: HttpResponse) -> None:
    """Somebody has signed in here: from now on this device is counted for itself."""
    if request.get_signed_cookie(DEVICE, default=None) is None:
        age = int(DEVICE_KNOWN_FOR.total_seconds())
        response.set_signed_cookie(
            DEVICE, secrets.token_hex(8), max_age=age, httponly=True, samesite="Lax", secure=settings.SESSION_COOKIE_SECURE
        )


def limits_of_code(request: HttpRequest) -> list[Limit]:
    who, known = who_tries(request)
    return [Limit(f"code:{who}", 5, 300, forgives=True) if known else Limit(f"code:{who}", 60, 5)]


def limits_of_key(request: HttpRequest) -> list[Limit]:
    """A key cannot be guessed; this only keeps the server from being asked without an end."""
    who, _ = who_tries(request)
    return [Limit(f"key:{who}", 20, 30)]


def limits_of_pin(request: HttpRequest, seat: int, school_class: int, pin: str) -> list[Limit]:
    who, known = who_tries(request)
    limits = [Limit(f"seat:{seat}:{who}", FREE_TRIES, 300, forgives=True, seat=seat), Limit(f"pin:{school_class}:{pin}:{who}", 5, 30)]
    return limits if known else [*limits, Limit(f"seat:{seat}", 25, 60, seat=seat)]


def limits_of_password(request: HttpRequest, name: str) -> list[Limit]:
    who, known = who_tries(request)
    limits = [Limit(f"teacher:{name}:{who}", 5, 300, forgives=True)]
    return limits if known else [*limits, Limit(f"teacher:{name}", 50, 60)]


@contextmanager
def counted(limits: list[Limit]) -> Iterator[None]:
    """Around a try: it is counted before, and taken away again where nothing is raised.

    Raises
    ------
    Problem
        429 with the seconds to wait; the try is then not made.
    """
    with writing():
        WrongTry.objects.filter(at__lt=timezone.now() - 4 * REMEMBERED).delete()
        wait = max(_seconds_left(limit) for limit in limits)
        if wait > 0:
            words = f"Several tries went wrong. Wait {wait} second{'' if wait == 1 else 's'}, then try again."
            raise Problem(429, "too_many_tries", words, {"retry_after": wait})
        made = WrongTry.objects.bulk_create(WrongTry(key=_hashed(limit.key), seat_id=limit.seat) for limit in limits)
    yield
    forgiven = [_hashed(limit.key) for limit in limits if limit.forgives]
    with writing():
        WrongTry.objects.filter(Q(pk__in=[row.pk for row in made]) | Q(key__in=forgiven)).delete()


def waiting_seats(seats: Iterable[int]) -> set[int]:
    """Those of these names at which so many tries went wrong lately that the next has to wait."""
    since = timezone.now() - REMEMBERED
    tried = WrongTry.objects.filter(seat__in=seats, at__gte=since).values("seat", "key").annotate(tries=Count("pk"))
    return {row["seat"] for row in tried if row["tries"] >= FREE_TRIES}


def let_in(seat: int) -> None:
    """Forget what went wrong at a name, so that whoever waits can try again at once."""
    with writing():
        WrongTry.objects.filter(seat=seat).delete()


def _seconds_left(limit: Limit) -> int:
    now = timezone.now()
    tries = WrongTry.objects.filter(key=_hashed(limit.key), at__gte=now - REMEMBERED).order_by("-at")
    count = tries.count()
    if count < limit.free:
        return 0
    wait = min(limit.longest, FIRST_WAIT * 2 ** min(count - limit.free, 20))
    left = wait - (now - tries[0].at).total_seconds()
    return int(left) + 1 if left > 0 else 0


def _hashed(key: str) -> str:
    """Of one length, whatever was typed as a name; and no PIN stands in the table."""
    return blake2b(key.encode(errors="replace"), digest_size=20).hexdigest()
