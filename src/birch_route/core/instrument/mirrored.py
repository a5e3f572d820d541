"""The other hand: a piece mirrored across its centre line with its blank and holding. Bought parts are never mirrored."""

from __future__ import annotations

from typing import Any

from pydantic import TypeAdapter

from ..plane.curves import Drawn
from ..plane.moved import Move, moved
from .reliefs import mirrored_depths

_DRAWN: TypeAdapter[Any] = TypeAdapter(Drawn)
_MIRROR = Move(mirror=True)


def mirror_document(data: dict[str, Any]) -> dict[str, Any]:
    """Return a route's document for the other hand: y becomes -y everywhere but in the parts and their readings.

    Tabs keep their places along the outline, which now runs the other way round: a place `at` becomes 1 - at.
    """
    piece, blank = data["piece"], data["blank"]
    features = [_feature(f) for f in piece["features"]]
    placements = [{**p, "y_mm": -p["y_mm"], "angle_deg": -p["angle_deg"]} for p in piece["placements"]]
    setups = [{**s, "more_at": [[x, -y] for x, y in s["more_at"]],
               "zero": {**s["zero"], "touch_y_mm": -s["zero"]["touch_y_mm"]},
               "hardware": [{**h, "y_mm": -h["y_mm"], "angle_deg": -h["angle_deg"]} for h in s["hardware"]]} for s in data["setups"]]
    mirrored_blank = {**blank, "y_mm": -(blank["y_mm"] + blank["width_mm"]), "planks": [{**p, "grain_deg": -p["grain_deg"]} for p in reversed(blank["planks"])],
                      "defects": [{**d, "y_mm": -d["y_mm"]} for d in blank["defects"]], "layers": [{**layer, "grain_deg": -layer["grain_deg"]} for layer in blank["layers"]]}
    operations = [{**o, "tabs": [{**t, "at": (1.0 - t["at"]) % 1.0} for t in o["tabs"]]} for o in data["operations"]]
    if piece.get("board"):
        piece = {**piece, "board": {**piece["board"], "left_handed": not piece["board"]["left_handed"]}}
    return {**data, "piece": {**piece, "features": features, "placements": placements, "references": [_reference(r) for r in piece["references"]]}, "blank": mirrored_blank, "setups": setups, "operations": operations}


def _feature(feature: dict[str, Any]) -> dict[str, Any]:
    if feature["kind"] == "bevel":
        stations = [{**s, "at": 1.0 - s["at"]} for s in reversed(feature["stations"])]
        return {**feature, "start": (1.0 - feature["end"]) % 1.0, "end": (1.0 - feature["start"]) % 1.0, "stations": stations}
    if feature["kind"] in ("carve", "channel"):
        return feature  # it follows the outline
    if feature["kind"] == "relief":
        return {**feature, "y0_mm": -(feature["y0_mm"] + feature["ny"] * feature["cell_mm"]), "depths": mirrored_depths(feature["depths"], feature["ny"], feature["nx"])}
    if feature["kind"] == "hole":
        return {**feature, "points": [[x, -y] for x, y in feature["points"]]}
    shape = feature["shape"]
    if shape["kind"] in ("heel", "around"):
        return feature
    if shape["kind"] == "part_rectangle":
        return {**feature, "shape": {**shape, "y_mm": -shape["y_mm"], "angle_deg": -shape["angle_deg"]}}
    return {**feature, "shape": moved(_DRAWN.validate_python(shape), _MIRROR).model_dump(mode="json")}


def _reference(reference: dict[str, Any]) -> dict[str, Any]:
    return {**reference, "shape": moved(_DRAWN.validate_python(reference["shape"]), _MIRROR).model_dump(mode="json")}
