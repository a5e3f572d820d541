"""Scans and photos in: PNG and JPEG pictures as grey values, with the size of a pixel from two points of known distance."""

from __future__ import annotations

import io
import math
import warnings
from dataclasses import dataclass
from typing import Any

import numpy as np
from PIL import Image, ImageOps, UnidentifiedImageError

from ..core.errors import InputError
from ..core.plane.curves import flatten
from ..core.plane.drawing import Stroke, close_strokes
from ..core.plane.trace import trace

MOST_PIXELS = 60_000_000
WORK_PX = 2400  # the longer side that is traced; finer pictures are reduced to it


@dataclass(frozen=True)
class Scale:
    """Two points of the picture, as parts of its width and height from the upper left, and the distance between them, mm."""

    x1: float
    y1: float
    x2: float
    y2: float
    distance_mm: float

    @staticmethod
    def read(text: str) -> Scale:
        """Read `x1,y1,x2,y2,mm`.

        Raises:
            InputError: not five numbers, points outside the picture or on one another, no distance.
        """
        try:
            values = [float(v) for v in text.split(",")]
        except ValueError:
            values = []
        if len(values) != 5 or not all(math.isfinite(v) for v in values):
            raise InputError("A scan needs two points and their distance: x1,y1,x2,y2,mm.", where="scale")
        if not all(0 <= v <= 1 for v in values[:4]) or math.dist(values[:2], values[2:4]) < 0.02:
            raise InputError("The two points must lie in the picture and well apart.", where="scale")
        if not 1 <= values[4] <= 3000:
            raise InputError("The distance between the two points must lie between 1 and 3000 mm.", where="scale")
        return Scale(*values)


def is_picture(data: bytes) -> bool:
    """Say whether a file begins like a PNG or JPEG picture."""
    return data.startswith((b"\x89PNG\r\n\x1a\n", b"\xff\xd8\xff"))


def read_scan(data: bytes, name: str, scale: Scale | None) -> dict[str, Any]:
    """Trace a picture and return its closed curves as plain data, as read_drawing does, with the error of the tracing.

    Raises:
        InputError: not a picture that can be read, or too large; GeometryError: nothing to trace.
    """
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            picture = Image.open(io.BytesIO(data))
            if picture.width * picture.height > MOST_PIXELS:
                raise InputError(f"{name} has {picture.width * picture.height / 1e6:.0f} million pixels; at most {MOST_PIXELS // 1_000_000} are read.", where=name)
            grey = ImageOps.exif_transpose(picture).convert("L")
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError, Image.DecompressionBombError, Image.DecompressionBombWarning) as exc:
        raise InputError(f"{name} could not be read as a picture; it may be damaged or cut short.", where=name) from exc
    if scale is None:
        return {"needs_scale": True, "needs_unit": False, "width_px": grey.width, "height_px": grey.height}
    wide, high = grey.width, grey.height
    shrink = min(1.0, WORK_PX / max(wide, high))
    if shrink < 1.0:
        grey = grey.resize((round(wide * shrink), round(high * shrink)), Image.Resampling.BOX)
    far = math.hypot((scale.x2 - scale.x1) * grey.width, (scale.y2 - scale.y1) * grey.height)
    size = scale.distance_mm / far
    traced = trace(np.asarray(grey, float) / 255, size)
    drawing = close_strokes([Stroke("drawing", t.path.start, [tuple(s) for s in t.path.segments]) for t in traced], 1.0, 0.05)
    from .drawing_file import as_data

    out = as_data(drawing, [])
    worst = max(t.worst_mm for t in traced)
    longest = max(float(np.ptp(flatten(t.path, 0.2), axis=0).max()) for t in traced)
    out["traced"] = {"pixel_mm": round(size, 4), "worst_mm": round(worst, 3), "scale_mm": round(longest / far, 3),
                     "words": f"A pixel is {size:.3f} mm. The curve stays within {worst:.2f} of the edge in the picture; a pixel's slip at either point shifts the size by {longest / far:.2f} over its length. "
                              "A camera held askew errs more: check length and width with the caliper."}
    return out
