/** Wire types. Field names are those of the server, so that one search finds a term everywhere. */

export type Severity = 'stop' | 'care' | 'note'
export type Point = [number, number]

export interface Edit { do: string; [key: string]: unknown }
export interface Cure { sentence: string; edits: Edit[] }
export interface Fact { name: string; value: number | string; unit: string; source: string }
export interface Finding {
  code: string; severity: Severity; sentence: string; operation: string | null; feature: string | null; hardware: string | null
  place: [number, number, number] | null; facts: Fact[]; cures: Cure[]; may_override: boolean
}
export interface Settings { feed_mm_min: number; plunge_mm_min: number; speed_rpm: number; depth_of_cut_mm: number; stepover_mm: number }
export interface Operation {
  id: string; name: string; kind: string; setup: string; features: string[]; bit: string; settings: Settings; direction: string; entry: string; edge: string | null; clearing: string; rest: boolean; wall_only: boolean; down_to_mm: number | null; engaged_deg: number; both_ways: boolean; pattern: string; steep_deg: number; even_ridge: boolean
  stock_to_leave_mm: number; finish_pass: boolean; finish_allowance_mm: number; finish_depth_mm: number | null; ramp_deg: number; floor_to_leave_mm: number; pass_deg: number; margin_mm: number; peck_mm: number | null; overcut_mm: number; touch_off_before: boolean; told: string[]; reasons: Record<string, string>
  tabs: { at: number; width_mm: number; height_mm: number; shape: string }[]; skin_mm: number; groove_mm: number | null
}
export interface Bit {
  id: string; name: string; form: string; diameter_mm: number; flutes: number; flute: string; cutting_length_mm: number
  shank_diameter_mm: number; stickout_mm: number; included_angle_deg: number; corner_radius_mm: number; tip_diameter_mm: number; measured_diameter_mm: number | null; cuts_at_centre: boolean; serrated: boolean; material: string
}
export interface Hardware {
  id: string; kind: 'screw' | 'bolt' | 'edge_clamp' | 'cam' | 'wedge' | 'strap' | 'vice' | 'top_clamp' | 'rail' | 'pin' | 'tape' | 'vacuum' | 'spacer'; x_mm: number; y_mm: number; angle_deg: number; length_mm: number; width_mm: number
  head_diameter_mm: number; shaft_diameter_mm: number; top_mm: number; press_n?: number | null; grip_mm?: number | null; pressure_bar?: number | null; glued?: boolean; porous?: boolean; shaped?: boolean; opens_mm: number
}
export interface JigWanted { setup: string; kind: string; about: string; wanted_deg: number; wedge_deg: number; in_blank_deg: number }
export interface JigRecord {
  kind: 'board' | 'carrier' | 'vice' | 'nest' | 'corner' | 'lines'; made_for: string; setup: string; works_with: string[]; holds?: boolean | null
  holding?: { factor: number; needs: number; operation: string } | null
  parts: { name: string; size: string; material: string; count: number; source: 'cut' | 'buy' | 'hand'; note: string }[]
  errors: { what: string; off_mm: number; check: string }[]
}
export interface TestPair { apart_mm: number; first_along_mm: number; first_across_mm: number; second_along_mm: number; second_across_mm: number }
export interface Setup {
  id: string; name: string; face: 'front' | 'back'; turned_about: 'length' | 'width'; datum: string | null; blank_at_mm: Point; hardware: Hardware[]; clearance_mm: number; park_mm: Point
  zero: { xy: string; z: string; touch_x_mm: number; touch_y_mm: number; way: string; offset: number }
  test_pair: TestPair | null
  nest: { play_mm: number; deep_mm: number; bit_mm: number } | null
}
export interface Plank { id: string; width_mm: number; name: string; grain_deg: number }
export interface Defect { id: string; name: string; x_mm: number; y_mm: number; radius_mm: number; top_mm: number; deep_mm: number }
export interface Blank {
  wood: string; length_mm: number; width_mm: number; thickness_mm: number; x_mm: number; y_mm: number; skim_mm: number; skim_back_mm: number; boards: number; weighed_kg: number | null
  planks: Plank[]; joint_loss_mm: number; defects: Defect[]; thickness_readings_mm: number[]; layers: Layer[]
}
export interface PlankYield { cuts: { what: string; x_mm: number; y_mm: number; length_mm: number; width_mm: number }[]; counts: Record<string, number>; used: number }
export interface Reading { place: string; value_mm: number; typed: string; unit: string; by: string; at: string }
export interface Part { id: string; kind: string; name: string; readings: Reading[] }
export interface BenchStep { id: string; name: string; minutes: number; after: string | null; wait: boolean; kind: string; gate: boolean; note: string }
export interface BenchState extends BenchStep { done: boolean; open: boolean; stale: boolean; by: string; at: string | null; ready_at: string | null; tick_note: string }
export interface WoodBoard {
  board: number; name: string; wood: string; wood_name: string; length_mm: number; width_mm: number; thickness_mm: number; weighed_kg: number | null; figure: string; note: string
  state: string; route: number | null; made_by: string; made_at: string; density_kg_m3: number | null; table_kg_m3: number; off_table: number | null
}
export interface Layer { id: string; kind: string; wood: string; thickness_mm: number; grain_deg: number; glued_before: string | null }
export interface Placement {
  id: string; part: string; mount: 'face' | 'side' | 'saddle' | 'heel'; face: 'front' | 'back'; x_mm: number; y_mm: number; angle_deg: number; deep_mm: number | null; cavity: string | null; reserve_mm: number
}
export interface Edge { id: string; feature: string; face: 'front' | 'back'; kind: 'sharp' | 'broken' | 'round' | 'bevel'; size_mm: number; angle_deg: number; machined: boolean }
export interface DocFeature { id: string; name: string; kind: string; face?: 'front' | 'back'; depth_mm?: number; depth_from?: unknown; tilt_deg?: number; follows_mm?: number | null; covered?: boolean; finish_class?: string; least_floor_mm?: number; shape?: { kind: string; feature: string; by_mm: number } }
export interface Bevel extends DocFeature {
  kind: 'bevel'; face: 'front' | 'back'; start: number; end: number; stations: { at: number; width_mm: number; drop_mm: number }[]; blend_mm: number
}
export interface Relief extends DocFeature { kind: 'relief'; face: 'front' | 'back'; depth_mm: number; origin: string }
export interface Carve extends DocFeature { kind: 'carve'; face: 'front' | 'back'; stations: { at_mm: number; drop_mm: number }[] }
export interface Channel extends DocFeature { kind: 'channel'; face: 'front' | 'back'; width_mm: number; depth_mm: number }
export interface Variant { id: string; name: string; parts: Record<string, string>; choices: Record<string, number> }
export interface Machine { id: string; name: string; machine_class: string; speeds_rpm: number[]; greatest_feed_mm_min: number; travel_mm: number[]; power_w: number; least_rpm: number; greatest_rpm: number; brushes_h?: number | null; nut_diameter_mm: number; touch_plate_mm: number | null; edge_finder_mm: number | null; index_holes_mm: Point[]; index_hole_mm: number; bit_change_mm: Point | null; probe_mm: Point | null; zones_mm: number[][]; pump: { free_l_min: number; deepest_bar: number } | null; dialect: { id: string; inch: boolean; arcs: boolean; split: string; extension: string } }
export interface Choices {
  scale_mm: number | null; action_12th_mm: number; string_at_nut_mm: number; compensation_mm: number; saddle_part: number; fit_gap_mm: number
  trim_bit_mm: number | null; string_extra_mm: number[]; bass_scale_mm: number | null; straight_fret: number; film_mm: number; neck_kg: number | null; neck_balance_mm: number | null; axis_offset_mm: number | null; strings: number; frets: number
}
export interface RouteDocument {
  job: string; note: string; piece: { kind: string; name: string; features: DocFeature[]; placements: Placement[]; edges: Edge[] }
  jig: JigRecord | null; end_work: EndWork | null; variants: Variant[]; parts: Part[]; choices: Choices; blank: Blank; machine: Machine; bits: Bit[]; setups: Setup[]; operations: Operation[]; bench_steps: BenchStep[]
}
export interface Solid {
  id: string; name: string; kind: string; floor_mm: number | null; finish_class: string; profile: Point[] | null; rings: Point[][]; points: Point[]; diameter_mm: number
  unmeasured: string[]; face: 'front' | 'back'; trust: Trust; rests_on: string[]
}
export type Trust = 'measured' | 'single' | 'assumed' | 'told'
export interface Term { label: string; value_mm: number | null; origin: string; place: string | null }
export interface Derivation { id: string; label: string; value_mm: number | null; formula: string; missing: string[]; terms: Term[] }
export interface Place {
  told?: boolean; place: string; label: string; values_mm: number[]; value_mm: number | null; spread_mm: number; outlier: number | null; needed: boolean }
