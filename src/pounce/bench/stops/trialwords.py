"""What is said and marked while the trial draw is under way."""

from typing import Any

import numpy as np

from pounce.base.units import area, volume
from pounce.bench.section.sketch import Lifted
from pounce.bench.stops.view import Headline
from pounce.bench.stops.words import point
from pounce.bench.widgets.labels import Chip, Tag
from pounce.parting.values import tears
from pounce.route.results import Results


def trial_saying(r: Results, lifted: Lifted, torn_mm3: float, unit: str) -> Headline:
    """The headline while the trial draw is under way."""
    p = r.parting
    # what is lifted lies above the joint as it is shown: the drag, where a flat back is rammed upside down
    half = "cope" if p is None else p.joint.half(above=True)
    under = f"The near corner of the {half} is cut away so that you can see in."
    if p is None:
        return Headline("Trial draw.", under)
    what = "the pattern is drawn" if lifted.drawn_mm > 0.0 else f"the {half} lifts"
    if not tears(p):
        head = f"Trial draw: {what}, and no sand tears."
    elif torn_mm3 <= 0.0:
        head = f"Trial draw: {what}; {volume(p.trial.torn_mm3, unit)} of sand is in the way."
    else:
        head = f"Trial draw: {what}, but {volume(torn_mm3, unit)} of sand stays behind."
    return Headline(head, under)


def trial_chips(results: Results, lifted: Lifted, unit: str) -> tuple[Chip, ...]:
    """The legend of the trial draw: what leaves, what drags, and the sand torn so far."""
    p = results.parting
    if p is None:
        return ()
    return (
        Chip("clean", "Leaves freely"),
        Chip("tight", "Drags", area(p.shown_areas[1], unit)),
        Chip("locked", "Torn so far", volume(torn_by(results, lifted), unit) if tears(p) else "none"),
    )


def trial_tags(results: Results, lifted: Lifted, unit: str) -> tuple[Tag, ...]:
    """Where sand tears, carried up with the cope, and where it lands."""
    p = results.parting
    if p is None or not tears(p):
        return ()
    tags: list[Tag] = []
    way, joint = p.joint.direction, p.joint
    cope = [torn for torn in p.trial.places if torn.above]
    drag = [torn for torn in p.trial.places if not torn.above]
    if cope and lifted.lift_mm > 0.0:
        at = np.array(cope[0].at_mm)
        on_joint = at - way * float(joint.above(at, free=True))
        tags.append(Tag(f"sand tears {volume(cope[0].volume_mm3, unit)}", point(at + way * lifted.lift_mm), "locked"))
        tags.append(Tag(f"lands on the {joint.half(above=False)}'s face", point(on_joint), "locked"))
    if drag and lifted.drawn_mm > 0.0:
        at = np.array(drag[0].at_mm) + way * lifted.drawn_mm
        tags.append(Tag(f"carried along {volume(drag[0].volume_mm3, unit)}", point(at), "locked"))
    return tuple(tags)


def torn_by(results: Results, lifted: Lifted) -> float:
    """Sand torn (mm3) at this point of the trial, read from the worked-out curve."""
    if results.parting is None:
        return 0.0
    trial = results.parting.trial
    cope = float(np.interp(lifted.lift_mm, trial.lifts_mm, trial.cope_mm3))
    return cope + float(np.interp(lifted.drawn_mm, trial.lifts_mm, trial.drag_mm3))


def live_chips(found: dict[str, Any], unit: str) -> tuple[Chip, ...]:
    """The areas counting along while the draw is tilted by hand."""
    return (
        Chip("clean", "Draws clean", area(found["clean_mm2"], unit)),
        Chip("tight", "Tight", area(found["tight_mm2"], unit)),
        Chip("locked", "Locks", area(found["locked_mm2"], unit)),
    )


def free_from(results: Results) -> float | None:
    """From which lift on (mm) no wall rubs; None where sand tears."""
    if results.parting is None or tears(results.parting):
        return None
    return results.parting.trial.drags_mm
