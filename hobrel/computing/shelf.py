"""What a computing child keeps: documents by stamp, logs by digest, and what has been computed from them."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any, Generic, TypeVar

from hobrel.computing.messages import Subject
from hobrel.core.document.lab_book import LabBook, Run, read_lab_book
from hobrel.core.pipeline.computation import Computation, compute
from hobrel.core.presentation.analysis import present
from hobrel.core.presentation.results import Analysis
from hobrel.core.presentation.wording import reword

K = TypeVar("K")
V = TypeVar("V")
MOST_BOOKS, MOST_SEEN, MOST_LOGS, MOST_WRITTEN = 400, 300, 64, 500


class Lacking(Exception):
    """Contents that are not here and have to be sent."""

    def __init__(self, names: tuple[str, ...]) -> None:
        super().__init__(*names)
        self.names = names


class _Kept(OrderedDict[K, V], Generic[K, V]):
    """A mapping that drops what has not been used for longest."""

    def __init__(self, most: int) -> None:
        super().__init__()
        self.most = most

    def use(self, key: K) -> V | None:
        if key not in self:
            return None
        self.move_to_end(key)
        return self[key]

    def keep(self, key: K, value: V) -> V:
        self[key] = value
        self.move_to_end(key)
        while len(self) > self.most:
            self.popitem(last=False)
        return value


@dataclass(frozen=True)
class OpenBook:
    """A lab book seen from one of its runs, with the columns of its logs; computed when that is first wanted, and once.

    `run_order` holds the runs in the order in which the bench made them.
    """

    document: LabBook
    run_order: tuple[str, ...] = ()

    @cached_property
    def computation(self) -> Computation:
        return compute(self.document)

    @cached_property
    def analysis(self) -> Analysis:
        return reword(present(self.computation), self.document.convention)


class Shelf:
    """Contents that have been sent, and the lab books opened from them."""

    def __init__(self) -> None:
        self._documents: _Kept[str, LabBook] = _Kept(MOST_BOOKS)
        self._opened: _Kept[Subject, OpenBook] = _Kept(MOST_SEEN)
        self._logs: _Kept[str, dict[str, tuple[str, ...]]] = _Kept(MOST_LOGS)
        self.results: _Kept[str, Any] = _Kept(MOST_WRITTEN)
        """What calls have given, by their tags: the digests of the calls."""
        self.written: _Kept[str, bytes] = _Kept(MOST_WRITTEN)
        """The same as JSON, by tag; and the changes from one to another."""

    def put(self, contents: Mapping[str, Any]) -> None:
        """Keep what was sent: a document under ``book:STAMP``, the columns of a log under ``log:DIGEST``."""
        for name, content in contents.items():
            kind, _, key = name.partition(":")
            if kind == "book":
                if self._documents.use(key) is None:
                    self._documents.keep(key, read_lab_book(content))
            elif self._logs.use(key) is None:
                self._logs.keep(key, {quantity: tuple(texts) for quantity, texts in content.items()})

    def open(self, subject: Subject) -> OpenBook:
        """The lab book of a call.

        Raises
        ------
        Lacking
            Where its document or one of its logs has not been sent.
        """
        document = self._documents.use(subject.stamp)
        if document is None:
            raise Lacking((f"book:{subject.stamp}",))
        # the first run by name, a run that is gone and none at all are one view, worked out once
        if subject.run not in [r.id for r in document.runs[1:]]:
            subject = Subject(subject.stamp)
        opened = self._opened.use(subject)
        if opened is not None:
            return opened
        lacking = tuple(f"log:{r.log.kept}" for r in document.runs if r.log and r.log.kept and self._logs.use(r.log.kept) is None)
        if lacking:
            raise Lacking(lacking)
        whole = replace(document, runs=tuple(self._with_columns(r) for r in document.runs))
        return self._opened.keep(subject, OpenBook(whole.seen_from(subject.run), tuple(r.id for r in whole.runs)))

    def has_analysis(self, subject: Subject) -> bool:
        """Whether all that follows from a lab book has been worked out already."""
        opened = self._opened.get(subject)
        return opened is not None and "analysis" in vars(opened)

    def _with_columns(self, run: Run) -> Run:
        if run.log is None or not run.log.kept:
            return run
        columns = self._logs[run.log.kept]
        return replace(run, log=replace(run.log, columns=columns, rows=max(map(len, columns.values()), default=0)))
