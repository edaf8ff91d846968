"""Published examples typed and pasted into the real interface; each gives on screen what its source says."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from hobrel.core.document.lab_book import Accepted, Convention, Finding, Fit, Graph, LabBook, Quantity, Run
from hobrel.core.document.plan_part import PlanPart, ReferenceTable, TableLine
from hobrel.labbooks.models import Book
from tests.browser.base import BrowserTest, cell, in_the_long_run, paste, saved, unfold
from tests.core.test_board import ANSCOMBE
from tests.school import analysis_of, give_another

PLAIN = LabBook(
    title="Published",
    convention=Convention("standard_error", "quadrature"),
    quantities=(Quantity("x", "changed", "first number", "x"), Quantity("y", "measured", "second number", "y")),
    runs=(Run("run1", "first set"),),
    graphs=(Graph("plain", "", "x", "y"),),
    fits=(Fit("line", "plain"),),
)
# K. Pearson's points with D. York's weights: D. York et al., Am. J. Phys. 72, 367 (2004), table II
YORK = ((0.0, 1000, 5.9, 1.0), (0.9, 1000, 5.4, 1.8), (1.8, 500, 4.4, 4.0), (2.6, 800, 4.6, 8.0), (3.3, 200, 3.5, 20.0),
        (4.4, 80, 3.7, 20.0), (5.2, 60, 2.8, 70.0), (6.1, 20, 2.8, 70.0), (6.5, 1.8, 2.4, 100.0), (7.4, 1.0, 1.5, 500.0))  # fmt: skip
# vapour pressure of mercury in mmHg from 0 °C, every 20 °C: data set “pressure” (Handbook of Chemistry and Physics), open in pydataset
MERCURY = "0.0002 0.0012 0.006 0.03 0.09 0.27 0.75 1.85 4.2 8.8 17.3 32.1 57 96 157 247 376 558 806".split()


class Published(BrowserTest):
    def start(self, plan: LabBook, stage: str = "read") -> tuple[Page, Book]:
        book = give_another(self.school, plan, plan)
        return self.open_book(self.school.students[0], stage, book), book

    @in_the_long_run
    def test_yorks_line_from_readings_with_their_own_bars(self) -> None:
        """Gradient −0.480533 ± 0.057985, intercept 5.479910 ± 0.294971."""
        page, book = self.start(PLAIN)
        cell(page, 0, 0).click()
        page.keyboard.type("0.0+-0.0316228")
        page.keyboard.press("Tab")
        page.keyboard.type("5.9+-1")
        rows = "\n".join(f"{x} ± {1 / wx**0.5:.7f}\t{y} ± {1 / wy**0.5:.7f}" for x, wx, y, wy in YORK[1:])
        paste(page, cell(page, 1, 0), rows)
        saved(page)
        page.keyboard.press("Alt+6")
        card = page.get_by_label("Line card")
        # the bars' own ± stands beside that of the scatter about the line, which is larger here and is what is said
        expect(card).to_contain_text("−0.48 ± 0.06")
        expect(card).to_contain_text("−0.48 ± 0.07")
        expect(card).to_contain_text("5.5 ± 0.4")
        expect(card).to_contain_text("weighted by the error bars in x and y")
        gradient = analysis_of(Book.objects.get(pk=book.pk)).fits[0].gradient
        assert gradient is not None
        self.assertAlmostEqual(gradient.value, -0.480533, 5)

    @in_the_long_run
    def test_anscombes_sets_have_one_r2_and_four_faces(self) -> None:
        page, _ = self.start(PLAIN)
        seen: list[str] = []
        faces = {}
        for name, (xs, ys) in ANSCOMBE.items():
            if name != "I":
                page.keyboard.press("Alt+2")
                page.get_by_role("button", name="+ fresh readings").click()
                page.keyboard.type(name)
                page.keyboard.press("Enter")
                expect(page.get_by_role("tab", name=name, exact=True)).to_have_attribute("aria-selected", "true")
            paste(page, cell(page, 0, 0), "\n".join(f"{x}\t{y}" for x, y in zip(xs, ys, strict=True)))
            saved(page)
            page.keyboard.press("Alt+6")
            card = page.get_by_label("Line card")
            expect(card).to_contain_text("of 11 points")
            expect(card).to_contain_text("0.66")
            page.keyboard.press("Alt+5")
            if name == "I":
                page.get_by_role("button", name="Show what Hobrel makes of them all").click()
            plain = page.locator('.board-square[aria-label^="y against x."]')
            for before in seen:
                expect(plain.locator(".board-signs")).not_to_have_text(before)
            seen.append(plain.locator(".board-signs").inner_text())
            faces[name] = plain.get_attribute("aria-label") or ""
        self.assertIn("still bends", faces["II"])
        self.assertNotIn("still bends", faces["I"])

    @in_the_long_run
    def test_a_zero_that_forbids_a_shape_is_left_out_of_the_fit(self) -> None:
        """y = 3 x², from x = 0: a power has no value there by its logarithm, and comes out as 2 without it."""
        page, _ = self.start(PLAIN)
        paste(page, cell(page, 0, 0), "\n".join(f"{x}\t{3 * x * x:.1f}" for x in range(6)))
        saved(page)
        page.keyboard.press("Alt+6")
        expect(page.get_by_label("Line card")).to_contain_text("of 6 points")
        unfold(page)
        page.get_by_label("What is fitted").click()
        power = page.locator(".ant-select-item-option").filter(has_text="Power")
        expect(power).to_contain_text("needs every x above zero; point 1 is at x = 0")
        page.keyboard.press("Escape")
        page.get_by_role("button", name="Leave that out of this fit").click()
        expect(page.get_by_label("Line card")).to_contain_text("of 5 points")
        page.get_by_label("What is fitted").click()
        power.click()
        expect(page.get_by_label("Card of the curve").locator("dd").nth(1)).to_have_text(re.compile("^2"))

    @in_the_long_run
    def test_mercurys_enthalpy_of_vaporisation(self) -> None:
        """Handbook: 59.1 kJ/mol at the boiling point, 61.4 kJ/mol at 25 °C (CRC Handbook, from memory); the straight line still bends."""
        plan = LabBook(
            title="Vapour pressure",
            quantities=(
                Quantity("th", "changed", "temperature", "theta", "°C"), Quantity("p", "measured", "vapour pressure", "p", "mmHg"),
                Quantity("inv", "derived", "one over temperature", "1/theta", formula="1/theta"),
                Quantity("lp", "derived", "logarithm of the pressure", "ln(p)", formula="ln(p)"),
            ),
            runs=(Run("run1", "Mercury"),), graphs=(Graph("straight", "", "inv", "lp"),), fits=(Fit("line", "straight"),),
        )  # fmt: skip
        page, book = self.start(plan)
        paste(page, cell(page, 0, 0), "\n".join(f"{20 * i}\t{p}" for i, p in enumerate(MERCURY)))
        saved(page)
        page.keyboard.press("Alt+6")
        expect(page.get_by_label("Line card")).to_contain_text("it still bends")
        page.get_by_role("button", name="Use the gradient in Find").click()
        page.keyboard.press("Alt+7")
        form = page.get_by_role("form", name="A finding of your own")
        form.get_by_label("called").fill("enthalpy of vaporisation")
        form.get_by_label("symbol", exact=True).fill("H")
        form.get_by_label("in", exact=True).fill("kJ/mol")
        form.get_by_label("H =").fill("-R m_1 +")
        expect(form).to_contain_text("stops too early")
        form.get_by_label("H =").fill("-R m_1")
        form.get_by_label("accepted value, if there is one").fill("60.3")
        form.get_by_label("±").fill("1.2")
        form.get_by_label("from", exact=True).fill("handbook, from 25 °C to boiling")
        expect(form).to_contain_text("60.75 ± 0.15 kJ/mol")
        form.get_by_role("button", name="Keep this finding").click()
        sheet = page.get_by_role("region", name="enthalpy of vaporisation")
        expect(sheet).to_contain_text("60.75 ± 0.15 kJ/mol")
        expect(sheet).to_contain_text("It agrees with the accepted value")
        saved(page)
        value = analysis_of(Book.objects.get(pk=book.pk)).findings[0].value
        assert value is not None
        self.assertTrue(59.1 < value.value < 61.4)

    @in_the_long_run
    def test_an_unknown_by_calibration(self) -> None:
        """J. N. Miller and J. C. Miller, Statistics for Analytical Chemistry, chapter 5 (from memory): 6.21 ± 0.14 for the mean of four."""
        page, _ = self.start(PLAIN)
        standards = zip((0, 2, 4, 6, 8, 10, 12), (2.1, 5.0, 9.0, 12.6, 17.3, 21.0, 24.7), strict=True)
        paste(page, cell(page, 0, 0), "\n".join(f"{x}\t{y}" for x, y in standards))
        saved(page)
        page.keyboard.press("Alt+6")
        page.get_by_text("Unknowns to read back").click()
        page.get_by_label("called").last.fill("the sample")
        page.get_by_label("its y, every reading").fill("13.4 13.5; 13.5 13,6")
        page.keyboard.press("Enter")
        row = page.locator(".unknowns tbody tr")
        expect(row).to_contain_text("6.21 ± 0.14")
        page.get_by_label("called").last.fill("too strong")
        page.get_by_label("its y, every reading").fill("31")
        page.keyboard.press("Enter")
        expect(row.nth(1)).to_contain_text("outside the standards")
        page.reload()
        expect(page.locator(".unknowns tbody tr")).to_have_count(2)


class Stated(BrowserTest):
    def test_the_bench_rounds_first(self) -> None:
        plan = LabBook(
            title="Rounding", bench_rounds=True, convention=PLAIN.convention, quantities=PLAIN.quantities, runs=PLAIN.runs,
            graphs=PLAIN.graphs, fits=PLAIN.fits, findings=(Finding("w", "slope of it", "w", "", "gradient", "line"),),
        )  # fmt: skip
        book = give_another(self.school, plan, plan)
        page = self.open_book(self.school.students[0], "read", book)
        paste(page, cell(page, 0, 0), "1\t2.1\n2\t3.9\n3\t6.2\n4\t7.8\n5\t10.1")
        saved(page)
        page.keyboard.press("Alt+7")
        sheet = page.get_by_role("region", name="slope of it")
        expect(sheet).to_contain_text("In full it is 1.99000")
        expect(sheet).not_to_contain_text("1.99 ± 0.06")
        for text, answer in (("about two", "Write the value, ±"), ("1.990 ± 0.06", "more decimals"), ("1.99 +- 0.06", "Right:")):
            page.get_by_label("Your own rounding").fill(text)
            page.keyboard.press("Enter")
            expect(sheet).to_contain_text(answer)
        expect(sheet.locator(".find-statement")).to_contain_text("1.99 ± 0.06")

    def test_the_bench_says_first_what_it_would_need_to_see(self) -> None:
        known = Finding("w", "slope of it", "w", "", "gradient", "line", accepted=Accepted("2.00", "0.05", "a handbook"))
        plan = LabBook(
            title="Foreseen", bench_foresees=True, convention=PLAIN.convention, quantities=PLAIN.quantities, runs=PLAIN.runs,
            graphs=PLAIN.graphs, fits=PLAIN.fits, findings=(known,),
        )  # fmt: skip
        book = give_another(self.school, plan, plan)
        page = self.open_book(self.school.students[0], "read", book)
        paste(page, cell(page, 0, 0), "1\t2.1\n2\t3.9\n3\t6.2\n4\t7.8\n5\t10.1")
        saved(page)
        page.keyboard.press("Alt+7")
        sheet = page.get_by_role("region", name="slope of it")
        expect(sheet).to_contain_text("Before you are told")
        expect(sheet).to_contain_text("Accepted: 2.00 ± 0.05")
        expect(sheet).not_to_contain_text("agree within")
        self.check_access(page)
        expect(sheet.locator(".number-line")).to_have_count(0)
        sheet.get_by_role("button", name="their bars overlap").click()
        expect(sheet.get_by_label("What you would need to see", exact=True).last).to_have_value("their bars overlap")
        sheet.get_by_role("button", name="Write it down").click()
        expect(sheet).to_contain_text("You wrote that you would need to see: their bars overlap. Do you see it?")
        expect(sheet.locator(".number-line")).to_be_visible()
        expect(sheet.locator(".notice.good")).to_contain_text("agree")
        saved(page)
        page.get_by_role("banner").get_by_role("button", name="Undo").click()
        expect(sheet).to_contain_text("Before you are told")


class Handbook(BrowserTest):
    def test_a_table_to_look_things_up_in_is_listed_and_drawn(self) -> None:
        lines = tuple(TableLine(at, value) for at, value in (("0", "75.6"), ("20", "72.8"), ("40", "69.6"), ("60", "66.2")))
        sigma = ReferenceTable("s", "surface tension of water", "sigma", "mN/m", "temperature", "°C", lines, "0.4", "a handbook")
        plan = LabBook(
            title="Drops", convention=PLAIN.convention, quantities=PLAIN.quantities, runs=PLAIN.runs, graphs=PLAIN.graphs,
            plan=PlanPart(tables=(sigma,)),
        )  # fmt: skip
        book = give_another(self.school, plan, plan)
        page = self.open_book(self.school.students[0], "average", book)
        page.get_by_text("surface tension of water").first.click()
        drawn = page.locator(".reference .graph svg").first
        expect(drawn.locator("[data-point]")).to_have_count(4)
        expect(drawn).to_have_attribute("aria-label", "surface tension of water against temperature: 4 lines, straight between them.")
        expect(page.locator(".reference tbody tr")).to_have_count(4)
        drawn.locator("[data-point]").nth(1).focus()
        expect(page.locator(".reference .graph-readout")).to_have_text("temperature 20 °C: 72.8 mN/m")
        self.check_access(page)
