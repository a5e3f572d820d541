import unittest
from fractions import Fraction

from hypothesis import given
from hypothesis import strategies as st

from birch_route.core.errors import UnitError
from birch_route.core.quantities import Unit, inch_fraction, length, metre, mm, named_mm, rate, rounded, say
from birch_route.core.units import parse_length, parse_number
from tests.cases.lengths import NUMBERS, READ, REFUSED, SIGNED


class ParseLength(unittest.TestCase):
    def test_reads_every_way_people_type_a_length(self):
        for text, unit, value in READ:
            with self.subTest(text, unit=unit):
                self.assertAlmostEqual(parse_length(text, Unit(unit)).mm, value, places=9)
        for text, unit, value in SIGNED:
            with self.subTest(text):
                self.assertAlmostEqual(parse_length(text, Unit(unit), negative=True).mm, value, places=9)

    def test_refuses_what_is_no_length_and_says_why(self):
        for text, unit, word in REFUSED:
            with self.subTest(text):
                with self.assertRaises(UnitError) as refused:
                    parse_length(text, Unit(unit))
                self.assertIn(word, refused.exception.message)

    def test_ten_metres_are_read_and_not_a_hair_more(self):
        self.assertEqual(parse_length("10000").mm, 10_000)
        with self.assertRaises(UnitError):
            parse_length("10000.1")

    def test_plain_numbers_follow_the_same_rules(self):
        for text, value in NUMBERS:
            with self.subTest(text):
                if value is None:
                    with self.assertRaises(UnitError):
                        parse_number(text)
                else:
                    self.assertEqual(parse_number(text), value)

    @given(st.integers(0, 60), st.integers(0, 63))
    def test_an_inch_fraction_survives_being_shown_and_read(self, whole, part):
        value = float((Fraction(whole) + Fraction(part, 64)) * Fraction(254, 10))
        self.assertAlmostEqual(parse_length(inch_fraction(value), Unit.INCH).mm, value, places=9)

    @given(st.text(max_size=12))
    def test_any_text_gives_a_length_or_a_clear_refusal(self, text):
        try:
            self.assertTrue(0 <= parse_length(text).mm <= 10_000)
        except UnitError as exc:
            self.assertTrue(exc.message)


class Sentences(unittest.TestCase):
    def test_a_sentence_is_said_in_the_readers_unit(self):
        text = f"It is {mm(12.7):.1f} deep, {named_mm(25.4):g} wide, fed at {rate(2540):.0f}; {mm(0.05):.3f} a tooth."
        self.assertEqual(say(text), "It is 12.7 deep, 25.4 mm wide, fed at 2540; 0.050 a tooth.")
        self.assertEqual(say(text, Unit.INCH), 'It is 1/2" deep, 1" wide, fed at 100; 0.0020" a tooth.')

    def test_a_way_is_said_in_metres_or_in_feet(self):
        self.assertEqual(say(f"{metre(30.48):.1f}"), "30.5 m")
        self.assertEqual(say(f"{metre(30.48):.1f}", Unit.INCH), "100.0 ft")

    def test_a_fraction_is_said_only_where_a_caliper_sees_no_difference(self):
        for places, off in ((0, 0.3), (1, 0.08), (2, 0.02)):
            with self.subTest(places=places):
                inside = min(off, 25.4 / 128) - 0.001
                self.assertEqual(length(25.4 + inside, places, Unit.INCH), '1"')
                if off < 25.4 / 128:
                    self.assertRegex(length(25.4 + off + 0.001, places, Unit.INCH), r'^1\.\d{3}"$')

    def test_zero_is_shown_without_a_sign_and_ties_go_away_from_zero(self):
        self.assertEqual([rounded(v, p) for v, p in ((-0.001, 2), (2.5, 0), (-2.5, 0), (0.125, 2))], ["0.00", "3",
                                                            "−3", "0.13"])

    def test_a_quantity_knows_how_it_can_be_shown(self):
        with self.assertRaises(ValueError):
            f"{mm(3):>8}"


if __name__ == "__main__":
    unittest.main()
