"""What a task is, and what many are done with."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from playwright.sync_api import Locator, Page

from tests.tasks.hand import Hand


@dataclass(frozen=True)
class Task:
    """Something that somebody wants done.

    Attributes
    ----------
    at : str
        The station that it begins at.
    words : str
    do : callable
        Does it.
    done : callable
        What is on the page when it is done.
    full : bool
        Whether the lab book has readings already; else it is as it was given out.
    first : str
        What it took when it was first counted, where it was.
    without : tuple of str
        Devices on which it cannot be done.
    """

    at: str
    words: str
    do: Callable[[Hand], None]
    done: Callable[[Page], Locator]
    full: bool = True
    first: str = ""
    without: tuple[str, ...] = ()


def text_in(within: str, words: str) -> Callable[[Page], Locator]:
    return lambda page: page.locator(within).filter(has_text=words).first


def shown(found: str) -> Callable[[Page], Locator]:
    return lambda page: page.locator(found).first


def fill_in(hand: Hand, *fields: tuple[Locator, str]) -> None:
    for target, text in fields:
        hand.write(target, text)
    hand.key("Enter")
