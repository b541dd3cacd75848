"""The front page of the shop sheet: what it draws at true size, weighs, counts and says to do."""

import io
from dataclasses import replace
from typing import Any

import manifold3d
import numpy as np
import pypdf
import pytest
from reportlab.pdfgen.canvas import Canvas

from pounce.base.pdf import register_fonts
from pounce.job import edits
from pounce.job.core_edits import set_hollow
from pounce.job.job import Job
from pounce.job.stock_edits import add_line
from pounce.parting.values import State
from pounce.pattern.values import Role
from pounce.route.opening import with_model
from pounce.route.paper import content_of, sheet_bytes
from pounce.route.pipeline import Pipeline
from pounce.route.results import Results
from pounce.route.stops import PARTING, PATTERN
from pounce.sheet.front import flask_of
from pounce.sheet.opened import STATES
from pounce.sheet.steps import steps_of, then_words
from pounce.sheet.trueview import draw_true
from pounce.solid.mesh import Floats, Mesh
from pounce.stock.values import Draft, Fill, Machining
from tests.conftest import box, model_of
from tests.worked import UNPOURED

M = manifold3d.Manifold
UP = (edits.set_draw, (0.0, 0.0, 1.0))
POINT_MM = 72.0 / 25.4
BUSH = M.cylinder(60, 20, 20, 96) - M.cylinder(80, 9, 9, 96).translate([0, 0, -10])
PLATE = box(60, 40, 20) - M.cylinder(80, 3, 3, 48, True).rotate([90, 0, 0]).translate([30, 20, 10])


def worked(solid: manifold3d.Manifold, *steps: tuple[Any, ...]) -> tuple[Results, Any]:
    model = model_of(solid)
    job = with_model(Job(), model)
    for make, *arguments in steps:
        job = make(job, *arguments).job
    return Pipeline().run(job, model, skip=UNPOURED), model


class Traced(Canvas):
    """A canvas that keeps the corners of every path it fills, points."""

    def __init__(self) -> None:
        register_fonts()
        super().__init__(io.BytesIO())
        self.paths: list[Floats] = []

    def drawPath(self, path: Any, **how: Any) -> None:
        words = path.getCode().split()
        ends = [nth for nth, word in enumerate(words) if word in ("m", "l")]
        corners = [[float(words[nth - 2]), float(words[nth - 1])] for nth in ends]
        self.paths.append(np.array(corners).reshape(-1, 2))
        super().drawPath(path, **how)


@pytest.fixture(scope="module")
def bush() -> tuple[Results, Any]:
    """A bush that lies on its side, its bore cored and bored."""
    wall = (9.0, 0.0, 30.0)
    return worked(
        BUSH,
        (edits.set_draw, (1.0, 0.0, 0.0)),
        (add_line, Machining(at_mm=wall, own_mm=2.0)),
        (set_hollow, wall, "core"),
    )


def test_a_part_that_fits_is_drawn_at_true_size_in_pattern_sizes(bush: tuple[Results, Any]) -> None:
    content = content_of(*bush)
    page = Traced()
    assert draw_true(page, content, 0.0, 0.0, 308.0, 248.0) == 1.0
    metal = page.paths[3]  # sand, its grains, the hollow that the pattern leaves, the casting
    wide = np.ptp(metal[:, 0]) / POINT_MM
    along = content.stock.dimensions
    assert any(abs(wide - row.pattern_mm) < 0.05 for row in along if row.kind == "overall")
    assert content.through == "the bore"


def test_a_part_too_large_is_drawn_at_a_usual_scale() -> None:
    results, model = worked(box(400, 90, 60), UP)
    scale = draw_true(Traced(), content_of(results, model), 0.0, 0.0, 308.0, 248.0)
    assert scale in (0.5, 0.4, 0.2) and 90 * scale < 110


