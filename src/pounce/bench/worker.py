"""The worker process: runs the line and everything else that takes time or touches the model.

Messages in are ``(ticket, verb, arguments)``; out go ``(ticket, kind, ...)`` with kinds ``progress``, ``early``,
``result``, ``fault``, ``answer``, ``done``, ``cancelled`` and ``broken``. A ticket is cancelled when the shared number
has reached it.
"""

import importlib
import signal
import sys
import traceback
from collections.abc import Callable
from multiprocessing.connection import Connection
from pathlib import Path
from typing import Any

import numpy as np

from pounce.base.errors import Cancelled, UserFault
from pounce.base.files import write_whole
from pounce.base.log import note_fault
from pounce.base.packing import pack, unpack
from pounce.base.ready import mark_ready, ready
from pounce.bench import worklog
from pounce.draw import live
from pounce.job import file
from pounce.job.job import Job
from pounce.metals.method import MethodChoices
from pounce.part.measures import Measures
from pounce.part.model import Model
from pounce.parting.insection import CutAsked
from pounce.plan.values import Plan
from pounce.route.cuts import cut_for
from pounce.route.keys import keys
from pounce.route.opening import measured_job, open_any
from pounce.route.pipeline import Pipeline
from pounce.route.proof import as_rammed
from pounce.route.results import Results
from pounce.route.store import result_store
from pounce.solid.tags import FaceTags


def _later(module: str) -> Any:
    """A room that is only needed after the first picture is there: paper and pictures take a third of a second to
    load.
    """
    return importlib.import_module(f"pounce.route.{module}")


def _mould() -> Any:
    return importlib.import_module("pounce.parting.mould")


