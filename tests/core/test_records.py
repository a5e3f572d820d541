"""Records of cuts: simulated shops whose true limits are known; trust closes in on the truth, proves nothing untried, survives contradiction and mistyping."""

import random
import unittest

from birch_route.core.cutting.limits import Question, parts
from birch_route.core.cutting.question import answer
from birch_route.core.cutting.records import Trial, hear, knowing, lend, test_plan, trust
from birch_route.core.data import wood
from birch_route.core.quantities import say
from birch_route.core.route import Settings
from birch_route.core.vocabulary import CutKind, Limit, Origin, Outcome, Standing
from tests.core.test_question import BASE, EVERY_BIT

FAST = BASE.model_copy(update={"greatest_feed_mm_min": 9000.0})
Q = Question(FAST, EVERY_BIT, wood("ash"), CutKind.SLOT, 6.0)


def with_chip(chip, depth=3.0, side=6.0, speed=15000.0):
    return Settings(feed_mm_min=chip * speed * 2, plunge_mm_min=300, speed_rpm=speed, depth_of_cut_mm=depth, stepover_mm=side)


def trial(outcome, chip, depth=3.0, side=6.0, **more):
    return Trial(**{"machine": FAST.name, "machine_class": FAST.machine_class.value, "bit": EVERY_BIT, "wood": "ash", "kind": "slot", "settings": with_chip(chip, depth, side), "outcome": outcome, **more})


def heard(trials):
    """Return what counts of records, and what does not with why."""
    found = hear(Q, trials)
    return found.kept, found.doubted


class Shop:
    """A shop with a true limit: the thickest chip goes down with the depth; thinner than the least burns."""

    def __init__(self, rng, wrong=0.0, typo=0.0):
        self.rng, self.wrong, self.typo = rng, wrong, typo
        self.thick, self.slope, self.thin = rng.uniform(0.12, 0.3), rng.uniform(0.03, 0.08), rng.uniform(0.012, 0.03)
        self.trials = []

    def most(self, depth):
        return self.thick * max(0.2, 1 - self.slope * depth)

    def cut(self, chip, depth):
        true = Outcome.BURNING if chip < self.thin else self.rng.choice([Outcome.CHATTER, Outcome.BROKE, Outcome.TORN]) if chip > self.most(depth) else Outcome.FINE
        said = true
        if self.rng.random() < self.wrong:
            said = self.rng.choice([o for o in Outcome if o not in (true, Outcome.SLOW)])
        typed = chip * (self.rng.choice([0.1, 10.0]) if self.rng.random() < self.typo else 1.0)
        feed = typed * 15000 * 2
        if 10 <= feed <= 30000:
            self.trials.append(trial(said, typed, depth))
        return true

    def learn(self, depth=3.0, rounds=6):
        """Run test plans from what is trusted, stopping at the first bad slot, as a careful shop does."""
        for _ in range(rounds):
            for step in test_plan(Q, with_chip(0.05, depth), self.trials)[0]:
                if self.cut(step.chip_mm * self.rng.uniform(0.97, 1.03), depth) is not Outcome.FINE:
                    break


