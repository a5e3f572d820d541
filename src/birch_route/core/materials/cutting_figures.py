"""The figures of cutting, by name and type."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict


class Part(BaseModel):
    """A part of a block: a name that is not known here fails when the figures are loaded."""

    model_config = ConfigDict(extra="forbid", frozen=True)


class Block(Part):
    """A block of figures, with what they are."""

    what: str


class ChipLoadMm(Block):
    aim: float
    rows: tuple[tuple[float, float, float], ...]


class ChipLoadFactor(Block):
    light_below_kg_m3: float
    light: float
    heavy_above_kg_m3: float
    heavy: float
    mdf: float
    plastic: float
    plastic_least_mm: float
    foam: float
    foam_careful: float
    figured: float


class Rubbing(Block):
    chip_mm: float
    from_diameter_mm: float


class CuttingForce(Block):
    a_n_mm: float
    b_n_mm2: float
    reference_kg_m3: float
    curved_below_mm: float
    mdf: float
    plywood: float
    plastic: float
    foam: float


class DepthPerPass(Block):
    belt: tuple[float, float]
    bench: tuple[float, float]
    industrial: tuple[float, float]


class Plunge(Block):
    part: float
    ramp_deg: float


class Drilling(Block):
    feed_per_turn_part: float
    peck_diameters: float
    straight_up_to_diameters: float


class SurfaceSpeed(Block):
    rim_m_s: float


class Stepover(Block):
    side: float
    last: float
    face_deep_mm: float
    clearing: float
    facing: float


class StrengthNMm2(Block):
    carbide: float
    hss: float


class ChipLoadDeep(Block):
    rows: tuple[tuple[float, float], ...]


class Entry(Block):
    plunge_part: tuple[float, float]
    ramp_deg: tuple[float, float]
    helix_radius_part: float
    pulled_part: float
    hole_part: float
    sinks_part: float


class Records(Block):
    near_part: float
    like_part: float
    leap: float
    step: float
    beyond: float
    slot_part: float
    far_machine: float
    far_class: float
    far_told: float
    sheet_woods: tuple[str, ...]


class BitLife(Block):
    of_mm: float
    carbide_m: float
    hss_m: float
    least_part: float
    mdf: float
    plywood: float
    plastic: float
    foam: float
    lost_mm: float
    shortened_part: float
    low_part: float


class Brushes(Block):
    look_part: float


class Coupons(Block):
    slot_long_mm: float
    slot_wider_mm: float
    fit_long_mm: float
    fit_corner_mm: float
    fit_deep_mm: float
    between_mm: float
    border_mm: float


class Quiet(Block):
    rim_m_s: float
    power_w: float


class FeedMarksMm(Block):
    finish: float


class ElasticGpa(Block):
    carbide: float
    hss: float


class Bend(Block):
    rough_mm: float
    finish_mm: float


class Engaged(Block):
    depth_times: float


class FinishPass(Block):
    depth_diameters: float
    least_mm: float


class Pair(Block):
    left_mm: float
    wider_mm: float


class TrialPiece(Block):
    least_mm: float


class PowerPart(Block):
    care: float
