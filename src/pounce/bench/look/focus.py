"""The focus ring, for the keyboard only: who presses with the mouse knows where the hand is.

A control that came by its focus through the keyboard carries a property that the style sheet and our own painting ask
for. Fields that are typed into show their focus always: that is where the letters go.
"""

from typing import cast

from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QFocusEvent
from PyQt6.QtWidgets import QWidget

RINGED = "ringed"
BY_KEYS = (
    Qt.FocusReason.TabFocusReason,
    Qt.FocusReason.BacktabFocusReason,
    Qt.FocusReason.ShortcutFocusReason,
    Qt.FocusReason.OtherFocusReason,
)


def ringed(widget: QWidget) -> bool:
    """Whether the widget has the focus, and by the keyboard."""
    return widget.hasFocus() and bool(widget.property(RINGED))


class KeyboardFocus(QObject):
    """Watches all of the application: how each control came by its focus."""

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """Marks or clears the control; takes nothing away from it."""
        if event is None or not isinstance(watched, QWidget):
            return False
        if event.type() == QEvent.Type.FocusIn:
            reason = cast(QFocusEvent, event).reason()
            if reason not in (Qt.FocusReason.ActiveWindowFocusReason, Qt.FocusReason.PopupFocusReason):
                self._mark(watched, reason in BY_KEYS)
        elif event.type() == QEvent.Type.KeyPress and watched.hasFocus() and not watched.property(RINGED):
            self._mark(watched, True)  # who goes on by keys after a press wants to see where they go
        return False

    def _mark(self, widget: QWidget, on: bool) -> None:
        if bool(widget.property(RINGED)) == on:
            return
        widget.setProperty(RINGED, on)
        style = widget.style()
        if style is not None:
            style.unpolish(widget)
            style.polish(widget)
        widget.update()
