"""JSON and tables from outside: what no field can take is refused where it stands, what can be read is."""

import csv
import unittest

from birch_route.core.errors import InputError
from birch_route.formats.json_text import LONGEST_WHOLE, read_json
from birch_route.formats.table_text import read_table


class Json(unittest.TestCase):
    def test_what_is_plain_is_read_with_and_without_a_byte_order_mark(self):
        for data in (
            '{"a": [1, 2.5, null, "ß"]}',
            '{"a": [1, 2.5, null, "ß"]}'.encode(),
            b'\xef\xbb\xbf{"a": [1, 2.5, null, "\xc3\x9f"]}',
        ):
            self.assertEqual(read_json(data, "It"), {"a": [1, 2.5, None, "ß"]})

    def test_what_no_field_can_take_is_refused_where_it_stands(self):
        for data, where in (
            ('{"a": {"b": ["x", "\\ud800"]}}', "a.b.1"),
            ('{"a": "x\\u0000"}', "a"),
            ('{"\\udfff": 1}', "a name"),
            ('{"a": NaN}', "NaN"),
            ('{"a": 1e999}', "1e999"),
            ('{"a": -Infinity}', "-Infinity"),
            ("{", "It"),
            (b"\xff\xfe", "It"),
            ("[" * 200_000, "It"),
            ("9" * 10_000, "9" * 20),
        ):
            with self.subTest(str(data)[:20]), self.assertRaises(InputError) as caught:
                read_json(data, "It")
            self.assertEqual(caught.exception.where, where)

    def test_the_longest_whole_number_is_read_and_one_digit_more_is_not(self):
        self.assertEqual(read_json("9" * LONGEST_WHOLE, "It"), int("9" * LONGEST_WHOLE))
        self.assertRaisesRegex(InputError, f"{LONGEST_WHOLE + 1} digits", read_json, "9" * (LONGEST_WHOLE + 1), "It")

    def test_a_pair_of_halves_is_a_character(self):
        self.assertEqual(read_json('"\\ud83c\\udfb8"', "It"), "\U0001f3b8")


class Tables(unittest.TestCase):
    def test_rows_by_columns_with_nothing_where_a_line_lacks_some_or_has_too_many(self):
        columns, rows = read_table("\ufeffa,b\n1,2\n3\n4,5,6\n")
        self.assertEqual(columns, ["a", "b"])
        self.assertEqual(rows, [{"a": "1", "b": "2"}, {"a": "3", "b": ""}, {"a": "4", "b": "5"}])
        self.assertEqual(read_table(""), ([], []))

    def test_a_field_up_to_the_bound_is_read_and_one_longer_is_refused_by_its_line(self):
        most = csv.field_size_limit()
        self.assertEqual(len(read_table("a\n" + "x" * most + "\n")[1][0]["a"]), most)
        with self.assertRaises(InputError) as caught:
            read_table("a\nb\n" + "x" * (most + 1) + "\n")
        self.assertEqual(caught.exception.where, "line 3")

    def test_an_empty_character_is_refused_by_its_line(self):
        with self.assertRaises(InputError) as caught:
            read_table("a,b\n1,2\n3,\x00\n")
        self.assertEqual(caught.exception.where, "line 3")


if __name__ == "__main__":
    unittest.main()
