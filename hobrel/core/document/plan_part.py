"""What a plan has more than a lab book: what it says at each stage, what it shows when, what it leaves to the bench, what is for teachers.

Part of the document, of a plan that is being written as of a lab book of a bench; in the latter without what is for teachers only.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal

StageName = Literal["ask", "read", "average", "look", "straighten", "fit", "find", "pool", "report"]
RelationShown = Literal["at_once", "after_expectation", "never"]
AcceptedShown = Literal["at_once", "after_own", "teacher"]
PoolOpens = Literal["by_hand", "all_in"]
FactKind = Literal["readings", "repeats", "decimals", "slips", "set_aside", "bars", "residuals", "finding", "words", "shares"]
"""What can be seen of a lab book when it is marked."""


@dataclass(frozen=True)
class Freedoms:
    """What the plan lets a bench change of its table, besides writing readings and what is the bench's own.

    Attributes
    ----------
    own_quantities : bool
        Add quantities of its own.
    repeats : bool
        Choose how often each setting is measured.
    instruments : bool
        Say what a given quantity is read from, and its smallest division.
    units : bool
        Choose the unit of a given quantity.
    spread : bool
        Choose by which spread repeats get their ±, and how that goes with the instrument's.
    plan : bool
        Say what it is about and which quantity is changed: there is no plan but the bench's own (decision 31).
    """

    own_quantities: bool = True
    repeats: bool = True
    instruments: bool = False
    units: bool = False
    spread: bool = False
    plan: bool = False


@dataclass(frozen=True)
class Step:
    """Something to be done at a stage, to be ticked."""

    id: str
    text: str


@dataclass(frozen=True)
class Picture:
    """A picture that is shown at a stage.

    Attributes
    ----------
    key : str
        The digest that it is kept under; empty in a file, where `data` holds it.
    alt : str
        What is to be seen on it, for whoever does not see it.
    width, height : int
        In pixels.
    data : str
        Base64 of the picture itself, in a file that was taken out; kept elsewhere in all others.
    """

    id: str
    key: str = ""
    alt: str = ""
    caption: str = ""
    width: int = 0
    height: int = 0
    data: str = ""


@dataclass(frozen=True)
class WantedSettings:
    """How many settings of a changed quantity, and from where to where, in its unit and as written; empty where that is left open."""

    count: int = 0
    low: str = ""
    high: str = ""


@dataclass(frozen=True)
class Section:
    """A section of the report: what it is called, what belongs in it, whether it is wanted, and its fewest words (0: any number)."""

    id: str
    title: str
    hint: str = ""
    wanted: bool = True
    fewest_words: int = 0


@dataclass(frozen=True)
class GridRow:
    """A row of the marking grid: what is looked at, its levels from the lowest to the highest, and which facts stand beside it."""

    id: str
    title: str
    levels: tuple[str, ...] = ()
    facts: tuple[FactKind, ...] = ()


@dataclass(frozen=True)
class Condition:
    """A variant of the plan, how it is done, and how often each bench's run is wanted in the class altogether (0: any number)."""

    id: str
    name: str
    words: str = ""
    trials: int = 0


@dataclass(frozen=True)
class TableLine:
    """A line of a table of reference as written: where, and what is listed there, maybe with its own ±."""

    at: str
    value: str


@dataclass(frozen=True)
class ReferenceTable:
    """What a handbook lists of one quantity against another, for formulas to look up: ``rho_w(T)``.

    Attributes
    ----------
    id, name, symbol, unit
        Of what is listed.
    of_name, of_unit : str
        Against what.
    lines : tuple of TableLine
        In any order.
    u : str
        The ± of every line that has none of its own, in `unit`; empty where it counts as exact.
    source : str
        Where it is from.
    """

    id: str
    name: str
    symbol: str
    unit: str = ""
    of_name: str = ""
    of_unit: str = ""
    lines: tuple[TableLine, ...] = ()
    u: str = ""
    source: str = ""


