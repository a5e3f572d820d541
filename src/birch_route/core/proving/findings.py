"""Findings: what a proof says. Codes and severities are fixed here; docs/findings.md repeats them, by test."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from typing import Any

from pydantic import BaseModel, ConfigDict, computed_field

from ..bench import Meant
from ..quantities import say
from ..vocabulary import Severity


class Fact(BaseModel):
    """One figure of a finding."""

    model_config = ConfigDict(frozen=True)
    name: str
    value: float | str
    unit: str = "mm"
    source: str = "computed"


class Cure(BaseModel):
    """Something that can be done about it: edits of the route, applied with one press."""

    model_config = ConfigDict(frozen=True)
    sentence: str  # quantities marked, see core/quantities.py
    edits: list[dict[str, Any]]

    @property
    def label(self) -> str:
        """The sentence in mm."""
        return say(self.sentence)


class Finding(BaseModel):
    """Something the proof says."""

    model_config = ConfigDict(frozen=True)
    code: str
    severity: Severity
    sentence: str  # quantities marked, see core/quantities.py
    operation: str | None = None
    feature: str | None = None
    hardware: str | None = None
    place: tuple[float, float, float] | None = None  # piece's frame, mm
    line: int | None = None  # of a program
    facts: list[Fact] = []
    cures: list[Cure] = []
    may_override: bool = True
    meant: str = ""  # why it is meant so: it accuses no more
    was_meant: str = ""  # why it was, before it said something else

    @computed_field  # type: ignore[prop-decorator]
    @property
    def said(self) -> str:
        """Digest of the sentence with its figures: by it, what was meant so is known again."""
        return hashlib.sha256(self.sentence.encode()).hexdigest()[:16]

    @property
    def of(self) -> tuple[str | None, ...]:
        """What it is about."""
        return self.code, self.operation, self.feature, self.hardware

    @property
    def reason(self) -> str:
        """The sentence in mm."""
        return say(self.sentence)


CODES: dict[str, tuple[Severity, str]] = {
    "bed.beside_pins": (Severity.NOTE, "The blank's index holes would fit the machine's own, but lie beside them."),
    "bed.change_taken": (Severity.CARE, "Wood or hardware stands where bits are changed, or that is beyond the travel."),
    "bed.index_hole": (Severity.CARE, "A cut enters the waste board at or near one of the machine's permanent index holes."),
    "bed.probe_taken": (Severity.STOP, "Wood or hardware stands where bits are touched off, or that is beyond the travel."),
    "bench.open": (Severity.STOP, "A bench step that the machine work waits for is not done."),
    "bit.no_collet": (Severity.STOP, "No collet of the machine takes the shank of a bit."),
    "bit.unseen": (Severity.NOTE, "The cells of a proof are too large to judge finely what a thin bit leaves."),
    "bit.too_short": (Severity.STOP, "A cut goes deeper than the bit's cutting length, and the shank meets wood."),
    "bit.cannot_go_sideways": (Severity.STOP, "A drill is asked to cut sideways; only its point cuts."),
    "bit.head_hits_wood": (Severity.STOP, "The spindle nose or the dust shoe meets wood."),
    "bit.nut_hits_wood": (Severity.STOP, "The collet nut meets wood."),
    "blank.boards_narrow": (Severity.CARE, "The boards, once jointed, are narrower than the blank."),
    "blank.broken_out": (Severity.CARE, "A cut round the piece leaves the blank through its side; the waste is no frame any more."),
    "blank.defect_shows": (Severity.NOTE, "A knot or crack will show on the finished piece."),
    "blank.defect_structural": (Severity.CARE, "A knot or crack lies where the piece carries load."),
    "blank.glue_line_in_hole": (Severity.CARE, "A glue line runs through a hole that something is pressed or screwed into."),
    "blank.grain_differs": (Severity.CARE, "The grain of neighbouring boards differs by more than a joint stands."),
    "blank.layers_off": (Severity.CARE, "The layers of the blank do not add up to its thickness."),
    "blank.thickness_off": (Severity.CARE, "The blank measures another thickness than the route says, or is uneven beyond what the skim takes."),
    "blank.too_small": (Severity.STOP, "The blank does not cover the outline or the depth."),
    "blank.margin_small": (Severity.CARE, "The bit leaves the blank sideways; no wood outside it guides or holds."),
    "bridge.travel": (Severity.CARE, "The saddles need more travel than the bridge has."),
    "cap.broken": (Severity.STOP, "A cut breaks through a glued layer into a hollow under it."),
    "cap.thin": (Severity.CARE, "A cut leaves too little of a glued layer over a hollow."),
    "clearing.slot": (Severity.CARE, "A place is too narrow for a bounded engagement and is left."),
    "board.dot_at_slot": (Severity.CARE, "A dot comes too near a fret slot."),
    "board.edge_thin": (Severity.CARE, "A board's edge is thin after its radius."),
    "board.end_short": (Severity.CARE, "A board ends so near its last slot that the end may split off."),
    "board.ledge_shallow": (Severity.CARE, "The ledge of a binding does not cover the ends of fret slots."),
    "board.thickness_off": (Severity.CARE, "A board's blank gives another thickness than its numbers say."),
    "board.unsaid": (Severity.STOP, "A cut of a board rests on a usual number that nobody said for it."),
    "board.waits": (Severity.CARE, "Nothing is cut for a part of a board whose size nobody said."),
    "cover.leaves_open": (Severity.CARE, "A cavity reaches beyond the plate or guard that lies over it."),
    "cover.no_land": (Severity.CARE, "A plate or guard rests on too little wood beside a cavity."),
    "edge.bit_form": (Severity.STOP, "A bit does not have the form of the edge it is to make."),
    "edge.not_made": (Severity.CARE, "An edge is left to the machine and no operation makes it."),
    "edge.meets_feature": (Severity.CARE, "A rounded or bevelled edge runs into a feature beside it."),
    "edge.no_land": (Severity.CARE, "An edge leaves too little flat side for a hand-held bit's bearing."),
    "entry.straight_down": (Severity.CARE, "A bit that does not cut at its centre goes straight down into wood."),
    "feature.bit_too_wide": (Severity.STOP, "A region the bit cannot enter."),
    "feature.break_through": (Severity.STOP, "Pockets from opposite faces meet and are not meant to."),
    "feature.contour_clash": (Severity.CARE, "A contour runs into a feature of its face."),
    "feature.corner_left": (Severity.NOTE, "Inside corners left round by the bit, for the chisel list."),
    "feature.corner_sharp": (Severity.CARE, "A corner sharper than the bit, where something must fit."),
    "feature.corner_too_round": (Severity.CARE, "A corner is left rounder than the part allows."),
    "feature.floor_thin": (Severity.CARE, "The floor left is thinner than asked."),
    "feature.past_drawn": (Severity.NOTE, "A wall is cut past its drawn line on purpose, for a fit."),
    "feature.gouged": (Severity.STOP, "Wood is cut that the piece needs."),
    "feature.not_machined": (Severity.CARE, "No operation makes this feature."),
    "feature.other_face": (Severity.NOTE, "A feature lies on the face that this route does not turn up."),
    "feature.outside": (Severity.STOP, "A feature lies outside the piece."),
    "feature.runs_into": (Severity.STOP, "Two features run into each other and are not meant to."),
    "feature.rough_wall": (Severity.CARE, "A serrated bit makes a wall that is seen or fitted, and nothing smooths it."),
    "feature.stock_left": (Severity.CARE, "Wood is left on a wall or floor and nothing takes it away."),
    "feature.tilt_left": (Severity.NOTE, "A level bit leaves a little where a floor is tilted, or follows a rim up and down."),
    "feature.too_deep": (Severity.STOP, "A pocket or hole is deeper than the blank is thick."),
    "feature.wall_gives": (Severity.CARE, "A thin wall gives under the bit and chatters."),
    "feature.wall_step": (Severity.CARE, "A rim and the wall below it, cut by two bits, do not stand in one line."),
    "feature.wall_thin": (Severity.CARE, "The wall between two features, or to the outside, is thin."),
    "guard.cut_out": (Severity.NOTE, "A guard lies over a pocket whose part comes up through it, and must be cut out "
        "there."),
    "guard.under_board": (Severity.CARE, "The end of the fretboard comes down on a guard."),
    "hardware.hit": (Severity.STOP, "The bit, the collet nut, the spindle nose or the dust shoe hits a screw or clamp."),
    "hardware.near": (Severity.CARE, "The bit, or what stands above it, passes close to a screw or clamp."),
    "height.action": (Severity.CARE, "The strings stand lower or higher over the 12th fret than is played."),
    "height.angle": (Severity.CARE, "The neck angle is outside what a bolt-on joint has."),
    "height.pocket": (Severity.CARE, "The neck pocket is shallower or deeper than a bolt-on joint bears."),
    "height.saddle_end": (Severity.CARE, "The saddles stand near the end of their travel up or down."),
    "height.saddle_out": (Severity.STOP, "The saddles would stand at the end of their travel, or beyond it."),
    "bridge.off_piece": (Severity.STOP, "The bridge stands over the edge of the piece."),
    "hole.in_air": (Severity.CARE, "Holes lie within a pocket that is as deep: nothing is left for their screws."),
    "hole.no_clearance": (Severity.CARE, "A clearance hole is no wider than its screw's thread."),
    "holding.leaks": (Severity.STOP, "Wood does not cover a vacuum or lie on its gasket, or a cut opens it."),
    "holding.nothing": (Severity.STOP, "Nothing holds the blank."),
    "holding.skin": (Severity.STOP, "A skin too thin to be sure of is all that holds the piece."),
    "holding.span": (Severity.CARE, "Wood that nothing carries gives under the bit."),
    "holding.vacuum_falls": (Severity.CARE, "A cut opens a vacuum, and the pump keeps less under the wood."),
    "holding.weak": (Severity.STOP, "The contacts balance less than the factor of safety times the pull of a cut."),
    "operation.waits": (Severity.CARE, "An operation cuts nothing because its part is not measured."),
    "jig.holding_unknown": (Severity.NOTE, "A jig was drawn from a holding that had not been proved."),
    "jig.holding_weak": (Severity.STOP, "A jig is drawn from a holding that does not hold the piece."),
    "nest.cut": (Severity.CARE, "A cut goes into the nest that the piece lies in."),
    "nest.early": (Severity.STOP, "A setup lies in a nest and the piece is not cut out of its blank before."),
    "order.after_outline": (Severity.CARE, "Something is cut after the outline has left the piece to its tabs."),
    "order.drill_on_slope": (Severity.CARE, "A drill starts on a slope that was cut before it."),
    "order.skim_late": (Severity.CARE, "The face is skimmed after something whose depth counts from it."),
    "outline.no_land": (Severity.CARE, "The groove of an outline leaves too little wall for the bearing of the trimming bit."),
    "outline.trim_bit": (Severity.NOTE, "The bit that trims an outline by hand is short for what the groove leaves, or its length is not known."),
    "outline.skin_thin": (Severity.CARE, "The skin that holds a piece is thinner than the blank is sure to be."),
    "machine.faces": (Severity.CARE, "The machine as measured sets one face beside the other by more than is seen."),
    "machine.precision": (Severity.CARE, "The machine as measured is off by more than a fit may be."),
    "material.hard": (Severity.CARE, "A metal or shell that nothing was cut in here; its settings are borrowed."),
    "material.unproven": (Severity.NOTE, "A material of the shop's own that nothing was cut in here."),
    "machine.slots": (Severity.STOP, "The job uses more bits than the changer has slots."),
    "part.bush_short": (Severity.CARE, "What carries a pot or jack is too thick for its bush."),
    "part.collides": (Severity.CARE, "Two parts are in each other's way."),
    "part.no_cavity": (Severity.CARE, "A part that hangs through a face has no cavity."),
    "part.no_room": (Severity.CARE, "A part does not stand clear in its cavity."),
    "part.no_wood": (Severity.CARE, "A strap pin's screw does not find sound wood."),
    "part.not_measured": (Severity.CARE, "A part is placed and not measured; nothing is drawn for it."),
    "part.overhang": (Severity.NOTE, "A knob reaches over an edge."),
    "part.screw_length": (Severity.CARE, "A neck screw comes too near the fretboard, or does not reach the heel."),
    "part.side_wall": (Severity.CARE, "A jack on the side does not reach its cavity."),
    "part.too_tall": (Severity.CARE, "A part is taller than its cavity is deep."),
    "part.computed": (Severity.CARE, "Something is cut by sizes of a part made here that nobody has read yet."),
    "part.made_differs": (Severity.CARE, "A part made here reads otherwise than its route says."),
    "part.differs": (Severity.STOP, "A drawn hole or pocket does not take the part it is measured from."),
    "part.unmeasured": (Severity.STOP, "A size that decides a cut was never measured."),
    "part.waits": (Severity.CARE, "Nothing is cut for a feature whose part nobody has measured."),
    "piece.side_opened": (Severity.STOP, "A feature runs out through the side of the piece and is not meant to."),
    "piece.freed": (Severity.STOP, "A piece is cut free and nothing holds it."),
    "pieces.one_blank": (Severity.NOTE, "Several pieces lie so close that their blanks are one."),
    "pieces.too_near": (Severity.STOP, "A cut of one piece goes into the piece beside it, or comes near it."),
    "program.arc": (Severity.STOP, "An arc whose centre or radius does not fit its ends."),
    "program.assumed": (Severity.CARE, "A program leaves something to the machine, and it is read as stated."),
    "program.beyond_machine": (Severity.STOP, "A program asks a feed or speed of the machine that it does not have."),
    "program.bit_change": (Severity.STOP, "Whether the bit is changed before the next cut is not sure, or it is "
        "changed while the spindle turns."),
    "program.no_end": (Severity.STOP, "A program ends without saying so."),
    "program.no_feed": (Severity.STOP, "A cutting move without a feed rate."),
    "program.not_understood": (Severity.STOP, "A word the reader does not know."),
    "program.read_back": (Severity.STOP, "The program read back does not cut what was proven."),
    "program.spindle_off": (Severity.STOP, "The bit enters wood while the spindle stands still."),
    "program.unknown_bit": (Severity.STOP, "The program calls a bit that was not described."),
    "rapid.through_wood": (Severity.STOP, "A rapid move goes through wood."),
    "reading.frets": (Severity.CARE, "Scale and heel end mean more or fewer frets on the board than a neck has."),
    "reading.outlier": (Severity.CARE, "One reading disagrees with the others."),
    "reading.single": (Severity.NOTE, "A place was measured only once."),
    "reading.spread": (Severity.CARE, "Readings of one place differ by more than the fit allows."),
    "screw.comes_through": (Severity.STOP, "A screw comes out of the other face, or its tip nearly does."),
    "screw.into_bed": (Severity.STOP, "A holding screw goes through the waste board into the machine's bed."),
    "screw.no_bite": (Severity.CARE, "A screw finds too little to hold in."),
    "settings.allowance": (Severity.CARE, "A last pass leaves less than the passes before it bend by: the wall is "
        "not true."),
    "reading.told": (Severity.NOTE, "Readings came with a file; nobody of this shop took them."),
    "settings.bend": (Severity.CARE, "The bit bends more than its work allows."),
    "settings.chip_load": (Severity.CARE, "The chip load is outside its window."),
    "settings.depth_of_cut": (Severity.CARE, "The depth of cut is bolder than this machine's class."),
    "settings.feed": (Severity.CARE, "A rate is above what the machine can do: it is written and computed at the "
        "machine's greatest."),
    "settings.feed_refused": (Severity.STOP, "A rate is asked that this machine stops at."),
    "settings.power": (Severity.CARE, "The cut asks for more power than the spindle gives."),
    "settings.speed": (Severity.CARE, "The spindle cannot run at this speed."),
    "operation.made_before": (Severity.NOTE, "An operation was proposed before the readings its cut rests on."),
    "settings.stale": (Severity.NOTE, "Settings were proposed for another wood or machine."),
    "settings.stepover": (Severity.CARE, "The stepover leaves ridges between the rings."),
    "shop.bit_measured": (Severity.CARE, "A bit was measured at the rack, and the route reckons with another diameter."),
    "shop.bit_worn": (Severity.NOTE, "By the shop's own count a bit crosses the limit of its edge in this job."),
    "shop.brushes_due": (Severity.NOTE, "The brushes of the machine's motor are due, or would be within the job."),
    "shop.changed_at_machine": (Severity.NOTE, "Rates were changed at the machine, the run went well, and the route still says otherwise."),
    "shop.failed_before": (Severity.CARE, "A cut is as hard as one that failed in this shop, or its chip as thin as one that burned."),
    "shop.failed_once": (Severity.NOTE, "This very cut failed in this shop once, though others no easier went well."),
    "slot.barbs": (Severity.CARE, "The barbs of a fret wire stand out too little to hold where its tang goes in."),
    "slot.floor_thin": (Severity.CARE, "Little wood stays under a fret slot."),
    "slot.no_tang": (Severity.CARE, "A board gets no fret slots: nobody said how wide and deep the wire's tang is."),
    "slot.readings": (Severity.CARE, "Readings of a fret wire's tang lie further apart than its slot has to play."),
    "slot.shallow": (Severity.CARE, "A fret slot is shallower below the finished face than its tang asks for."),
    "slot.told": (Severity.NOTE, "Sizes of a fret wire are told; nobody of this shop read them."),
    "slot.through": (Severity.STOP, "Too little wood stays under a fret slot to hold the board together."),
    "slot.unseen": (Severity.NOTE, "The cells of a proof are too large to judge the floors of a board's slots."),
    "surface.finish_deep": (Severity.CARE, "The finish over a slope meets more wood than it takes at once."),
    "surface.rough_near": (Severity.CARE, "Roughing comes so near to a finished slope that its steps may cut into it."),
    "surface.valley_left": (Severity.NOTE, "A finish leaves wood in valleys narrower than its bit."),
    "tear_out.hole": (Severity.CARE, "A drilled hole splinters: short grain to the rim, nothing behind its exit, or "
        "too thin a floor."),
    "tear_out.likely": (Severity.CARE, "Splinters are likely along a wall that is seen or fitted."),
    "travel.outside": (Severity.STOP, "A move goes beyond the machine's travel."),
    "turn.datum_late": (Severity.CARE, "Index holes are not made before what they have to find again."),
    "turn.no_datum": (Severity.CARE, "A turned piece is found again by edges or lines only."),
    "turn.out_of_square": (Severity.CARE, "The machine is out of square by more than the two faces may differ."),
    "turn.pin_beside": (Severity.STOP, "A pin stands beside the index hole it is for."),
    "turn.pins_many": (Severity.CARE, "More pins than two hold a blank: one of them does not fit."),
    "turn.pins_not_made": (Severity.CARE, "A turned setup lies over pins, and nothing makes the holes they stand in."),
    "turn.pins_off": (Severity.STOP, "In a turned setup the index holes do not stand over the pins."),
    "tear_out.rim": (Severity.CARE, "The upper rim of a pocket that is seen or fitted frays: a bit that lifts its chips cuts figured wood there."),
    "turn.not_symmetrical": (Severity.STOP, "Index holes are not symmetrical about the turning axis."),
    "turn.wood_moves": (Severity.NOTE, "Much wood goes from one face before the other is cut, and the piece is not left to rest and skimmed."),
    "neck.ball_wide": (Severity.STOP, "The ball that finishes a neck's back is wider than a hollow of it."),
    "neck.bar_wall": (Severity.CARE, "Little wood stands between the slot of a bar and the rod's channel or an edge."),
    "neck.blank_thin": (Severity.STOP, "A neck is deeper below its glue plane than its blank."),
    "neck.bore_beside": (Severity.STOP, "A bore of the heel meets the rod's channel or the edge, or nearly."),
    "neck.bore_deep": (Severity.STOP, "Bores in the heel come out through the board, or nearly."),
    "neck.bore_edge": (Severity.CARE, "Little wood stands beside a tuner's bore."),
    "neck.bush_through": (Severity.STOP, "Bores for bushes leave no shoulder in the headstock."),
    "neck.head_thick": (Severity.CARE, "A headstock is thinner or thicker than its tuners clamp."),
    "neck.head_thin": (Severity.CARE, "Little wood stays behind the nut, where a neck bends over into its headstock."),
    "neck.housings": (Severity.CARE, "Housings of tuners overlap."),
    "neck.no_rod": (Severity.CARE, "A neck gets no channel: nobody said how wide, high and long its rod is."),
    "neck.no_tuners": (Severity.CARE, "A headstock gets no bores: nobody said what its tuners need."),
    "neck.rim_left": (Severity.CARE, "The ball ends above the rim of a neck's back, which stays too full there."),
    "neck.rod_floor": (Severity.CARE, "Little wood stays under a rod's channel, its adjuster's room or a bar."),
    "neck.rod_through": (Severity.STOP, "So little wood stays under a rod's channel that it breaks through."),
    "neck.short_grain": (Severity.CARE, "A leaning headstock in the neck's own wood has short grain behind the nut."),
    "neck.string_loose": (Severity.CARE, "A string breaks too little over the nut to stay in its slot."),
    "neck.string_post": (Severity.CARE, "A string touches the post of another."),
    "neck.string_turns": (Severity.CARE, "A string turns aside at the nut by more than its slot bears."),
    "neck.tuner_on_slope": (Severity.CARE, "A tuner stands where its headstock is not level."),
    "neck.unsaid": (Severity.STOP, "A cut of a neck rests on what is usual; nobody said it for this one."),
    "neck.waves": (Severity.NOTE, "Set stations make the back of a neck wave."),
    "waste_board.hit": (Severity.STOP, "The bit goes deeper into the waste board than allowed."),
    "zero.face_cut_away": (Severity.STOP, "Z is touched off on a face that has been cut away."),
    "zero.plate_out_of_reach": (Severity.CARE, "A program looks for the touch plate less far down than it lies."),
    "zero.touch_off_missing": (Severity.STOP, "The bit changes and Z is not touched off again."),
}
NEVER_OVERRIDDEN = frozenset({"piece.freed", "program.read_back"})


def finding(code: str, sentence: str, **more: Any) -> Finding:
    """Return a finding with the severity its code has."""
    return Finding(
        code=code, severity=CODES[code][0], sentence=sentence, may_override=code not in NEVER_OVERRIDDEN, **more
    )


_ORDER = {Severity.STOP: 0, Severity.CARE: 1, Severity.NOTE: 2}


def by_severity(findings: list[Finding]) -> list[Finding]:
    """Return findings with the gravest first, otherwise in the order they came; what is meant so comes last."""
    return sorted(findings, key=lambda f: (bool(f.meant), _ORDER[f.severity]))


def as_meant(findings: Sequence[Finding], meant: Sequence[Meant]) -> list[Finding]:
    """Return findings with what a person has said of them. A stop is never quieted; a care or note is as long as it
    says what it said then, word for word and figure for figure."""
    said = {(m.of, m.said): m.reason for m in meant}
    about = {m.of: m.reason for m in meant}
    out = []
    for f in findings:
        if f.severity is Severity.STOP or f.of not in about:
            out.append(f)
        elif (f.of, f.said) in said:
            out.append(f.model_copy(update={"meant": said[f.of, f.said]}))
        else:
            out.append(f.model_copy(update={"was_meant": about[f.of]}))
    return out
