"""From results to paper and pictures."""

import io

import numpy as np
from PIL import Image

from pounce.base.errors import UserFault
from pounce.base.paper import PAPERS
from pounce.base.pdf import register_fonts
from pounce.export.boxplan import box_plan_pdf
from pounce.export.cutplan import CutPlan, cut_plan_pdf, usual_step
from pounce.export.drawing import Drawing
from pounce.export.drillplan import dimensions_csv, drill_csv, drill_plan_pdf
from pounce.export.outlines import cut_list_csv, outlines_dxf, outlines_svg
from pounce.export.rulepage import Rule, rules_pdf
from pounce.export.sheets import SheetPage, pages_of
from pounce.export.templates import drawings_of, templates_pdf
from pounce.metals import tables
from pounce.metals.contraction import factor
from pounce.metals.tables import limits
from pounce.part.model import Model, PartResult
from pounce.parting.cutdown import contours, cut_down
from pounce.pattern.making.printed.prints import test_piece
from pounce.route.check import failed_keys
from pounce.route.cuts import front_cut
from pounce.route.logkeys import kept_as
from pounce.route.proof import as_rammed, verdict_words
from pounce.route.results import Results, sand_of
from pounce.route.stops import CORES, DRAW, FREEZE, METAL, MOULD, PART, PARTING, PATTERN, POUR, STOCK, stops
from pounce.sheet.content import Content
from pounce.sheet.front import true_room_mm
from pounce.sheet.opened import Opened, opened_mould
from pounce.sheet.pourpage import pour_card as pour_card_pdf
from pounce.sheet.shop import shop_sheet
from pounce.solid.mesh import Floats, Mesh
from pounce.solid.pick import nearest_face
from pounce.solid.picture import Pixels, render, standing_view
from pounce.stock.letters import outlines

# The word on the test piece.
TRY_WORD = "Ag"
# The picture of the opened mould, pixels.
OPENED_PX = (900, 780)


def sheet_bytes(results: Results, model: Model, unit: str = "mm") -> bytes:
    """The shop sheet as PDF. Raises the fault of a stop that it cannot do without; a pattern may be missing."""
    return shop_sheet(content_of(results, model, unit), results.job.pattern.paper)


def content_of(results: Results, model: Model, unit: str = "mm") -> Content:
    """What goes on the shop sheet; raises as :func:`sheet_bytes`."""
    cut, through = front_cut(results, unit, true_room_mm())
    return Content(
        name=results.job.name,
        file=model.file,
        part=results.need(PART),
        method=results.need(METAL),
        draw=results.need(DRAW),
        parting=as_rammed(results).parting or results.need(PARTING),
        stock=results.need(STOCK),
        cores=results.need(CORES),
        mix=results.job.cores.mix,
        pattern=results.pattern,
        choices=results.job.pattern,
        failed=tuple(f"No {one['title']} yet: {one['what']} {one['try']}" for one in failed_keys(results)),
        findings=tuple(f for stop in stops() for f in stop.findings(results)),
        sand=sand_of(results.need(METAL), results),
        unit=unit,
        opened=opened_of(results),
        cut=cut,
        through=through,
        causes=results.causes,
        verdict=verdict_words(results),
        rig=results.get(MOULD),
        freeze=results.get(FREEZE),
        pour=results.get(POUR),
        kept=kept_as(results),
        pour_at=results.job.pour.at,
        more=tuple(
            (stop.title, stop.sheet(results, unit))
            for stop in stops()
            if results.get(stop) is not None and stop.sheet(results, unit)
        ),
    )


def pour_card(results: Results, _model: Model | None = None, _unit: str = "mm") -> bytes:
    """The pour card as PDF. Raises the fault of a stop that it cannot do without."""
    register_fonts()
    job = results.job
    return pour_card_pdf(job.name, results.need(POUR), job.pattern.paper, job.pour.at, kept_as(results))


def opened_png(results: Results, width: int, height: int) -> bytes:
    """The opened mould of a plan on no paper; its pattern where the mould cannot be shown."""
    rammed = as_rammed(results)
    seen = opened_of(results, (width, height), None)
    if seen.pixels is None:
        return preview_png(rammed.need(PART), rammed.need(DRAW).direction, width, height)
    return _packed(seen.pixels)


