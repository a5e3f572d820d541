"""Why each finding is as grave as it is. docs/findings.md repeats it, by test.

A stop is what breaks something, throws something, or spoils the piece for good; or what makes everything that follows
untrue. A care can be lived with
by somebody who knows it, or mended afterwards. A note is work announced, or something to know.
"""

from __future__ import annotations

_WHY: dict[str, str] = {
    "something breaks or is thrown": "bit.cannot_go_sideways bit.head_hits_wood bit.nut_hits_wood bit.too_short "
        "hardware.hit rapid.through_wood travel.outside",
    "the piece comes loose under the bit": "holding.leaks holding.nothing holding.skin holding.weak piece.freed",
    "wood is gone that the piece needs": "feature.gouged feature.break_through feature.too_deep piece.side_opened "
        "neck.ball_wide neck.rod_through neck.bush_through "
        "pieces.too_near feature.outside feature.runs_into cap.broken waste_board.hit slot.through",
    "it cannot be made with what is there": "neck.blank_thin "
        "bit.no_collet blank.too_small feature.bit_too_wide edge.bit_form "
        "machine.slots nest.early",
    "a hole in the wrong place or of the wrong size ruins a body; it is known before it is "
    "cut": "part.differs part.unmeasured board.unsaid neck.unsaid bridge.off_piece height.saddle_out",
    "metal meets metal, or a tip comes out where it is seen": "neck.bore_deep "
        "neck.bore_beside screw.into_bed screw.comes_through",
    "everything after it is cut in the wrong place": "zero.face_cut_away zero.touch_off_missing turn.not_symmetrical "
        "turn.pins_off turn.pin_beside bed.probe_taken",
    "what the machine will do is not what was simulated": "program.arc program.beyond_machine program.bit_change "
        "program.no_end program.no_feed program.not_understood program.read_back program.spindle_off "
        "program.unknown_bit settings.feed_refused",
    "what comes after it is spoilt by what was not done": "bench.open",
    "the jig is made in vain, and the piece it is for comes loose": "jig.holding_weak",
    "it may go well, and breaks or marks the piece where it does "
    "not": "entry.straight_down hardware.near blank.margin_small blank.broken_out bed.index_hole bed.change_taken "
           "material.hard "
           "nest.cut holding.span holding.vacuum_falls outline.skin_thin clearing.slot",
    "it holds less wood than is wise; a builder may know better": "feature.floor_thin feature.wall_thin "
        "feature.wall_gives cap.thin blank.defect_structural blank.glue_line_in_hole blank.grain_differs "
        "neck.head_thin neck.rod_floor neck.bar_wall neck.bore_edge neck.short_grain "
        "board.dot_at_slot board.edge_thin board.end_short slot.floor_thin cover.no_land part.no_wood "
        "screw.no_bite height.pocket",
    "it can be seen or felt, and mended with handwork": "feature.rough_wall feature.stock_left feature.wall_step "
        "feature.contour_clash settings.allowance settings.stepover surface.finish_deep surface.rough_near "
        "neck.rim_left tear_out.likely board.ledge_shallow "
        "tear_out.rim tear_out.hole edge.meets_feature edge.no_land outline.no_land",
    "a part does not go in, or not well; nothing is cut wrongly for it "
    "yet": "neck.head_thick neck.housings neck.tuner_on_slope "
           "part.bush_short part.collides part.no_room part.screw_length part.side_wall part.too_tall "
           "hole.no_clearance machine.precision hole.in_air cover.leaves_open guard.under_board feature.corner_sharp "
           "feature.corner_too_round bridge.travel slot.barbs slot.shallow",
    "nothing wrong is cut; something is missing": "feature.not_machined edge.not_made operation.waits part.no_cavity "
        "part.not_measured part.waits neck.no_rod neck.no_tuners "
        "part.computed slot.no_tang board.waits",
    "it plays badly, or is out of the usual; a builder may want it so": "neck.string_loose neck.string_post "
        "neck.string_turns height.action height.angle height.saddle_end",
    "it says that something was measured or told wrongly, and not "
    "what": "part.made_differs board.thickness_off slot.readings zero.plate_out_of_reach "
        "blank.boards_narrow blank.layers_off blank.thickness_off reading.frets reading.outlier reading.spread",
    "outside a window that rests on starting figures": "settings.bend settings.chip_load settings.depth_of_cut "
        "settings.power",
    "the machine does something else than is asked, and it is computed "
    "so": "settings.feed settings.speed program.assumed",
    "the order can be mended by a move, and is sometimes meant": "order.after_outline order.drill_on_slope "
        "order.skim_late turn.datum_late",
    "the two faces may be off by more than a seam shows": "turn.no_datum turn.out_of_square turn.pins_many "
        "machine.faces "
        "turn.pins_not_made",
    "it went wrong in this shop before": "shop.bit_measured shop.failed_before",
    "work for the bench, announced": "neck.waves "
        "feature.corner_left feature.tilt_left feature.other_face guard.cut_out "
        "outline.trim_bit surface.valley_left turn.wood_moves",
    "something to know": "pieces.one_blank bit.unseen "
        "slot.unseen bed.beside_pins feature.past_drawn blank.defect_shows jig.holding_unknown "
                         "material.unproven part.overhang reading.single "
                         "reading.told slot.told settings.stale operation.made_before shop.bit_worn shop.brushes_due "
                         "shop.changed_at_machine "
                         "shop.failed_once",
}
WHY: dict[str, str] = {code: why for why, codes in _WHY.items() for code in codes.split()}
