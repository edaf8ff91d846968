"""Keys that let somebody in, once: made, looked at, used, called back. See decision 29."""

from __future__ import annotations

import secrets
from dataclasses import dataclass
from datetime import datetime, timedelta
from hashlib import sha256

from django.utils import timezone

from hobrel.classes.models import Invitation, Person
from hobrel.classes.queries import open_invitations
from hobrel.server.problems import Problem
from hobrel.server.writing import writing

Kind = Invitation.Kind
LIVES = {Kind.FIRST: None, Kind.COLLEAGUE: timedelta(days=7), Kind.HEAD: timedelta(days=7), Kind.PASSWORD: timedelta(days=1)}
GROUPS, LONG = 5, 4
# without letters and digits that are taken for one another
SIGNS = "23456789ABCDEFGHJKLMNPQRSTUVWXYZ"


@dataclass(frozen=True)
class MadeKey:
    """A key, which nobody can see again, and until when it lets somebody in."""

    key: str
    expires: datetime | None


def make_key(kind: Invitation.Kind, made_by: Person | None = None, person: Person | None = None) -> MadeKey:
    """Make an invitation. Of those that it takes the place of, none stays good."""
    key = "-".join("".join(secrets.choice(SIGNS) for _ in range(LONG)) for _ in range(GROUPS))
    lives = LIVES[kind]
    expires = None if lives is None else timezone.now() + lives
    with writing():
        if kind in (Kind.FIRST, Kind.PASSWORD):
            Invitation.objects.filter(kind=kind, person=person, used=None).delete()
        Invitation.objects.create(digest=_digest(key), kind=kind, made_by=made_by, person=person, expires=expires)
    return MadeKey(key, expires)


def find_invitation(key: str) -> Invitation:
    """The invitation of a key that still lets somebody in.

    Raises
    ------
    Problem
        404 ``no_such_key``; 409 ``key_used``; 410 ``key_over`` where its time is over, or who made it may not invite any more.
    """
    found = Invitation.objects.filter(digest=_digest(key)).select_related("made_by", "person").first()
    if not key.strip(" -"):
        raise Problem(404, "no_such_key", "Write the key: five groups of four signs.")
    if found is None:
        raise Problem(404, "no_such_key", "This key opens nothing. Look at it again, sign by sign; a later one may have taken its place.")
    if found.used is not None:
        raise Problem(409, "key_used", "This link has been used. If it was you, sign in; if not, tell whoever gave it to you.")
    if (found.expires is not None and found.expires <= timezone.now()) or not _is_still_worth_it(found):
        raise Problem(410, "key_over", "This link is too old. Ask for a new one.")
    return found


def use_invitation(invitation: Invitation) -> None:
    """Use it up. To be called where the person that it lets in is written, in the same transaction.

    Raises
    ------
    Problem
        409 ``key_used`` where somebody has just used it.
    """
    if not open_invitations().filter(pk=invitation.pk).update(used=timezone.now()):
        raise Problem(409, "key_used", "This link has just been used. If it was you, sign in; if not, tell whoever gave it to you.")


def may_invite(person: Person, kind: Invitation.Kind) -> bool:
    """Teachers let colleagues in; heads of department also other heads, and back in whoever has forgotten a password."""
    return person.role == Person.Role.TEACHER and person.is_active and (kind is Kind.COLLEAGUE or person.is_head)


def _is_still_worth_it(invitation: Invitation) -> bool:
    maker = invitation.made_by
    return maker is None or may_invite(maker, Kind(invitation.kind))


def _digest(key: str) -> str:
    """However it was copied: small letters, blanks and other strokes do not matter."""
    return sha256("".join(s for s in key.upper() if s.isalnum()).encode()).hexdigest()
