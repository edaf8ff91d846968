"""Fewer points and signs for a drawing: none is lost where there is room, and the extremes never are."""

from __future__ import annotations

import numpy as np

from hobrel.core.presentation.results import LineMark
from hobrel.core.presentation.showing import draw_number_line
from hobrel.core.presentation.thinning import thin_points, thin_signs


def test_as_many_as_there_is_room_for_are_all_drawn() -> None:
    x = np.arange(6.0)
    # flat but for the ends, so that thinning would leave the middle out
    assert thin_points(x, np.zeros(6), most=6) == [0, 1, 2, 3, 4, 5]
    assert len(thin_points(x, np.zeros(6), most=4)) < 6


def test_the_lowest_and_the_highest_of_each_stretch_stay() -> None:
    y = np.array([0.0, 5.0, 1.0, 1.0, -3.0, 1.0, 2.0, 1.0])
    assert thin_points(np.arange(8.0), y, most=4) == [0, 1, 4, 6]


def test_signs_are_all_drawn_where_there_is_room_and_the_majority_where_there_is_none() -> None:
    assert thin_signs("+−+−", most=4) == "+−+−"
    assert thin_signs("+−−+−", most=1) == "−"
    assert thin_signs("+−+−", most=2) == "00", "as many above as below"
    assert thin_signs("++−−", most=2) == "+−"


def test_a_number_line_holds_every_mark_with_its_bar() -> None:
    line = draw_number_line((LineMark("a", 10.0, 0.1), LineMark("b", 10.2, 3.0)), "m")
    assert line.axis_low <= 7.2
    assert line.axis_high >= 13.2
    assert line.axis_high - line.axis_low < 12
