"""What is on the bench, as VTK actors: clay, marked faces with hatching, joint, ghost."""

from dataclasses import dataclass
from typing import Any

import numpy as np
import vtkmodules.vtkRenderingOpenGL2
from vtkmodules.util.numpy_support import numpy_to_vtk, numpy_to_vtkIdTypeArray
from vtkmodules.vtkCommonCore import vtkLookupTable, vtkPoints
from vtkmodules.vtkCommonDataModel import vtkCellArray, vtkPolyData
from vtkmodules.vtkRenderingCore import vtkActor, vtkPolyDataMapper

from pounce.parting.values import State
from pounce.solid.mesh import Floats, Mesh, edges

RENDERING = vtkmodules.vtkRenderingOpenGL2.__name__
CREASE_DEG = 30.0
MOST_CREASES = 400_000
CLAY = (0.663, 0.718, 0.741)
COLOURS = {State.CLEAN: (0.725, 0.827, 0.788), State.TIGHT: (0.922, 0.722, 0.341), State.LOCKED: (0.478, 0.180, 0.365)}
INK = (0.133, 0.188, 0.235)
CHALK = (0.965, 0.953, 0.918)
# Walls thinner than the metal runs: deeper steel than the part's own clay. Filler by thickness: chalk, then ever more
# timber.
THIN = (0.420, 0.494, 0.545)
FILLER = ((0.945, 0.914, 0.843), (0.890, 0.827, 0.706), (0.800, 0.702, 0.537), (0.651, 0.525, 0.337))

# Hatching in screen space: tight 45 degrees every 7 px, locked crossed every 5 px (the frame is drawn at `grain`
# times).
_HATCH = {
    State.TIGHT: (
        "float s = mod((gl_FragCoord.x - gl_FragCoord.y) * 0.7071, {gap});"
        "if (s < {pen}) fragOutput0.rgb = mix(fragOutput0.rgb, vec3(0.490, 0.322, 0.024), 0.6);"
    ),
    State.LOCKED: (
        "float s = mod((gl_FragCoord.x - gl_FragCoord.y) * 0.7071, {gap});"
        "float t = mod((gl_FragCoord.x + gl_FragCoord.y) * 0.7071, {gap});"
        "if (s < {pen} || t < {pen}) fragOutput0.rgb = mix(fragOutput0.rgb, vec3(0.235, 0.059, 0.169), 0.8);"
    ),
}
_GAPS = {State.TIGHT: (7.0, 1.1), State.LOCKED: (5.0, 1.2)}


@dataclass(frozen=True, eq=False)
class Soup:
    """Loose triangles: ``corners`` (k, 3, 3) and ``normals`` (k, 3, 3), float32."""

    corners: np.ndarray
    normals: np.ndarray


def polydata(soup: Soup) -> vtkPolyData:
    """The triangles as VTK data with normals at the corners."""
    count = len(soup.corners)
    data = vtkPolyData()
    points = vtkPoints()
    points.SetData(numpy_to_vtk(np.ascontiguousarray(soup.corners.reshape(-1, 3), np.float32), deep=True))
    cells = vtkCellArray()
    offsets = numpy_to_vtkIdTypeArray(np.arange(0, 3 * count + 1, 3, dtype=np.int64), deep=True)
    cells.SetData(offsets, numpy_to_vtkIdTypeArray(np.arange(3 * count, dtype=np.int64), deep=True))
    data.SetPoints(points)
    data.SetPolys(cells)
    data.GetPointData().SetNormals(
        numpy_to_vtk(np.ascontiguousarray(soup.normals.reshape(-1, 3), np.float32), deep=True)
    )
    return data


def surface(soup: Soup, colour: tuple[float, float, float], hatch: State | None = None, grain: float = 2.0) -> vtkActor:
    """Matte clay of this colour, hatched when a state is given."""
    actor = matte(polydata(soup), colour)
    if hatch is not None and hatch in _HATCH:
        gap, pen = _GAPS[hatch]
        code = _HATCH[hatch].format(gap=gap * grain, pen=pen * grain)
        actor.GetShaderProperty().AddFragmentShaderReplacement(
            "//VTK::TCoord::Impl", True, "//VTK::TCoord::Impl\n" + code + "\n", False
        )
    return actor


# Added metal is chalk with upright pencil strokes.
_STROKES = (
    "float s = mod(gl_FragCoord.x, {gap});"
    "if (s < {pen}) fragOutput0.rgb = mix(fragOutput0.rgb, vec3(0.133, 0.188, 0.235), 0.55);"
)


