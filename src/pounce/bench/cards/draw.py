"""The Draw card: the best few draws with a picture and a sentence each, turning by hand, and the draft asked."""

import functools

import numpy as np
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QPixmap
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from pounce.bench.cards.card import Card
from pounce.bench.cards.rows import figure
from pounce.bench.cards.rows import row as row_of
from pounce.bench.document import Document
from pounce.bench.stops.words import way
from pounce.bench.widgets.parts import Row, Segments, button, emptied, label
from pounce.draw.values import Candidate
from pounce.job import edits
from pounce.metals.choices import DRAFT
from pounce.plan.words import lies as lies_words
from pounce.solid.frame import axis_name

MOST_SHOWN = 3
WIDE_PX = 268


class CandidateRow(QPushButton):
    """One draw: small picture, its way, why it wins and what it costs. Clicking chooses it."""

    def __init__(self, candidate: Candidate, lies: str, picture: bytes | None, chosen: bool) -> None:
        super().__init__()
        self.setProperty("kind", "option")
        self.setCheckable(True)
        self.setChecked(chosen)
        self.setAccessibleName(f"{lies}, drawn {way(candidate.direction)}. {candidate.why}. Costs: {candidate.cost}")
        row = QHBoxLayout(self)
        row.setContentsMargins(6, 4, 6, 4)
        row.setSpacing(8)
        image = label("")
        image.setFixedSize(76, 50)
        if picture:
            shown = QPixmap()
            shown.loadFromData(picture)
            image.setPixmap(
                shown.scaled(76, 50, Qt.AspectRatioMode.KeepAspectRatio, Qt.TransformationMode.SmoothTransformation)
            )
        row.addWidget(image)
        words = QVBoxLayout()
        words.setSpacing(0)
        heading = label(lies, "chip")
        heading.setToolTip(f"Draws {way(candidate.direction)}")
        words.addWidget(heading)
        words.addWidget(label(f"{candidate.why}. Costs {candidate.cost}.", "small", wrap=True))
        row.addLayout(words, 1)
        for child in self.findChildren(QWidget):
            child.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        # the words wrap within the card: their height there is the row's
        need = row.heightForWidth(WIDE_PX)
        self.setFixedHeight(max(64, need + 2))


class DrawCard(Card):
    """How the pattern leaves the sand."""

    stop = "draw"

    def __init__(self, document: Document) -> None:
        self._shown: object = None
        super().__init__(document)
        document.looks_ready.connect(self.refresh)

    def fill(self) -> None:
        """Candidates, tilting and draft."""
        self.body.addWidget(label("Best ways to draw it", "section"))
        self._list = QVBoxLayout()
        self._list.setSpacing(4)
        self.body.addLayout(self._list)
        self.axis = Segments([("z", "z"), ("y", "y"), ("x", "x"), ("own", "Tilted")], "Draw along")
        self.axis.chosen.connect(lambda letter: self._turn(letter))
        self.body.addWidget(Row("Draw along", self.axis, "The model's own axis that the cope lifts along"))
        turns = QWidget()
        row = QHBoxLayout(turns)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(4)
        for text, right, nearer, tip in (
            ("←", -1.0, 0.0, "Tilt the draw 2° to the left"),
            ("→", 1.0, 0.0, "Tilt the draw 2° to the right"),
            ("↑", 0.0, -1.0, "Tilt the draw 2° away from you"),
            ("↓", 0.0, 1.0, "Tilt the draw 2° toward you"),
        ):
            one = button(text, "", functools.partial(self.tilt.emit, right, nearer), tip)
            one.setAccessibleName(tip)
            row.addWidget(one)
        self.body.addWidget(Row("Tilt by 2°", turns, "Or drag the arrow of the flask on the bench"))
        self.over = button("Turn over", "", self._turn_over, "Draw the other way along the same line")
        self.search = button(
            "Best found", "", lambda: self.document.edit(edits.set_draw, None), "Take the draw the search found"
        )
        pair = QWidget()
        row = QHBoxLayout(pair)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(4)
        row.addWidget(self.search)
        row.addWidget(self.over)
        self.body.addWidget(Row("Or", pair))
        self.draft = figure(DRAFT)
        self.draft.given.connect(self.giving(DRAFT, "metal"))
        self.body.addWidget(row_of(DRAFT, self.draft))
        self.usual = button("Use the usual draft", "link", lambda: self.giving(DRAFT, "metal")(None))
        self.body.addWidget(self.usual)

    def _turn(self, letter: str) -> None:
        if letter != "own":
            self.document.edit(edits.set_draw, edits.AXES[f"+{letter}"])
        else:
            self.refresh()

    def _turn_over(self) -> None:
        results = self.document.results()
        if results is not None and results.draw is not None:
            x, y, z = (-float(value) + 0.0 for value in results.draw.direction)
            self.document.edit(edits.set_draw, (x, y, z))

    def refresh_body(self) -> None:
        """Shows the draw."""
        results = self.document.results()
        if results is None:
            return
        if results.metal is not None:
            self.draft.show_value(results.metal.required_draft_deg)
            self.draft.setEnabled(results.metal.pattern.draws)
            self.usual.setVisible(results.metal.own_draft)
            self.usual.setText("Use the table: by height and side")
        if results.draw is not None:
            name = axis_name(results.draw.direction)
            self.axis.show_choice(name[1] if name else "own")
            self._show_candidates(results.draw.candidates, results.draw.direction)

    def _show_candidates(self, candidates: tuple[Candidate, ...], direction: np.ndarray) -> None:
        pictures = self.document.looks()
        results = self.document.results()
        part = None if results is None else results.part
        now = (candidates, tuple(direction), len(pictures))
        if now == self._shown:
            return
        self._shown = now
        emptied(self._list)
        for index, candidate in enumerate(candidates[:MOST_SHOWN]):
            chosen = float(np.dot(candidate.direction, direction)) > 0.99999
            lies = "" if part is None else lies_words(candidate.depth_mm, part.mesh.size, candidate.direction)
            row = CandidateRow(candidate, lies, pictures[index] if index < len(pictures) else None, chosen)
            row.clicked.connect(lambda _=False, way=candidate.direction: self._choose(way))
            self._list.addWidget(row)

    def _choose(self, direction: tuple[float, float, float]) -> None:
        self._shown = None
        if not self.document.edit(edits.set_draw, direction):
            self.refresh()
