"""The painter: one VTK window off screen, its actors, and the frames drawn from them."""

import os
from pathlib import Path
from typing import Any

os.environ.setdefault("VTK_DEFAULT_OPENGL_WINDOW", "vtkEGLRenderWindow")

import numpy as np
from vtkmodules.util.numpy_support import numpy_to_vtk, vtk_to_numpy
from vtkmodules.vtkCommonCore import reference, vtkFloatArray, vtkObject, vtkUnsignedCharArray
from vtkmodules.vtkCommonDataModel import vtkStaticCellLocator
from vtkmodules.vtkCommonMath import vtkMatrix4x4
from vtkmodules.vtkFiltersCore import vtkBinnedDecimation
from vtkmodules.vtkRenderingCore import vtkActor, vtkLight, vtkRenderer, vtkRenderWindow

from pounce.base.packing import unpack
from pounce.bench.showing import beside, opened, shown, shows_own
from pounce.bench.view3d.asks import FrameAsked, PickAsked, SceneAsked, Spot, Tinted
from pounce.bench.view3d.camera import Camera
from pounce.bench.view3d.coreview import show_cores
from pounce.bench.view3d.finish import averaged, blurred, fitted_to
from pounce.bench.view3d.freezeview import FreezeScene
from pounce.bench.view3d.makingview import show_making
from pounce.bench.view3d.scene import (
    CLAY,
    COLOURS,
    INK,
    Soup,
    creases,
    dashed,
    lines,
    matte,
    plate,
    polydata,
    smooth_soup,
    surface,
    tinted,
    translucent,
)
from pounce.bench.view3d.stockview import show_stock
from pounce.bench.view3d.trial import TrialScene
from pounce.draw.live import Representatives
from pounce.parting.joint import Joint
from pounce.parting.values import State
from pounce.pattern.values import PatternResult, Role
from pounce.solid.frame import across, turn_to_z
from pounce.solid.mesh import Floats, Mesh

MOST_ANCHORED = 40_000
GRAIN = 2
PROXY_TRIANGLES = 60_000
PROXY_BINS = 110
# Live turning must come ten times a second: fewer triangles still.
LIVE_TRIANGLES = 20_000
LIVE_BINS = 44
SHADOW = np.array([0.36, 0.30, 0.20])
TIMBER = (0.890, 0.827, 0.706)


