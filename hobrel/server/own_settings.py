"""What a school may set about its server: from the environment, then from ``hobrel.env`` in the data folder.

Without Django, for its settings are made of this.
"""

from __future__ import annotations

import os
import sys
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path
from urllib.parse import urlsplit
from zoneinfo import available_timezones

KNOWN = {
    "HOBREL_URL": "where people find the server: https://hobrel.example.org",
    "HOBREL_HOSTS": "further names that it answers to, with commas between",
    "HOBREL_TIME_ZONE": "goes before the school's own: Europe/London",
    "HOBREL_SECRET": "the signing key, where it is not to be made and kept in the data folder",
    "HOBREL_PORT": "the port that it listens on",
    "HOBREL_BIND": "the address of this machine that it listens on",
}
PORT = "8765"
HERE = ("127.0.0.1", "localhost", "[::1]")


class WrongSetting(Exception):
    """A setting that cannot be meant; said at the start, for a server that runs with half of its settings helps nobody."""


@dataclass(frozen=True)
class OwnSettings:
    """What follows from what was set.

    Attributes
    ----------
    address : str
        Without a stroke at its end; empty where none is set.
    is_secure : bool
        Whether people come by https, through a proxy on this machine.
    time_zone, secret : str
        Empty where they are not set.
    bind : str
        What the server listens on: this machine alone, unless it is told more.
    """

    address: str
    is_secure: bool
    hosts: tuple[str, ...]
    origins: tuple[str, ...]
    time_zone: str
    secret: str
    bind: str


def read_settings(file: Path, environment: Mapping[str, str]) -> OwnSettings:
    """Read what was set.

    Raises
    ------
    WrongSetting
        For a line that is none, a name that is not known, an address or a time zone that is none.
    """
    found = {**read_file(file), **{name: value for name, value in environment.items() if name in KNOWN}}
    address = found.get("HOBREL_URL", "").strip().rstrip("/")
    parts = urlsplit(address)
    if address and (parts.scheme not in ("http", "https") or not parts.hostname or parts.path or parts.query or parts.fragment):
        raise WrongSetting(f"HOBREL_URL is “{address}”. It should be a scheme and a name, as in https://hobrel.example.org")
    zone = found.get("HOBREL_TIME_ZONE", "").strip()
    if zone and zone not in available_timezones():
        raise WrongSetting(f"HOBREL_TIME_ZONE is “{zone}”, which is no time zone. They are named like Europe/London.")
    further = [host.strip() for host in found.get("HOBREL_HOSTS", "").split(",") if host.strip()]
    return OwnSettings(
        address=address,
        is_secure=parts.scheme == "https",
        hosts=tuple(dict.fromkeys([*HERE, *([parts.hostname] if parts.hostname else []), *further])),
        origins=(address,) if address else (),
        time_zone=zone,
        secret=found.get("HOBREL_SECRET", ""),
        bind=f"{found.get('HOBREL_BIND', '').strip() or HERE[0]}:{_read_port(found.get('HOBREL_PORT', '').strip() or PORT)}",
    )


def _read_port(text: str) -> int:
    if not (text.isascii() and text.isdigit() and 0 < int(text) < 65536):
        raise WrongSetting(f"HOBREL_PORT is “{text}”, which is no port.")
    return int(text)


def read_file(file: Path) -> dict[str, str]:
    """The settings in a file of lines ``NAME=value``; empty lines and those that begin with # are passed over.

    Raises
    ------
    WrongSetting
    """
    try:
        lines = file.read_text(encoding="utf-8").splitlines()
    except FileNotFoundError:
        return {}
    except (OSError, UnicodeDecodeError) as trouble:
        raise WrongSetting(f"{file} cannot be read: {trouble}") from trouble
    found = {}
    for number, line in enumerate(lines, 1):
        if not line.strip() or line.lstrip().startswith("#"):
            continue
        name, equals, value = line.partition("=")
        name = name.strip()
        if not equals or name not in KNOWN:
            raise WrongSetting(f"{file}, line {number}: “{line.strip()[:60]}” sets nothing. What can be set: {', '.join(KNOWN)}.")
        found[name] = value.strip().strip("\"'")
    return found


def main(file: Path) -> int:
    """Print what the server listens on, or what is wrong with the settings."""
    try:
        print(read_settings(file, os.environ).bind)
    except WrongSetting as trouble:
        print(trouble, file=sys.stderr)
        return 1
    return 0


if __name__ == "__main__":
    sys.exit(main(Path(sys.argv[1])))