def test_flask_and_sand_by_hand() -> None:
    """A block drawn upward: its sides and the sand round it to the next 5 mm; its sand less the pattern."""
    results, model = worked(box(60, 40, 20), UP)
    content = content_of(results, model)
    k, sand = content.factor, content.sand
    (along, across, cope, drag), kg = flask_of(content)
    assert along == 5 * np.ceil((60 * k + 2 * sand.beside_mm) / 5)
    assert across == 5 * np.ceil((40 * k + 2 * sand.beside_mm) / 5)
    # a flat back lies in the drag, and nothing of it stands in the cope
    assert (cope, drag) == (5 * np.ceil(sand.over_mm / 5), 5 * np.ceil((20 * k + sand.under_mm) / 5))
    litres = (along * across * (cope + drag) - 60 * 40 * 20 * k**3) / 1e6
    assert kg == pytest.approx(1.6 * litres, rel=1e-6)  # green sand, 1600 kg/m3 in the table


def test_sizes_say_what_is_cut_and_how(bush: tuple[Results, Any]) -> None:
    content = content_of(*bush)
    said = {row.name: then_words(row, content) for row in content.stock.dimensions}
    assert said.pop("Bore") == "bore to 18" and set(said.values()) == {"as cast"}
    face = worked(box(60, 40, 20), UP, (add_line, Machining(at_mm=(30.0, 20.0, 20.0), own_mm=1.5)))
    content = content_of(*face)
    assert {row.name: then_words(row, content) for row in content.stock.dimensions}["Overall, z"] == "mill 1.5"


@pytest.mark.parametrize(
    ("solid", "steps", "said", "never"),
    [
        (
            BUSH,
            ((edits.set_draw, (1.0, 0.0, 0.0)), (set_hollow, (9.0, 0.0, 30.0), "core")),
            ("Drag half on the board", "on its dowels", "Set the core", "prints in the joint", "by its screws"),
            ("flat back",),
        ),
        (
            box(60, 40, 20) - M.cylinder(80, 3, 3, 48, True).translate([30, 20, 10]),
            (UP, (add_line, Fill()), (add_line, Draft())),
            ("Pattern on the board, flat back down", "Drill the hole"),
            ("Set the core", "dowels"),
        ),
        (
            PLATE,
            (UP, (edits.set_pattern_kind, "foam-burned-out"), (edits.set_mould, "loose-sand")),
            ("dry sand under it", "Weight the top", "smells"),
            ("Rap", "board", "screws"),
        ),
        (PLATE, (UP, (edits.set_mould, "resin-sand")), ("let it set hard",), ("strike off",)),
    ],
    ids=["split and cored", "flat back", "foam burned out", "set sand"],
)
def test_six_steps_say_what_is_done_with_this_pattern(
    solid: manifold3d.Manifold, steps: tuple[Any, ...], said: tuple[str, ...], never: tuple[str, ...]
) -> None:
    done = steps_of(content_of(*worked(solid, *steps)))
    text = " ".join(f"{step.title}. {step.text}" for step in done)
    assert len(done) == 6
    assert [words for words in said if words not in text] == [] and [words for words in never if words in text] == []


def test_the_opened_mould_shows_what_holds_and_what_leaves(bush: tuple[Results, Any]) -> None:
    locked = content_of(*worked(PLATE, (edits.set_draw, (0.0, 0.0, 1.0)))).opened
    freed = content_of(*bush).opened
    assert locked.pixels is not None and freed.pixels is not None

    def share(pixels: Any, state: State) -> float:
        """How much of the picture has the hue of a state."""
        colour = np.array(STATES[state], np.float64)
        seen = pixels[:, :, :3].astype(np.float64)
        light = np.maximum(np.linalg.norm(seen, axis=2), 1.0)
        alike = (seen @ colour) / light / np.linalg.norm(colour)
        return float(((alike > 0.997) & (seen.max(axis=2) - seen.min(axis=2) > 12)).mean())

    assert share(freed.pixels, State.LOCKED) < 1e-4
    assert share(freed.pixels, State.CLEAN) > 0.01
    assert {words for words, *_ in freed.labels} == {"cope", "drag", "pattern", "core"}
    assert all(0.0 <= x <= 1.0 and 0.0 <= y <= 1.0 for _, x, y in freed.labels)


