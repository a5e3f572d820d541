"""The kinds of edits: small commands that make the next revision of a route. The same ones serve screen, API, command line and cures."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, TypeAdapter, ValidationError

from .document import Id
from .errors import InputError
from .route import Hardware
from .units import Unit
from .vocabulary import Clearing, Face, FinishClass, PartKind, Pattern, School, TurnAxis

LISTS = {"placements": ("piece", "placements"), "edges": ("piece", "edges"), "features": ("piece", "features"), "layers": ("blank", "layers"), "planks": ("blank", "planks"),
         "defects": ("blank", "defects"), "bench_steps": ("bench_steps",), "variants": ("variants",), "bits": ("bits",)}
ItemList = Literal["placements", "edges", "features", "layers", "planks", "defects", "bench_steps", "variants", "bits"]
WORDS = {"placements": "a part's place", "edges": "an edge", "features": "a feature", "layers": "a layer", "planks": "a board", "defects": "a flaw", "bench_steps": "a bench step", "variants": "a variant", "bits": "a bit"}


class _Edit(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class Set(_Edit):
    """Set one field: `operations.<id>.settings.feed_mm_min`, `blank.length_mm`, `choices.fit_gap_mm`, ..."""

    do: Literal["set"] = "set"
    path: Annotated[str, Field(pattern=r"^[a-z_]+(\.[a-z0-9_]+)*$", max_length=200)]
    value: Any  # text for a length is read like a caliper value: 1 3/4", 44.36
    unit: Unit = Unit.MM


class KeepReading(_Edit):
    """Keep what the caliper says at a place of a part."""

    do: Literal["keep_reading"] = "keep_reading"
    part: str
    place: str
    typed: Annotated[str, Field(max_length=40)]
    unit: Unit = Unit.MM
    by: str = ""
    at: str = ""
    using: Annotated[str, Field(max_length=40)] = ""


class AddPart(_Edit):
    """Put a part on the list of parts on hand, still to be measured."""

    do: Literal["add_part"] = "add_part"
    kind: PartKind
    name: Annotated[str, Field(min_length=1, max_length=80)]


class RemovePart(_Edit):
    """Take a part off the list; refused while a feature rests on it."""

    do: Literal["remove_part"] = "remove_part"
    part: str


class DropReading(_Edit):
    """Take a reading back; it stays in the revisions before."""

    do: Literal["drop_reading"] = "drop_reading"
    part: str
    place: str
    index: Annotated[int, Field(ge=0, le=20)]


class PutHardware(_Edit):
    """Place or move a screw or clamp."""

    do: Literal["put_hardware"] = "put_hardware"
    setup: str
    hardware: Hardware


class RemoveHardware(_Edit):
    do: Literal["remove_hardware"] = "remove_hardware"
    setup: str
    hardware: str


class PutItem(_Edit):
    """Add an item to a list of the route, or replace the one with its id."""

    do: Literal["put_item"] = "put_item"
    list: ItemList
    item: dict[str, Any]


class RemoveItem(_Edit):
    """Take an item off a list of the route; operations left without a feature go with it."""

    do: Literal["remove_item"] = "remove_item"
    list: ItemList
    id: Annotated[str, Field(max_length=40)]


class PlanBench(_Edit):
    """Make the bench steps of the blank anew: joint, fit dry, glue, wait, plane, measure, mark."""

    do: Literal["plan_bench"] = "plan_bench"


class Mirror(_Edit):
    """Build it for the other hand: the piece is mirrored with its blank and holding, the bought parts are not."""

    do: Literal["mirror"] = "mirror"


class TurnOver(_Edit):
    """Add a setup with the other face up, turned about an axis: index holes on it where there are none, the outline moved to it."""

    do: Literal["turn_over"] = "turn_over"
    about: TurnAxis = TurnAxis.LENGTH


class RemoveSetup(_Edit):
    """Take the last setup away with its operations."""

    do: Literal["remove_setup"] = "remove_setup"


class AddChambers(_Edit):
    """Draw the chambers that cost nothing, as proposed for a face: all, or one by its number."""

    do: Literal["add_chambers"] = "add_chambers"
    face: Face = Face.FRONT
    number: Annotated[int, Field(ge=1, le=40)] | None = None


class Propose(_Edit):
    """Make the operations anew from features, bits and machine."""

    do: Literal["propose"] = "propose"


class ProposeFor(_Edit):
    """Add the operations for one feature, before the outline."""

    do: Literal["propose_for"] = "propose_for"
    feature: str


class Creep(_Edit):
    """Leave a pocket too small and creep up on the fit in passes along its wall; 0 passes: as drawn at once."""

    do: Literal["creep"] = "creep"
    operation: str
    passes: Annotated[int, Field(ge=0, le=6)]
    step_mm: Annotated[float, Field(allow_inf_nan=False, gt=0.005, le=0.5)] | None = None


class ChooseRest(_Edit):
    """Clear a pocket with a wide bit first and its rest after it, or with one bit for all."""

    do: Literal["choose_rest"] = "choose_rest"
    operation: str
    first: Id | None = None


class ChooseRim(_Edit):
    """Let another bit cut a pocket's rim first, so deep, and leave what lies below to this one; no bit: this one cuts it all."""

    do: Literal["choose_rim"] = "choose_rim"
    operation: str
    bit: Id | None = None
    down_to_mm: Annotated[float, Field(allow_inf_nan=False, gt=0, le=100)] | None = None


