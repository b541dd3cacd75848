"""The Parting stop: the joint, what every face does along it, and what there is to say."""

from dataclasses import replace

import numpy as np

from pounce.base.finding import Remedy
from pounce.base.progress import Progress, span
from pounce.draw.scan import locked_at
from pounce.draw.screw import screw_of
from pounce.draw.values import DrawResult
from pounce.metals.method import Method
from pounce.metals.tables import limits
from pounce.part.model import PartResult
from pounce.parting.asked import asked_draft
from pounce.parting.cheek import columns_beside, height_of, ringed, with_cheek
from pounce.parting.choose import Chosen, choose, rim_below, steepest
from pounce.parting.columngrid import ColumnGrid, column_grid
from pounce.parting.cures import cures_for
from pounce.parting.cutdown import cut_down
from pounce.parting.holds import held_regions
from pounce.parting.joint import Joint
from pounce.parting.line import outline_of
from pounce.parting.loose import columns_under, freed_by, loose_piece
from pounce.parting.moulding import joint_findings, sand_findings, shell_open, trial_findings
from pounce.parting.regions import grouped
from pounce.parting.states import judged_at, scan_pieces
from pounce.parting.trial import trial_of
from pounce.parting.values import (
    PLAIN_BOARD,
    Judged,
    Kind,
    LoosePiece,
    PartingChoices,
    PartingResult,
    Region,
    Ringed,
    State,
    Trial,
)
from pounce.solid.mesh import Bools, Floats, Mesh


def parting_stop(
    choices: PartingChoices, part: PartResult, method: Method, draw: DrawResult, progress: Progress
) -> PartingResult:
    """States of all faces with cope and drag parted along the given or the best joint.

    UserFault when the given height lies off the part.
    """
    mesh = part.mesh
    chosen = _rammed(choices, choose(choices, mesh, draw, span(progress, 0.0, 0.4)), draw)
    progress(0.3, "Judging every face")
    asked, judged, regions = _judged(mesh, draw, chosen, method, choices.rap_mm)
    ring = ringed(choices, regions, chosen.joint, method.pattern.draws)
    if ring is not None and not ring.trouble and choices.height_mm is None:  # the mould parts where it wants it
        there = replace(chosen.joint, height_mm=height_of(ring), turned=False)
        chosen = replace(chosen, joint=there, kind="split")
        asked, judged, regions = _judged(mesh, draw, chosen, method, choices.rap_mm)
    joint = chosen.joint
    progress(0.45, "Lifting the cope, drawing the halves")
    grid = column_grid(mesh, joint, chosen.astray_mm)
    beside, tried = None, None
    if ring is not None and ring.cheek_mm > 0.0:
        judged, mine = with_cheek(mesh, joint, judged, regions, asked)
        regions, piece_region = grouped(mesh, judged, draw.direction, asked)
        judged = replace(judged, region=piece_region)
        regions = held_regions(mesh, judged, regions, joint, method, choices.rap_mm)
        beside = columns_beside(judged, mine, joint, grid)
        tried = judged.only(~mine)
    judged, loose, held, offered = _loose(choices, mesh, joint, grid, judged, regions, method)
    if beside is not None:
        held = beside if held is None else held | beside
    trial = trial_of(
        mesh, joint, judged if tried is None else tried, grid, draw.depth_mm, choices.rap_mm, choices.tilt_deg, held
    )
    progress(0.6, "Trying cures")
    flat = scan_pieces(mesh, draw.reach, draw.direction)
    cures = cures_for(mesh, draw, chosen, judged, regions, offered, flat) if method.pattern.draws else {}
    progress(0.75, "Drawing the parting line")
    result = _result(choices, chosen, mesh, draw, method, judged, regions, asked, trial, loose, ring, cures)
    progress(0.9, "Looking at what the sand must hold")
    result = _with_findings(result, choices, chosen, part, method, grid)
    progress(1.0, "Parting found")
    return result