def test_an_open_shell_still_gets_its_sheet_and_says_why_it_has_no_picture() -> None:
    model = model_of(box(60, 40, 20))
    whole = model.bodies[0].mesh
    open_one = replace(model.bodies[0], mesh=Mesh.of(whole.vertices, whole.faces[2:]), closed=False)
    model = replace(model, bodies=(open_one,))
    results = Pipeline().run(with_model(Job(), model), model, skip=UNPOURED)
    text = pypdf.PdfReader(io.BytesIO(sheet_bytes(results, model))).pages[0].extract_text()
    assert "shell is open" in text and "Six steps" in text


def test_every_cause_stands_on_the_sheet_with_a_box_to_tick(bush: tuple[Results, Any]) -> None:
    results, model = bush
    assert results.causes is not None

    def pages() -> str:
        return " ".join(
            page.extract_text() for page in pypdf.PdfReader(io.BytesIO(sheet_bytes(results, model))).pages[:2]
        )

    text = pages().replace("\u00a0", " ").replace("\n", " ")
    causes = (*results.causes.open, *results.causes.cured)
    assert causes
    for cause in causes:
        assert cause.words().split(",")[0].replace("\u00a0", " ")[:40] in text


def test_a_cap_on_its_level_rim_wants_a_plain_board_and_no_other_is_written() -> None:
    """As a moulder does it: open side down, the upper half over it, turned over, and the other half fills it."""

    def square(half: float, low: float, less: float, high: float) -> M:
        ends = ((low, half), (high, half - less))
        return M.hull_points([(x * w, y * w, z) for z, w in ends for x in (1, -1) for y in (1, -1)])

    cap = square(45, 0, 2, 30) - square(40, -0.1, 2, 24)
    for turned in (False, True):
        solid = cap.rotate([180, 0, 0]) if turned else cap
        results, model = worked(solid, UP, (edits.set_joint, "natural"))
        parting, pattern = results.need(PARTING), results.need(PATTERN)
        assert parting.on_plain_board and "moulded-plain-board" in {one.code for one in parting.findings}
        assert [piece.role for piece in pattern.pieces] == [Role.WHOLE]
        first, second, *_ = steps_of(content_of(results, model))
        assert (first.title, second.title) == (("Ram the drag", "Ram the cope")[:: 1 if turned else -1])
        assert "plain" not in first.text and "on the board, open side down" in first.text
        assert "into its open side" in second.text and "follow board" not in first.text + second.text
    results, _ = worked(cap, UP, (edits.set_joint, "natural"), (edits.set_moulded, "cut-down"))
    assert results.need(PARTING).moulded == "cut-down"  # what the user asked for is kept
    lidded = cap + box(30, 30, 8).translate([-15, -15, -6]) + box(8, 8, 34).translate([-4, -4, -4])
    results, model = worked(lidded, UP, (edits.set_joint, "natural"))
    assert not results.need(PARTING).on_plain_board  # what stands out below the rim lies on no board


@pytest.mark.parametrize("turned", [False, True])
def test_the_half_that_its_follow_board_does_not_take_the_place_of_is_rammed_first(turned: bool) -> None:
    """A dome with a hole in its crown keeps a board with a plug for that: it stands where the dome is hollow."""
    dome = M.cylinder(20, 35, 30, 64) - M.cylinder(15, 30, 27, 64) - M.cylinder(60, 8, 8, 48)
    results, model = worked(dome.rotate([180, 0, 0]) if turned else dome, UP, (edits.set_joint, "natural"))
    pieces = {piece.role: piece for piece in results.need(PATTERN).pieces}
    heights = [float(pieces[role].mesh.bounds[:, 2].mean()) for role in (Role.WHOLE, Role.FOLLOW_BOARD)]
    assert (heights[1] < heights[0]) is not turned
    first, second, *_ = steps_of(content_of(results, model))
    assert (first.title, second.title) == (("Ram the drag", "Ram the cope")[:: 1 if turned else -1])
    assert "follow board" in first.text and "parting dust" in second.text
