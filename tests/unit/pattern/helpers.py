"""Second opinions: distances by VTK."""

import numpy as np
from vtkmodules.util.numpy_support import numpy_to_vtk, numpy_to_vtkIdTypeArray
from vtkmodules.vtkCommonCore import vtkPoints
from vtkmodules.vtkCommonDataModel import vtkCellArray, vtkPolyData
from vtkmodules.vtkFiltersCore import vtkImplicitPolyDataDistance

from pounce.solid.mesh import Floats, Mesh


def distances(mesh: Mesh, points: Floats) -> Floats:
    """(k,) unsigned distances of points to a surface, mm."""
    data = vtkPolyData()
    corners = vtkPoints()
    corners.SetData(numpy_to_vtk(np.ascontiguousarray(mesh.vertices), deep=True))
    data.SetPoints(corners)
    cells = vtkCellArray()
    starts = np.arange(0, 3 * len(mesh.faces) + 1, 3, dtype=np.int64)
    cells.SetData(
        numpy_to_vtkIdTypeArray(starts, deep=True),
        numpy_to_vtkIdTypeArray(np.ascontiguousarray(mesh.faces.ravel()), deep=True),
    )
    data.SetPolys(cells)
    tool = vtkImplicitPolyDataDistance()
    tool.SetInput(data)
    return np.abs(np.array([tool.EvaluateFunction(*point) for point in points]))
