"""All figures of the trade, by name and type: a wrong name, a missing one or a wrong kind fails at load."""

from __future__ import annotations

from .cutting_figures import (
    Bend,
    BitLife,
    Brushes,
    ChipLoadDeep,
    ChipLoadFactor,
    ChipLoadMm,
    Coupons,
    CuttingForce,
    DepthPerPass,
    Drilling,
    ElasticGpa,
    Engaged,
    Entry,
    FeedMarksMm,
    FinishPass,
    Pair,
    Part,
    Plunge,
    PowerPart,
    Quiet,
    Records,
    Rubbing,
    Stepover,
    StrengthNMm2,
    SurfaceSpeed,
    TrialPiece,
)
from .holding_figures import (
    Bed,
    Corners,
    Creep,
    CuspMm,
    Datums,
    Ends,
    FilmMm,
    Grain,
    Holding,
    IndexHoles,
    Jigs,
    LevelBit,
    MachineSpans,
    Materials,
    Measuring,
    OneSided,
    Order,
    Rest,
    Rim,
    Saddles,
    Sanding,
    Spread,
    Strap,
    Surface,
    TearOut,
    ThinWall,
    Vacuum,
    Valley,
)
from .piece_figures import (
    AtTheMachine,
    BlankMargin,
    Careful,
    Cells,
    Chamber,
    Contours,
    Controls,
    Covers,
    DrawnByHand,
    Drilled,
    Edges,
    FitGapMm,
    FitMemory,
    Flaws,
    FloorsMm,
    Fretboard,
    Glue,
    Heights,
    Layout,
    Minutes,
    Neck,
    Outline,
    PickupPocket,
    Screws,
    StockToLeaveMm,
    Tab,
    Tied,
    ToleranceMm,
    WallsMm,
)


class Figures(Part):
    """figures.json."""

    source: str
    chip_load_mm: ChipLoadMm
    chip_load_factor: ChipLoadFactor
    rubbing: Rubbing
    cutting_force: CuttingForce
    depth_per_pass: DepthPerPass
    plunge: Plunge
    drilling: Drilling
    surface_speed: SurfaceSpeed
    stepover: Stepover
    strength_n_mm2: StrengthNMm2
    chip_load_deep: ChipLoadDeep
    entry: Entry
    records: Records
    bit_life: BitLife
    brushes: Brushes
    coupons: Coupons
    quiet: Quiet
    feed_marks_mm: FeedMarksMm
    elastic_gpa: ElasticGpa
    bend: Bend
    engaged: Engaged
    finish_pass: FinishPass
    power_part: PowerPart
    floors_mm: FloorsMm
    walls_mm: WallsMm
    fit_gap_mm: FitGapMm
    fit_memory: FitMemory
    stock_to_leave_mm: StockToLeaveMm
    tab: Tab
    outline: Outline
    pair: Pair
    trial_piece: TrialPiece
    minutes: Minutes
    blank_margin: BlankMargin
    flaws: Flaws
    layout: Layout
    controls: Controls
    screws: Screws
    edges: Edges
    chamber: Chamber
    glue: Glue
    tolerance_mm: ToleranceMm
    tied: Tied
    pickup: PickupPocket
    careful: Careful
    covers: Covers
    drilled: Drilled
    heights: Heights
    film_mm: FilmMm
    strap: Strap
    saddles: Saddles
    grain: Grain
    cusp_mm: CuspMm
    surface: Surface
    sanding: Sanding
    index_holes: IndexHoles
    corners: Corners
    spread: Spread
    tear_out: TearOut
    thin_wall: ThinWall
    datums: Datums
    creep: Creep
    rest: Rest
    rim: Rim
    valley: Valley
    one_sided: OneSided
    level_bit: LevelBit
    contours: Contours
    drawn: DrawnByHand
    run: AtTheMachine
    cells: Cells
    fretboard: Fretboard
    neck: Neck
    holding: Holding
    jigs: Jigs
    ends: Ends
    order: Order
    vacuum: Vacuum
    bed: Bed
    materials: Materials
    measuring: Measuring
    machine_spans: MachineSpans