export interface Drawing {
  parts: { id: string; kind: string; name: string; places: Place[] }[]
  hardware: { id: string; setup: string; under: boolean; ring: Point[] }[]
  failed: Failure | null
  solids: Solid[]; derivations: Derivation[]
  heel: { length_mm: number; end_width_mm: number; mouth_width_mm: number; taper_deg: number; gap_mm: number } | null
  saddle_x_mm: number | null
  references: { id: string; name: string; layer: string; ring: Point[] }[]
}
export interface RestsOn { trust: Trust; once: string[]; never: string[] }
export interface ReportOperation {
  pieces: HeldPiece[] | null
  id: string; name: string; kind: string; bit: string; machine_min: number; hands_min: number; settings: CutSettings; moves: number; cut_length_mm: number; removed_mm3: number
  bit_change: boolean; passes: number; force_n: number; power_w: number; bend_mm: number; chip_load_mm: number; chip_window_mm: [number, number] | null; mean_chip_mm: number
  depth_met_mm: number; side_engagement_mm: number; bend_most_mm: number; rests_on: RestsOn; species: string
  finish: { depth_met_mm: number; side_engagement_mm: number; force_n: number; power_w: number; bend_mm: number } | null
  splits?: Split[]; rim?: RimOffer | null; tear?: Tear | null; spent: Spent; hold: Hold | null; tab_places?: Point[]; schools?: School[]; ridges?: Ridges | null
}
/** How an operation is held, N; holds_n: in even directions from the setup's +x; parts: what the least rests on. */
export interface Hold {
  pulls_n: number; lifts: number; holds_n: number[]; least_n: number; factor: number; needs: number; worst_deg: number; toward: string
  place: [number, number, number]; parts: Record<string, number>; joined: boolean
}
/** lines: [1 some or 2 likely, points of the piece]. */
export interface Tear { what: 'wall' | 'edge' | 'passes'; wall_mm: number; some_mm: number; likely_mm: number; most: number; rim: number; lines: [number, Point[]][] }
/** A pocket by one bit (first null) or by a wide one first; minutes with the bit changes it adds. */
export interface RimOffer { bits: string[]; down_to_mm: number }
export interface Split { first: string | null; first_min: number; then_min: number; changes: number; minutes: number }
export interface Ridges {
  median_mm: number; p95_mm: number; most_mm: number; allowed_mm: number; area_mm2: number; edges_mm: number[]; shares: number[]
  costs: [number, number, number][]; best: [number, number, number]; cheapest: [number, number, number]; now: [number, number, number]
}
export interface School { school: string; machine_min: number; bench_min: number; words: string }
export interface CornersState {
  status: 'never' | 'waiting' | 'working' | 'done' | 'failed' | 'stopped'; done: number; of: number
  result: { message?: string; thinnest_mm: number; thickest_mm: number; zero_mm: number; measured: boolean; corners: { id: string; name: string; thicker_mm: number; zero_mm: number; holds_to: number; findings: Finding[] }[] } | null
}
export interface Spent {
  at_feed_min: number; changing_min: number; capped_min: number; down_min: number; rapid_min: number; air_min: number; faster_saves_min: number
  limit: 'feed' | 'greatest' | 'acceleration' | 'cap' | 'plunges' | 'rapid'
}
export interface RunBit {
  t: number; bit: string; name: string; stickout_mm: number; checks: string[]
  operations: { id: string; name: string; minutes: number; feed_mm_min: number; speed_rpm: number; depth_of_cut_mm: number; rests_on: RestsOn }[]
}
export interface ZeroStep { do: string; sets: Record<string, number>; goes: Record<string, number> }
export interface Bed {
  steps: [number, Point][]; travel_mm: Point; blank: [number, number, number, number]; outline: Point[]; hardware: { id: string; under: boolean; ring: Point[] }[]
  zero: Point; touch: Point | null; park: Point; jog: { zero: Point; touch: Point | null; park: Point }; inside: boolean; fixed: Record<string, Point>; index_holes: Point[]; index_hole_mm: number
}
export interface EndWork { made_for: string; end: 'left' | 'right' | 'lower' | 'upper'; words: string[] }
export interface EndPlan extends EndWork { job: string; steps: { name: string; minutes: number; note: string }[]; operations: string[]; long_mm: number; thick_mm: number; stands_mm: number; skim_mm: number }
export interface CutSettings { feed_mm_min: number; plunge_mm_min: number; speed_rpm: number; depth_of_cut_mm: number; stepover_mm: number }
export type CutKind = 'slot' | 'side' | 'finish' | 'face'
export interface Trusted { standing: 'proven' | 'covered' | 'untried' | 'failed'; low_mm: number | null; high_mm: number | null; fails_mm: number | null; burns_mm: number | null; beyond: number; count: number; near: number; doubted: number }
export interface SettingRange { low: number; high: number; low_by: string | null; high_by: string | null; low_words: string; high_words: string; is_empty: boolean }
export interface CutAnswer {
  settings: CutSettings; entry: string; ramp_deg: number; way_mm: number; turns: number; helix_mm: number; ridge_mm: number | null; direction: string; keeps: boolean; binds: string; binds_words: string; parts: Record<string, number>; force_n: number; power_w: number; bend_mm: number; chip_mm: number; mean_mm: number
  removes_cm3_min: number; reasons: Record<string, string>; ranges: Record<'feed_mm_min' | 'speed_rpm' | 'depth_of_cut_mm' | 'stepover_mm' | 'plunge_mm_min', SettingRange>; trust: Trusted; turn_n: number[]
}
export interface TrialRow { id: number; words: string; outcome: string; origin: string; settings: CutSettings; chip_mm: number; note: string; doubted: string; made_by: string; made_at: string }
export interface Asked {
  window_mm: [number, number]; answers: Record<'careful' | 'fast' | 'quiet', CutAnswer>; wanted: CutAnswer | null; trade: TradePlace[]; per: 'metre' | '100 cm3'; quiet_costs: number | null; trials: TrialRow[]
  lent: { from: string; words: string; settings: CutSettings; far: number; risk: string; derated: number; origin: string; minutes: number; more_minutes: number; times_as_long: number }[]
}
export interface RackRow {
  bit: Bit; number: string; price: number | null; spares: number; note: string; state: 'on_hand' | 'retired'
  life: { metres: number; minutes: number; slots: number; by_wood: Record<string, number>; minutes_by_wood: Record<string, number>; worn_m: number; limit_m: number; left_m: number; is_low: boolean; lost_mm: number; shortened_mm: number; words: string }
  forecast: { asked_m: number; jobs: number; crosses_in: string | null }
}
export interface Brushes { hours: number; worn_h: number; left_h: number; job_h: number; jobs_left: number | null; spares: number; words: string }
export interface SaidOf { id: string; kind: CutKind; trust: Trusted; best: { settings: CutSettings; words: string; note: string; times: number; edits: Edit[] } | null }
/** What the shop's own books say of a route. */
export interface Says { hash: string; findings: Finding[]; operations: SaidOf[]; brushes: Brushes | null }
export type CutOutcome = 'fine' | 'slow' | 'burning' | 'chatter' | 'torn' | 'broke'
export interface Ran { outcome?: CutOutcome; feed_mm_min?: number; speed_rpm?: number; is_skipped?: boolean }
export interface OriginOf { name: string; unit: string; formula: string; figures: { what: string; values: Record<string, unknown> }[]; confidence: string; source: string }
export interface TradePlace { at: number; settings: CutSettings; chip_mm: number; minutes: number; force_n: number; rim_m_s: number; binds: string; used: number }
export interface StaleRow { id: string; name: string; was_for: string[]; now_for: string[]; was: CutSettings; now: CutSettings }
/** What one bit of the rack would do of each feature of a piece; minutes null: it must not be used there. */
export interface BitMatrix { features: { id: string; name: string }[]; bits: { bit: string; name: string; serves: number; cells: ({ minutes: number | null; leaves_mm2: number; words: string } | null)[] }[]; words: string }
export interface BitChoice { bit: string; name: string; not_for: string; cares: string[]; leaves_mm2: number; reaches_mm: number; minutes: number | null; wears_part: number | null; costs: number | null; in_route: boolean }
export interface Offset { number: number; word: string; name: string; refers_to: string; jig: number | null; jig_name: string | null; x_mm: number | null; y_mm: number | null; z_mm: number | null; checked_at: string | null; made_by: string | null }
export interface JigKept {
  pieces: number; play_mm: number | null; worn: boolean; look_again: boolean; expected_mm: number; cost_min: number; known: boolean; saves_min: number; told: boolean; pays_after: number; saved_min: number; place: string
  notes: { what: string; pieces: number; play_mm: number | null; saved_min: number | null; place: string; note: string; made_by: string; made_at: string }[]; offsets: { machine: string; number: number; name: string }[]
}
export interface HeldPiece { name: string; cm2: number; kg: number; held: string; loose: boolean; x_mm: number; y_mm: number }
export interface Report {
  failed?: Failure
  operations: ReportOperation[]; findings: Finding[]
  setups: { id: string; nest?: { ring: Point[]; tips: [number, number, number][] } | null; spacers?: Record<string, number>; vacuum?: Record<string, number>; supports?: Record<string, Point[]>; pieces: HeldPiece[]; ledger: { when: string; thick_mm: number; piece_mm: number; face_over_zero_mm: number }[]; chain: { plan_mm: number; z_mm: number; links: { what: string; by: string; off_mm: number; source: string }[] }; pair: { square_deg: number; axis_mm: number; along_mm: number; across_mm: number } | null }[]
  thin: { thick_mm: number; x_mm: number; y_mm: number; features: string[] }[]
  totals?: { machine_min: number; hands_min: number; settings: CutSettings; bench_min: number; bit_changes: number; blank_kg: number; piece_kg: number }
  run_plan?: {
    load: string; zero_xy: string; zero_z: string; hardware: { id: string; kind: string; x_mm: number; y_mm: number; top_mm: number }[]
    setups: { id: string; name: string; face_up: string; load: string; zero_xy: string; zero_z: string; offset: number; way: string; zero_steps: ZeroStep[]; bed: Bed; bits: RunBit[] }[]
    bits: RunBit[]; safety: string[]; order: RunStep[]
  }
  no_go?: Record<string, { x0_mm: number; y0_mm: number; cell_mm: number; runs: [number, number, number][] }>
}
export interface RouteState {
  route: number; revision: number; hash: string; what: string; author: string; can_undo: boolean; can_redo: boolean
  moved: { what: string; before_mm: number | null; after_mm: number | null }[]
  document: RouteDocument; drawing: Drawing; proof: { report: Report; seconds: number } | null
}
export interface RouteRow { id: number; name: string; note: string; latest: number; changed_at: string; author: string; piece_kind: string; wood: string; hash: string }
export type RunStep =
  | { kind: 'bench'; step: string; name: string }
  | { kind: 'setup'; setup: string }
  | { kind: 'bit'; setup: string; bit: number }
