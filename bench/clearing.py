"""Clearing with a bounded engagement, judged by the tests' raster: the regions of a guitar and random ones with slots little wider
than the bit. `python -m bench.clearing [how many random ones]`"""

from __future__ import annotations

import sys
import time

import numpy as np
from shapely import affinity
from shapely.geometry import LineString, Point, Polygon, box
from shapely.ops import unary_union

from birch_route.core.clearing.engaged import clear_engaged
from birch_route.core.heights.warm import compile_kernels
from birch_route.core.instrument.resolve import cut_region, resolve
from birch_route.demo.fitted import fitted_route
from birch_route.demo.jobs import EXAMPLES
from tests.independent.clearing_judge import judge

RADIUS, ARC = 3.0, 60.0


def guitar_regions() -> dict[str, Polygon]:
    """Every pocket of the demo jobs that a 6 mm bit can go round in, as it is cut, and a chamber of 10,000 mm2."""
    out = {}
    for route in [fitted_route(True), *(make() for make in EXAMPLES.values())]:
        for solid in resolve(route).solids.values():
            if solid.kind == "pocket":
                region = cut_region(solid, RADIUS)
                if not region.buffer(-1.3 * RADIUS).is_empty:
                    out.setdefault(f"{solid.name}, {region.area:.0f} mm2", region)
    ring = affinity.scale(Point(0, 0).buffer(1, quad_segs=48), 68, 50)
    out["a chamber with two posts"] = ring.difference(unary_union([Point(20, 8).buffer(9), affinity.rotate(box(-40, -10, -20, 12), 20)]))
    return out


def random_region(seed: int) -> Polygon:
    """Blocks, ovals and polygons run together, joined by slots from 1.05 bits wide, with islands."""
    rng = np.random.default_rng(seed)
    parts = []
    for _ in range(rng.integers(2, 5)):
        x, y = rng.uniform(0, 90, 2)
        kind = rng.integers(0, 3)
        if kind == 0:
            w, s, e, n = rng.uniform(8, 30, 4)
            parts.append(affinity.rotate(box(x - w, y - s, x + e, y + n), rng.uniform(0, 90)))
        elif kind == 1:
            parts.append(affinity.rotate(affinity.scale(Point(x, y).buffer(1, quad_segs=24), rng.uniform(8, 35), rng.uniform(8, 35)), rng.uniform(0, 90)))
        else:
            angles = np.sort(rng.uniform(0, 2 * np.pi, rng.integers(5, 10)))
            far = rng.uniform(12, 35, len(angles))
            parts.append(Polygon(np.column_stack([x + far * np.cos(angles), y + far * np.sin(angles)])).buffer(0))
    parts += [LineString(rng.uniform(0, 90, (3, 2))).buffer(RADIUS + rng.choice([0.15, 0.3, 0.6, 1.0, 1.5, 2.5]), quad_segs=12) for _ in range(rng.integers(1, 3))]
    region = unary_union(parts)
    for _ in range(rng.integers(0, 5)):
        x, y = rng.uniform(0, 90, 2)
        w, s, e, n = rng.uniform(1, 8, 4)
        region = region.difference(affinity.rotate(box(x - w, y - s, x + e, y + n), rng.uniform(0, 90)))
    return max(getattr(region, "geoms", [region]), key=lambda p: p.area).simplify(1e-3)


def measured(region: Polygon, *, both_ways: bool = False) -> dict[str, float]:
    """Clear a region and let the judge look at it."""
    room = region.buffer(-RADIUS, quad_segs=64)
    began = time.perf_counter()
    plan = clear_engaged(room, RADIUS, ARC, both_ways=both_ways)
    took = time.perf_counter() - began
    seen = judge(region, RADIUS, [(int(leg.kind), leg.points) for leg in plan.legs], ARC)
    left = seen["left_mm2"] / max(seen["reachable_mm2"], 1e-9)
    return {"over_15": 100 * seen["over_15"], "over_30": 100 * seen["over_30"], "left": 100 * left if not plan.slots else 0.0, "gouged_mm2": seen["gouged_mm2"], "ratio": seen["length_ratio"],
            "air": 100 * seen["air"], "lifts": seen["lifts"], "slots": len(plan.slots), "s_per_1000": took / region.area * 1000, "seconds": took, "area": region.area}


def main() -> int:
    compile_kernels()
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 12
    print(f"6 mm bit, {ARC:.0f} degrees. over 15 and 30: % of the cutting length above the target by so many %; left: % of what the bit reaches")
    for name, region in guitar_regions().items():
        for both in (False, True):
            m = measured(region, both_ways=both)
            print(f"{name[:40]:40} {'both ways' if both else 'climb':9} over 15 {m['over_15']:.3f} over 30 {m['over_30']:.3f} left {m['left']:.4f} gouged {m['gouged_mm2']:.2f} mm2 "
                  f"length {m['ratio']:.3f} of area/width air {m['air']:.0f} % lifts {m['lifts']:.0f} slots {m['slots']:.0f} {m['seconds']:.1f} s, {m['s_per_1000']:.2f} s per 1000 mm2", flush=True)
    rows = []
    for seed in range(count):
        rows.append(measured(random_region(seed)))
        print(f"  random {seed}: " + ", ".join(f"{k} {v:.3g}" for k, v in rows[-1].items()), flush=True)
    for key in ("over_15", "over_30", "left", "gouged_mm2", "ratio", "air", "s_per_1000"):
        values = np.array([r[key] for r in rows])
        print(f"{count} random, {key}: median {np.median(values):.4g}, nine in ten under {np.percentile(values, 90):.4g}, worst {values.max():.4g}")
    return 0


if __name__ == "__main__":
    raise SystemExit(main())
