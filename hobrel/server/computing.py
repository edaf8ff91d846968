"""``python -m hobrel.server.computing FOLDER``: the parent of the computing children. Who starts it holds its standard input."""

from __future__ import annotations

import os
import sys
from pathlib import Path
from typing import get_args


def main(folder: str) -> int:
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "hobrel.server.settings")
    import django

    django.setup()
    from hobrel.server.sqlite import write_loosely

    # nobody waits for what is written here
    write_loosely(patience=0.2)
    # everything that children may be asked for, so that none of them loads it while somebody waits
    import hobrel.server.api  # noqa: F401
    from hobrel.computing.parent import run_parent
    from hobrel.computing.shelf import OpenBook
    from hobrel.computing.sweeping import keep_loaded
    from hobrel.computing.warming import warm_book, warm_up
    from hobrel.interchange.files import TakenOut, take_file_out

    warm_up()
    for ending in get_args(TakenOut):
        take_file_out(OpenBook(warm_book()), ending, "", "warm")
    keep_loaded()
    run_parent(Path(folder))
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1]))