class CleanRim(_Edit):
    """Cut a pocket's rim clean by the widest bit that does: first, or all of a pocket no deeper than a rim; no operation: every rim that would fray."""

    do: Literal["clean_rim"] = "clean_rim"
    operation: str | None = None


class GlueBetween(_Edit):
    """Glue a cap or veneer on after the core was worked in a setup of its own, or before everything."""

    do: Literal["glue_between"] = "glue_between"
    layer: str
    between: bool = True


class RenewSettings(_Edit):
    """Propose settings anew where they were made for another wood or machine: of one operation, or of all; what a person has set stays."""

    do: Literal["renew_settings"] = "renew_settings"
    operation: str | None = None


class RestAndSkim(_Edit):
    """Let the piece rest before a setup, measure it, and leave a skim on the back for it; the blank is planned thicker by as much."""

    do: Literal["rest_and_skim"] = "rest_and_skim"
    setup: str


class AddTestHoles(_Edit):
    """Drill a pair of test holes in the waste half deep from each face, which tell what the machine is off."""

    do: Literal["add_test_holes"] = "add_test_holes"
    setup: str


class Cover(_Edit):
    """Put a pocket of the front under the layer that is glued on between setups, or cut it through that layer."""

    do: Literal["cover"] = "cover"
    feature: str
    covered: bool = True


class AddFinish(_Edit):
    """Finish a surface once more: only where it is flat, or only along the valleys that the bit before left."""

    do: Literal["add_finish"] = "add_finish"
    operation: str
    pattern: Literal[Pattern.FLAT, Pattern.PENCIL]
    bit: Id | None = None


class StepDown(_Edit):
    """Draw a ledge round a pocket or hole: for a cover, a ring, or as a reveal. It follows what it goes round."""

    do: Literal["step_down"] = "step_down"
    feature: str
    width_mm: Annotated[float, Field(allow_inf_nan=False, gt=0.2, le=60)]
    depth_mm: Annotated[float, Field(allow_inf_nan=False, gt=0.05, le=60)]
    finish_class: FinishClass = FinishClass.SHOWN


class ChooseClearing(_Edit):
    """Clear a pocket by rings or with a bounded engagement; settings that nobody set by hand are proposed anew."""

    do: Literal["choose_clearing"] = "choose_clearing"
    operation: str
    clearing: Clearing


