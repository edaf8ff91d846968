"""Jobs about plans: what would come of one."""

from __future__ import annotations

from functools import partial

from hobrel.core.document.lab_book import read_lab_book
from hobrel.core.errors import CoreError
from hobrel.core.questions.dry_run import FindingSpread, gather_tries
from hobrel.core.questions.dry_tries import try_classes
from hobrel.core.scripting.fields import Job, Outputs, need
from hobrel.core.scripting.halves import work_in_halves

DRY_RUN_FIELDS = frozenset({"document", "seed", "classes"})


def run_dry(job: Job) -> Outputs:
    """Many lab books drawn from what a plan believes: the distribution of each finding, what makes its ±, and what benches would be told.

    Raises
    ------
    CoreError
        As `dry_run`; ``bad_job`` for a seed or a number of classes that is none.
    """
    book = read_lab_book(need(job, "document"))
    seed, classes = job.get("seed", 1), job.get("classes", 200)
    if not isinstance(seed, int) or isinstance(seed, bool) or seed < 0:
        raise CoreError("bad_job", "seed is a whole number from 0.")
    if not isinstance(classes, int) or isinstance(classes, bool):
        raise CoreError("bad_job", "classes is a whole number.")
    found = gather_tries(book, work_in_halves(partial(try_classes, book, seed, classes), classes))
    return {
        "classes": found.classes,
        "seconds": found.seconds,
        "findings": [_describe(f) for f in found.findings],
        "fits": [{"fit": f.fit, "scatter": dict(f.scatter), "bends": dict(f.bends), "zero_doubted": f.zero_doubted} for f in found.fits],
    }


def _describe(found: FindingSpread) -> Outputs:
    return {
        "finding": found.finding, "unit": found.unit, "perfect": found.perfect, "believed": found.believed, "n": found.count,
        "failed": found.failed, "mean": found.mean, "sd": found.sd, "u": found.u, "verdicts": dict(found.verdicts),
        "budget": [{"symbol": b.symbol, "share": b.share, "shared": b.shared} for b in found.budget],
    }  # fmt: skip
