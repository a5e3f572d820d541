"""Steps at the bench that a person adds, where they stand, and findings that are meant so."""

import unittest

from birch_route.core.data import own_step_minutes, starting_steps
from birch_route.core.errors import InputError
from birch_route.core.proving.findings import as_meant, finding
from birch_route.core.route import content_hash
from birch_route.core.traveller import gates_before
from birch_route.demo.fitted import fitted_route
from tests.support import changed, codes, proof_of, put, route_named

STEPOVER = "operations.pocket_control_cavity.settings.stepover_mm"
LOOK = {"name": "Look at it", "minutes": 2}


def added(route, after=None, behind=None, **more):
    return changed(route, {"do": "add_step", "after": after, "behind": behind, "step": {**LOOK, **more}})


def order(route, after):
    return [s.id for s in route.bench_steps if s.after == after]


class Steps(unittest.TestCase):
    def test_added_anywhere_with_all_it_says(self):
        said = {"kind": "sand", "where": "rim", "tool": "block", "grit": 180, "check": "no ridge", "in_sight": True,
                "gate": True, "note": "with the grain"}
        step = added(route_named("siskin_body"), "face", **said).bench_steps[-1]
        self.assertEqual({k: getattr(step, k) for k in said}, said)
        self.assertEqual((step.after, step.own, step.id), ("face", True, "own"))
        twice = added(added(route_named("siskin_body")), None)
        self.assertEqual([s.id for s in twice.bench_steps if s.own], ["own_2", "own"])  # right after what it follows

    def test_one_said_by_its_name_alone_takes_the_minutes_of_the_data(self):
        by_name = {"do": "add_step", "after": "face", "step": {"name": "Wipe it"}}
        self.assertEqual(changed(route_named("siskin_body"), by_name).bench_steps[-1].minutes, own_step_minutes())

    def test_behind_another_and_what_cannot_be(self):
        one = added(route_named("siskin_body"), "face")
        two = added(one, "face", behind="own")
        self.assertEqual(order(two, "face"), ["own", "own_2"])
        self.assertRaisesRegex(InputError, "stands elsewhere", added, one, None, "own")
        self.assertRaisesRegex(InputError, "no operation nothing", added, one, "nothing")
        self.assertRaisesRegex(InputError, "cannot be added: minutes", added, one, "face", minutes=-1)
        self.assertRaisesRegex(InputError, "cannot be added: grit", added, one, "face", grit=15)
        self.assertEqual(added(one, "face", grit=16).bench_steps[0].after, one.bench_steps[0].after)

    def test_walks_through_the_whole_order_and_back(self):
        route = added(fitted_route(True))
        ids, places = ["own"], []
        total = len(route.operations) + len(route.bench_steps) - 1
        at = route
        for _ in range(total):
            at = changed(at, {"do": "move_step", "step": "own", "later": True})
            places.append((next(s.after for s in at.bench_steps if s.own), order(at, at.bench_steps[-1].after)))
            self.assertEqual([s.id for s in at.bench_steps if s.own], ids)
        self.assertRaisesRegex(InputError, "stands last already", changed, at,
                               {"do": "move_step", "step": "own", "later": True})
        for _ in range(total):
            at = changed(at, {"do": "move_step", "step": "own", "later": False})
        self.assertEqual(at, route)
        self.assertRaisesRegex(InputError, "stands first already", changed, at,
                               {"do": "move_step", "step": "own", "later": False})

    def test_before_and_after_the_turning_over(self):
        route = fitted_route(True)
        turn = next(s for s in route.bench_steps if s.name.startswith("Turn over"))
        after = added(route, turn.after, behind=turn.id)
        self.assertEqual(order(after, turn.after)[-2:], [turn.id, "own"])
        before = changed(after, {"do": "move_step", "step": "own", "later": False})
        self.assertEqual(order(before, turn.after)[-2:], ["own", turn.id])

    def test_it_holds_the_programs_after_it_and_no_others(self):
        route = added(route_named("siskin_body"), "pocket_neck_pocket", gate=True)
        ids = [o.id for o in route.operations]
        at = ids.index("pocket_neck_pocket")
        self.assertEqual([s.id for s in gates_before(route, ids[: at + 1]) if s.own], [])
        self.assertEqual([s.id for s in gates_before(route, ids[at + 1 :]) if s.own], ["own"])

    def test_a_step_whose_operation_goes_stays_where_it_stood(self):
        route = added(route_named("siskin_body"), "pocket_control_cavity")
        ids = [o.id for o in route.operations]
        gone = changed(route, {"do": "remove_operation", "operation": "pocket_control_cavity"})
        before = ids[ids.index("pocket_control_cavity") - 1]
        self.assertEqual(gone.bench_steps[-1].after, before)
        anew = changed(route, {"do": "remove_item", "list": "features", "id": "control_cavity"}, {"do": "propose"})
        self.assertIn(next(s.after for s in anew.bench_steps if s.own), ids)

    def test_a_tick_of_before_still_stands_until_the_step_is_another_one(self):
        step = added(route_named("siskin_body")).bench_steps[-1].model_copy(update={"own": False})
        plain = {k: v for k, v in step.model_dump(mode="json").items()
                 if k not in ("where", "tool", "grit", "check", "in_sight", "own")}
        self.assertEqual(content_hash(step.as_ticked()), content_hash(plain))
        other = step.model_copy(update={"check": "no gap"})
        self.assertNotEqual(content_hash(other.as_ticked()), content_hash(plain))

    def test_the_steps_a_shop_begins_with_can_be_added(self):
        route = route_named("siskin_body")
        for kind in starting_steps():
            route = changed(route, {"do": "add_step", "after": "face",
                                    "step": kind.model_dump(mode="json", exclude={"used_here"})})
        self.assertEqual(len(order(route, "face")), len(starting_steps()))


