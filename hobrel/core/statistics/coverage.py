"""From a standard uncertainty to an interval of stated coverage: Student's t."""

from __future__ import annotations

import math

from scipy.special import stdtrit

from hobrel.core.errors import CoreError


def check_coverage(coverage: float) -> None:
    """Refuse what is no share.

    Raises
    ------
    CoreError
        ``bad_job``.
    """
    if not 0 < coverage < 1:
        raise CoreError("bad_job", "A coverage lies between 0 and 1, as in 0.95.")


def coverage_factor(coverage: float, dof: float) -> float:
    """Student's t for a two-sided coverage (JCGM 100:2008, G.3); degrees of freedom are cut to the next whole number below.

    Raises
    ------
    CoreError
        ``bad_job`` for a coverage outside 0 to 1 or less than one degree of freedom.
    """
    check_coverage(coverage)
    if dof < 1:
        raise CoreError("too_few_points", "A coverage factor needs at least one degree of freedom.")
    whole = math.floor(dof) if math.isfinite(dof) else 1e12
    return float(stdtrit(whole, (1 + coverage) / 2))
