"""Rings by the desktop's own notifications; without them by the window."""

from typing import Final

from PyQt6.QtDBus import QDBusArgument, QDBusConnection, QDBusMessage

SERVICE, PATH = "org.freedesktop.Notifications", "/org/freedesktop/Notifications"
WAIT_MS = 400
# Numbers of the types in Qt, which the wire wants told.
UINT: Final = 3
STRING: Final = 10


def notify(title: str, text: str) -> bool:
    """Shows a notification of the desktop; False where there is none to show it."""
    bus = QDBusConnection.sessionBus()
    if not bus.isConnected():
        return False
    replaces, nothing = QDBusArgument(), QDBusArgument()
    replaces.add(0, UINT)
    nothing.beginArray(STRING)
    nothing.endArray()
    message = QDBusMessage.createMethodCall(SERVICE, PATH, SERVICE, "Notify")
    message.setArguments(["Pounce", replaces, "pounce", title, text, nothing, {}, -1])
    answer = bus.call(message, timeout=WAIT_MS)
    return bool(answer.type() == QDBusMessage.MessageType.ReplyMessage)
