"""Means that somebody has worked out beside the readings. Of what they are: arithmetic means, rounded or cut off at their last decimal."""

from __future__ import annotations

from unittest import TestCase

from hobrel.core.readings.means_among import find_means

HEADINGS = ("length L", "t 1", "t 2", "t 3", "mean t")


def in_columns(text: str) -> list[list[str]]:
    return [list(column) for column in zip(*(line.split(";") for line in text.splitlines()), strict=True)]


class MeansAmong(TestCase):
    def test_means_are_found_as_people_write_them(self) -> None:
        for words, text in (
            ("rounded", "0.3;3.57;3.61;3.55;3.58\n0.4;4.4;4.5;4.61;4.50"),
            ("cut off", "0.3;3.57;3.61;3.56;3.58\n0.4;4.4;4.5;4.69;4.5"),
            ("of a spreadsheet", "0.3;3.57;3.61;3.55;3.5766666666666667\n0.4;4.4;4.5;4.61;4.503333333333333"),
            ("in doubles", "0.3;0.1;0.2;0.15;0.15000000000000002\n0.4;0.1;0.7;0.4;0.4"),
            ("with commas", "0,3;3,57;3,61;3,55;3,58\n0,4;4,4;4,5;4,61;4,5"),
            ("of what is there", "0.3;3.57;;3.61;3.59\n0.4;4.4;4.5;4.61;4.50\n0.5;;;;"),
        ):
            with self.subTest(words):
                self.assertEqual(find_means(HEADINGS, in_columns(text)), {4: (1, 2, 3)})
        for heading in ("Mean", "average time", "t_mean", "T av (s)", "Avg. t"):
            with self.subTest(heading):
                self.assertEqual(find_means(("t 1", "t 2", heading), in_columns("1.0;1.2;1.1\n2.0;2.2;2.1")), {2: (0, 1)})

    def test_what_is_no_mean_of_others_is_a_column_of_its_own(self) -> None:
        for words, headings, text in (
            ("another number in one row", HEADINGS, "0.3;3.57;3.61;3.55;3.58\n0.4;4.4;4.5;4.61;4.60"),
            ("a place of the last decimal too far", HEADINGS, "0.3;3.57;3.61;3.55;3.59\n0.4;4.4;4.5;4.61;4.51"),
            ("rounded up where it is nearer below", HEADINGS, "0.3;3.57;3.61;3.54;3.58\n0.4;4.4;4.5;4.61;4.51"),
            ("not called so", (*HEADINGS[:4], "t"), "0.3;3.57;3.61;3.55;3.58\n0.4;4.4;4.5;4.61;4.50"),
            ("of one row", HEADINGS, "0.3;3.57;3.61;3.55;3.58"),
            ("of one column", ("length", "mean speed"), "0.3;0.3\n0.4;0.4"),
            ("where nothing was read", HEADINGS, "0.3;3.57;3.61;3.55;3.58\n0.4;4.4;4.5;4.61;4.50\n0.5;;;;5"),
            ("of one column beside another", ("x", "t", "mean t"), "1;20;20\n2;30;30"),
            ("of words", HEADINGS, "0.3;a;b;c;3.58\n0.4;a;b;c;4.50"),
        ):
            with self.subTest(words):
                self.assertEqual(find_means(headings, in_columns(text)), {})

    def test_two_quantities_have_each_their_own(self) -> None:
        headings = ("a 1", "a 2", "mean a", "b 1", "b 2", "mean b")
        self.assertEqual(find_means(headings, in_columns("1.0;1.2;1.1;5.0;5.4;5.2\n2.0;2.4;2.2;7.0;7.6;7.3")), {2: (0, 1), 5: (3, 4)})
