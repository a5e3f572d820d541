"""Figures are what their model says, and each of them is read somewhere."""

import copy
import enum
import re
import unittest

from birch_route.core import vocabulary
from birch_route.core.data import checked_figures, figures
from birch_route.core.errors import InputError
from tests.support import ROOT

# read by a name that is put together: the material of a bit, the film on a piece, what a sort of material resists
COMPOSED = {
    "carbide_m", "hss_m", "carbide", "hss", "oil", "lacquer", "none",
    "resists_wood", "resists_sheet", "resists_plastic", "resists_shell", "resists_metal",
}
WORDS = {"source", "what", "note"}


def names_in(data):
    """Yield every name of nested figures, with its path."""
    if isinstance(data, dict):
        for key, held in data.items():
            yield key
            yield from names_in(held)


class Model(unittest.TestCase):
    def test_what_is_shipped_is_what_the_model_says(self):
        self.assertGreater(len(list(names_in(figures()))), 300)

    def test_a_wrong_name_a_missing_one_and_another_kind_are_told_with_their_place(self):
        for change, place in (
            (lambda f: f["plunge"].update(prat=0.3), "plunge.prat"),
            (lambda f: f["plunge"].pop("part"), "plunge.part"),
            (lambda f: f["plunge"].update(part="much"), "plunge.part"),
            (lambda f: f.update(plonge={}), "plonge"),
        ):
            data = copy.deepcopy(figures())
            change(data)
            with self.subTest(place), self.assertRaises(InputError) as refused:
                checked_figures(data)
            self.assertIn(place, refused.exception.message)

    def test_every_figure_is_read(self):
        text = "".join(p.read_text("utf-8") for p in (ROOT / "src" / "birch_route").rglob("*.py"))
        spoken = set(re.findall(r"""["']([a-z0-9_]+)["']""", text))
        kinds = [v for v in vars(vocabulary).values() if isinstance(v, type) and issubclass(v, enum.Enum)]
        spoken |= {str(one.value) for kind in kinds for one in kind}
        unread = {name for name in names_in(figures()) if name not in spoken | COMPOSED | WORDS}
        self.assertEqual(unread, set())


if __name__ == "__main__":
    unittest.main()