def parted_again(
    choices: PartingChoices,
    found: PartingResult,
    joint: Joint,
    part: PartResult,
    method: Method,
    draw: DrawResult,
    asked_before: Floats,
    progress: Progress,
) -> PartingResult:
    """The states of a body that was made of the part, parted along ``joint``: the one ``found`` for the part, moved
    with its stock. Loose pieces are those found; no cure is tried. ``asked_before`` (m,) draft (degrees) that the part
    was asked for in the place of each face, inf where it had none: no more is asked of what was leaned for it.
    """
    mesh = part.mesh
    pieces = scan_pieces(mesh, draw.reach, draw.direction)
    slack = 1e-4 * draw.depth_mm
    chosen = Chosen(
        found.kind,
        joint,
        joint.height_mm,
        locked_at(pieces, joint.height_mm, slack),
        float(pieces.areas[~pieces.up & ~pieces.down].sum()),
        slack,
        missed=found.missed,
        windows=found.windows,
        astray_mm=found.astray_mm,
    )
    progress(0.1, "Judging every face of the pattern")
    asked, judged, regions = _judged(mesh, draw, chosen, method, choices.rap_mm, asked_before)
    progress(0.5, "Drawing the pattern")
    grid = column_grid(mesh, joint, chosen.astray_mm)
    held: Bools | None = None
    tried = judged
    if found.ringed is not None and found.ringed.cheek_mm > 0.0:
        judged, mine = with_cheek(mesh, joint, judged, regions, asked)
        held, tried = columns_beside(judged, mine, joint, grid), judged.only(~mine)
    if found.loose:
        judged = freed_by(found.loose, judged, joint)
        under = np.logical_or.reduce([columns_under(piece, grid) for piece in found.loose])
        held = under if held is None else held | under
        tried = judged if tried is judged else tried
    if held is not None:
        regions, piece_region = grouped(mesh, judged, draw.direction, asked)
        judged = replace(judged, region=piece_region)
        regions = held_regions(mesh, judged, regions, joint, method, choices.rap_mm)
    trial = trial_of(mesh, joint, tried, grid, draw.depth_mm, choices.rap_mm, choices.tilt_deg, held)
    progress(0.8, "Looking at what the sand must hold")
    result = _result(choices, chosen, mesh, draw, method, judged, regions, asked, trial, found.loose, found.ringed, {})
    result = _with_findings(result, choices, chosen, part, method, grid)
    progress(1.0, "Pattern judged")
    return result


def _with_findings(
    result: PartingResult, choices: PartingChoices, chosen: Chosen, part: PartResult, method: Method, grid: ColumnGrid
) -> PartingResult:
    """The result with what there is to say of it, what is open first."""
    mesh = part.mesh
    # nothing is freed by a joint where nothing has to draw
    freed = mesh.area if method.pattern.draws else None
    spoken = [*joint_findings(result, chosen.best_locked_mm2, freed)]
    if method.pattern.draws and part.closed:
        spoken += trial_findings(result, mesh)
        spoken += sand_findings(mesh, grid, result.joint, method, choices, chosen.kind == "flat-back")
    elif method.pattern.draws:
        spoken.append(shell_open())
    trial = result.trial
    if not any(finding.code == "sand-tears" for finding in spoken):  # crumbs of a mesh fall from no mould
        trial = replace(
            trial, grains=trial.grains[:0], grain_lift=trial.grain_lift[:0], grain_cope=trial.grain_cope[:0]
        )
    findings = tuple(sorted(spoken, key=lambda finding: finding.informational))
    return replace(result, trial=trial, findings=findings)


def _result(
    choices: PartingChoices,
    chosen: Chosen,
    mesh: Mesh,
    draw: DrawResult,
    method: Method,
    judged: Judged,
    regions: tuple[Region, ...],
    asked: Floats,
    trial: Trial,
    loose: tuple[LoosePiece, ...],
    ring: Ringed | None,
    cures: dict[int, tuple[Remedy, ...]],
) -> PartingResult:
    """All of it together, with the parting line and what is measured along it; nothing is said yet."""
    joint, slack, direction, height = chosen.joint, chosen.slack_mm, draw.direction, chosen.joint.height_mm
    inside = 0.0
    if chosen.kind == "flat-back":  # just inside the part, so that the cut meets walls and not the flat itself
        inside = slack if abs(height - draw.low_mm) <= abs(height - draw.high_mm) else -slack
    outline = outline_of(mesh, draw.reach, joint, inside)
    heights = np.concatenate([loop @ direction for loop in outline]) if outline else np.full(1, height)
    relief = 0.0 if joint.level else float(heights.max() - heights.min())
    by_state, drawing = judged.areas_by_state, judged.state != State.LOCKED
    return PartingResult(
        kind=chosen.kind,
        chosen_by="search" if choices.height_mm is None and choices.kind == "auto" else "user",
        moulded=PLAIN_BOARD if outline and _on_open_side(choices, chosen, heights, relief, judged) else choices.moulded,
        joint=joint,
        trial=trial,
        cut_down=None if joint.level else cut_down(joint, draw.high_mm, _slope_limit(), _border()),
        upside_down=choices.upside_down,
        keyed=choices.keyed,
        rap_mm=choices.rap_mm,
        relief_mm=relief,
        slope_deg=steepest(joint),
        missed=chosen.missed,
        windows=chosen.windows,
        astray_mm=chosen.astray_mm,
        rim_below_mm=rim_below(mesh, joint),
        height_mm=height,
        best_height_mm=chosen.best_height_mm,
        outline=outline,
        length_mm=sum(float(np.linalg.norm(np.diff(loop, axis=0), axis=1).sum()) for loop in outline),
        judged=judged,
        clean_mm2=by_state[State.CLEAN],
        tight_mm2=by_state[State.TIGHT],
        locked_mm2=by_state[State.LOCKED],
        locked_any_mm2=chosen.any_mm2,
        least_draft_deg=float(judged.draft_deg[drawing].min()) if drawing.any() else 0.0,
        required_draft_deg=method.required_draft_deg,
        asked_deg=asked,
        cope_depth_mm=height - draw.low_mm if joint.turned else draw.high_mm - height,
        drag_depth_mm=draw.high_mm - height if joint.turned else height - draw.low_mm,
        regions=regions,
        loose=loose,
        ringed=ring,
        cures=cures,
        findings=(),
        lead_mm=_lead_mm(mesh, draw, method),
    )