def opened_of(
    results: Results, size_px: tuple[int, int] = OPENED_PX, background: tuple[int, int, int] | None = (255, 255, 255)
) -> Opened:
    """The mould of what is rammed, opened, with its cores."""
    rammed = as_rammed(results)
    part, parting = rammed.need(PART), rammed.need(PARTING)
    cores = tuple(core.mesh for core in results.need(CORES).cores)
    try:
        return opened_mould(part.mesh, parting, cores, *size_px, results.need(METAL).pattern.draws, background)
    except UserFault as fault:
        return Opened(None, (), str(fault))


def cut_plan_bytes(results: Results) -> bytes:
    """The contour plan of a shaped joint at pattern size, as PDF at 1:1. UserFault for a flat one."""
    parting, scale = results.need(PARTING), results.need(STOCK).uniform
    if parting.cut_down is None:
        raise UserFault("A flat joint needs no cutting down.", "Choose another way of moulding.")
    joint = parting.joint
    across_draw = np.stack([joint.u, joint.v]).T
    done = cut_down(
        joint.scaled(scale),
        results.need(DRAW).high_mm * scale,
        limits()["joint_slope"].value,
        limits()["sand_round_pattern"].value,
    )
    step = usual_step(done.depth_mm)
    ny, nx = done.surface.shape
    box = np.array([done.low, done.low + done.step * np.array([nx - 1, ny - 1])])
    line = tuple(loop @ across_draw * scale for loop in parting.outline)
    return cut_plan_pdf(
        CutPlan(results.job.name, done, step, contours(done, step), line, box), results.job.pattern.paper
    )


def drill_plan_bytes(results: Results) -> tuple[bytes, bytes]:
    """The drilling plan as PDF at 1:1 and as CSV. UserFault where nothing is to be drilled."""
    stock = results.need(STOCK)
    if not stock.drill:
        raise UserFault("No hole was filled, so there is nothing to drill.", "Fill a hole at Stock first.")
    share = casting_share(results)
    # holes stand where they are wanted; a casting that comes out smaller lies round the same middle
    middle = stock.mesh.bounds.mean(axis=0)
    casting = stock.mesh.scaled(share).moved(np.eye(3), middle * (1.0 - share))
    smaller = 100.0 * (1.0 - float(share.mean()))
    return drill_plan_pdf(results.job.name, casting, stock.drill, smaller, results.job.pattern.paper), drill_csv(
        stock.drill
    )


def box_plan_bytes(results: Results) -> bytes:
    """The core boxes as PDF at 1:1, at pattern size. UserFault where there is no core."""
    cores, stock = results.need(CORES), results.need(STOCK)
    if not cores.cores:
        raise UserFault("There is no core, so there is no core box.", "Make a core at Cores first.")
    return box_plan_pdf(results.job.name, cores.cores, np.array(stock.box_factors), results.job.pattern.paper)


def template_drawings(results: Results) -> tuple[Drawing, ...]:
    """The templates of the way of making; none where it takes none."""
    pattern = results.need(PATTERN)
    return drawings_of(pattern.making, pattern.pieces, pattern.mount)


def template_sheets(results: Results) -> tuple[SheetPage, ...]:
    """The sheets of all templates as they will print."""
    return pages_of(results.job.name, template_drawings(results), results.job.pattern.paper)


def rule_bytes(results: Results) -> bytes:
    """Contraction rules for the job's metal, and for master and metal together where a metal pattern is made, as PDF
    at 1:1.
    """
    method = results.need(METAL)
    rules = [Rule(method.metal.name, method.casting_factor)]
    if method.factor > method.casting_factor * (1.0 + 1e-9):
        rules.append(Rule(f"{method.metal.name} from a metal pattern, both contractions", method.factor))
    return rules_pdf(tuple(rules), results.job.pattern.paper)


