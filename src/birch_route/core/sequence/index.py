"""Index holes: two through the waste on a line along the turning axis, so that the piece is found again by the same pins after it was turned over."""

from __future__ import annotations

from ..data import figures
from ..instrument.resolve import resolve
from ..piece import Hole
from ..route import Route
from ..vocabulary import BitForm, TurnAxis


def index_holes(route: Route, about: TurnAxis) -> Hole | None:
    """Return two holes on a line along the turning axis in the waste beside the outline, of the widest drill of the rack that goes through; None where
    there is no such drill or no waste there.

    A hole stands in the middle of the waste between the outline and the blank's end, near that end. Source: figures.index_holes.
    """
    blank, fig = route.blank, figures()["index_holes"]
    drills = sorted((b for b in route.bits if b.form is BitForm.DRILL and b.cutting_length_mm >= blank.thickness_mm and b.cut_diameter_mm <= fig["widest_mm"]), key=lambda b: -b.cut_diameter_mm)
    if not drills:
        return None
    across = drills[0].cut_diameter_mm
    xmin, ymin, xmax, ymax = resolve(route).outline.bounds
    if about is TurnAxis.LENGTH:
        low, high = (blank.x_mm, xmin), (xmax, blank.x_mm + blank.length_mm)
    else:
        low, high = (blank.y_mm, ymin), (ymax, blank.y_mm + blank.width_mm)
    if min(low[1] - low[0], high[1] - high[0]) < across + fig["around_mm"]:
        return None
    first = low[0] + min(fig["from_end_mm"], (low[1] - low[0]) / 2)
    last = high[1] - min(fig["from_end_mm"], (high[1] - high[0]) / 2)
    middle = blank.x_mm + blank.length_mm / 2
    points = [(first, 0.0), (last, 0.0)] if about is TurnAxis.LENGTH else [(middle, first), (middle, last)]
    return Hole(
        id="index_holes", name="Index holes", points=points, diameter_mm=across, depth_mm=None, assumed=True
    )
