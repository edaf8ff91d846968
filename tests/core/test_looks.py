"""Which colour and shape a series has: one in all graphs, another than its neighbours\', or the one that somebody chose."""

from __future__ import annotations

import unittest
from dataclasses import replace

from hypothesis import given
from hypothesis import strategies as st

from hobrel.core.document.lab_book import check_limits
from hobrel.core.errors import CoreError
from hobrel.core.pipeline.computation import compute
from hobrel.core.pipeline.series import assign_looks
from tests.builders import lab_book

SERIES = st.lists(st.sampled_from("abcdefgh"), min_size=1, max_size=6, unique=True)


class Looks(unittest.TestCase):
    def test_alone_on_its_graph_each_is_the_first(self) -> None:
        self.assertEqual(assign_looks([["r:T"], ["r:T2"]], {}), {"r:T": 0, "r:T2": 0})

    def test_neighbours_differ_and_keep_their_look_on_every_graph(self) -> None:
        self.assertEqual(assign_looks([["r1:T", "r2:T"], ["r2:T"], ["r2:T", "r2:h"]], {}), {"r1:T": 0, "r2:T": 1, "r2:h": 0})

    def test_what_is_chosen_holds_and_others_give_way(self) -> None:
        self.assertEqual(assign_looks([["a", "b", "c"]], {"c": 0}), {"a": 1, "b": 2, "c": 0})
        self.assertEqual(assign_looks([["a", "b"]], {"a": 3, "b": 3}), {"a": 3, "b": 3})

    @given(st.lists(SERIES, max_size=5))
    def test_no_two_of_a_graph_are_alike(self, graphs: list[list[str]]) -> None:
        looks = assign_looks(graphs, {})
        for keys in graphs:
            self.assertEqual(len({looks[k] for k in keys}), len(keys))
        self.assertLess(max(looks.values(), default=0), 8)

    def test_a_lab_book_has_it_for_all_its_graphs(self) -> None:
        book = lab_book([("1", ["1"]), ("2", ["2"]), ("3", ["3"])])
        run, quantity = book.runs[0].id, book.graphs[0].y
        book = replace(book, graphs=(*book.graphs, replace(book.graphs[0], id="again")), looks={f"{run}:{quantity}": 4})
        self.assertEqual({s.look for found in compute(book).series.values() for s in found}, {4})
        with self.assertRaises(CoreError):
            check_limits(replace(book, looks={"r:q": 7}))