class Painter:
    """One VTK window off screen and the actors in it."""

    def __init__(self) -> None:
        vtkObject.GlobalWarningDisplayOff()
        self._window = vtkRenderWindow()
        self._window.SetOffScreenRendering(1)
        self._window.SetMultiSamples(0)
        self._window.SetAlphaBitPlanes(1)
        self._renderer = vtkRenderer()
        self._renderer.SetBackground(0.0, 0.0, 0.0)
        self._renderer.SetBackgroundAlpha(0.0)
        self._renderer.GetActiveCamera().ParallelProjectionOn()
        self._window.AddRenderer(self._renderer)
        self._light = vtkLight()
        self._light.SetLightTypeToSceneLight()
        self._light.PositionalOff()
        self._renderer.AddLight(self._light)
        self._renderer.SetAutomaticLightCreation(False)
        self._solid: list[vtkActor] = []
        self._ink: list[vtkActor] = []
        self._veil: list[vtkActor] = []
        self._proxy: list[vtkActor] = []
        self._lit: vtkActor | None = None
        self._lit_region = -1
        self._judged: Any = None
        self._grain = GRAIN
        self._ghost = 1.0
        self._box = np.zeros((2, 3))
        self._direction = np.array([0.0, 0.0, 1.0])
        self._locator: vtkStaticCellLocator | None = None
        self._pick_region: np.ndarray | None = None
        self._anchors: dict[int, tuple[float, float, float]] = {}
        self._shadow: tuple[Camera, int, int, np.ndarray] | None = None
        self._creases: tuple[str | None, Floats] = ("", np.zeros((0, 2, 3)))
        self._tinted: tuple[str, vtkActor, np.ndarray] | None = None
        self._live = False
        self._trial: TrialScene | None = None
        self._heat: FreezeScene | None = None

    def show(self, asked: SceneAsked) -> None:
        """Builds the actors of a scene in place of those before."""
        for actor in (*self._solid, *self._ink, *self._veil, *self._proxy):
            self._renderer.RemoveActor(actor)
        if self._lit is not None:
            self._renderer.RemoveActor(self._lit)
        self.tint(None)
        self._tinted = None
        self._trial, self._heat = None, None
        self._solid, self._ink, self._veil, self._proxy, self._lit = [], [], [], [], None
        self._judged, self._locator, self._shadow = None, None, None
        self._grain = GRAIN
        self._direction = np.array(asked.direction)
        self._ghost = asked.ghost
        if asked.part is None:
            return
        part = unpack(Path(asked.part))
        mesh: Mesh = part.mesh
        self._box = np.array(mesh.bounds)
        parting = None if asked.parting is None else unpack(Path(asked.parting))
        self._show_kind(asked, mesh, parting)
        for actor in (*self._solid, *self._ink, *self._veil):
            self._renderer.AddActor(actor)
        self._make_proxy()

    def _show_kind(self, asked: SceneAsked, mesh: Mesh, parting: Any) -> None:
        """The actors of the kind of scene asked for; of the bare mesh while there is no result to show."""
        if asked.kind == "pattern" and asked.pattern is not None:
            made = unpack(Path(asked.pattern))
            if shows_own(made):
                self._solid, self._ink, self._box = show_making(
                    shown(made, asked.apart), turn_to_z(self._direction).T, GRAIN
                )
            else:
                self._show_pattern(made)
        elif asked.kind == "trial" and asked.mould is not None and parting is not None:
            self._trial = TrialScene(unpack(Path(asked.mould)), parting, GRAIN)
            self._solid, self._ink = list(self._trial.solid), list(self._trial.ink)
            self._box = self._trial.box
        elif asked.kind == "stock" and asked.stock is not None:
            self._solid, self._ink, self._judged, self._box = show_stock(unpack(Path(asked.stock)), GRAIN)
        elif asked.kind == "freeze" and asked.freeze is not None:
            self._heat = FreezeScene(unpack(Path(asked.freeze)), GRAIN)
            self._solid, self._ink, self._box = [self._heat.actor], [self._heat.between], self._heat.box
        elif asked.kind == "cores" and asked.cores is not None:
            found = show_cores(unpack(Path(asked.cores)), asked.core, self._direction, asked.apart, GRAIN)
            self._solid, self._ink, self._judged, self._box = found
        elif parting is not None:
            self._show_parting(asked, mesh, parting)
        else:
            self._solid = [surface(smooth_soup(mesh), CLAY)]
            self._ink.append(lines(creases(mesh), INK, 0.75 * GRAIN))

    def _show_parting(self, asked: SceneAsked, mesh: Mesh, parting: Any) -> None:
        """The part by what its faces do, with the line and the joint where these are shown."""
        self._show_judged(parting.judged, parting.shown_state, plain=asked.kind in ("part", "metal"))
        if self._creases[0] != asked.part:
            self._creases = (asked.part, creases(mesh))
        self._ink.append(lines(self._creases[1], INK, 0.75 * GRAIN))
        if asked.kind in ("draw", "parting"):
            size = float(np.linalg.norm(mesh.size))
            dashes = dashed(parting.outline, 0.022 * size, 0.011 * size)
            self._ink.append(lines(dashes, INK, 2.4 * GRAIN))
        if asked.kind == "parting":
            self._show_joint(mesh, parting.joint)

    def _show_judged(self, judged: Any, shown: np.ndarray, plain: bool) -> None:
        self._judged = judged
        if plain:
            self._solid = [surface(Soup(judged.corners, judged.normals), CLAY)]
            return
        for state in State:
            mine = shown == state
            if mine.any():
                soup = Soup(judged.corners[mine], judged.normals[mine])
                self._solid.append(surface(soup, COLOURS[state], state, GRAIN))

    def _show_joint(self, mesh: Mesh, joint: Joint) -> None:
        u, v = across(self._direction)
        if joint.free is not None and joint.air is not None:
            self._show_shaped(joint)
            return
        height_mm = joint.height_mm
        middle = mesh.bounds.mean(axis=0)
        middle = middle + self._direction * (height_mm - float(middle @ self._direction))
        span_u, span_v = np.ptp(mesh.vertices @ u), np.ptp(mesh.vertices @ v)
        edge = 0.16 * max(span_u, span_v)
        sheet = plate(middle, u, v, span_u / 2 + edge, span_v / 2 + edge)
        self._veil.append(translucent(surface(sheet, (0.93, 0.86, 0.72)), 0.62))
        corners = [sheet.corners[0, 0], sheet.corners[0, 1], sheet.corners[0, 2], sheet.corners[1, 2]]
        rim = np.array([[corners[k], corners[(k + 1) % 4]] for k in range(4)])
        self._ink.append(lines(rim, (0.56, 0.51, 0.41), 1.0 * GRAIN))

    def _show_shaped(self, joint: Joint) -> None:
        """The joint beside the part as a sheet that rises and falls, with level lines on it."""
        if joint.free is None or joint.air is None:
            return
        ny, nx = joint.free.shape
        every = max(1, max(ny, nx) // 130)
        field, air = joint.free[::every, ::every], joint.air[::every, ::every]
        ny, nx = field.shape
        places = np.stack([*np.meshgrid(np.arange(nx), np.arange(ny)), np.zeros((ny, nx))], axis=2) * joint.step * every
        points = (
            places[..., :1] * joint.u + places[..., 1:2] * joint.v + joint.low[0] * joint.u + joint.low[1] * joint.v
        )
        points = points + field[..., None] * joint.direction
        quads = air[:-1, :-1] & air[1:, :-1] & air[:-1, 1:] & air[1:, 1:]
        a, b, c, d = points[:-1, :-1][quads], points[:-1, 1:][quads], points[1:, 1:][quads], points[1:, :-1][quads]
        corners = np.concatenate([np.stack([a, b, c], 1), np.stack([a, c, d], 1)])
        normals = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
        normals /= np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-12)
        sheet = Soup(corners, np.repeat(normals[:, None], 3, axis=1))
        self._veil.append(translucent(surface(sheet, (0.93, 0.86, 0.72)), 0.62))
        ring = [
            *[(0, i) for i in range(nx)],
            *[(j, nx - 1) for j in range(1, ny)],
            *[(ny - 1, i) for i in range(nx - 2, -1, -1)],
            *[(j, 0) for j in range(ny - 2, -1, -1)],
        ]
        edge = np.array([points[j, i] for j, i in ring])
        self._ink.append(lines(np.stack([edge[:-1], edge[1:]], axis=1), (0.56, 0.51, 0.41), 1.0 * GRAIN))

    def tint(self, live: Tinted | None) -> None:
        """Colours a stand-in of the part by live states, or takes it away. The stand-in is kept while the scene
        lasts.
        """
        if live is None:
            if self._live and self._tinted is not None:
                self._renderer.RemoveActor(self._tinted[1])
                for actor in self._solid:
                    actor.VisibilityOn()
            self._live = False
            return
        if self._judged is None:  # nothing is judged yet, so there is nothing to colour
            return
        if self._tinted is None or self._tinted[0] != live.among:
            self.tint(None)
            self._tinted = (live.among, *self._stand_in(unpack(Path(live.among))))
        _, actor, nearest = self._tinted
        if live.ready_only:
            return
        if not self._live:
            self._live = True
            self._renderer.AddActor(actor)
        states = np.frombuffer(live.states, np.uint8)
        palette = np.array([[round(255 * value) for value in COLOURS[state]] for state in State], np.uint8)
        data = actor.GetMapper().GetInput()
        data.GetCellData().SetScalars(numpy_to_vtk(palette[states[nearest]], deep=True))
        data.Modified()

    def _stand_in(self, among: Representatives) -> tuple[vtkActor, np.ndarray]:
        """The part as few enough triangles to draw ten times a second, and the representative of each."""
        from scipy.spatial import cKDTree  # noqa: PLC0415  a tenth of a second that only live turning needs

        judged = self._judged
        data = polydata(Soup(judged.corners, judged.normals))
        if len(judged.corners) > LIVE_TRIANGLES:
            coarse = vtkBinnedDecimation()
            coarse.SetInputData(data)
            coarse.AutoAdjustNumberOfDivisionsOff()
            coarse.SetNumberOfDivisions(LIVE_BINS, LIVE_BINS, LIVE_BINS)
            coarse.Update()
            data = coarse.GetOutput()
        data.GetPointData().SetNormals(None)
        points = vtk_to_numpy(data.GetPoints().GetData()).astype(np.float64)
        corners = points[vtk_to_numpy(data.GetPolys().GetConnectivityArray()).reshape(-1, 3)]
        normals = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
        normals /= np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-12)
        weight = 0.1 * float(np.linalg.norm(self._box[1] - self._box[0]))
        tree = cKDTree(np.hstack([among.points, weight * among.normals]))
        nearest = tree.query(np.hstack([corners.mean(axis=1), weight * normals]))[1]
        return tinted(data, np.zeros((len(corners), 3), np.uint8)), nearest

    def _show_pattern(self, pattern: PatternResult) -> None:
        """Two halves opened like a book about the back edge of the joint; a whole pattern as it stands."""
        boxes = []
        for piece in pattern.pieces:
            mesh = piece.mesh
            if piece.role == Role.COPE_HALF:
                mesh = opened(mesh, self._direction, pattern.height_mm)
            elif piece.role in (Role.FOLLOW_BOARD, Role.FALSE_PATTERN):
                mesh = beside(piece.laid, pattern.pieces[0].mesh, self._direction)
            elif piece.role == Role.LOOSE_PIECE:
                off = mesh.centre_of_mass - pattern.pieces[0].mesh.centre_of_mass
                off = off - self._direction * float(off @ self._direction)
                mesh = mesh.moved(np.eye(3), off / max(float(np.linalg.norm(off)), 1e-9) * 0.25 * mesh.diagonal)
            boxes.append(mesh.bounds)
            cut_faces = mesh.tags.made_by_tools
            self._solid.append(surface(smooth_soup(mesh.part(~cut_faces)), CLAY))
            if cut_faces.any():
                self._solid.append(surface(smooth_soup(mesh.part(cut_faces)), TIMBER))
            self._ink.append(lines(creases(mesh), INK, 0.75 * GRAIN))
        self._box = np.array([np.min(boxes, axis=0)[0], np.max(boxes, axis=0)[1]])

    def _make_proxy(self) -> None:
        """For large parts a coarse stand-in that is drawn while the view turns: corners gathered in bins."""
        total = sum(actor.GetMapper().GetInput().GetNumberOfCells() for actor in self._solid)
        if total <= PROXY_TRIANGLES:
            return
        for actor in self._solid:
            coarse = vtkBinnedDecimation()
            coarse.SetInputData(actor.GetMapper().GetInput())
            coarse.AutoAdjustNumberOfDivisionsOff()
            coarse.SetNumberOfDivisions(PROXY_BINS, PROXY_BINS, PROXY_BINS)
            coarse.Update()
            data = coarse.GetOutput()
            data.GetPointData().SetNormals(None)
            proxy = matte(data, actor.GetProperty().GetColor())
            proxy.GetProperty().SetInterpolationToFlat()
            proxy.VisibilityOff()
            self._renderer.AddActor(proxy)
            self._proxy.append(proxy)

    def light(self, region: int) -> None:
        """Marks the faces of one region, or none."""
        if region == self._lit_region and (self._lit is not None) == (region >= 0):
            return
        if self._lit is not None:
            self._renderer.RemoveActor(self._lit)
            self._lit = None
        self._lit_region = region
        if region < 0 or self._judged is None:
            return
        mine = self._judged.region == region
        if not mine.any():
            return
        normals = self._judged.normals[mine]
        lift = 6e-4 * float(np.linalg.norm(self._box[1] - self._box[0]))
        actor = surface(Soup(self._judged.corners[mine] + normals * lift, normals), INK)
        actor.GetProperty().SetOpacity(0.45)
        self._lit = actor
        self._renderer.AddActor(actor)

    def frame(self, asked: FrameAsked) -> np.ndarray:
        """(height, width, 4) RGBA, premultiplied by nothing, paper where alpha is 0."""
        self.light(asked.lit)
        grain = 1 if asked.moving else GRAIN
        live = self._live
        use_proxy = asked.moving and bool(self._proxy) and not live
        if self._trial is not None:
            self._trial.move(asked.lift, asked.drawn)
        if self._heat is not None:
            self._heat.tell(asked.told)
        for actor in self._solid:
            actor.SetVisibility(not use_proxy and not live)
        for actor in self._proxy:
            actor.SetVisibility(use_proxy)
        many = len(self._ink) and self._ink[0].GetMapper().GetInput().GetNumberOfCells() > 60_000
        for actor in self._ink:
            actor.SetVisibility(not (asked.moving and many))
            look = actor.GetProperty()
            look.SetLineWidth(look.GetLineWidth() * grain / self._grain)
        self._grain = grain
        width, height = asked.width * grain, asked.height * grain
        self._aim(asked.camera, width, height)
        self._window.Render()
        colour = self._pixels(width, height)
        if self._veil:  # what is seen through comes multiplied by its alpha: undo that before it meets the paper
            thin = (colour[..., 3] > 0.0) & (colour[..., 3] < 255.0)
            colour[thin, :3] = np.minimum(colour[thin, :3] * (255.0 / colour[thin, 3:]), 255.0)
        depth = self._depths(width, height)
        self._outline(colour, depth, asked.camera, 6.0 if use_proxy else 1.0)
        if self._ghost > 1.0:
            self._draw_ghost(colour, asked.camera, grain)
        if not asked.moving:
            self._anchors = self._visible(depth, asked)
        if grain > 1:
            colour = averaged(colour, grain)
        return colour.clip(0, 255).astype(np.uint8) if live else self._grounded(colour, asked)

    def _aim(self, camera: Camera, width: int, height: int) -> None:
        self._window.SetSize(width, height)
        axes = camera.axes()
        far = 4.0 * float(np.linalg.norm(self._box[1] - self._box[0])) + 1.0
        eye = self._renderer.GetActiveCamera()
        middle = np.array(camera.middle)
        eye.SetFocalPoint(*middle)
        eye.SetPosition(*(middle + axes[2] * far))
        eye.SetViewUp(*axes[1])
        eye.SetParallelScale(camera.half_mm)
        eye.SetClippingRange(0.05 * far, 2.5 * far)
        self._span = 2.45 * far
        toward = -axes[0] * 0.45 + axes[1] * 0.75 + axes[2] * 0.62
        self._light.SetPosition(*(middle + toward * far))
        self._light.SetFocalPoint(*middle)

    def _pixels(self, width: int, height: int) -> np.ndarray:
        raw = vtkUnsignedCharArray()
        self._window.GetRGBACharPixelData(0, 0, width - 1, height - 1, 0, raw)  # type: ignore[call-overload]  # the stubs miss this form
        return vtk_to_numpy(raw).reshape(height, width, 4)[::-1].astype(np.float32)

    def _depths(self, width: int, height: int) -> np.ndarray:
        raw = vtkFloatArray()
        self._window.GetZbufferData(0, 0, width - 1, height - 1, raw)
        return vtk_to_numpy(raw).reshape(height, width)[::-1]

    def _outline(self, colour: np.ndarray, depth: np.ndarray, camera: Camera, patience: float) -> None:
        """Ink where the depth breaks: its second difference, so that slanting faces stay clean."""
        step = 2.0 * camera.half_mm / depth.shape[0] / self._span
        limit = 14.0 * patience * step
        bend = np.zeros(depth.shape, bool)
        bend[:, 1:-1] |= np.abs(depth[:, 2:] - 2.0 * depth[:, 1:-1] + depth[:, :-2]) > limit
        bend[1:-1] |= np.abs(depth[2:] - 2.0 * depth[1:-1] + depth[:-2]) > limit
        colour[bend, :3] = np.array(INK, np.float32) * 255.0
        colour[bend, 3] = 255.0

    def _draw_ghost(self, colour: np.ndarray, _camera: Camera, grain: int) -> None:
        """The outline of the enlarged part as a dashed ink line."""
        height, width = colour.shape[:2]
        middle = self._box.mean(axis=0)
        grown = vtkMatrix4x4()
        for k in range(3):
            grown.SetElement(k, k, self._ghost)
            grown.SetElement(k, 3, float(middle[k]) * (1.0 - self._ghost))
        shown = [actor for actor in (*self._solid, *self._proxy) if actor.GetVisibility()]
        for actor in self._ink:
            actor.VisibilityOff()
        for actor in shown:
            actor.SetUserMatrix(grown)
        self._window.Render()
        depth = self._depths(width, height)
        for actor in shown:
            actor.SetUserMatrix(None)
        for actor in self._ink:
            actor.VisibilityOn()
        inside = depth < 1.0
        deep = inside.copy()
        for step in range(1, grain + 1):
            for axis in (0, 1):
                deep &= np.roll(inside, step, axis) & np.roll(inside, -step, axis)
        rim = inside & ~deep
        y, x = np.nonzero(rim)
        turn = np.arctan2(y - height / 2, x - width / 2)
        dash = (np.floor(turn * 0.5 * np.hypot(width, height) / (9 * grain)) % 2).astype(bool)
        colour[y[dash], x[dash], :3] = np.array(INK, np.float32) * 255.0
        colour[y[dash], x[dash], 3] = 255.0

    def _visible(self, depth: np.ndarray, asked: FrameAsked) -> dict[int, tuple[float, float, float]]:
        """For each region a point of it that can be seen, near the middle of what can be seen of it."""
        if self._judged is None:
            return {}
        mine = np.flatnonzero(self._judged.region >= 0)
        if len(mine) > MOST_ANCHORED:
            mine = mine[:: len(mine) // MOST_ANCHORED + 1]
        if not len(mine):
            return {}
        points = np.asarray(self._judged.corners[mine]).mean(axis=1)
        height, width = depth.shape
        seen = asked.camera.project(points, width, height)
        x, y = seen[:, 0].astype(int), seen[:, 1].astype(int)
        inside = (x > 2) & (x < width - 3) & (y > 2) & (y < height - 3)
        far = self._span / 2.45
        at = (far - seen[:, 2] - 0.05 * far) / self._span
        clear = np.zeros(len(mine), bool)
        clear[inside] = at[inside] <= depth[y[inside], x[inside]] + 0.004
        region = self._judged.region[mine]
        out = {}
        for one in np.unique(region[clear]).tolist():
            those = np.flatnonzero(clear & (region == one))
            centre = seen[those, :2].mean(axis=0)
            best = those[int(np.argmin(np.linalg.norm(seen[those, :2] - centre, axis=1)))]
            out[int(one)] = (float(points[best, 0]), float(points[best, 1]), float(points[best, 2]))
        return out

    def _grounded(self, colour: np.ndarray, asked: FrameAsked) -> np.ndarray:
        """One soft shadow on the paper under the part."""
        shade = self._shadow_for(asked)
        alpha = colour[..., 3:] / 255.0
        under = shade[..., None] * 0.34
        total = alpha + under * (1.0 - alpha)
        rgb = (colour[..., :3] * alpha + SHADOW.astype(np.float32) * 255.0 * under * (1.0 - alpha)) / np.maximum(
            total, 1e-4
        )
        return np.concatenate([rgb, total * 255.0], axis=2).clip(0, 255).astype(np.uint8)

    def _shadow_for(self, asked: FrameAsked) -> np.ndarray:
        key = (asked.camera, asked.width, asked.height)
        if self._shadow is not None and self._shadow[:3] == key:
            return self._shadow[3]
        scale = 4
        width, height = max(asked.width // scale, 8), max(asked.height // scale, 8)
        actors = self._proxy or self._solid
        flat = self._flattening(asked.camera)
        hidden = [
            a for a in (*self._ink, *self._veil, *self._solid, *self._proxy) if a not in actors and a.GetVisibility()
        ]
        lit = self._lit
        if lit is not None:
            lit.VisibilityOff()
        seen_before = [actor.GetVisibility() for actor in actors]
        for actor in hidden:
            actor.VisibilityOff()
        for actor in actors:
            actor.VisibilityOn()
            actor.SetUserMatrix(flat)
        self._aim(asked.camera, width, height)
        self._window.Render()
        mask = self._pixels(width, height)[..., 3] / 255.0
        for actor, seen in zip(actors, seen_before, strict=True):
            actor.SetUserMatrix(None)
            actor.SetVisibility(seen)
        for actor in hidden:
            actor.VisibilityOn()
        if lit is not None:
            lit.VisibilityOn()
        soft = blurred(mask, 0.016 * height)
        full = np.repeat(np.repeat(soft, scale, axis=0), scale, axis=1)
        full = blurred(fitted_to(full, asked.height, asked.width), 2.0)
        self._shadow = (*key, full.astype(np.float32))
        return self._shadow[3]

    def _flattening(self, camera: Camera) -> vtkMatrix4x4:
        """Everything thrown along the light onto the ground under the part."""
        up = np.array(camera.up) / np.linalg.norm(camera.up)
        corners = np.array(
            [[self._box[i, 0], self._box[j, 1], self._box[k, 2]] for i in (0, 1) for j in (0, 1) for k in (0, 1)]
        )
        ground = float((corners @ up).min())
        axes = camera.axes()
        side = axes[0] - up * float(axes[0] @ up)
        light = -up + 0.55 * side / max(float(np.linalg.norm(side)), 1e-9)
        matrix = np.eye(4)
        matrix[:3, :3] -= np.outer(light, up) / float(light @ up)
        matrix[:3, 3] = light * ground / float(light @ up)
        out = vtkMatrix4x4()
        for row in range(4):
            for column in range(4):
                out.SetElement(row, column, float(matrix[row, column]))
        return out

    def pick(self, asked: PickAsked) -> Spot | None:
        """What lies under the pixel; None beside the part."""
        if self._judged is None:
            return None
        if self._locator is None:
            data = polydata(Soup(self._judged.corners, self._judged.normals))
            self._locator = vtkStaticCellLocator()
            self._locator.SetDataSet(data)
            self._locator.BuildLocator()
            self._picker_data = data
        self._aim(asked.camera, asked.width, asked.height)
        axes = asked.camera.axes()
        k = 2.0 * asked.camera.half_mm / asked.height
        right, up = (asked.x - asked.width / 2) * k, (asked.height / 2 - asked.y) * k
        on_plane = np.array(asked.camera.middle) + axes[0] * right + axes[1] * up
        reach = 4.0 * float(np.linalg.norm(self._box[1] - self._box[0])) + 1.0
        hit = _first_cell(self._locator, on_plane + axes[2] * reach, on_plane - axes[2] * reach)
        if hit is None:
            return None
        cell, point = hit
        corners = self._judged.corners[cell]
        normal = np.cross(corners[1] - corners[0], corners[2] - corners[0])
        normal = normal / max(float(np.linalg.norm(normal)), 1e-12)
        inside = np.array(point) - normal * 1e-4 * reach
        behind = _first_cell(self._locator, inside, inside - normal * reach)
        thick = float("inf") if behind is None else float(np.linalg.norm(np.array(behind[1]) - np.array(point)))
        return Spot(
            int(self._judged.region[cell]),
            point,
            (float(normal[0]), float(normal[1]), float(normal[2])),
            int(self._judged.state[cell]),
            float(self._judged.draft_deg[cell]),
            thick,
        )

    @property
    def anchors(self) -> dict[int, tuple[float, float, float]]:
        """Where a label may point for each region that can be seen in the last frame at rest."""
        return self._anchors

    def close(self) -> None:
        """Gives the VTK window back."""
        self._window.Finalize()


def _first_cell(
    locator: vtkStaticCellLocator, start: Floats, end: Floats
) -> tuple[int, tuple[float, float, float]] | None:
    """The cell a line meets first, and where; None when it meets none."""
    t, sub, cell = reference(0.0), reference(0), reference(0)
    point, where = [0.0, 0.0, 0.0], [0.0, 0.0, 0.0]
    if not locator.IntersectWithLine(start, end, 1e-9, t, point, where, sub, cell):  # type: ignore[call-overload]  # nor references
        return None
    return int(cell), (point[0], point[1], point[2])