def banded(soup: Soup, values: np.ndarray, most: float, tones: tuple[tuple[float, float, float], ...]) -> vtkActor:
    """A surface in even bands of tone by a figure at its corners (k, 3), from 0 to ``most``."""
    actor = matte(polydata(soup), tones[0])
    scalars(actor, values)
    table = vtkLookupTable()
    table.SetNumberOfTableValues(len(tones))
    for k, (r, g, b) in enumerate(tones):
        table.SetTableValue(k, r, g, b, 1.0)
    mapper = actor.GetMapper()
    mapper.SetLookupTable(table)
    mapper.SetScalarRange(0.0, max(most, 1e-9))
    mapper.SetInterpolateScalarsBeforeMapping(True)
    mapper.ScalarVisibilityOn()
    return actor


def scalars(actor: vtkActor, values: np.ndarray) -> None:
    """Other figures at the corners (k, 3) of a surface in bands."""
    data = actor.GetMapper().GetInput()
    data.GetPointData().SetScalars(numpy_to_vtk(np.ascontiguousarray(values.ravel(), np.float32), deep=True))
    data.Modified()


def added(soup: Soup, grain: float) -> vtkActor:
    """Added metal: chalk, stroked upright."""
    actor = matte(polydata(soup), CHALK)
    actor.GetShaderProperty().AddFragmentShaderReplacement(
        "//VTK::TCoord::Impl",
        True,
        "//VTK::TCoord::Impl\n" + _STROKES.format(gap=5.0 * grain, pen=1.0 * grain) + "\n",
        False,
    )
    return actor


# Core prints: slashes on core sand, the product's own mark for what sits in the mould.
_SLASHES = (
    "float s = mod((gl_FragCoord.x + gl_FragCoord.y) * 0.7071, {gap});"
    "if (s < {pen}) fragOutput0.rgb = mix(fragOutput0.rgb, vec3(0.541, 0.443, 0.263), 0.85);"
)
CORE = (0.922, 0.843, 0.675)
PRINT = (0.875, 0.765, 0.545)
TIMBER = (0.890, 0.827, 0.706)


def core_print(soup: Soup, grain: float) -> vtkActor:
    """A core print, on the core or on the pattern: core sand with slashes."""
    actor = matte(polydata(soup), PRINT)
    actor.GetShaderProperty().AddFragmentShaderReplacement(
        "//VTK::TCoord::Impl",
        True,
        "//VTK::TCoord::Impl\n" + _SLASHES.format(gap=6.0 * grain, pen=1.2 * grain) + "\n",
        False,
    )
    return actor


# Grains of sand as dots in screen space, denser than paper, never moving with the light.
_SAND = (
    "vec2 cell = floor(gl_FragCoord.xy / {gap});"
    "float h = fract(sin(dot(cell, vec2(12.9898, 78.233))) * 43758.5453);"
    "float k = fract(sin(dot(cell, vec2(39.3468, 11.135))) * 24634.6345);"
    "vec2 at = fract(gl_FragCoord.xy / {gap}) - vec2(0.25 + 0.5 * h, 0.25 + 0.5 * k);"
    "if (h > 0.45 && dot(at, at) < 0.030) fragOutput0.rgb = mix(fragOutput0.rgb, vec3(0.541, 0.443, 0.263), 0.75);"
)
SAND = (0.925, 0.855, 0.725)
CAVITY = (0.80, 0.71, 0.55)


def sand(soup: Soup, colour: tuple[float, float, float], grain: float) -> vtkActor:
    """Sand: matte with one tone of dots."""
    actor = matte(polydata(soup), colour)
    actor.GetShaderProperty().AddFragmentShaderReplacement(
        "//VTK::TCoord::Impl", True, "//VTK::TCoord::Impl\n" + _SAND.format(gap=f"{4.0 * grain:.1f}") + "\n", False
    )
    return actor


def tinted(data: vtkPolyData, colours: np.ndarray) -> vtkActor:
    """Flat matte cells, each in its own colour (k, 3) of bytes."""
    actor = matte(data, CLAY)
    data.GetCellData().SetScalars(numpy_to_vtk(np.ascontiguousarray(colours, np.uint8), deep=True))
    mapper = actor.GetMapper()
    mapper.SetScalarModeToUseCellData()
    mapper.SetColorModeToDirectScalars()
    mapper.ScalarVisibilityOn()
    actor.GetProperty().SetInterpolationToFlat()
    return actor