class Honest(unittest.TestCase):
    def test_the_trusted_range_closes_in_on_the_truth(self):
        rng = random.Random(3)
        for _ in range(25):
            shop = Shop(rng)
            shop.learn()
            told = trust(Q, with_chip(0.1), hear(Q, shop.trials))
            truth = min(shop.most(3.0), Q.window.bold * 1.5 * 1.03, FAST.greatest_feed_mm_min / 30000)
            self.assertLessEqual(told.high_mm, shop.most(3.0) * 1.001)
            self.assertGreater(told.high_mm, truth / 1.15 * 0.94)
            if told.fails_mm:
                self.assertGreater(told.fails_mm, shop.most(3.0) * 0.999)

    def test_it_survives_contradiction_and_mistyping(self):
        rng, over, under = random.Random(8), 0, 0
        for _ in range(40):
            shop = Shop(rng, wrong=0.06, typo=0.04)
            shop.learn(rounds=8)
            told = trust(Q, with_chip(0.1), hear(Q, shop.trials))
            truth = min(shop.most(3.0), Q.window.bold * 1.5 * 1.03, FAST.greatest_feed_mm_min / 30000)
            over += told.high_mm is not None and told.high_mm > 1.2 * shop.most(3.0)
            under += told.high_mm is None or told.high_mm < 0.7 * truth
        self.assertLessEqual(over, 2)
        self.assertLessEqual(under, 6)

    def test_nothing_is_proven_but_what_was_cut_here(self):
        """Random questions to random shops: every proven one has a good record of its own beside it, whatever else is known."""
        rng, proven = random.Random(5), 0
        for _ in range(20):
            shop = Shop(rng, wrong=0.05, typo=0.05)
            shop.learn(depth=rng.choice([2.0, 3.0, 4.0]), rounds=4)
            shop.trials += [t.model_copy(update={"origin": rng.choice([Origin.TOLD, Origin.COMPUTED])}) for t in shop.trials[:5]]
            for _ in range(200):
                beside = rng.choice(shop.trials)  # half of them beside a record
                s = with_chip(rng.uniform(0.01, 0.35), rng.uniform(0.5, 8), rng.choice([1.0, 3.0, 6.0]), rng.choice([12000.0, 15000.0])) if rng.random() < 0.5 else with_chip(
                    beside.chip_mm * rng.uniform(0.93, 1.07), beside.settings.depth_of_cut_mm * rng.uniform(0.97, 1.03), 6.0) if 10 < beside.chip_mm * 30000 * 0.93 and beside.chip_mm * 30000 < 27000 else with_chip(0.1)
                if trust(Q, s, hear(Q, shop.trials)).standing is Standing.PROVEN:
                    proven += 1
                    chip = s.feed_mm_min / s.speed_rpm / 2
                    self.assertTrue(any(t.origin is Origin.OWN and t.outcome is Outcome.FINE and abs(t.chip_mm / chip - 1) <= 0.0201 and abs(t.settings.depth_of_cut_mm / s.depth_of_cut_mm - 1) <= 0.0201
                                        and abs(t.settings.stepover_mm / s.stepover_mm - 1) <= 0.0201 and abs(t.settings.speed_rpm / s.speed_rpm - 1) <= 0.0201 for t in shop.trials))
        self.assertGreater(proven, 5)

    def test_what_others_tell_or_what_is_computed_proves_nothing(self):
        for origin in (Origin.TOLD, Origin.COMPUTED):
            told = hear(Q, [trial("fine", 0.1, origin=origin)] * 5)
            self.assertIs(trust(Q, with_chip(0.1), told).standing, Standing.UNTRIED)
        for other in ({"machine": "Another"}, {"wood": "alder"}, {"kind": "side"}, {"bit": EVERY_BIT.model_copy(update={"id": "other"})}):
            self.assertIs(trust(Q, with_chip(0.1), hear(Q, [trial("fine", 0.1, **other)])).standing, Standing.UNTRIED)
        self.assertIs(trust(Q, with_chip(0.1), hear(Q, [trial("fine", 0.1)])).standing, Standing.PROVEN)


class Standings(unittest.TestCase):
    def test_easier_is_covered_deeper_is_untried_and_as_hard_as_a_failure_has_failed(self):
        known = [trial("fine", 0.06), trial("fine", 0.12), trial("broke", 0.2)]
        for s, expected in ((with_chip(0.12), Standing.PROVEN), (with_chip(0.09, 2.0), Standing.COVERED), (with_chip(0.09, 5.0), Standing.UNTRIED), (with_chip(0.15), Standing.UNTRIED), (with_chip(0.21), Standing.FAILED),
                            (with_chip(0.2, 6.0), Standing.FAILED), (with_chip(0.02), Standing.UNTRIED)):
            self.assertIs(trust(Q, s, hear(Q, known)).standing, expected, s)
        self.assertAlmostEqual(trust(Q, with_chip(0.15), hear(Q, known)).beyond, 1.25, places=2)
        self.assertIs(trust(Q, with_chip(0.05), hear(Q, [*known, trial("burning", 0.055)])).standing, Standing.FAILED)

    def test_the_fewer_of_contradicting_records_give_way_and_say_why(self):
        kept, doubted = heard([trial("fine", 0.2), trial("broke", 0.15), trial("chatter", 0.16)])
        self.assertEqual(([t.outcome for t in kept], "2 cuts no harder failed" in doubted[0][1]), ([Outcome.BROKE, Outcome.CHATTER], True))
        kept, doubted = heard([trial("broke", 0.08), *(trial("fine", c) for c in (0.1, 0.11, 0.12))])
        self.assertEqual(len(kept), 3)
        self.assertIn("went well", doubted[0][1])
        kept, doubted = heard([trial("fine", 0.1), trial("fine", 0.11), trial("fine", 0.12), trial("fine", 0.16 * 1.3)])
        self.assertIn("waits for a second", doubted[0][1])
        self.assertIn("mistyped", hear(Q, [trial("fine", 0.9)]).doubted[0][1])