@dataclass(frozen=True)
class DryTruth:
    """What a dry run believes of the world.

    Attributes
    ----------
    truths : mapping of symbol to value
        Of what the relation holds and nobody knows, as written, with its unit: ``12.4 GPa``. Without one the accepted value of the finding
        with this symbol is taken.
    formulas : mapping of quantity id to formula
        What a measured quantity would be, by the other symbols, where the relation does not say so alone; or, where the units do not fit,
        its number by theirs, each in its own unit.
    scatter : mapping of quantity id to standard deviation
        How a hand's readings of it scatter, in its unit or as a share of what truly is: ``3 %``. Without one, a time is taken to be
        stopped by hand, and all else to be read to half of its smallest division.
    seconds : mapping of quantity id to seconds
        How long one reading of it takes; of the changed quantity, how long a setting takes to be set.
    unknowns : mapping of unknown id to value
        What is truly read back of unknowns, as written; in the unit of what is set where it has none.
    """

    truths: Mapping[str, str] = field(default_factory=dict)
    formulas: Mapping[str, str] = field(default_factory=dict)
    scatter: Mapping[str, str] = field(default_factory=dict)
    seconds: Mapping[str, str] = field(default_factory=dict)
    unknowns: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True)
class RigPart:
    """The simulated apparatus that stands on every bench (decision 49).

    Attributes
    ----------
    key : str
        Which; empty for none.
    without : tuple of str
        What goes wrong as in life and is switched off.
    writes : mapping of instrument to quantity id
        What is read from which of its instruments.
    writes_down : bool
        Whether a press writes down what an instrument shows; else it is read and typed.
    """

    key: str = ""
    without: tuple[str, ...] = ()
    writes: Mapping[str, str] = field(default_factory=dict)
    writes_down: bool = True


@dataclass(frozen=True)
class PlanPart:
    """What a plan says beside what is measured, worked out and found.

    Attributes
    ----------
    draft : bool
        True while its teachers write it: a lab book without bench, of which `open_for_bench` makes what a bench gets.
    prompts : mapping of stage to its sentence
    steps : mapping of stage to steps to be ticked
    pictures : mapping of stage to pictures
        Of the set-up, for instance.
    safety : str
    kept_same : tuple of str
        What has to stay as it is while the changed quantity changes.
    ask_first : bool
        Nothing but Ask is open until the bench has written what it expects.
    relation_shown : {"at_once", "after_expectation", "never"}
    accepted_shown : {"at_once", "after_own", "teacher"}
        ``after_own``: of each finding once the bench has stated its own, rounded.
    withheld : tuple of str
        In a bench's lab book, what is still to be shown: ``relation``, ``accepted:FINDING``.
    freedoms : Freedoms
        What the bench will be free to change; those of the lab book itself say what its present writers are.
    left_open : tuple of ids
        Derived quantities and findings whose formula the bench has to find.
    own_values : tuple of quantity ids
        Constants of which each bench writes its own value.
    given_runs : tuple of run ids
        Whose readings are given, to analyse before or instead of measuring.
    wanted : mapping of quantity id to WantedSettings
    pool : {"by_hand", "all_in"}
        When the pool opens.
    pool_names : bool
        Whether benches stand in the pool by their names, or by numbers.
    sections, grid, conditions, tables
    rig : RigPart
    notes : str
        For teachers only.
    dry : DryTruth
        For teachers only.
    """

    draft: bool = False
    prompts: Mapping[StageName, str] = field(default_factory=dict)
    steps: Mapping[StageName, tuple[Step, ...]] = field(default_factory=dict)
    pictures: Mapping[StageName, tuple[Picture, ...]] = field(default_factory=dict)
    safety: str = ""
    kept_same: tuple[str, ...] = ()
    ask_first: bool = False
    relation_shown: RelationShown = "at_once"
    accepted_shown: AcceptedShown = "at_once"
    withheld: tuple[str, ...] = ()
    freedoms: Freedoms = Freedoms()
    left_open: tuple[str, ...] = ()
    own_values: tuple[str, ...] = ()
    given_runs: tuple[str, ...] = ()
    wanted: Mapping[str, WantedSettings] = field(default_factory=dict)
    pool: PoolOpens = "by_hand"
    pool_names: bool = True
    sections: tuple[Section, ...] = ()
    grid: tuple[GridRow, ...] = ()
    conditions: tuple[Condition, ...] = ()
    tables: tuple[ReferenceTable, ...] = ()
    rig: RigPart = RigPart()
    notes: str = ""
    dry: DryTruth = DryTruth()
