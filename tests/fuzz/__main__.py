"""``python -m tests.fuzz [--minutes N] [--seed N]``: cases of every family, anew and anew, until the time is up. Fails where one fails."""

from __future__ import annotations

import argparse
import itertools
import os
import random
import sys
import time
import warnings

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "hobrel.server.settings")


def main() -> int:
    import django

    django.setup()
    from hobrel.computing.sweeping import Sweeper, keep_loaded
    from hobrel.computing.warming import warm_up
    from tests.fuzz.cases import Tally
    from tests.fuzz.families import FAMILIES, run_family

    words = argparse.ArgumentParser(prog="./run fuzz")
    words.add_argument("--minutes", type=float, default=5.0)
    words.add_argument("--seed", type=int, default=1)
    given = words.parse_args()
    warnings.simplefilter("ignore")
    # as in a computing process, which searches for circles between calls
    warm_up()
    keep_loaded()
    sweeper = Sweeper()
    tallies = {name: Tally() for name in FAMILIES}
    until = time.monotonic() + 60 * given.minutes
    for turn in itertools.count():
        for name in FAMILIES:
            if time.monotonic() > until:
                failed = [t for t in tallies.values() if t.failures]
                for family, tally in tallies.items():
                    print(f"{family}: {tally.told()}")
                print(f"{sum(t.count for t in tallies.values())} cases in all, seed {given.seed}")
                return 1 if failed else 0
            run_family(name, random.Random(f"{given.seed}:{turn}:{name}"), 200, tallies[name])
            sweeper.sweep()
    return 0


if __name__ == "__main__":
    sys.exit(main())
