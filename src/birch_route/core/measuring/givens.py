"""What a builder says before a small job is made: his caliper, his bit, his scrap."""

from __future__ import annotations

from ..data import figures
from ..machines import Machine
from .jobs import Gauge, Given


def givens(kind: str, machine: Machine) -> list[Given]:
    """Return what a job takes from the builder, with what stands until he says."""
    fig = figures()["measuring"]
    bit = Given("bit", "Bit across", fig["bit_mm"], 3.0, 12.0)
    thick = Given("thickness", "Scrap thick", fig["scrap_mm"], 8.0, 40.0)
    takes = {
        "square": [
            Given("caliper", "Your longest caliper reads", fig["caliper_mm"], 100.0, 1000.0),
            bit,
            _steps("x"),
            _steps("y"),
        ],
        "backlash": [Given("bit", "Bit across", fig["bit_mm"], 2.0, 10.0)],
        "pair": [
            Given("thickness", "Scrap thick", fig["scrap_mm"], 8.0, 30.0),
            Given("bit", "Bit and pins across", fig["bit_mm"], 3.0, 8.0),
        ],
        "stair": [thick, bit, _steps("z")],
        "slot": [bit],
        "time": [Given("room_z", "It may go down by", min(40.0, machine.travel_mm[2] / 2), 10.0, 200.0)],
        "tram": [
            Given("arm", "Arm, from the middle to the tip", fig["arm_mm"], 30.0, 400.0),
            Given("mount", "Mount of the spindle, high", fig["mount_mm"], 30.0, 500.0),
            Given("bit", "Widest bit", fig["widest_bit_mm"], 3.0, 80.0),
        ],
        "stiffness": [Given("pull", "Pull in N", fig["pull_n"], 5.0, 500.0, Gauge.NUMBER)],
    }
    return takes.get(kind, [])


def _steps(axis: str) -> Given:
    words = f"Steps of {axis} in the controller; 0: not known"
    return Given(f"steps_{axis}", words, 0.0, 0.0, 1e5, Gauge.NUMBER)