class MeantSo(unittest.TestCase):
    def setUp(self):
        self.route = changed(route_named("siskin_body"), put(STEPOVER, 4.5))
        self.found = next(f for f in proof_of(self.route).findings if f.code == "settings.stepover")

    def say(self, f, why="seen by nobody", **more):
        about = {"code": f.code, "operation": f.operation, "feature": f.feature, "hardware": f.hardware, "said": f.said}
        return {"do": "mean_so", **about, "why": why, **more}

    def unsay(self, f):
        return {k: v for k, v in self.say(f).items() if k != "why"} | {"do": "mean_no_more"}

    def test_it_is_kept_with_its_reason_and_accuses_no_more(self):
        route = changed(self.route, self.say(self.found))
        proof = proof_of(route)
        self.assertEqual(codes(proof), codes(proof_of(self.route)))
        self.assertEqual([f.meant for f in proof.findings if f.code == "settings.stepover"], ["seen by nobody"])
        self.assertTrue(proof.findings[-1].meant)  # it comes last
        back = changed(route, self.unsay(self.found))
        self.assertEqual(back, self.route)

    def test_when_its_figures_change_it_accuses_again_and_says_what_was_meant(self):
        route = changed(self.route, self.say(self.found), put(STEPOVER, 5.0))
        now = next(f for f in proof_of(route).findings if f.code == "settings.stepover")
        self.assertEqual((now.meant, now.was_meant), ("", "seen by nobody"))
        again = changed(route, put(STEPOVER, 4.5))
        self.assertTrue(next(f for f in proof_of(again).findings if f.code == "settings.stepover").meant)

    def test_another_place_is_not_quieted_by_it(self):
        other = self.found.model_copy(update={"operation": "pocket_neck_pocket"})
        item = changed(self.route, self.say(self.found)).meant
        self.assertEqual([bool(f.meant) for f in as_meant([self.found, other], item)], [True, False])
        same_place = self.found.model_copy(update={"sentence": self.found.sentence + " More."})
        self.assertFalse(as_meant([same_place], item)[0].meant)

    def test_a_stop_is_never_meant_and_nothing_is_without_a_reason(self):
        stop = finding("hardware.hit", "The bit hits it.", operation="face")
        self.assertRaisesRegex(InputError, "A stop is not meant so", changed, self.route, self.say(stop))
        self.assertRaisesRegex(InputError, "Say why", changed, self.route, self.say(self.found, "  "))
        unknown = self.say(self.found, code="settings.nothing")
        self.assertRaisesRegex(InputError, "no finding", changed, self.route, unknown)
        item = changed(self.route, self.say(self.found)).meant[0]
        forged = item.model_copy(update={"code": stop.code, "operation": "face", "said": stop.said})
        self.assertFalse(as_meant([stop], [forged])[0].meant)
        self.assertRaisesRegex(InputError, "Nobody said", changed, self.route, self.unsay(self.found))