export interface Release {
  id: number; revision: number; digest: string; overrides: { code: string; reason_given: string }[]
  programs: { name: string; minutes: number; lines: number; bytes: number }[]
  waiting: { name: string; minutes: number; steps: string[]; ready_at: string | null }[]
  read_back: { machine_s: number; greatest_difference_mm: number }
}
export interface RunRow { id: number; revision: number; outcome: string; note: string; minutes: Record<string, number>; ran: Record<string, Ran>; made_by: string; made_at: string }
export interface HeightStack {
  unknown: string; failed: string | null; heel_mm: number; fret_mm: number; depth_mm: number; angle_deg: number; saddle_mm: number; recess_mm: number; action_12th_mm: number
  at_nut_mm: number; reach_mm: number; heel_length_mm: number; shim_mm: number; wedge_thick_mm: number; travel_down_mm: number | null; travel_up_mm: number | null
}
export interface Ghost { part: string; name: string; what: string; placement: string; ring: Point[] }
export interface EdgePlan {
  edge: string; feature: string; words: string; kind: string; face: string; inward_mm: number; down_mm: number; length_mm: number; sharp_mm: number
  stretches: { from_mm: number; to_mm: number; why: string; at: Point; points: Point[] }[]; land_mm: number | null; bearing_mm: number; meets: { name: string; gap_mm: number }[]
}
export interface Chamber { number: number; face: string; depth_mm: number; area_mm2: number; grams: number; balance_moves_mm: number; floor_mm: number; span_mm: number; needs_cap: boolean; words: string; ring: Point[] }
export interface VariantView {
  id: string; name: string; failed: string | null; moved: { what: string; before_mm: number | null; after_mm: number | null }[]; pocket_mm: number | null; saddle_mm: number | null
  saddle_low_mm: number | null; saddle_high_mm: number | null; shim_mm: number | null; serves: boolean | null
}
export interface Layout {
  edges: EdgePlan[]; chambers: Chamber[]; variants: VariantView[]; pins: { x_mm: number; y_mm: number; wood_mm: number }[]
  clashes: { code: string; placement: string; words: string; place: Point }[]
  hang: { nose_deg: number; x_mm: number; y_mm: number; kg: number; pins: Point[]; most_deg: number } | null
  fits: { feature: string; name: string; finish_class: string; hidden_by: string; tolerance_mm: number; gap_mm: number | null; film_mm: number; cut_gap_mm: number | null }[]
  corners: { feature: string; name: string; radius_mm: number; bit: string; smaller: string[]; spots: { x_mm: number; y_mm: number; area_mm2: number }[] }[]
  axis: { offset_mm: number; at_saddle_mm: number; box_middle_mm: number } | null
  missing: string[]; frets: number[]
  saddle: { x_mm: number; from_heel_mm: number; words: string; again_mm: number | null; again_words: string | null; differ_mm: number | null; points: { name: string; x_mm: number; from_heel_mm: number; words: string }[] } | null
  scale: { stated_mm: number; measured_mm: number; difference_mm: number; agrees: boolean } | null
  strings: { lines: [number, number, number, number][]; gaps: { place: string; bass_mm: number; treble_mm: number; least_mm: number; enough: boolean }[]
    saddles: { number: number; x_mm: number; y_mm: number; behind_mm: number }[]; frets: [number, number, number, number][]
    travel: { forward_needed_mm: number; back_needed_mm: number; forward_mm: number | null; back_mm: number | null; short_mm: number } | null
    poles: { part: string; x_mm: number; strings_mm: number; poles_mm: number; differ_mm: number; within: boolean }[] } | null
  heights: HeightStack | null
  ghosts: Ghost[]
  clearances: { feature: string; name: string; depth_mm: number | null; to_outside_mm: number; nearest: string | null; wall_mm: number | null; floor_mm: number | null; meets: string[]; face: string; trust: Trust; rests_on: string[] }[]
  weight: { kg: number; x_mm: number; y_mm: number; z_mm: number; solid_kg: number; density_kg_m3: number; density_from: string; shares: { feature: string; name: string; grams: number }[]; by_wood: { wood: string; kg: number }[]; taken_g: Record<string, number> }
  blank: {
    boards: { width_mm: number; strips: Point[]; lines: number[]; short_mm: number } | null
    defects: { defect: string; verdict: 'cut_away' | 'hidden' | 'shows' | 'structural'; by: string }[]
    offcuts: { side: string; length_mm: number; width_mm: number; use: string }[]
    layers: { wood: string; top_mm: number; under_mm: number }[]
    thickness: { least_mm: number; most_mm: number; mean_mm: number; spread_mm: number } | null
  }
  screws: { part: string; long_mm: number; body_mm: number; bite_mm: number; heel_wood_mm: number; clear: boolean; board_known: boolean; clearance_mm: number | null; pilot_mm: number | null }[]
}
export interface WireWindow { least_deg: number; most_deg: number; enters_deep_mm: number; leaves_deep_mm: number; drill_length_mm: number }
export interface Outline { styles: string[]; points: Point[] }
export interface DrawingState {
  id: number; name: string; unit: string | null; join_mm: number; status: 'waiting' | 'reading' | 'done' | 'failed' | 'stopped'; progress: number
  result: {
    needs_unit?: boolean; needs_scale?: boolean; width_px?: number; height_px?: number; traced?: { words: string; worst_mm: number; pixel_mm: number }; sizes?: Record<string, [number, number]>; loops?: import('../start/curves').Loop[]; loops_in_all?: number; layers?: string[]; open_runs?: number
    changes?: { what: string; words: string; x_mm: number; y_mm: number; amount_mm: number }[]; message?: string
  } | null
}
export interface Failure { code: string; message: string; where: string | null; facts: Record<string, unknown> }
export interface Shop {
  woods: { id: string; name: string; botanical: string; density_kg_m3: number; tear_out: string; dust: string; source: string }[]; machines: Machine[]; bits: Bit[]
  part_places: Record<string, Record<string, { label: string; needed: boolean }> | string>
}