def dots(points: Floats, colour: tuple[float, float, float], size: float) -> vtkActor:
    """Points as round crumbs of this size in pixels of the frame."""
    data = vtkPolyData()
    held = vtkPoints()
    held.SetData(numpy_to_vtk(np.ascontiguousarray(points, np.float32), deep=True))
    cells = vtkCellArray()
    count = len(points)
    cells.SetData(
        numpy_to_vtkIdTypeArray(np.arange(count + 1, dtype=np.int64), deep=True),
        numpy_to_vtkIdTypeArray(np.arange(count, dtype=np.int64), deep=True),
    )
    data.SetPoints(held)
    data.SetVerts(cells)
    mapper = vtkPolyDataMapper()
    mapper.SetInputData(data)
    actor = vtkActor()
    actor.SetMapper(mapper)
    look = actor.GetProperty()
    look.SetColor(*colour)
    look.SetLighting(False)
    look.SetPointSize(size)
    look.SetRenderPointsAsSpheres(True)
    return actor


def matte(data: vtkPolyData, colour: tuple[float, float, float]) -> vtkActor:
    """Flat matte colour under soft light, no gloss."""
    mapper = vtkPolyDataMapper()
    mapper.SetInputData(data)
    # Edges are drawn on the surface itself: push the surface a little back so they stay whole.
    mapper.SetResolveCoincidentTopologyToPolygonOffset()
    mapper.SetRelativeCoincidentTopologyPolygonOffsetParameters(1.0, 1.0)
    actor = vtkActor()
    actor.SetMapper(mapper)
    look = actor.GetProperty()
    look.SetColor(*colour)
    look.SetAmbient(0.58)
    look.SetDiffuse(0.48)
    look.SetSpecular(0.0)
    return actor


def lines(segments: Floats, colour: tuple[float, float, float], width: float) -> vtkActor:
    """Segments (k, 2, 3) as ink lines of this width in pixels of the frame."""
    data = vtkPolyData()
    points = vtkPoints()
    points.SetData(numpy_to_vtk(np.ascontiguousarray(segments.reshape(-1, 3), np.float32), deep=True))
    cells = vtkCellArray()
    count = len(segments)
    offsets = numpy_to_vtkIdTypeArray(np.arange(0, 2 * count + 1, 2, dtype=np.int64), deep=True)
    cells.SetData(offsets, numpy_to_vtkIdTypeArray(np.arange(2 * count, dtype=np.int64), deep=True))
    data.SetPoints(points)
    data.SetLines(cells)
    mapper = vtkPolyDataMapper()
    mapper.SetInputData(data)
    actor = vtkActor()
    actor.SetMapper(mapper)
    actor.GetProperty().SetColor(*colour)
    actor.GetProperty().SetLighting(False)
    actor.GetProperty().SetLineWidth(width)
    return actor


def creases(mesh: Mesh) -> Floats:
    """(k, 2, 3): edges bent by more than 30 degrees, and open ones."""
    table = edges(mesh.faces, len(mesh.vertices))
    bend = np.einsum("ij,ij->i", mesh.normals[table.pairs[:, 0]], mesh.normals[table.pairs[:, 1]])
    sharp = table.pair_ends[bend < np.cos(np.radians(CREASE_DEG))]
    ends = np.concatenate([sharp, table.open_ends])[:MOST_CREASES]
    return mesh.vertices[ends]


def dashed(loops: tuple[Floats, ...], dash_mm: float, gap_mm: float) -> Floats:
    """(k, 2, 3): the loops cut into dashes along their length."""
    out = []
    period = dash_mm + gap_mm
    for loop in loops:
        steps = np.linalg.norm(np.diff(loop, axis=0), axis=1)
        along = np.r_[0.0, np.cumsum(steps)]
        total = along[-1]
        if total <= 0.0:
            continue
        count = max(round(float(total) / period), 1)
        for index in range(count):
            start = index * total / count
            end = start + total / count * dash_mm / period
            inner = along[(along > start) & (along < end)]
            where = np.r_[start, inner, end]
            points = np.stack([np.interp(where, along, loop[:, k]) for k in range(3)], axis=1)
            out.append(np.stack([points[:-1], points[1:]], axis=1))
    return np.concatenate(out) if out else np.zeros((0, 2, 3))


def plate(middle: Floats, u: Floats, v: Floats, half_u: float, half_v: float) -> Soup:
    """A flat rectangle."""
    corners = [middle + u * a * half_u + v * b * half_v for a, b in ((-1, -1), (1, -1), (1, 1), (-1, 1))]
    quad = np.array([[corners[0], corners[1], corners[2]], [corners[0], corners[2], corners[3]]])
    return Soup(quad, np.broadcast_to(np.cross(u, v), quad.shape))


def smooth_soup(mesh: Mesh) -> Soup:
    """A mesh as loose triangles with flat normals; for pieces that come without smooth ones."""
    return Soup(mesh.corners, np.repeat(mesh.normals[:, None], 3, axis=1))


def translucent(actor: Any, opacity: float) -> Any:
    """The same actor, seen through."""
    actor.GetProperty().SetOpacity(opacity)
    return actor
