"""A plot of the board becomes a graph of its own, with its line."""

from __future__ import annotations

from typing import Any

from django.test import TestCase

from hobrel.core.document.lab_book import read_lab_book, write_lab_book
from hobrel.core.presentation.analysis import analyse
from hobrel.labbooks.edits.kinds import edit_adapter
from hobrel.labbooks.edits.registry import Applied, apply_edit
from hobrel.server.problems import Problem
from tests.school import fill, make_school


class KeptFromTheBoard(TestCase):
    KEEP = {"type": "keep_plot", "graph": "kept", "fit": "its", "x": "L", "y": "T", "x_new": "n1", "y_new": "n2"}

    def keep(self, document: dict[str, Any], **more: str) -> Applied:
        return apply_edit(document, edit_adapter.validate_python(self.KEEP | more))

    def test_it_is_a_graph_of_its_own_with_its_line_and_leaves_the_old(self) -> None:
        document = write_lab_book(fill(make_school().book, 5)) | {"freedoms": {"own_quantities": False}}
        document["fits"][0] |= {"weights": "none"}
        kept = self.keep(document, x_form="ln(v)", y_form="v^2")
        self.assertEqual(kept.document["graphs"][:-1], document["graphs"])
        self.assertEqual(kept.document["fits"][:-1], document["fits"])
        graph, fit = kept.document["graphs"][-1], kept.document["fits"][-1]
        self.assertEqual((graph["id"], graph["x"], graph["y"]), ("kept", "n1", "T2"))
        self.assertEqual((fit["id"], fit["graph"], fit["shape"], fit["weights"]), ("its", "kept", "line", "both_bars"))
        self.assertEqual(kept.words, "kept from the board: T² against ln(L)")
        self.assertEqual(len(kept.document["quantities"]), len(document["quantities"]) + 1)
        self.assertEqual([f.trouble for f in analyse(read_lab_book(kept.document)).fits], [None, None])
        self.assertEqual(kept.document["findings"], document["findings"])

    def test_what_was_found_by_another_line_is_found_by_this_one_where_that_is_wanted(self) -> None:
        document = write_lab_book(fill(make_school().book, 5))
        document["fits"][0] |= {"weights": "none"}
        kept = self.keep(document, x_form="v", y_form="v", instead_of="line")
        self.assertEqual([f["fit"] for f in kept.document["findings"]], ["its"])
        self.assertEqual(kept.document["fits"][-1]["weights"], "none")
        self.assertIn("and what is found rests on its line", kept.words)
        # its graph is there already: a line is fitted on that
        self.assertEqual(kept.document["fits"][-1]["graph"], "measured")
        self.assertEqual(kept.document["graphs"], document["graphs"])

    def test_what_is_kept_already_is_kept_once(self) -> None:
        document = write_lab_book(fill(make_school().book, 5))
        again = self.keep(document, x_form="v^3", y_form="v^2", instead_of="line").document
        self.assertEqual(
            [again[part] for part in ("graphs", "fits", "findings")], [document[part] for part in ("graphs", "fits", "findings")]
        )

    def test_a_form_that_is_not_on_the_board(self) -> None:
        document = write_lab_book(fill(make_school().book, 2))
        with self.assertRaises(Problem) as caught:
            apply_edit(document, edit_adapter.validate_python(self.KEEP | {"x_form": "v^9", "y_form": "v"}))
        self.assertEqual(caught.exception.code, "bad_form")
