"""Class lists as teachers paste them: what is a name and what a bench, and what cannot be kept."""

from __future__ import annotations

from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st

from hobrel.school.lists import LONGEST_NAME, MOST_NAMES, read_list


def names(text: str, second: str | None = None, benches: tuple[str, ...] = ()) -> list[tuple[str, str]]:
    found = read_list(text, second, benches)  # type: ignore[arg-type]
    assert not found.troubles, found.troubles
    return [(one.name, one.bench) for one in found.names]


def codes(text: str) -> list[str]:
    return [trouble.code for trouble in read_list(text).troubles]


class Lists(TestCase):
    def test_a_name_a_line(self) -> None:
        self.assertEqual(names("Ada Wren\n\n  Tomas   Lind \r\nMira Sall\n"), [("Ada Wren", ""), ("Tomas Lind", ""), ("Mira Sall", "")])

    def test_a_tab_parts_a_name_from_its_bench(self) -> None:
        self.assertEqual(
            names("Ada Wren\tCurlew\nTomas Lind\t\nWren, Ivo\tKnot"), [("Ada Wren", "Curlew"), ("Tomas Lind", ""), ("Ivo Wren", "Knot")]
        )

    def test_a_comma_parts_a_family_name_or_a_bench(self) -> None:
        turned = read_list("Wren, Ada\nLind, Tomas\nO’Dell, Mira Jo")
        self.assertEqual((turned.second, [n.name for n in turned.names]), ("given", ["Ada Wren", "Tomas Lind", "Mira Jo O’Dell"]))
        self.assertEqual(names("Ada Wren, 1\nTomas Lind, 2"), [("Ada Wren", "1"), ("Tomas Lind", "2")])
        self.assertEqual(
            names("Ada, Knot\nTomas, Knot\nMira, Plover\nJoss, Plover"),
            [("Ada", "Knot"), ("Tomas", "Knot"), ("Mira", "Plover"), ("Joss", "Plover")],
        )
        self.assertEqual(names("Wren, Ada, Bench 2\nLind, Tomas, Bench 10"), [("Ada Wren", "Bench 2"), ("Tomas Lind", "Bench 10")])
        # whole names are turned round by nobody
        self.assertEqual(
            names("Ada Wren, Curlew\nTomas Lind, Dunlin\nJoss, Knot"), [("Ada Wren", "Curlew"), ("Tomas Lind", "Dunlin"), ("Joss", "Knot")]
        )
        # siblings and namesakes: of one family name there would be several at benches called Ada
        self.assertEqual(names("Wren, Ada\nWren, Tomas\nLind, Ada\nLind, Tomas")[:2], [("Ada Wren", ""), ("Tomas Wren", "")])
        # whoever pastes may know better
        self.assertEqual(names("Wren, Ada\nLind, Ada", "given"), [("Ada Wren", ""), ("Ada Lind", "")])
        self.assertEqual(names("Wren, Ada\nLind, Tomas", "bench"), [("Wren", "Ada"), ("Lind", "Tomas")])

    def test_two_columns_are_names_unless_the_second_has_benches(self) -> None:
        spoken = [("Ada Wren", ""), ("Tomas Wren", ""), ("Ada Lind", "")]
        self.assertEqual(names("Ada\tWren\nTomas\tWren\nAda\tLind"), spoken)
        self.assertEqual(names("Wren\tAda\nWren\tTomas\nLind\tAda", "given"), spoken)
        self.assertEqual(names("1\tAda\tWren\n2\tTomas\tWren\n3\tAda\tLind"), spoken)
        self.assertEqual(names("Ada\tWren\tCurlew\nTomas\tLind\tCurlew"), [("Ada Wren", "Curlew"), ("Tomas Lind", "Curlew")])
        self.assertEqual(names("Ada\tWren\nTomas"), [("Ada Wren", ""), ("Tomas", "")])
        self.assertEqual(names("Van Berg, Ada, Curlew\nVan Dam, Bo, Knot"), [("Ada Van Berg", "Curlew"), ("Bo Van Dam", "Knot")])
        self.assertEqual(names("Ada\tOld\nTomas\nMira"), [("Ada", "Old"), ("Tomas", ""), ("Mira", "")])
        # brothers at two benches
        self.assertEqual(names("Ada\tWren\tCurlew\nTomas\tWren\tKnot"), [("Ada Wren", "Curlew"), ("Tomas Wren", "Knot")])
        self.assertEqual(names("Ada Wren, Curlew\tKnot", "bench"), [("Ada Wren", "Knot")])
        benches = [("Ada", "Curlew"), ("Tomas", "Knot")]
        for text, second, known in (
            ("Ada\tCurlew\nTomas\tKnot", "bench", ()),
            ("Ada\tCurlew\nTomas\tKnot", None, ("Knot", "Curlew", "Dunlin")),
            ("Ada,Curlew\nTomas,Knot", None, ("knot", "curlew")),
            ("Curlew: Ada\nKnot: Tomas", None, ()),
        ):
            with self.subTest(text, second=second):
                self.assertEqual(names(text, second, known), benches)
        self.assertEqual(names("Ada\tBench 1\nTomas\tBench 2"), [("Ada", "Bench 1"), ("Tomas", "Bench 2")])
        # a bench that several share
        self.assertEqual(names("Ada\tKnot\nTomas\tKnot"), [("Ada", "Knot"), ("Tomas", "Knot")])
        self.assertEqual(
            [read_list(text).second for text in ("Ada\tWren", "Wren, Ada", "Ada Wren\tKnot", "Ada Wren")],
            ["family", "given", "bench", None],
        )

    def test_lines_about_the_list_are_left_out_and_said(self) -> None:
        for above, below in (
            ("Class 10 B", ""), ("Class: 10 B\nTeacher: Mr Alder\nDate 1 December", "Total: 3"), ("Students of 11 B", "Total 3 students"),
            ("Year 9 register", "Number of pupils: 3"),
        ):  # fmt: skip
            with self.subTest(above, below=below):
                found = read_list(f"{above}\nAda Wren\nBen Tern\nCy Knot\n{below}\n")
                self.assertEqual([one.name for one in found.names], ["Ada Wren", "Ben Tern", "Cy Knot"])
                self.assertEqual(list(found.left), [line for line in (*above.split("\n"), below) if line])
        # a heading, a bench, and a name between others are none
        for text in ("Student\nAda Wren\nBen Tern", "Set 1:\nAda Wren\nBen Tern", "Ada Wren\nForm Rose\nBen Tern", "Class Rose\nTotal 5"):
            with self.subTest(text):
                self.assertEqual(read_list(text).left, ())

    def test_headings_say_what_the_columns_are(self) -> None:
        for text in ("Surname\tFirst name\tBench\nWren\tAda\tKnot", "first name,surname,group\nAda,Wren,Knot", "Bench;Name\nKnot;Ada Wren"):
            with self.subTest(text):
                self.assertEqual(names(text), [("Ada Wren", "Knot")])

    def test_numbers_and_strokes_before_names_are_none(self) -> None:
        self.assertEqual(
            names("1. Ada Wren\n2) Tomas Lind\n- Mira Sall\n• Joss"),
            [("Ada Wren", ""), ("Tomas Lind", ""), ("Mira Sall", ""), ("Joss", "")],
        )

    def test_numbers_in_a_column_of_their_own_and_addresses_are_left_out(self) -> None:
        for text in (
            "1\tAda Wren\n2\tBen Tern", "1001,Wren,Ada\n1002,Tern,Ben", "Student ID,Last,First\n1001,Wren,Ada\n1002,Tern,Ben",
            "Ada Wren <ada.wren@tidewater.example>\nBen Tern (ben@tidewater.example)", "Ada Wren ada@t.example; Ben Tern <b@t.example>",
            "Name,Email\nAda Wren,ada@tidewater.example\nBen Tern,ben@tidewater.example",
        ):  # fmt: skip
            with self.subTest(text):
                self.assertEqual(names(text), [("Ada Wren", ""), ("Ben Tern", "")])
        # a number that several have is their bench
        shared = [("Ada Wren", "1"), ("Ben Tern", "1"), ("Cy Knot", "2")]
        self.assertEqual(names("1\tAda Wren\n1\tBen Tern\n2\tCy Knot"), shared)
        self.assertEqual(names("1,Wren,Ada\n1,Tern,Ben\n2,Knot,Cy"), shared)
        # a number that only some have is part of what stands there
        self.assertEqual(codes("1\tAda Wren\nBen Tern\tKnot"), ["no_name"])
        self.assertEqual(names("Ada Wren\t1\nBen Tern\t2"), [("Ada Wren", "1"), ("Ben Tern", "2")])

    def test_all_names_in_one_line(self) -> None:
        three = [("Ada Wren", ""), ("Ben Tern", ""), ("Cy Knot", "")]
        self.assertEqual(names("Ada Wren, Ben Tern, Cy Knot"), three)
        self.assertEqual(names("Ada Wren; Ben Tern; Cy Knot;"), three)
        self.assertEqual(names("Wren, Ada; Tern, Ben; Knot, Cy"), three)
        self.assertEqual(names("Ada Wren, Bench 2"), [("Ada Wren", "Bench 2")])
        # a family name, a given one and a bench are one person
        self.assertEqual(names("Wren, Ada, Knot"), [("Ada Wren", "Knot")])
        self.assertEqual(names("Wren;Ada;Curlew\nTern;Ben;Knot"), [("Ada Wren", "Curlew"), ("Ben Tern", "Knot")])

    def test_below_the_name_of_a_bench(self) -> None:
        pairs = [("Ada Wren", "Curlew"), ("Ben Tern", "Curlew"), ("Cy Knot", "Bench 2")]
        self.assertEqual(names("Curlew:\nAda Wren\nBen Tern\n\nBench 2:\n- Cy Knot"), pairs)
        self.assertEqual(names("Curlew: Ada Wren, Ben Tern\nBench 2: Cy Knot"), pairs)
        self.assertEqual(names("Curlew: Ada Wren and Ben Tern\nBench 2: Cy Knot"), pairs)
        self.assertEqual(names("Curlew:\nWren, Ada\nTern, Ben\nBench 2:\nKnot, Cy"), pairs)
        self.assertEqual(names("Curlew: Ada Wren, Ben Tern"), pairs[:2])
        self.assertEqual(names("Curlew:\nAda Wren\nCy Knot\tDunlin"), [pairs[0], ("Cy Knot", "Dunlin")])
        self.assertEqual(names("Name: Ada Wren\nName: Ben Tern"), [("Ada Wren", ""), ("Ben Tern", "")])

    def test_names_in_every_script(self) -> None:
        written = ["Фёдор Ильин", "李 小龙", "محمد علي", "Ὀδυσσεύς", "Nguyễn Thị Ánh", "Jean-Luc d’Île", "O'Brien", "X Æ"]
        self.assertEqual([name for name, _ in names("\n".join(written))], written)
        # composed and not are one name
        self.assertEqual(codes("Zoë\nZoe\u0308"), ["name_twice"])

    def test_what_cannot_be_kept_is_said_with_its_line(self) -> None:
        self.assertEqual(codes(""), ["empty_list"])
        self.assertEqual(codes(" \n,,\n\t"), ["empty_list"])
        twice = read_list("Ada Wren\nTomas\nada  wren").troubles[0]
        self.assertEqual((twice.code, twice.fields["at"]), ("name_twice", "1 and 3"))
        self.assertEqual(codes("Ada\n12345\n???"), ["no_name", "no_name"])
        self.assertEqual(codes("Ada\n" + "x" * (LONGEST_NAME + 1)), ["long_name"])
        self.assertEqual(codes("x" * LONGEST_NAME), [])
        self.assertEqual(codes("\n".join(f"Name {chr(65 + i % 26)}{i}" for i in range(MOST_NAMES))), [])
        self.assertEqual(codes("\n".join(f"Name {chr(65 + i % 26)}{i}" for i in range(MOST_NAMES + 1))), ["long_list"])

    @settings(max_examples=200, deadline=None)
    @given(st.text(alphabet="aBé ,;:@<&\t\n\r\"'1.-\u200b\ufeff李\x00", max_size=80))
    def test_any_text_is_a_list_or_says_why_not(self, text: str) -> None:
        found = read_list(text)
        self.assertTrue(found.names or found.troubles)
        if not found.troubles:
            for one in found.names:
                self.assertEqual(one.name, " ".join(one.name.split()))
                self.assertTrue(one.name and "\t" not in one.name + one.bench)
