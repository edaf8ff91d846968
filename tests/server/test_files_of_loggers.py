"""What loggers and programs write, as it stands in their files: times of day, signs of thousands, headings of their own."""

from __future__ import annotations

from typing import Any

from django.test import SimpleTestCase

from hobrel.core.document.lab_book import LabBook, Quantity, Run
from hobrel.interchange.bringing import Chosen
from hobrel.interchange.files import Brought, Choice, FileLook, bring_file_in, look_over_file
from hobrel.interchange.sensing import Target
from hobrel.server.problems import Problem

BOOK = LabBook(
    "Cooling",
    quantities=(Quantity("t", "changed", "time", "t", "s"), Quantity("T", "measured", "temperature", "T", "°C")),
    runs=(Run("run1", ""),),
)
TEMPERATURES = ("21.5", "21.6", "21.8")


def look(text: str) -> FileLook:
    return look_over_file(BOOK, text.encode(), "log.csv")


def bring(text: str, logged: bool = True, book: LabBook = BOOK) -> Brought:
    """The columns as they are suggested."""
    columns = look_over_file(book, text.encode(), "log.csv").sheets[0].columns
    chosen = tuple(Chosen(c.index, c.unit, c.target) for c in columns if c.target is not None)
    return bring_file_in(book, text.encode(), "log.csv", Choice(0, chosen, "new", "", "", 1, logged))


def columns_of(text: str) -> Any:
    columns = bring(text).columns
    assert columns is not None
    return {key: tuple(texts) for key, texts in columns.items()}


def with_times(times: tuple[str, ...], heading: str = "Time") -> str:
    rows = "".join(f'"{time}",{value}\n' for time, value in zip(times, TEMPERATURES, strict=True))
    return f"{heading},Temperature (°C)\n{rows}"


