"""Edits of tables of runs: making one, rows for runs that come later, names that follow, what is refused."""

from __future__ import annotations

from typing import Any

from tests.school import client_of, send_edit
from tests.server.test_own_books import OwnBookTest, table

ROWS = [["0.1", "0.21"], ["0.2", "0.39"], ["0.3", "0.62"], ["0.4", "0.80"]]


def runs_table(**more: Any) -> dict[str, Any]:
    return {
        "type": "add_runs_table", "run": "T", "name": "Table of runs", "set": "m", "heading": "mass m / kg", "label": "n", "quantity": "k",
        "called": "gradient of x against t", "symbol": "k", "result": {"kind": "fit", "of": "f1", "part": "gradient"}, "graph": "gT",
        "fit": "fT", **more,
    }  # fmt: skip


class TablesOfRuns(OwnBookTest):
    def setUp(self) -> None:
        super().setUp()
        self.edit(table(["t / s", "x / m"], ROWS))

    def fresh(self, run: str, name: str, factor: float) -> None:
        time, place = (q["id"] for q in self.document()["quantities"][:2])
        pairs = [(t, f"{factor * float(x):.2f}") for t, x in ROWS]
        cells = [{"id": f"{run}{i}", "readings": {time: [{"text": t}], place: [{"text": x}]}} for i, (t, x) in enumerate(pairs)]
        sent = self.edit({"type": "add_run", "run": run, "name": name, "settings": cells})
        self.assertEqual(sent.status_code, 200, sent.json())

    def document(self) -> dict[str, Any]:
        self.book.refresh_from_db()
        found: dict[str, Any] = self.book.document
        return found

    def rows(self) -> list[tuple[str, str]]:
        made = next(r for r in self.document()["runs"] if r["id"] == "T")
        return [(s["of_run"], s["readings"]["n"][0]["text"]) for s in made["settings"]]

    def test_a_row_for_each_run_with_graph_and_line(self) -> None:
        refused = self.edit(runs_table())
        self.assertEqual((refused.status_code, refused.json()["code"]), (409, "too_few"))
        self.fresh("r2", "heavy", 2)
        self.fresh("r3", "heavier", 3)
        self.assertEqual(self.edit(runs_table()).status_code, 200)
        self.assertEqual([run for run, _ in self.rows()], ["run1", "r2", "r3"])
        document = self.document()
        self.assertEqual(document["graphs"][-1]["x"], "m")
        self.assertEqual((document["graphs"][-1]["y"], document["graphs"][-1]["words_of"], document["fits"][-1]["graph"]), ("k", "n", "gT"))
        for i, setting in enumerate(document["runs"][-1]["settings"]):
            self.edit({"type": "set_reading", "run": "T", "setting": setting["id"], "quantity": "m", "repeat": 0, "text": f"{i + 1}"})
        state = self.client_.get(f"/api/books/{self.book.pk}?run=T").json()
        self.assertTrue(state["analysis"]["fits"][-1]["gradient"]["text"].endswith("m/(s kg)"), state["analysis"]["fits"][-1])
        again = self.edit(runs_table())
        self.assertEqual((again.status_code, again.json()["code"]), (409, "gone"))

    def test_runs_that_come_later_get_rows_once_and_names_follow(self) -> None:
        self.fresh("r2", "heavy", 2)
        self.edit(runs_table())
        self.fresh("r3", "heavier", 3)
        self.assertEqual(self.edit({"type": "add_run_rows", "run": "T", "label": "n"}).status_code, 200)
        twice = self.edit({"type": "add_run_rows", "run": "T", "label": "n"})
        self.assertEqual((twice.status_code, twice.json()["code"]), (409, "gone"))
        self.edit({"type": "rename_run", "run": "r2", "name": "with the lead block"})
        self.assertEqual(self.rows()[1:], [("r2", "with the lead block"), ("r3", "heavier")])
        # a name that somebody has written otherwise is theirs
        row = next(r for r in self.document()["runs"] if r["id"] == "T")["settings"][2]["id"]
        self.edit({"type": "set_reading", "run": "T", "setting": row, "quantity": "n", "repeat": 0, "text": "third", "was": "heavier"})
        self.edit({"type": "rename_run", "run": "r3", "name": "with two blocks"})
        self.assertEqual(self.rows()[2], ("r3", "third"))

    def test_what_it_rests_on_is_not_taken_from_under_it(self) -> None:
        self.fresh("r2", "heavy", 2)
        self.edit(runs_table())
        refused = self.edit({"type": "remove_fit", "fit": "f1"})
        self.assertEqual((refused.status_code, refused.json()["code"]), (409, "in_use"))
        self.edit({"type": "remove_run", "run": "r2"})
        notes = next(r for r in self.state()["analysis"]["runs"] if r["run"] == "T")["columns"][-1]["notes"]
        self.assertEqual(notes[0]["trouble"][0]["code"], "run_gone")

    def test_only_where_quantities_of_ones_own_are_free(self) -> None:
        book = self.school.book
        book.refresh_from_db()
        book.document["freedoms"] = {**book.document.get("freedoms", {}), "own_quantities": False}
        book.save()
        refused = send_edit(client_of(self.ann), book, runs_table())
        self.assertEqual((refused.status_code, refused.json()["code"]), (403, "given"))
