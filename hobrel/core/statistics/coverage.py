"""From a standard uncertainty to an interval of stated coverage: effective degrees of freedom and Student's t."""

from __future__ import annotations

import math
from collections.abc import Sequence

from scipy.special import stdtrit

from hobrel.core.errors import CoreError


def effective_dof(contributions: Sequence[float], dofs: Sequence[float]) -> float:
    """Effective degrees of freedom after Welch and Satterthwaite (JCGM 100:2008, G.4.1, equation G.2b).

    Parameters
    ----------
    contributions : sequence of float
        Each input's |∂f/∂x|·u(x), in the unit of the result.
    dofs : sequence of float
        Degrees of freedom behind each; infinite where the uncertainty is taken as known.

    Returns
    -------
    float
        Infinite where nothing uncertain has finite degrees of freedom.
    """
    total = sum(c * c for c in contributions) ** 2
    parts = sum(c**4 / dof for c, dof in zip(contributions, dofs, strict=True) if math.isfinite(dof))
    return total / parts if parts else math.inf


def coverage_factor(coverage: float, dof: float) -> float:
    """Student's t for a two-sided coverage (JCGM 100:2008, G.3); degrees of freedom are cut to the next whole number below.

    Raises
    ------
    CoreError
        ``bad_job`` for a coverage outside 0 to 1 or less than one degree of freedom.
    """
    if not 0 < coverage < 1:
        raise CoreError("bad_job", "A coverage lies between 0 and 1, as in 0.95.")
    if dof < 1:
        raise CoreError("too_few_points", "A coverage factor needs at least one degree of freedom.")
    whole = math.floor(dof) if math.isfinite(dof) else 1e12
    return float(stdtrit(whole, (1 + coverage) / 2))