class TimesOfDay(SimpleTestCase):
    """ISO 8601-1:2019 for dates with a time; how halves of the day and days of the month are written is common practice."""

    def test_what_has_a_date_or_a_half_of_the_day_is_seconds_since_the_first_row(self) -> None:
        for words, times, seconds in (
            ("halves of the day", ("11:59:50 AM", "12:00:00 PM", "12:00:20 pm"), ("0", "10", "30")),
            ("midnight by halves", ("11:59:50 PM", "12:00:00 AM", "12:00:20 a.m."), ("0", "10", "30")),
            ("ISO", ("2026-12-01T09:15:00", "2026-12-01T09:15:10", "2026-12-01T09:16:00"), ("0", "10", "60")),
            ("parts of a second", ("2026-12-01 09:15:00.0Z", "2026-12-01 09:15:00.2Z", "2026-12-01 09:15:01.0Z"), ("0.0", "0.2", "1.0")),
            ("zones", ("2026-03-29T00:59:50+00:00", "2026-03-29T02:00:00+01:00", "2026-03-29T02:00:20+0100"), ("0", "10", "30")),
            ("behind Greenwich", ("2026-03-29T00:59:50-05:00", "2026-03-29T06:00:00Z", "2026-03-29T01:00:20-0500"), ("0", "10", "30")),
            ("the end of a leap February", ("2028-02-28 23:59:50", "2028-02-29 00:00:00", "2028-03-01 00:00:00"), ("0", "10", "86410")),
            ("days before months", ("31/12/2026 23:59:50", "01/01/2027 00:00:00", "01/01/2027 00:00:20"), ("0", "10", "30")),
            ("months before days", ("12/31/2026 11:59:50 PM", "1/1/2027 12:00:00 AM", "1/1/2027 12:00:20 AM"), ("0", "10", "30")),
            ("either, so that least time passes", ("01/12/2026 23:59:50", "02/12/2026 00:00:00", "02/12/2026 00:00:20"), ("0", "10", "30")),
            ("the same with months first", ("12/01/26 23:59:50", "12/02/26 00:00:00", "12/02/26 00:00:20"), ("0", "10", "30")),
            ("the order in which time goes on", ("01/02/2026 00:00:00", "02/01/2026 00:00:00", "03/01/2026 00:00:00"),
             ("0", "2592000", "5011200")),
            ("two figures for a leap year", ("28/02/00 00:00:00", "29/02/00 00:00:00", "01/03/00 00:00:00"), ("0", "86400", "172800")),
            ("points, no seconds", ("1.12.2026 9:15", "1.12.2026 9:16", "1.12.2026 10:15"), ("0", "60", "3600")),
            ("a night", ("23:59:50", "00:00:00", "00:00:20"), ("0", "10", "30")),
        ):  # fmt: skip
            with self.subTest(words):
                first = look(with_times(times)).sheets[0].columns[0]
                self.assertEqual((first.unit, first.numbers, first.texts, first.words), ("s", 3, 0, f"seconds since {times[0]}"))
                self.assertEqual(columns_of(with_times(times)), {"t": seconds, "T": TEMPERATURES})

    def test_what_a_stopwatch_has_counted_stays_as_it_stands(self) -> None:
        for times in (
            ("0:00:00", "0:00:01", "0:00:02"), ("1:05:30", "1:04:10", "1:10:20"), ("0:58.5", "1:05.3", "1:10.2"),
            ("23:59:50", "12:00:00", "12:00:10"),
        ):  # fmt: skip
            with self.subTest(times):
                self.assertEqual(columns_of(with_times(times))["t"], times)

    def test_a_column_of_dates_beside_it_says_that_it_is_a_time_of_day(self) -> None:
        text = "Date,Time,Temperature (°C)\n31/12/2026,23:59:50,21.5\n01/01/2027,00:00:00,21.6\n01/01/2027,00:00:20,21.8\n"
        self.assertEqual(columns_of(text), {"t": ("0", "10", "30"), "T": TEMPERATURES})
        date = look(text).sheets[0].columns[0]
        self.assertEqual((date.numbers, date.texts, date.target), (0, 3, None))

    def test_a_heading_says_what_minutes_and_hours_are(self) -> None:
        for heading, seconds in (("Time (mm:ss)", ("0", "30", "75")), ("Time [hh:mm]", ("0", "1800", "4500"))):
            with self.subTest(heading):
                text = with_times(("00:00", "00:30", "01:15"), heading)
                self.assertEqual(look(text).sheets[0].columns[0].heading, "Time")
                self.assertEqual(columns_of(text)["t"], seconds)

    def test_in_the_unit_of_the_quantity_and_as_readings_to_work_on(self) -> None:
        minutes = LabBook("b", quantities=(Quantity("t", "changed", "time", "t", "min"), BOOK.quantities[1]), runs=BOOK.runs)
        text = with_times(("9:15:00 AM", "9:15:30 AM", "9:16:00 AM"))
        log = bring(text, book=minutes).edit.log
        assert log is not None
        self.assertEqual(log.units, {"t": "s", "T": "°C"})
        settings = bring(text, logged=False, book=minutes).edit.settings
        self.assertEqual([s.readings["t"][0].text for s in settings if s.readings["t"][0]], ["0.00", "0.50", "1.00"])

    def test_where_it_goes_to_no_time_it_is_left_as_it_is(self) -> None:
        text = with_times(("9:15:00 AM", "9:15:30 AM", "9:16:00 AM"))
        chosen = (Chosen(0, "", Target("T")),)
        brought = bring_file_in(BOOK, text.encode(), "log.csv", Choice(0, chosen, "new", "", "", 1, True))
        self.assertEqual(brought.columns, {"T": ["9:15:00 AM", "9:15:30 AM", "9:16:00 AM"]})
        both = "Time,Seen\n9:15:00 AM,9:15:00 AM\n9:15:30 AM,9:15:40 AM\n"
        choice = Choice(0, (Chosen(0, "min", Target("t")), Chosen(1, "", Target("T"))), "new", "", "", 1, True)
        edit = bring_file_in(BOOK, both.encode(), "log.csv", choice)
        self.assertEqual(edit.columns, {"t": ["0", "30"], "T": ["9:15:00 AM", "9:15:40 AM"]})
        self.assertEqual(edit.edit.log and edit.edit.log.units["t"], "s")

    def test_a_footer_and_gaps_do_not_hide_them_and_dates_that_are_none_do(self) -> None:
        rows = "".join(f"2026-12-01T09:15:{s:02d},21.5\n" for s in range(20))
        times = columns_of(f"Time,Temperature (°C)\n{rows},21.7\nMean,21.5\n")["t"]
        self.assertEqual((times[:2], times[-3:]), (("0", "1"), ("19", "", "Mean")))
        seen = look(f"Time,Temperature (°C)\n{rows},21.7\nMean,21.5\n").sheets[0].columns[0]
        self.assertEqual((seen.numbers, seen.blanks, seen.texts), (20, 1, 1))
        half = "Time,Temperature (°C)\n" + "9:15:00 AM,21.5\n9:15:10 AM,21.5\nlate,21.5\n" * 3
        self.assertEqual(look(half).sheets[0].columns[0].words, "")
        for time in ("2026-02-30 09:15:00", "0:15:00 AM", "13:00:00 PM"):
            none = look(with_times((time, time, time))).sheets[0].columns[0]
            self.assertEqual((none.numbers, none.texts, none.words), (0, 3, ""), time)


