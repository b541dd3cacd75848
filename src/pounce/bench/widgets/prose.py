"""Running text in which the words of the trade are dotted and explained, on hover and on keyboard focus."""

from collections.abc import Callable

from PyQt6.QtCore import QEvent, QPoint, QPointF, QRect, QSize, Qt, QUrl
from PyQt6.QtGui import (
    QCursor,
    QFocusEvent,
    QHelpEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPolygonF,
    QResizeEvent,
    QTextCharFormat,
    QTextCursor,
)
from PyQt6.QtWidgets import QFrame, QLabel, QSizePolicy, QTextBrowser, QVBoxLayout, QWidget

from pounce.bench.look.tokens import colour, font
from pounce.craft.glossary import Word, named, stands_in

TIP_PX = 314
SCHEME = "word"
# More words than these are not explained at once.
MOST_TOLD = 4


class WordTip(QFrame):
    """What a word means, under it: one a window, shown where it is wanted."""

    def __init__(self, window: QWidget) -> None:
        super().__init__(window)
        self.setObjectName("wordtip")
        layout = QVBoxLayout(self)
        layout.setContentsMargins(12, 8 + 6, 12, 8)
        self.says = QLabel()
        self.says.setTextFormat(Qt.TextFormat.RichText)
        self.says.setWordWrap(True)
        layout.addWidget(self.says)
        self._beak = 20
        self.hide()

    def explain(self, words: list[Word], at: QRect) -> None:
        """Explains these words by a place of the window (its coordinates)."""
        window = self.parentWidget()
        if window is None or not words:
            self.hide()
            return
        self.says.setText("<br>".join(f"<b>{w.word[:1].upper()}{w.word[1:]}</b>: {w.says}" for w in words))
        self.setFixedWidth(TIP_PX)
        high = self.says.heightForWidth(TIP_PX - 26) + 24
        self.setFixedHeight(high)
        left = min(max(at.center().x() - TIP_PX // 2, 6), max(window.width() - TIP_PX - 6, 0))
        top = at.bottom() + 2
        if top + high > window.height() - 4:
            top = max(at.top() - high - 2, 0)
        self._beak = min(max(at.center().x() - left, 14), TIP_PX - 14) if top > at.top() else 0
        self.move(left, top)
        self.raise_()
        self.show()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """A panel with an ink rim and a beak towards its word."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(colour("ink"), 1.2))
        painter.setBrush(colour("panel"))
        x, y, w, h = 0.7, 6.7, self.width() - 1.4, self.height() - 7.4
        corners = [QPointF(x, y)]
        if self._beak:
            corners += [QPointF(self._beak - 7, y), QPointF(self._beak, 0.7), QPointF(self._beak + 7, y)]
        painter.drawPolygon(QPolygonF([*corners, QPointF(x + w, y), QPointF(x + w, y + h), QPointF(x, y + h)]))
        painter.end()


def tip_of(widget: QWidget) -> WordTip:
    """The window's tip, made where it has none."""
    window = widget.window()
    assert window is not None
    found = window.findChild(WordTip, "wordtip", Qt.FindChildOption.FindDirectChildrenOnly)
    return found if found is not None else WordTip(window)


def hide_tip(widget: QWidget) -> None:
    """Nothing is explained in the widget's window any more."""
    window = widget.window()
    tip = None if window is None else window.findChild(WordTip, "wordtip")
    if tip is not None:
        tip.hide()


def head_event(widget: QWidget, event: QEvent | None, said: str, high: float) -> bool:
    """What comes to a widget that paints a headline ``high`` pixels high itself: hovering over that explains the words
    ``said`` there, leaving ends it. Whether the event was used up.
    """
    if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip and event.pos().y() < high:
        window = widget.window()
        assert window is not None
        place = QRect(widget.mapTo(window, QPoint(20, 0)), QSize(TIP_PX, int(high)))
        tip_of(widget).explain([one.word for one in stands_in(said)][:MOST_TOLD], place)
        return True
    if event is not None and event.type() in (QEvent.Type.Leave, QEvent.Type.Hide, QEvent.Type.MouseButtonPress):
        hide_tip(widget)
    return False


class Prose(QTextBrowser):
    """Markdown as running text, as high as it is. ``seen`` are words explained before on the page; those found here
    join them.
    """

    def __init__(self, text: str, role: str = "body", tone: str = "ink", seen: set[str] | None = None) -> None:
        super().__init__()
        self.setObjectName("prose")
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setOpenLinks(False)
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        document = self.document()
        assert document is not None
        document.setDocumentMargin(0)
        document.setDefaultFont(font(role))
        self.setMarkdown(text)
        self._paint_all(role, tone)
        self.words = self._dot(set() if seen is None else seen)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName(document.toPlainText())
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus if self.words else Qt.FocusPolicy.NoFocus)
        self.highlighted.connect(self._highlight)

    def _paint_all(self, role: str, tone: str) -> None:
        cursor = QTextCursor(self.document())
        cursor.select(QTextCursor.SelectionType.Document)
        look = QTextCharFormat()
        look.setForeground(colour(tone))
        look.setProperty(QTextCharFormat.Property.FontPixelSize, font(role).pixelSize())
        cursor.mergeCharFormat(look)
        block = cursor.blockFormat()
        block.setLineHeight(112.0, 1)  # proportional
        cursor.mergeBlockFormat(block)

    def _dot(self, seen: set[str]) -> tuple[Word, ...]:
        """Dots the words of the trade, each the first time on its page."""
        document = self.document()
        assert document is not None
        found = stands_in(document.toPlainText(), frozenset(seen))
        for one in found:
            cursor = QTextCursor(document)
            cursor.setPosition(one.start)
            cursor.setPosition(one.end, QTextCursor.MoveMode.KeepAnchor)
            look = QTextCharFormat()
            look.setAnchor(True)
            look.setAnchorHref(f"{SCHEME}:{one.word.word}")
            look.setUnderlineStyle(QTextCharFormat.UnderlineStyle.DotLine)
            look.setUnderlineColor(colour("ink"))
            cursor.mergeCharFormat(look)
            seen.add(one.word.word)
        return tuple(one.word for one in found)

    def _highlight(self, url: QUrl) -> None:
        tip = tip_of(self)
        word = named(url.toString().removeprefix(f"{SCHEME}:").replace("%20", " "))
        if word is None:
            tip.hide()
            return
        tip.explain([word], self._place_of(word))

    def _place_of(self, word: Word) -> QRect:
        """Where the word stands, in the window's coordinates."""
        document, window = self.document(), self.window()
        assert document is not None and window is not None
        for one in stands_in(document.toPlainText()):
            if one.word == word:
                cursor = QTextCursor(document)
                cursor.setPosition((one.start + one.end) // 2)
                at = self.cursorRect(cursor)
                viewport = self.viewport()
                assert viewport is not None
                return QRect(viewport.mapTo(window, at.topLeft()), QSize(2, at.height()))
        return QRect(window.mapFromGlobal(QCursor.pos()), QSize(2, 16))

    def focusNextPrevChild(self, on: bool) -> bool:
        """Tab goes from word to word, each explained, then on."""
        moved = super().focusNextPrevChild(on)
        href = self.textCursor().charFormat().anchorHref() if moved else ""
        self._highlight(QUrl(href))
        return moved

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        """No word is explained any more."""
        super().focusOutEvent(event)
        hide_tip(self)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """As high as the text is at this width."""
        super().resizeEvent(event)
        self._fit()

    def _fit(self) -> None:
        document, viewport = self.document(), self.viewport()
        assert document is not None and viewport is not None
        document.setTextWidth(viewport.width())
        high = int(document.size().height()) + 2
        if self.height() != high:
            self.setFixedHeight(high)

    def sizeHint(self) -> QSize:
        """As wide as it is given."""
        return QSize(200, self.height())

    def minimumSizeHint(self) -> QSize:
        """Narrow enough for a column."""
        return QSize(120, 10)


class Explains:
    """Lets a widget explain the words in what it says: on hover after a moment, and on keyboard focus at once."""

    def __init__(self, widget: QWidget, text: Callable[[], str]) -> None:
        self._widget, self._text = widget, text

    def event(self, event: QEvent) -> bool:
        """Takes what comes to the widget; whether it was used up."""
        if event.type() == QEvent.Type.ToolTip:
            return self.show()
        if event.type() in (QEvent.Type.Leave, QEvent.Type.FocusOut, QEvent.Type.Hide):
            hide_tip(self._widget)
        return False

    def show(self) -> bool:
        """Explains all words of the text; whether there are any."""
        words = [one.word for one in stands_in(self._text())][:MOST_TOLD]
        window = self._widget.window()
        if not words or window is None:
            return False
        corner = self._widget.mapTo(window, QPoint(0, 0))
        tip_of(self._widget).explain(words, QRect(corner, self._widget.size()))
        return True