class Worker:
    """The worker's state: the line with its results, and the models of this session."""

    def __init__(self, link: Connection, stopped: Any, folder: Path) -> None:
        self._link = link
        self._stopped = stopped
        self._folder = folder
        self._line = Pipeline(store=result_store())
        self._models: dict[str, Model] = {}
        self._ticket = 0
        self._among: tuple[str, live.Representatives] | None = None
        self._verbs: dict[str, Callable[..., Any]] = {
            "open": self.open,
            "run": self.run,
            "save": self.save,
            "build": self.build,
            "sheet": self.sheet,
            "cut": self.cut,
            "live": self.live,
            "mould": self.mould,
            "looks": self.looks,
            "warm": self.warm,
            "demo": self.demo,
            "measure": self.measure,
            "sheets": self.sheets,
            "plan": self.plan,
            **worklog.verbs(self._results),
        }

    def serve(self) -> None:
        """Answers messages until the link closes."""
        while True:
            try:
                ticket, verb, arguments = self._link.recv()
            except (EOFError, OSError):
                return
            self._ticket = ticket
            try:
                self._tick(0.0, "")
                self._send("answer", self._verbs[verb](*arguments))
                self._send("done")
            except Cancelled:
                self._send("cancelled")
            except UserFault as fault:
                self._send("fault", fault.what, fault.try_this)
            except BrokenPipeError:
                return
            except Exception as error:  # noqa: BLE001  the process's outermost handler: this is our bug, and said so
                traceback.print_exc(file=sys.stderr)
                note_fault("worker", error)
                self._send("broken", f"{type(error).__name__}: {error}")

    def _send(self, kind: str, *content: Any) -> None:
        self._link.send((self._ticket, kind, *content))

    def _tick(self, fraction: float, text: str) -> None:
        if self._stopped.value >= self._ticket:
            raise Cancelled
        if text:
            self._send("tick", fraction, text)

    def _model(self, key: str) -> Model:
        if key not in self._models:
            kept = self._folder / f"model-{key}.bin"
            if not kept.exists():
                raise UserFault("The part is no longer at hand.", "Open the job or the model again.")
            self._models[key] = unpack(kept)
        return self._models[key]

    def _keep(self, model: Model) -> str:
        key = model.fingerprint()
        self._models[key] = model
        kept = self._folder / f"model-{key}.bin"
        if not kept.exists():
            pack(kept, model)
        return key

    def open(self, path: str) -> tuple[Job, str, str]:
        """Reads a model or job file: the job, the file's name, and the model's format."""
        job, model = open_any(Path(path), self._tick)
        self._keep(model)
        return job, model.file, model.format

    def measure(self, asked: Measures, method: MethodChoices, of_metal: str | None) -> tuple[Job, str, str]:
        """Builds a part from measures: the job, where it came from, and the model's format."""
        job, model = measured_job(asked, method, of_metal)
        self._keep(model)
        return job, model.file, model.format

    def run(self, job: Job) -> None:
        """Runs the line; each stop's result is sent as soon as it is there."""
        model = self._model(job.part.model) if job.part.model else None
        self._recall(job)

        sent: dict[int, str] = {}

        def watch(stop: str, key: str, result: Any, fault: UserFault | None) -> None:
            if fault is not None:
                self._send("stop-fault", stop, key, fault.what, fault.try_this)
                return
            # a pattern to which nothing was added is the part: the same result is packed once
            target = sent.setdefault(id(result), str(self._folder / f"{key}.bin"))
            if not Path(target).exists():
                pack(Path(target), result)
            self._send("result", stop, key, target)

        def early(stop: str, key: str, result: Any) -> None:
            target = self._folder / f"{key}-early.bin"
            pack(target, result)
            self._send("early", stop, key, str(target))

        first = not ready()

        def tick(fraction: float, text: str) -> None:
            self._tick(fraction, f"First start, the tools are made ready \u00b7 {text}" if first and text else text)

        self._line.run(job, model, tick, watch, early=early)
        if first and model is not None:
            mark_ready()

    def _recall(self, job: Job) -> None:
        """Takes up what a worker before this one had packed: a restart costs no result."""
        for key in keys(job).values():
            packed = self._folder / f"{key}.bin"
            if not self._line.holds(key) and packed.exists():
                self._line.keep(key, unpack(packed))

    def _known(self, job: Job) -> Results:
        self._recall(job)
        return self._line.known(job)

    def _results(self, job: Job) -> tuple[Results, Model]:
        self._recall(job)
        model = self._model(job.part.model)
        return self._line.run(job, model, self._tick), model

    def save(self, job: Job, path: str) -> str:
        """Saves the job file with a preview."""
        model = self._model(job.part.model) if job.part.model else None
        file.save(Path(path), job, model, None if model is None else self._preview(job))
        return path

    def _preview(self, job: Job) -> bytes | None:
        """The shelf's picture of a job, None while it is not judged or when it cannot be drawn: a job is saved
        without.
        """
        results = self._known(job)
        if results.part is None or results.draw is None:
            return None
        try:
            return bytes(_later("paper").preview_png(results.part, results.draw.direction))
        except Exception as error:  # noqa: BLE001  a picture is not worth the job
            note_fault("preview", error)
            return None

    def build(self, job: Job, out: str, unit: str) -> dict[str, Any]:
        """Writes every file of the build."""
        results, model = self._results(job)
        return _later("build").build(results, model, Path(out), self._tick, unit)

    def sheet(self, job: Job, path: str, unit: str, card: bool = False) -> str:
        """Writes the shop sheet, or its pour card alone."""
        results, model = self._results(job)
        paper = _later("paper")
        try:
            write_whole(Path(path), paper.pour_card(results) if card else paper.sheet_bytes(results, model, unit))
        except OSError as error:
            raise UserFault(f"The sheet could not be written ({error.strerror}).", "Choose another folder.") from error
        return path

    def cut(self, job: Job, asked: CutAsked) -> Any:
        """A section for the strip under the bench, as plain polygons; None until the joint is known."""
        results = self._known(job)
        ready = results.part is not None and results.draw is not None and results.parting is not None
        return cut_for(as_rammed(results) if asked.rammed else results, asked) if ready else None

    def live(self, job: Job, direction: tuple[float, float, float]) -> dict[str, Any] | None:
        """States of the representatives along a direction, and where these lie packed; None while there is no part
        yet.
        """
        results = self._known(job)
        if results.part is None or results.metal is None:
            return None
        mesh, key = results.part.mesh, keys(job)["part"]
        if self._among is None or self._among[0] != key:
            self._among = (key, live.representatives(mesh))
            pack(self._folder / f"among-{key}.bin", self._among[1])
        found = live.live_look(
            mesh, self._among[1], live.snapped(np.array(direction)), results.metal.required_draft_deg
        )
        # plain values: the window's process does not load the room that made them
        return {
            "direction": found.direction,
            "height_mm": found.height_mm,
            "clean_mm2": found.clean_mm2,
            "tight_mm2": found.tight_mm2,
            "locked_mm2": found.locked_mm2,
            "among": str(self._folder / f"among-{key}.bin"),
            "states": found.state.astype(np.uint8).tobytes(),
        }

    def mould(self, job: Job, toward: tuple[float, float, float], wanted: bool) -> str | None:
        """The blocks of the trial draw, packed, round the pattern once it is there, or round the part as it is
        ``wanted``; None until the joint is known.
        """
        known = self._known(job)
        results = known if wanted else as_rammed(known)
        step = "parting" if results.parting is known.parting else "rammed-parting"
        if results.part is None or results.parting is None or results.metal is None:
            return None
        target = self._folder / f"mould-{keys(job)[step]}.bin"
        if not target.exists():
            joint = results.parting.joint
            split = joint.level and results.parting.kind == "split" and results.metal.pattern.splits
            halves = split or (not joint.level and results.parting.moulded == "split")
            mesh = results.part.mesh
            mesh = mesh.tagged(FaceTags.own(len(mesh.faces)))  # states are told by the body's own faces
            pack(target, _mould().blocks_of(mesh, joint, halves, np.array(toward)))
        return str(target)

    def looks(self, job: Job) -> list[bytes]:
        """A small picture of the part standing as each candidate draws it."""
        results = self._known(job)
        if results.part is None or results.draw is None:
            return []
        paper = _later("paper")
        return [
            paper.preview_png(results.part, np.array(candidate.direction), 176, 112)
            for candidate in results.draw.candidates
        ]

    def sheets(self, job: Job) -> Any:
        """The sheets of the templates as they will print; none until the pattern is known."""
        results = self._known(job)
        return () if results.pattern is None else _later("paper").template_sheets(results)

    def plan(self, job: Job) -> None:
        """Searches plans; each better list is sent with small pictures as soon as it is there."""
        planner = _later("planner").Planner(job, self._model(job.part.model), known=self._known(job))

        looks: list[tuple[Job, bytes]] = []

        def look(plan: Plan) -> bytes:
            for job_before, picture in looks:
                if job_before == plan.job:
                    return picture
            looks.append((plan.job, self._looks_like(planner.known(plan.job))))
            return looks[-1][1]

        def found(plans: tuple[Plan, ...]) -> None:
            self._send("result", plans, [look(plan) for plan in plans], planner.causes)

        found(planner.plans(self._tick, found))

    def _looks_like(self, results: Results) -> bytes:
        """A plan's mould, opened."""
        seen = as_rammed(results)
        if seen.part is None or seen.parting is None or results.cores is None:
            return b""
        return bytes(_later("paper").opened_png(results, 480, 380))

    def warm(self) -> None:
        """Makes the tools ready: kernels are compiled on a small demo part, or loaded where they were before."""
        _later("warm").warm(self._tick)

    def demo(self) -> list[str]:
        """Lays out the demo jobs and returns their files."""
        self._tick(0.1, "Laying out the demo jobs")
        return [str(path) for path in _later("demo_jobs").lay_out(_later("demos").demo_folder())]


def main(link: Connection, stopped: Any, folder: str) -> None:
    """Entry of the worker process."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    Worker(link, stopped, Path(folder)).serve()