def _on_open_side(choices: PartingChoices, chosen: Chosen, rim: Floats, relief_mm: float, judged: Judged) -> bool:
    """Whether the joint follows a level rim, at heights ``rim`` (n,), with all of the part to one side of it, and no
    other way was asked for.
    """
    level = limits()["open_side_level"].value
    if choices.moulded != "follow-board" or chosen.kind != "natural" or relief_mm >= level:
        return False
    heights, middle = judged.corners.reshape(-1, 3) @ chosen.joint.direction, float(rim.mean())
    return min(middle - float(heights.min()), float(heights.max()) - middle) < level


def _lead_mm(mesh: Mesh, draw: DrawResult, method: Method) -> float:
    """How far it is drawn in one turn where its walls wind round the draw; 0 where they do not."""
    screw = screw_of(mesh, ~draw.reach.up & ~draw.reach.down, draw.direction) if method.pattern.draws else None
    return 0.0 if screw is None else screw.lead_mm


def _rammed(choices: PartingChoices, chosen: Chosen, draw: DrawResult) -> Chosen:
    """A flat back is rammed in the drag unless the user says otherwise: the sand it forms then stands."""
    if chosen.kind != "flat-back":
        return chosen
    joint = chosen.joint
    lies_above = abs(joint.height_mm - draw.low_mm) <= abs(joint.height_mm - draw.high_mm)
    return replace(chosen, joint=replace(joint, turned=lies_above == (choices.rammed == "drag")))


def _judged(
    mesh: Mesh, draw: DrawResult, chosen: Chosen, method: Method, rap_mm: float, asked_at_most: Floats | float = np.inf
) -> tuple[Floats, Judged, tuple[Region, ...]]:
    """Draft asked of every face, the state of every piece, and the places that lock or are tight."""
    asked = np.minimum(asked_draft(mesh, draw.reach, chosen.joint, method), asked_at_most)
    judged = judged_at(mesh, draw.reach, chosen.joint, asked, chosen.slack_mm, chosen.astray_mm)
    regions, piece_region = grouped(mesh, judged, draw.direction, asked)
    judged = replace(judged, region=piece_region)
    return asked, judged, held_regions(mesh, judged, regions, chosen.joint, method, rap_mm)


def _slope_limit() -> float:
    return limits()["joint_slope"].value


def _border() -> float:
    return limits()["sand_round_pattern"].value


def _loose(
    choices: PartingChoices,
    mesh: Mesh,
    joint: Joint,
    grid: ColumnGrid,
    judged: Judged,
    regions: tuple[Region, ...],
    method: Method,
) -> tuple[Judged, tuple[LoosePiece, ...], Bools | None, dict[int, LoosePiece | None]]:
    """The loose pieces asked for, with their faces freed, the columns they hold, and those that could be offered."""
    if not method.pattern.draws:
        return judged, (), None, {}
    made: list[LoosePiece] = []
    held: Bools | None = None
    locked = [index for index, region in enumerate(regions) if region.state is State.LOCKED]
    taken: set[int] = set()
    for place in choices.loose:
        if not locked:
            break
        index = min(locked, key=lambda k: float(np.linalg.norm(np.subtract(regions[k].centre_mm, place))))
        found = loose_piece(mesh, joint, grid, judged, regions[index], index)
        if found is None or index in taken:
            continue
        taken.add(index)
        made.append(found)
        under = columns_under(found, grid)
        held = under if held is None else held | under
        state = np.where((judged.region == index) & (judged.state == State.LOCKED), State.CLEAN, judged.state)
        judged = replace(judged, state=state.astype(np.int64))
    offered: dict[int, LoosePiece | None] = {}
    for index in locked:
        solid_hole = regions[index].kind.is_hole
        solid_hole |= regions[index].kind is Kind.GROOVE  # sand all round comes out no one way
        if index not in taken and len(offered) < MOST_OFFERED and not solid_hole and regions[index].count == 1:
            offered[index] = loose_piece(mesh, joint, grid, judged, regions[index], index)
    return judged, tuple(made), held, offered


# Loose pieces tried for a part; each costs a solid operation.
MOST_OFFERED = 3
