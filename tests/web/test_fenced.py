"""Readers of files from elsewhere: bounded, ended from outside, stopped by a person, and never in the way of the
shop."""

import os
import signal
import threading
import time
import unittest
from pathlib import Path

import numpy as np

from birch_route.core.errors import InputError, NumericError
from birch_route.core.instrument.resolve import resolve
from birch_route.formats.route_file import route_to_text
from birch_route.formats.stl import write_stl
from birch_route.jobs.fence import Bound, Stopped, read_fenced
from tests.support import LiveServer, live_server, route_named

OPTIONS = {"name": "drawing.svg", "unit": None, "join_mm": 0.1, "scan": None}
SVG = '<svg xmlns="http://www.w3.org/2000/svg" width="300mm" height="200mm" viewBox="0 0 300 200">{}</svg>'
NOWHERE = SVG.format('<path d="M10 10A1e-300 1e-300 0 0 1 100 10L100 90L10 90Z"/>').encode()


def spiral(points):
    """Return a drawing that takes long: curves that all cross one another."""
    rng = np.random.default_rng(7)
    parts = [
        "<path d='M"
        + " ".join(
            f"C{a:.2f} {b:.2f} {c:.2f} {d:.2f} {e:.2f} {f:.2f}" if k else f"{a:.2f} {b:.2f}"
            for k, (a, b, c, d, e, f) in enumerate(rng.uniform(0, 200, (100, 6)))
        )
        + "Z'/>"
        for _ in range(points // 100)
    ]
    return SVG.format("".join(parts)).encode()


def tangle(count=400_000):
    """Return an STL file in which every triangle lies over the whole piece."""
    rng = np.random.default_rng(3)
    corners = np.array([[0, 0, 0], [480, 0, 0], [240, 400, 0]], float)
    return write_stl(corners + rng.uniform(-20, 20, (count, 3, 3)))


def children():
    """Return the readers that run, wherever they were started from."""
    found = []
    for entry in Path("/proc").iterdir():
        try:
            if entry.name.isdigit() and b"birch_route.jobs.fence" in (entry / "cmdline").read_bytes():
                found.append(int(entry.name))
        except OSError:
            continue
    return found


class Fence(unittest.TestCase):
    def test_a_file_that_takes_too_long_says_which_bound_was_met(self):
        data, began = spiral(60_000), time.monotonic()
        with self.assertRaisesRegex(InputError, "not read within 1 seconds") as caught:
            read_fenced("drawing", data, OPTIONS, Bound(1.0, 1400))
        self.assertEqual(caught.exception.facts["bound"], "time")
        self.assertLess(time.monotonic() - began, 5)
        self.assertEqual(children(), [])

    def test_a_file_that_takes_too_much_says_so(self):
        data = np.zeros((1_400_000, 3, 3))
        data[:, 1, 0] = data[:, 2, 1] = np.linspace(1, 50, len(data))
        outline = "0103000000010000000400000000000000000000000000000000000000000000000000594000000000000000000000000000005940000000000000594000000000000000000000000000000000"
        with self.assertRaisesRegex(InputError, "memory") as caught:
            read_fenced(
                "surface",
                write_stl(data),
                {
                    "name": "big.stl",
                    "outline": outline,
                    "turn_deg": 0.0,
                    "scale": 1.0,
                    "underside": False,
                    "cell_mm": 0.5,
                },
                Bound(60, 330),
            )
        self.assertEqual(caught.exception.facts["bound"], "memory")

    def test_triangles_over_one_another_are_counted_before_they_are_looked_at(self):
        with self.assertRaisesRegex(InputError, "lie over one another"):
            read_fenced(
                "surface",
                tangle(),
                {
                    "name": "tangle.stl",
                    "outline": resolve(route_named("siskin_body")).outline.wkb_hex,
                    "turn_deg": 0.0,
                    "scale": 1.0,
                    "underside": False,
                    "cell_mm": 0.5,
                },
                Bound(60, 1400),
            )

    def test_an_arc_of_no_radius_is_a_line(self):
        loops = read_fenced("drawing", NOWHERE, OPTIONS, Bound(20, 1400))["loops"]
        self.assertAlmostEqual(loops[0]["area_mm2"], 90 * 80, places=1)

    def test_uses_within_uses_are_counted(self):
        levels = "".join(f'<g id="l{k}">' + f'<use href="#l{k + 1}"/>' * 10 + "</g>" for k in range(9))
        with self.assertRaisesRegex(InputError, "shapes"):
            read_fenced(
                "drawing",
                SVG.format(f'<g>{levels}<path id="l9" d="M0 0L9 0L9 9Z"/></g>').encode(),
                OPTIONS,
                Bound(30, 1400),
            )

    def test_what_breaks_the_reader_is_told_as_our_fault(self):
        with self.assertRaisesRegex(NumericError, "our fault"):
            read_fenced("not there", b"", OPTIONS, Bound(20, 1400))

    def test_it_ends_within_a_second_when_nobody_wants_it(self):
        data, began = spiral(60_000), time.monotonic()

        def watch(_part):
            if time.monotonic() - began > 1.5:
                raise Stopped

        with self.assertRaises(Stopped):
            read_fenced("drawing", data, OPTIONS, Bound(60, 1400), watch=watch)
        self.assertLess(time.monotonic() - began, 2.5)
        self.assertEqual(children(), [])


class OverHttp(unittest.TestCase):
    def setUp(self):
        self.server = live_server()
        self.call = self.server.call

    def bring(self, data, name):
        return self.call("POST", f"/api/drawings?name={name}", data)[1]["id"]

    def state(self, upload, seconds=20.0, until=("done", "failed", "stopped")):
        deadline = time.monotonic() + seconds
        while time.monotonic() < deadline:
            state = self.call("GET", f"/api/drawings/{upload}")[1]
            if state["status"] in until:
                return state
            time.sleep(0.05)
        self.fail(f"still {state['status']}")

    def reader(self):
        deadline = time.monotonic() + 20
        while time.monotonic() < deadline:
            if found := children():
                return found[0]
            time.sleep(0.02)
        self.fail("no reader came")

    def test_a_reader_that_is_ended_from_outside_leaves_an_answer(self):
        upload = self.bring(spiral(60_000), "long.svg")
        os.kill(self.reader(), signal.SIGKILL)
        state = self.state(upload)
        self.assertEqual(state["status"], "failed")
        self.assertIn("reading was ended", state["result"]["message"])
        self.assertEqual(self.state(self.bring(NOWHERE, "next.svg"))["status"], "done")  # the next one is read

    def test_stop_frees_the_reader(self):
        upload = self.bring(spiral(60_000), "long.svg")
        self.reader()
        self.call("POST", f"/api/drawings/{upload}/stop")
        deadline = time.monotonic() + 1.5
        while children() and time.monotonic() < deadline:
            time.sleep(0.05)
        self.assertEqual(children(), [])
        self.assertEqual(self.state(upload)["status"], "stopped")

    def test_the_server_ends_and_answers_while_a_surface_is_read(self):
        server = LiveServer(demo=False)
        self.addCleanup(server.remove)
        made = server.call("POST", "/api/routes?measured_here=true", route_to_text(route_named("control_plate")))[1]
        rng = np.random.default_rng(5)
        slow = write_stl(np.array([[0, 0, 0], [70, 0, 0], [35, 60, 0]], float) + rng.uniform(-5, 5, (180_000, 3, 3)))
        asked = threading.Thread(target=lambda: self._ask(server, made, slow))
        asked.start()
        self.reader()
        self.assertEqual(server.call("GET", "/api/health")[0], 200)  # it goes on answering
        server.process.send_signal(signal.SIGINT)
        self.assertEqual(server.process.wait(12) in (0, -signal.SIGINT, 130), True)
        asked.join(10)
        self.assertEqual(children(), [])

    @staticmethod
    def _ask(server, made, data):
        try:
            server.call("POST", f"/api/routes/{made['route']}/relief?revision={made['revision']}&name=slow.stl", data)
        except OSError:
            pass  # the server went away, as it was told to
