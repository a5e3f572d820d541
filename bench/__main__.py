"""Speed as ratios and rates of one run: `./birch bench [--json]`. Nothing here is asserted in tests."""

from __future__ import annotations

import json
import sys
import time

import numpy as np

from birch_route.core.bits.model import Bit
from birch_route.core.cutting.limits import Question
from birch_route.core.cutting.question import answer
from birch_route.core.cutting.rack import choices
from birch_route.core.data import wood
from birch_route.core.heights.field import Grid, Wood, cut_path
from birch_route.core.instrument import bevels
from birch_route.core.instrument import resolve as resolve_module
from birch_route.core.instrument.resolve import resolve
from birch_route.core.motion.toolpath import Toolpath, join
from birch_route.core.programs.writer import write_programs
from birch_route.core.proving import holds as holds_module
from birch_route.core.proving.prove import prove
from birch_route.core.proving.simulate import Cache
from birch_route.core.route import Route
from birch_route.core.vocabulary import Aim, CutKind
from birch_route.demo.fitted import fitted_route
from birch_route.demo.jobs import EXAMPLES, body_route
from birch_route.demo.shop import BITS, MORE_BITS
from tests.support import changed, put

from .served import served
from .small_step import program_seconds

CELL = 0.25


def best(act, repeats: int = 5) -> float:
    """Return the shortest CPU time of some repeats, s."""
    times = []
    for _ in range(repeats):
        began = time.process_time()
        act()
        times.append(time.process_time() - began)
    return min(times)


def numpy_stamp(top: np.ndarray, path: Toolpath, radius: float) -> None:
    """The plain way: the bit's disc stamped at half-cell steps with numpy slices. The yardstick, not the product."""
    reach = int(np.ceil(radius / CELL))
    jj, ii = np.mgrid[-reach: reach + 1, -reach: reach + 1]
    disc = np.hypot(ii * CELL, jj * CELL) <= radius
    for a, b in zip(path.points[:-1], path.points[1:], strict=True):
        for t in np.linspace(0, 1, max(2, int(np.linalg.norm(b - a) / (CELL / 2)) + 1)):
            x, y, z = a + t * (b - a)
            i, j = int(x / CELL), int(y / CELL)
            if reach <= i < top.shape[1] - reach and reach <= j < top.shape[0] - reach:
                part = top[j - reach: j + reach + 1, i - reach: i + reach + 1]
                np.minimum(part, np.where(disc, z, np.inf), out=part)


