"""Lines through a mesh by another library, for tests to compare with."""

import numpy as np
from vtkmodules.util.numpy_support import numpy_to_vtk
from vtkmodules.vtkCommonCore import vtkPoints
from vtkmodules.vtkCommonDataModel import vtkCellArray, vtkPolyData
from vtkmodules.vtkFiltersGeneral import vtkOBBTree

from pounce.solid.mesh import Mesh


def vtk_tree(mesh: Mesh) -> vtkOBBTree:
    """The mesh in VTK's tree of boxes."""
    data, points, cells = vtkPolyData(), vtkPoints(), vtkCellArray()
    points.SetData(numpy_to_vtk(np.array(mesh.vertices), deep=True))
    for face in mesh.faces.tolist():
        cells.InsertNextCell(3, face)
    data.SetPoints(points)
    data.SetPolys(cells)
    tree = vtkOBBTree()
    tree.SetDataSet(data)
    tree.BuildLocator()
    return tree


def met_along(tree: vtkOBBTree, start: np.ndarray, end: np.ndarray) -> np.ndarray:
    """(k, 3) where the line from start to end meets the mesh."""
    met = vtkPoints()
    tree.IntersectWithLine(list(start), list(end), met, None)
    return np.array([met.GetPoint(n) for n in range(met.GetNumberOfPoints())]).reshape(-1, 3)
