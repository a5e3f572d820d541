"""Ten kills of web, workers and database during edits: a sample of `python -m bench.kills`, which does two hundred."""

import unittest

from bench.kills import WHOM, run


class Kills(unittest.TestCase):
    def test_ten_kills_lose_no_edit_that_was_acknowledged(self):
        told = run(seed=11, kills=10)
        self.assertEqual((told.count, told.lost), (10, []))
        self.assertGreater(told.acknowledged, 10)
        self.assertEqual(set(told.kills), set(WHOM))
        self.assertTrue(all(told.kills.values()), told.kills)


if __name__ == "__main__":
    unittest.main()