class DecimalSigns(SimpleTestCase):
    def test_thousands_are_parted_by_the_sign_that_is_not_the_decimal_one(self) -> None:
        for words, text, wanted in (
            ("points elsewhere", 'Time (s),Temperature (°C)\n"1,000",21.5\n"1,001",21.6\n', ("1000", "1001")),
            ("in the same cells", 'Time (s),Temperature (°C)\n"1,000.5",21\n"-1,234,567.5",22\n', ("1000.5", "-1234567.5")),
            ("commas elsewhere", "Time (s);Temperature (°C)\n1.000;21,5\n1.013,5;21,6\n", ("1000", "1013,5")),
            ("nothing says which", 'Time (s),Temperature (°C)\n"1,000",21\n"1,001",22\n', ("1,000", "1,001")),
            ("nothing says so of points", "Time (s);Temperature (°C)\n1.000;21\n1.001;22\n", ("1.000", "1.001")),
            ("both say so", 'Time (s),Temperature (°C)\n"1,000",21.5\n"1,5",22.5\n', ("1,000", "1,5")),
            ("three decimals", "Time (s),Temperature (°C)\n1.000,21.5\n1.001,21.6\n", ("1.000", "1.001")),
            ("no thousands", "Time (s);Temperature (°C)\n0.125;21,5\n0.250;21,6\n", ("0.125", "0.250")),
        ):  # fmt: skip
            with self.subTest(words):
                self.assertEqual(columns_of(text)["t"], wanted)
                self.assertEqual("thousands" in look(text).words, wanted[0] in ("1000", "1000.5"))

    def test_commas_that_part_cells_and_are_decimal_signs_are_put_together(self) -> None:
        text = "Time (s),Temperature (°C)\n0,0,21,5\n0,5,21,6\n1,0,21,8\n"
        self.assertEqual(columns_of(text), {"t": ("0,0", "0,5", "1,0"), "T": ("21,5", "21,6", "21,8")})
        self.assertIn("which are decimal signs too", look(text).words)
        self.assertEqual(columns_of(f"{text}end,of,file\n")["t"][:3], ("0,0", "0,5", "1,0"))

    def test_where_they_cannot_be_told_apart_it_says_so(self) -> None:
        with self.assertRaises(Problem) as refused:
            look("Time (s),Temperature (°C)\n0,21,5\n1,21,6\n2,21,8\n")
        self.assertIn("2 headings, and 3 numbers in each row", refused.exception.message)

    def test_more_columns_than_headings_are_otherwise_left(self) -> None:
        for text in (
            "t (s),T (°C)\n0,21\n1,22\n",
            "t (s),T (°C),\n0,21,\n1,22,\n",
            "t (s),T (°C)\n0,21.5,7\n1,21.6,8\n",
            "t (s),,T (°C),\n0,1,21,22\n1,2,22,23\n",
            "t (s),T (°C)\n0,-1,21,2\n1,-2,22,3\n",
        ):
            with self.subTest(text):
                self.assertEqual(columns_of(text)["t"], ("0", "1"))


class Headings(SimpleTestCase):
    def test_as_programs_and_loggers_write_them(self) -> None:
        for heading, units in (
            ("Time (s),Temperature (C)", ("s", "°C")),
            ("t (s),T (C)", ("s", "°C")),
            ("time_s,temp_degC", ("s", "°C")),
            ("t_in_ms,T_degC", ("ms", "°C")),
            ("Time s,Temperature °C", ("s", "°C")),
            ("Time (s),Temp. (F)", ("s", "°F")),
            ("sec,°C", ("sec", "°C")),
            ("Time,Temp", ("", "")),
            ("Time (s),Attempt (C)", ("s", "C")),
        ):
            with self.subTest(heading):
                columns = look(f"{heading}\n0,21.5\n1,21.6\n").sheets[0].columns
                self.assertEqual(tuple(c.unit for c in columns), units)
                self.assertEqual([c.target and c.target.quantity for c in columns], ["t", None if "Attempt" in heading else "T"])

    def test_a_beginning_of_two_names_is_neither(self) -> None:
        two = LabBook("b", quantities=(*BOOK.quantities, Quantity("S", "measured", "temperature of the bath", "S", "°C")), runs=BOOK.runs)
        columns = look_over_file(two, b"Time (s),Temp\n0,21.5\n1,21.6\n", "log.csv").sheets[0].columns
        self.assertIsNone(columns[1].target)

    def test_what_a_logger_writes_of_itself_does_not_part_the_cells(self) -> None:
        about = "Device: AB-12\nSerial: 123\nInterval: 0.5\n\n"
        for separator in ("\t", ";", "; "):
            with self.subTest(separator):
                rows = "".join(f"{k / 2}{separator}21.{k}\n" for k in range(3))
                columns = look(f"{about}Time (s){separator}Temperature (°C)\n{rows}").sheets[0].columns
                self.assertEqual([(c.heading, c.unit) for c in columns], [("Time", "s"), ("Temperature", "°C")])
        rows = "".join(f"01/12/2026,9:15:0{k} AM,21.{k}\n" for k in range(6))
        columns = look(f"Logger: A1\nDate,Time,Temp (C)\n{rows}").sheets[0].columns
        self.assertEqual([(c.heading, c.unit) for c in columns], [("Date", ""), ("Time", "s"), ("Temp", "°C")])
        rows = "".join(f"{k},5 21,{k}\n" for k in range(6))
        self.assertEqual([c.first[1] for c in look(f"Logger: A1\nt T\n{rows}").sheets[0].columns], ["1,5", "21,1"])
        rows = "".join(f"{k / 2} 21.{k}\n" for k in range(6))
        self.assertEqual([c.heading for c in look(f"# made by a logger\n# t T\n{rows}").sheets[0].columns], ["t", "T"])
