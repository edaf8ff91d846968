"""What is drawn for paper can be read there."""

from __future__ import annotations

import re
import unittest
from itertools import pairwise

from hobrel.core.presentation.results import LineMark
from hobrel.core.presentation.showing import draw_number_line as lay_number_line
from hobrel.reports.number_line import draw_number_line


class OnANumberLine(unittest.TestCase):
    def test_numbers_stand_clear_of_one_another(self) -> None:
        for value, u in ((8000.0, 30000.0), (12.4, 0.3), (-0.0012246, 0.0000056), (-250.0, 1200.0)):
            with self.subTest(value):
                drawn = draw_number_line(lay_number_line((LineMark("this finding", value, u),), "min"), "")
                numbers = [(float(x), text) for x, text in re.findall(r'<text x="([\d.]+)" y="[\d.]+" text-anchor="middle">([^<]+)', drawn)]
                self.assertGreaterEqual(len(numbers), 3)
                # half of each number at 13 px is at most 3.7 px a figure; between them is the room of one
                for (left, one), (right, other) in pairwise(numbers):
                    self.assertGreaterEqual(right - left, 3.7 * (len(one) + len(other) + 2), (one, other))