class ChooseSchool(_Edit):
    """Cut an outline through with tabs, through but for a skin, or as a groove for saw and bearing bit; its bench steps follow."""

    do: Literal["choose_school"] = "choose_school"
    operation: str
    school: School


class MachineEdge(_Edit):
    """Let the machine cut an edge with a bit of its form, or leave it to the bench."""

    do: Literal["machine_edge"] = "machine_edge"
    edge: str
    by_machine: bool = True


class MoveTab(_Edit):
    """Move a tab to the place of the rim nearest to a point of the piece; the number after the last adds one."""

    do: Literal["move_tab"] = "move_tab"
    operation: str
    number: Annotated[int, Field(ge=0, le=40)]
    x_mm: Annotated[float, Field(allow_inf_nan=False, ge=-2000, le=2000)]
    y_mm: Annotated[float, Field(allow_inf_nan=False, ge=-2000, le=2000)]


class MoveOperation(_Edit):
    """Put an operation at another place in the order, counted from 0."""

    do: Literal["move_operation"] = "move_operation"
    operation: str
    to: Annotated[int, Field(ge=0, le=500)]


class RemoveOperation(_Edit):
    do: Literal["remove_operation"] = "remove_operation"
    operation: str


Edit = Annotated[
    Set | KeepReading | AddPart | RemovePart | DropReading | PutHardware | RemoveHardware | PutItem | RemoveItem | PlanBench | AddChambers | Mirror | TurnOver | RemoveSetup | Propose | ProposeFor | Creep | ChooseRest | ChooseRim | CleanRim | AddFinish | GlueBetween | Cover | RestAndSkim | RenewSettings | AddTestHoles | StepDown | ChooseClearing | ChooseSchool | MachineEdge | MoveTab | MoveOperation | RemoveOperation,
    Field(discriminator="do"),
]
_EDITS: TypeAdapter[Any] = TypeAdapter(Edit)


def read_edit(data: object) -> Any:
    """Check an edit.

    Raises:
        InputError: unknown or malformed.
    """
    try:
        return _EDITS.validate_python(data)
    except ValidationError as exc:
        first = exc.errors()[0]
        raise InputError(f"This edit cannot be used: {first['msg']} at {'.'.join(map(str, first['loc']))}.", where="edit") from exc


def describe(edit: Any) -> str:
    """Return what an edit does, in words for the history."""
    if edit.do == "set":
        return f"{edit.path.replace('_mm', '').replace('.', ' › ').replace('_', ' ')} = {edit.value}"
    if edit.do in ("put_item", "remove_item"):
        return f"{'Put' if edit.do == 'put_item' else 'Remove'} {WORDS[edit.list]}: {edit.item.get('name') or edit.item.get('id', '') if edit.do == 'put_item' else edit.id}"
    names = {"plan_bench": "Plan the bench steps of the blank", "add_chambers": "Draw chambers", "mirror": "Mirror for the other hand", "turn_over": "Turn it over", "remove_setup": "Take the last setup away", "keep_reading": "Keep a reading", "drop_reading": "Drop a reading", "add_part": "Add a part", "remove_part": "Take a part off the list", "put_hardware": "Place hardware",
             "remove_hardware": "Remove hardware", "propose": "Propose a route", "propose_for": "Add an operation", "choose_clearing": "Choose how it is cleared", "choose_rest": "Choose which bits clear it", "creep": "Creep up on a fit", "choose_rim": "Choose which bit cuts the rim", "add_finish": "Finish flat places or valleys", "glue_between": "Choose when a layer is glued on", "renew_settings": "Propose settings anew", "rest_and_skim": "Rest, measure and skim", "add_test_holes": "Drill a pair of test holes", "cover": "Put a pocket under the layer", "step_down": "Draw a ledge round a feature", "choose_school": "Choose how the outline is cut", "move_tab": "Move a tab", "machine_edge": "Say who makes an edge",
             "move_operation": "Move an operation", "remove_operation": "Remove an operation"}
    return names[edit.do]
