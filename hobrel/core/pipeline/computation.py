"""The numbers behind an analysis, in full precision: for workings, for the pool, and for questions about a lab book."""

from __future__ import annotations

from dataclasses import dataclass

from hobrel.core.document.lab_book import LabBook
from hobrel.core.errors import CoreError
from hobrel.core.pipeline.findings import ComputedFinding, compute_findings
from hobrel.core.pipeline.ground import Ground
from hobrel.core.pipeline.laying import lay_ground


@dataclass(frozen=True)
class Computation(Ground):
    """Everything computed from a lab book. Graphs and findings are of its first run, fits too unless they name another."""

    findings: dict[str, ComputedFinding | CoreError]

    def finding(self, finding_id: str) -> ComputedFinding:
        """A finding of the lab book.

        Raises
        ------
        CoreError
            ``bad_job`` where it is not there, or what stands in its place.
        """
        found = self.findings.get(finding_id)
        if found is None or isinstance(found, CoreError):
            raise found or CoreError("bad_job", "This finding is no longer in the lab book.")
        return found


def compute(book: LabBook, near: Ground | None = None) -> Computation:
    """Compute everything in a lab book; `near` as `lay_ground` has it."""
    ground = lay_ground(book, near)
    return Computation(
        book=ground.book,
        columns=ground.columns,
        points=ground.points,
        series=ground.series,
        fits=ground.fits,
        fit_points=ground.fit_points,
        findings=compute_findings(ground),
    )
