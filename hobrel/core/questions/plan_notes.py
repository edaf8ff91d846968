"""What is said of a plan while it is written."""

from __future__ import annotations

from dataclasses import dataclass

from hobrel.core.document.plan_part import StageName
from hobrel.core.sentences import Sentence


@dataclass(frozen=True)
class PlanNote:
    """Something to look at again in a plan. A `stop` keeps it from being given out; `quantity` is the one whose definition lacks it;
    what lacks a truth is said in the dry run.
    """

    stage: StageName
    words: Sentence
    stop: bool = False
    quantity: str = ""
    lacks_truth: bool = False
