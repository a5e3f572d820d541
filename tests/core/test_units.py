import unittest
from fractions import Fraction

from hypothesis import given
from hypothesis import strategies as st

from birch_route.core.errors import UnitError
from birch_route.core.units import Unit, format_inch, format_mm, parse_length


class ParseLength(unittest.TestCase):
    def test_reads_every_way_people_type_a_length(self):
        inch = 25.4
        for text, mm in {
            "44.36": 44.36, "44,36": 44.36, "44.36 mm": 44.36, '1 3/4"': 1.75 * inch, "1-3/4 in": 1.75 * inch, ".375in": 0.375 * inch,
            "45/64": 45 / 64 * inch, "1¾": 1.75 * inch, "2 in": 2 * inch, "3/8 inch": 0.375 * inch, '25 1/2"': 25.5 * inch, "7.": 7.0, "1/2 mm": 0.5,
        }.items():
            with self.subTest(text):
                self.assertAlmostEqual(parse_length(text).mm, mm, places=9)

    def test_a_plain_number_takes_the_unit_in_use(self):
        self.assertAlmostEqual(parse_length("2", Unit.INCH).mm, 50.8)

    def test_refuses_what_is_no_length_and_says_what_was_typed(self):
        for text in ("", "abc", "nan", "inf", "1/0", "5 furlongs", "1 2 3", "--4", "1e400", "-3", "4mm5", "99999 in"):
            with self.subTest(text), self.assertRaises(UnitError):
                parse_length(text)

    @given(st.integers(0, 60), st.integers(0, 63))
    def test_an_inch_fraction_survives_being_shown_and_read(self, whole, part):
        value = float((Fraction(whole) + Fraction(part, 64)) * Fraction(254, 10))
        self.assertAlmostEqual(parse_length(format_inch(value)).mm, value, places=9)

    @given(st.text(max_size=12))
    def test_any_text_gives_a_length_or_a_clear_refusal(self, text):
        try:
            self.assertTrue(0 <= parse_length(text).mm <= 10_000)
        except UnitError as exc:
            self.assertTrue(exc.message)

    def test_zero_is_shown_without_a_sign(self):
        self.assertEqual(format_mm(-0.001), "0.00")