class Heard(unittest.TestCase):
    def test_of_one_that_went_well_and_one_that_failed_the_failure_is_believed(self):
        kept, doubted = heard([trial("fine", 0.2), trial("broke", 0.15)])
        self.assertEqual([t.outcome for t in kept], [Outcome.BROKE])
        self.assertEqual([why for _, why in doubted], ["1 cut no harder failed"])

    def test_a_speed_the_machine_turns_counts_and_one_beyond_it_was_mistyped(self):
        fastest = max(FAST.speeds_rpm) if FAST.speeds_rpm else FAST.greatest_rpm
        for part, counts in ((1.0, 1), (1.0005, 1), (1.002, 0)):
            one = trial("fine", 0.05, settings=with_chip(0.05).model_copy(update={"speed_rpm": fastest * part}))
            self.assertEqual(len(heard([one])[0]), counts, part)

    def test_what_went_well_tells_the_greatest_feed_and_the_greatest_part_of_force(self):
        cuts = [trial("fine", 0.1, 2.0), trial("fine", 0.12, 1.0), trial("slow", 0.08, 4.0)]
        knows = knowing(Q, hear(Q, [*cuts, trial("broke", 0.3, 6.0)]))
        self.assertEqual(knows.went_mm_min, max(t.settings.feed_mm_min for t in cuts))
        force = (Limit.POWER, Limit.BEND, Limit.BREAKAGE)
        used = [
            float(part)
            for s in (t.settings for t in cuts)
            for k, part in parts(Q, s.feed_mm_min, s.speed_rpm, s.depth_of_cut_mm, s.stepover_mm).items() if k in force
        ]
        self.assertAlmostEqual(knows.went_part, max(used), places=12)
        self.assertEqual(knowing(Q, hear(Q, [trial("broke", 0.3)])), Q)


class Lending(unittest.TestCase):
    def test_the_nearest_ground_lends_its_settings_scaled_with_its_risk(self):
        wide = EVERY_BIT.model_copy(update={"id": "w", "diameter_mm": 8.0, "stickout_mm": 40.0, "shank_diameter_mm": 8.0})
        lent = lend(Q, [trial("fine", 0.1, wood="alder"), trial("fine", 0.16, bit=wide, wood="alder", machine="Another"), trial("broke", 0.1, wood="beech")])
        self.assertEqual(len(lent), 2)
        self.assertEqual(lent[0].trial.wood, "alder")
        self.assertLess(lent[0].far, lent[1].far)
        self.assertIn("53% denser", lent[0].risk)
        chip = lent[0].settings.feed_mm_min / lent[0].settings.speed_rpm / 2
        self.assertAlmostEqual(chip, 0.1, delta=0.002)  # the windows of both woods are the same
        self.assertLess(lent[0].settings.depth_of_cut_mm, 3.0)  # denser: less deep for the same bend
        self.assertIn("8 mm bit", say(lent[1].words))
        elsewhere = hear(Q, [trial("fine", 0.1, wood="alder")])
        self.assertIs(trust(Q, lent[0].settings, elsewhere).standing, Standing.UNTRIED)

    def test_a_plan_begins_no_harder_than_what_is_known_and_rises_by_steps(self):
        plan, rule = test_plan(Q, answer(Q).settings, [trial("fine", 0.1, depth=9.0)])
        self.assertIs(plan[0].standing, Standing.COVERED)
        self.assertTrue(all(1.0 < b.chip_mm / a.chip_mm < 1.17 for a, b in zip(plan[:-1], plan[1:], strict=True)))
        self.assertLessEqual(plan[-1].chip_mm, Q.window.bold * 1.5)
        self.assertIn("stop at the first", rule)


if __name__ == "__main__":
    unittest.main()
