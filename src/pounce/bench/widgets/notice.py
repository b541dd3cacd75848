"""A sentence that needs the eye, where the eye is: a strip under the ticket with a way to put it away."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QWidget

from pounce.bench.look.marks import Mark
from pounce.bench.look.tokens import colour
from pounce.bench.widgets.parts import button, label


class Notice(QWidget):
    """Hidden until there is something to say."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("notice")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setStyleSheet(f"QWidget#notice {{ background: {colour('panel').name()}; }}")
        layout = QHBoxLayout(self)
        layout.setContentsMargins(14, 7, 12, 7)
        self._good, self._bad = Mark("filled"), Mark("half")
        self.text = label("", "section", wrap=True)
        layout.addWidget(self._good)
        layout.addWidget(self._bad)
        layout.addWidget(self.text, 1)
        layout.addWidget(button("Put away", "", self.hide))
        self.hide()

    def say(self, text: str, good: bool = False) -> None:
        """Shows the sentence."""
        self.text.setText(text)
        self.setAccessibleName(text)
        self._good.setVisible(good)
        self._bad.setVisible(not good)
        self.show()
