"""What did it to a place: which line of Stock, which core, which loose piece."""

from functools import cached_property

import numpy as np

from pounce.cores.values import CoresResult
from pounce.parting.values import PartingResult
from pounce.proof.carried import Carried, Witnesses, inside
from pounce.proof.values import By, Doer
from pounce.solid.mesh import Bools, Floats, Mesh
from pounce.solid.tags import FLUSH
from pounce.solid.tree import tree_of
from pounce.stock.values import LineKind, StockResult

_LINES = {
    LineKind.MACHINING: "machining stock",
    LineKind.FILL: "filling",
    LineKind.DRAFT: "draft",
    LineKind.FILLETS: "fillets",
    LineKind.LETTERING: "text",
    LineKind.LEVEL: "levelling",
    LineKind.CAMBER: "camber",
    LineKind.FINISH: "finish",
}


class Doers:
    """Lines, cores and pieces that were worked, in their order."""

    def __init__(self, stock: StockResult, cores: CoresResult, parting: PartingResult) -> None:
        self._stock, self._cores, self._parting = stock, cores, parting

    def line(self, index: int) -> Doer:
        """A line of Stock."""
        return Doer(By.LINE, index, f"{_LINES[self._stock.lines[index].kind]}, line {index + 1} of Stock")

    def core(self, index: int) -> Doer:
        """A core."""
        several = len(self._cores.cores) > 1
        return Doer(By.CORE, index, self._cores.cores[index].name.lower() if several else "the core")

    @cached_property
    def _steps(self) -> list[tuple[Doer, Mesh]]:
        """Every body after a line that changed it, in order."""
        out = []
        for index, line in enumerate(self._stock.lines):
            before = self._stock.lines[index - 1].body if index else 0
            if line.body > before:
                out.append((self.line(index), self._stock.bodies[line.body]))
        return out

    @cached_property
    def _core_of_print(self) -> list[int]:
        return [number for number, core in enumerate(self._cores.cores) for _ in core.prints]

    def made(self, body: Mesh, face: int) -> Doer | None:
        """What made or moved this face of the pattern; None for one that is the part's own."""
        line, core_print = int(body.tags.line[face]), int(body.tags.print[face])
        if core_print >= 0:
            return self.core(self._core_of_print[core_print])
        if core_print == FLUSH and self._cores.cores:
            return self.core(0)
        return self.line(line) if 0 <= line < len(self._stock.lines) else None

    def fills(self, at: Floats) -> Doer | None:
        """What first filled this place (1, 3); None where there is sand still."""
        for doer, body in self._steps:
            if bool(inside(body, tree_of(body), at)[0]):
                return doer
        for number, core in enumerate(self._cores.cores):
            if bool(inside(core.mesh, tree_of(core.mesh), at)[0]):
                return self.core(number)
        return None

    def who(self, body: Mesh, seen: Witnesses, there: Carried, good: Bools) -> list[Doer | None]:
        """For each good witness, what changed its place; None where nothing did."""
        out: dict[int, Doer | None] = {}
        todo = np.flatnonzero(good & there.filled)
        for doer, step in self._steps:
            if not len(todo):
                break
            tree = tree_of(step)
            points, normals = seen.points[todo], seen.normals[todo]
            leave, _ = tree.nearest(points, normals)
            now = inside(step, tree, points) & ((leave > seen.gap_mm[todo]) | ~np.isfinite(leave))
            out.update(dict.fromkeys(todo[now].tolist(), doer))
            todo = todo[~now]
        for number, core in enumerate(self._cores.cores):
            if not len(todo):
                break
            now = inside(core.mesh, tree_of(core.mesh), seen.points[todo])
            out.update(dict.fromkeys(todo[now].tolist(), self.core(number)))
            todo = todo[~now]
        for witness in np.flatnonzero(good & ~there.filled & (there.face >= 0)).tolist():
            out[witness] = self.made(body, int(there.face[witness])) or self._otherwise()
        return list(out.values())

    def _otherwise(self) -> Doer | None:
        """What frees a wall that nothing moved."""
        if self._parting.loose:
            return Doer(By.LOOSE, 0, "a loose piece")
        if self._parting.ringed is not None and self._parting.ringed.cheek_mm > 0.0:
            return Doer(By.CHEEK, 0, "the cheek")
        return None
