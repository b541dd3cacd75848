"""A flat back that is rammed in the drag: what stands above the joint as it is shown is called the drag everywhere."""

import manifold3d
import pytest
from PyQt6.QtGui import QPainter, QPixmap
from pytestqt.qtbot import QtBot

from pounce.bench.section.sketch import Lifted, Sketch
from pounce.bench.stops.trialwords import trial_saying, trial_tags
from pounce.job import edits
from pounce.job.job import Job
from pounce.parting.insection import CutAsked
from pounce.route.cuts import cut_for
from pounce.route.pipeline import Pipeline
from pounce.route.results import Results
from pounce.route.stops import PARTING
from tests.conftest import box, model_of


def rammed_in(half: str) -> Results:
    """A block on its flat back with a hole across the draw, which holds sand."""
    hole = manifold3d.Manifold.cylinder(80, 6, 6, 48, True).rotate([90, 0, 0]).translate([30, 20, 18])
    return Pipeline().run(
        edits.set_rammed(edits.set_height(Job(), 0.0).job, half).job, model_of(box(60, 40, 30) - hole), until=PARTING
    )


@pytest.mark.parametrize(("half", "other"), [("cope", "drag"), ("drag", "cope")])
def test_section_and_trial_name_the_halves_as_the_mould_does(qtbot: QtBot, half: str, other: str) -> None:
    results = rammed_in(half)
    assert results.parting is not None and results.parting.joint.half(above=True) == half
    sketch = Sketch()
    qtbot.addWidget(sketch)
    sketch.resize(600, 200)
    sketch.show_cut(cut_for(results, CutAsked()), "mm", mould=True)
    written: list[str] = []

    class Listening(QPainter):
        """Keeps what is written."""

        def drawText(self, *words: object) -> None:
            written.append(str(words[-1]))

    paper = QPixmap(600, 200)
    painter = Listening(paper)
    sketch._paint_joint(painter, sketch._cut, 0.0, named=True)  # type: ignore[arg-type]
    painter.end()
    assert written == [half.upper(), other.upper()]
    lifted = Lifted(lift_mm=20.0)
    assert f"the {half} lifts" in trial_saying(results, lifted, 1.0, "mm").head
    assert [tag.text for tag in trial_tags(results, lifted, "mm")][1] == f"lands on the {other}'s face"