def rule_for(metals: list[str], master: str | None, paper: str = "A4") -> bytes:
    """Contraction rules for these metals, each multiplied by the master's where one is given, as PDF. UserFault for
    an unknown metal.
    """
    if paper not in PAPERS:
        raise UserFault(f"There is no paper '{paper}'.", f"Choose one of {', '.join(PAPERS)}.")
    if not metals:
        raise UserFault("No metal was given for the rule.", "Name one with --metal; see `pounce metals`.")
    again = 1.0 if master is None else factor(tables.metal(master).contraction.value)
    after = "" if master is None else f" from a pattern of {tables.metal(master).name.lower()}"
    rules = [
        Rule(tables.metal(metal).name + after, factor(tables.metal(metal).contraction.value) * again)
        for metal in metals
    ]
    return rules_pdf(tuple(rules), paper)


def test_piece_mesh(results: Results) -> Mesh:
    """The block to try draft, text and fillet in the user's own sand."""
    method = results.need(METAL)
    draft = method.required_draft_deg or method.pattern.draft.value
    return test_piece(draft, limits()["fillet_least"].value, method.mould.grain.value, outlines(TRY_WORD))


def casting_share(results: Results) -> Floats:
    """(3,) the casting as it comes out over the body, along x, y and z."""
    stock, out = results.need(STOCK), np.ones(3)
    for axis, line in enumerate(stock.dimensions[:3]):
        out[axis] = line.casting_mm / float(stock.mesh.size[axis])
    return out


def preview_png(part: PartResult, up: Floats, width: int = 472, height: int = 220) -> bytes:
    """A small picture of the part on no paper, for the job file and the shelf."""
    return _packed(render(part.mesh, standing_view(part.mesh, up, width, height), background=None))


def spot_png(
    results: Results, at_mm: tuple[float, float, float], width: int = 440, height: int = 330
) -> tuple[bytes, tuple[float, float]]:
    """The part with a place on it turned to the eye: a picture on no paper, and where in it the place lies (shares of
    its width and height).
    """
    part, up = results.need(PART), np.asarray(results.need(DRAW).direction, float)
    view = standing_view(part.mesh, up, width, height)
    face = nearest_face(part.mesh, at_mm)
    if float(part.mesh.normals[face] @ view.turn[2]) < 0.0:  # it looks away: from below, or from behind
        view = standing_view(part.mesh, -up, width, height)
    x, y, _ = view.project(np.array([at_mm]))[0]
    return _packed(render(part.mesh, view, background=None)), (float(x) / width, float(y) / height)


def _packed(pixels: Pixels) -> bytes:
    packed = io.BytesIO()
    Image.fromarray(pixels).save(packed, "PNG", optimize=True)
    return packed.getvalue()


# --- what draws the files of a build, each of (results, model, unit) ------------------------------------------------


def templates_page(results: Results, _model: Model, _unit: str) -> bytes:
    """The templates as PDF at 1:1."""
    return templates_pdf(results.job.name, template_drawings(results), results.job.pattern.paper)[0]


def outlines_as_dxf(results: Results, _model: Model, _unit: str) -> bytes:
    """The outlines as DXF."""
    return outlines_dxf(template_drawings(results))


def outlines_as_svg(results: Results, _model: Model, _unit: str) -> bytes:
    """The outlines as SVG."""
    return outlines_svg(template_drawings(results))


def cut_list_table(results: Results, _model: Model, _unit: str) -> bytes:
    """The cut list as CSV."""
    return cut_list_csv(results.need(PATTERN).making)


def rule_page(results: Results, _model: Model, _unit: str) -> bytes:
    """The contraction rules as PDF."""
    return rule_bytes(results)


def cut_plan_page(results: Results, _model: Model, _unit: str) -> bytes:
    """The contour plan as PDF."""
    return cut_plan_bytes(results)


def dimensions_table(results: Results, _model: Model, _unit: str) -> bytes:
    """The dimensions as CSV."""
    return dimensions_csv(results.need(STOCK).dimensions)


def drill_plan_page(results: Results, _model: Model, _unit: str) -> bytes:
    """Where to drill, as PDF."""
    return drill_plan_bytes(results)[0]


def drill_plan_table(results: Results, _model: Model, _unit: str) -> bytes:
    """Where to drill, as CSV."""
    return drill_plan_bytes(results)[1]


def box_plan_page(results: Results, _model: Model, _unit: str) -> bytes:
    """The core boxes as PDF."""
    return box_plan_bytes(results)