def kernels() -> dict[str, float]:
    """Pocketing and facing against plain numpy and against copying the grid."""
    grid = Grid.over(0, 0, 360, 480, CELL)
    block = Wood.block(grid, 0.0, -45.0)
    memcpy = best(lambda: block.top.copy(), 9)
    pocket_bit, pocket = rings(8.0, 3.4, [(60, 60, 300, 200), (60, 240, 300, 420)], [-3.0, -6.0, -9.0, -12.0])
    face_bit, face = rings(25.0, 17.5, [(-5, -5, 365, 485)], [-0.8])
    out = {}
    for name, bit, path, share in (("pocket", pocket_bit, pocket, 12), ("facing", face_bit, face, 1)):
        work = Wood(grid, block.top.copy(), block.bottom)

        def cut(bit=bit, path=path, work=work) -> None:
            work.top[:] = 0.0
            cut_path(work, path, bit, 30.0, 0.0)

        reset = best(lambda work=work: work.top.fill(0.0))
        took = best(cut) - reset
        part = Toolpath(path.points[: len(path) // share + 1], path.kinds[: len(path) // share], path.feeds[: len(path) // share])
        plain = best(lambda part=part, bit=bit: numpy_stamp(np.zeros_like(block.top), part, bit.radius_mm), 1) * share
        out[f"{name}_times_numpy"] = plain / took
        out[f"{name}_memcpys"] = took / memcpy
        out[f"{name}_metres"] = path.cut_length_mm() / 1000
    work = Wood(grid, block.top.copy(), block.bottom)
    twice = join([pocket, pocket])
    out["twice_the_path_times"] = best(lambda: cut_path(work, twice, pocket_bit, 30.0, 0.0)) / best(lambda: cut_path(work, pocket, pocket_bit, 30.0, 0.0))
    return out


def rings(diameter: float, stepover: float, boxes, depths) -> tuple[Bit, Toolpath]:
    """Return a bit and rounded rectangular rings from inside out at each depth; the bit goes straight down between them."""
    from shapely.geometry import box

    from birch_route.core.motion.toolpath import PathBuilder
    from birch_route.core.vocabulary import MoveKind

    bit = Bit(id="b", name="b", form="flat", diameter_mm=diameter, cutting_length_mm=40, shank_diameter_mm=min(diameter, 8), stickout_mm=60)
    path = PathBuilder(boxes[0][0], boxes[0][1], 5)
    for edges in boxes:
        inner = box(*edges).buffer(-diameter)
        for depth in depths:
            loops, region = [], inner.buffer(diameter / 2)
            while not region.is_empty:
                loops.append(np.asarray(region.exterior.coords))
                region = region.buffer(-stepover)
            path.rapid(z_mm=5)
            path.rapid(*loops[-1][0])
            for loop in reversed(loops):
                path.along(loop, depth, MoveKind.CUT, 3000)
    path.rapid(z_mm=5)
    path.rapid(boxes[0][0], boxes[0][1])
    return bit, path.done()


def proofs() -> dict[str, float]:
    """The demo route proved from nothing, and after one edit."""
    route = body_route()
    prove(route)
    out = {"demo_proof_s": best(lambda: prove(route), 3), "demo_operations": float(len(route.operations))}
    cache = Cache()
    prove(route, cache)
    path = "operations.pocket_pickup_pocket.settings."
    feeds = iter([changed(route, put(path + "feed_mm_min", 3000 + k)) for k in range(3)])
    depths = iter([changed(route, put(path + "depth_of_cut_mm", 4.0 + k / 10)) for k in range(3)])
    out["edit_feed_s"] = best(lambda: prove(next(feeds), cache), 3)
    out["edit_depth_s"] = best(lambda: prove(next(depths), cache), 3)
    both = fitted_route(True)
    out["two_faces_proof_s"] = best(lambda: _from_nothing(both), 3)
    out["two_faces_operations"] = float(len(both.operations))
    proof = prove(both, cache)
    out["two_faces_holding_s"] = best(lambda: _held_anew(proof), 3)
    bit, machine = route.bit("flat8"), route.machine
    question = Question(machine, bit, wood("hard_maple"), CutKind.SLOT, bit.cut_diameter_mm)
    out |= {f"question_{aim.value}_ms": 1000 * best(lambda aim=aim: answer(question, aim), 5) for aim in Aim}
    resolved, rack = resolve(route), [Bit.model_validate(b) for b in [*BITS, *MORE_BITS]] * 3  # 33 bits
    out["rack_for_a_feature_s"] = max(best(lambda s=s: choices(s, rack, wood("hard_maple"), machine, resolved.thickness_mm), 1) for s in resolved.solids.values())
    finish = "operations.surface_finish_belly.settings.stepover_mm"
    slopes = iter([changed(both, put(finish, 0.8 + k / 20)) for k in range(3)])
    out["edit_surface_finish_s"] = best(lambda: prove(next(slopes), cache), 3)
    return out


def _held_anew(proof):
    """The load balance of every operation, nothing kept from before."""
    holds_module._kept.clear()
    return [holds_module._holds(sim) for sim in proof.simulations]


def _from_nothing(route: Route) -> None:
    """Prove a route with nothing kept but compiled kernels."""
    resolve_module._kept.clear()
    bevels._kept.clear()
    prove(route)


def times() -> dict[str, float]:
    """Told time over that of the independent small-step planner, for each example."""
    out = {}
    for name, make in EXAMPLES.items():
        sim = prove(make()).simulation
        m = sim.route.machine
        other = sum(program_seconds(p.text, list(m.rapid_mm_min), list(m.acceleration_mm_s2), m.junction_deviation_mm, m.greatest_feed_mm_min)
                    for p in write_programs(sim))
        out[f"time_ratio_{name}"] = sum(float(s.times_s.sum()) for s in sim.steps) / other
    return out


def main(arguments: list[str]) -> int:
    figures: dict[str, float] = {}
    for part in (kernels, proofs, times, served):
        found = part()
        figures |= found
        if "--json" not in arguments:
            for name, value in found.items():
                print(f"{name:36} {value:12.4g}", flush=True)
    if "--json" in arguments:
        print(json.dumps({k: float(f"{v:.6g}") for k, v in figures.items()}))
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
