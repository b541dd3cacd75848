"""The style sheet and the typeface."""

from importlib import resources

from PyQt6.QtGui import QFontDatabase
from PyQt6.QtWidgets import QApplication

from pounce.base.fonts import font_file
from pounce.bench.look.tokens import font, hue, pixels, set_contrast, set_scale


def dress(app: QApplication, contrast: bool = False) -> None:
    """Loads the shipped typeface and dresses the whole application."""
    for style in ("Regular", "Semibold", "Bold", "It"):
        QFontDatabase.addApplicationFont(str(font_file(style)))
    # the desktop's text size against the 10 pt that the design is drawn for
    points = app.font().pointSizeF()
    set_scale(points / 10.0 if points > 11.0 else 1.0)
    set_contrast(contrast)
    app.setFont(font("body"))
    app.setStyleSheet(sheet())


def sheet() -> str:
    """The style sheet for the colours in force."""
    c = {
        name: hue(name)
        for name in (
            "paper",
            "panel",
            "sunk",
            "field",
            "ink",
            "muted",
            "hairline",
            "outline",
            "ember",
            "brassInk",
            "verdigrisInk",
        )
    }
    images = str(resources.files("pounce.bench") / "look" / "img")
    button, chip, body, status = pixels("button"), pixels("chip"), pixels("body"), pixels("status")
    return f"""
* {{ color: {c["ink"]}; font-family: "Source Sans Pro", "Source Sans 3", "Noto Sans", sans-serif;
    font-size: {body}px; }}
QMainWindow, QDialog {{ background: {c["paper"]}; }}
QWidget#panel {{ background: {c["panel"]}; }}
QWidget#paper {{ background: {c["paper"]}; }}
QLabel {{ background: transparent; }}
QLabel[role="muted"] {{ color: {c["muted"]}; font-size: {chip}px; }}
QLabel[role="title"] {{ font-size: {pixels("stopTitle")}px; font-weight: 600; }}
QLabel[role="section"] {{ font-weight: 700; }}
QLabel[role="figure"] {{ font-size: {pixels("figure")}px; font-weight: 700; }}
QLabel[role="value"] {{ font-weight: 700; }}
QLabel[role="status"] {{ font-size: {status}px; }}
QPushButton {{ background: {c["panel"]}; border: 1px solid {c["outline"]}; border-radius: 3px; padding: 3px 9px;
  font-size: {button}px; font-weight: 600; min-height: 20px; }}
QPushButton:hover {{ background: {c["sunk"]}; border-color: {c["ink"]}; }}
QPushButton:focus, QComboBox:focus, QLineEdit:focus, QDoubleSpinBox:focus, QCheckBox:focus, QToolButton:focus,
  QListWidget:focus {{ outline: none; border: 2px solid {c["ink"]}; }}
QPushButton:checked {{ background: {c["ink"]}; color: {c["panel"]}; border-color: {c["ink"]}; }}
QPushButton:disabled {{ color: {c["muted"]}; border-color: {c["hairline"]}; }}
QPushButton[kind="primary"] {{ background: {c["ember"]}; border-color: {c["ember"]}; color: #FFFFFF; }}
QPushButton[kind="primary"]:hover {{ background: #93340F; }}
QPushButton[kind="primary"]:focus {{ border: 2px solid {c["ink"]}; }}
QPushButton[kind="wide"] {{ min-height: 26px; }}
QPushButton[kind="wideprimary"] {{ min-height: 26px; background: {c["ember"]}; border-color: {c["ember"]};
    color: #FFFFFF; }}
QPushButton[kind="wideprimary"]:hover {{ background: #93340F; }}
QPushButton[kind="find"] {{ background: {c["field"]}; font-weight: 400; color: {c["muted"]}; text-align: left; }}
QPushButton[kind="link"] {{ border: none; background: transparent; text-decoration: underline; padding: 0 2px;
    font-weight: 400;
  min-height: 0; }}
QPushButton[kind="link"]:hover {{ background: {c["sunk"]}; }}
QPushButton[kind="segment"] {{ border-radius: 0; padding: 3px 8px; font-weight: 400; margin: 0; }}
QPushButton[kind="segment"]:checked {{ font-weight: 600; }}
QPushButton[kind="chip"] {{ background: {c["sunk"]}; border: 1px solid {c["hairline"]}; font-size: {chip}px;
    padding: 1px 7px; }}
QPushButton[kind="chip"]:hover {{ border-color: {c["ink"]}; }}
QPushButton[kind="chip"]:focus {{ border: 2px solid {c["ink"]}; padding: 0px 6px; }}
QPushButton[kind="option"] {{ background: {c["panel"]}; border: 1px solid {c["hairline"]}; text-align: left; padding: 0;
  min-height: 62px; }}
QPushButton[kind="option"]:hover {{ border-color: {c["ink"]}; background: {c["sunk"]}; }}
QPushButton[kind="option"]:checked {{ background: {c["field"]}; border: 2px solid {c["ink"]}; color: {c["ink"]}; }}
QPushButton[kind="way"] {{ background: {c["field"]}; border: 1px solid {c["outline"]}; text-align: left; padding: 0; }}
QPushButton[kind="way"]:hover {{ border-color: {c["ink"]}; }}
QPushButton[kind="way"]:checked {{ background: {c["panel"]}; border: 2px solid {c["ink"]}; }}
QPushButton[kind="way"]:focus {{ border: 2px solid {c["ink"]}; }}
QPushButton[kind="option"]:focus {{ border: 2px solid {c["ink"]}; }}
QLabel[role="small"] {{ font-size: {button}px; }}
QLabel[role="smallmuted"] {{ font-size: {button}px; color: {c["muted"]}; }}
QLabel[role="chip"] {{ font-size: {chip}px; font-weight: 600; }}
QPushButton[kind="plain"] {{ background: transparent; border: 1px solid transparent; font-size: {pixels("job")}px;
  padding: 1px 2px; }}
QPushButton[kind="plain"]:focus {{ border: 2px solid {c["ink"]}; }}
QPushButton[kind="unit"] {{ background: transparent; border: none; font-size: {status}px; font-weight: 400;
    padding: 0 3px;
  color: {c["muted"]}; min-height: 0; }}
QPushButton[kind="unit"]:checked {{ color: {c["ink"]}; font-weight: 700; background: transparent; }}
QPushButton[kind="unit"]:focus {{ border: 2px solid {c["ink"]}; }}
QComboBox, QLineEdit, QDoubleSpinBox {{ background: {c["field"]}; border: 1px solid {c["outline"]}; border-radius: 3px;
  padding: 2px 6px; min-height: 20px; font-weight: 600; font-size: {chip}px; selection-background-color: {c["ink"]};
  selection-color: {c["panel"]}; }}
QLineEdit {{ font-weight: 400; }}
QComboBox::drop-down {{ border: none; width: 22px; }}
QComboBox::down-arrow {{ image: url("{images}/down.svg"); width: 12px; height: 8px; }}
QDoubleSpinBox::up-button, QDoubleSpinBox::down-button {{ border: none; background: transparent; width: 18px; }}
QDoubleSpinBox::up-arrow {{ image: url("{images}/up.svg"); width: 12px; height: 8px; }}
QDoubleSpinBox::down-arrow {{ image: url("{images}/down.svg"); width: 12px; height: 8px; }}
QComboBox QAbstractItemView, QMenu, QListWidget {{ background: {c["panel"]}; border: 1px solid {c["outline"]};
  selection-background-color: {c["sunk"]}; selection-color: {c["ink"]}; outline: none; }}
QMenu::item {{ padding: 5px 22px 5px 14px; }}
QMenu::item:selected, QListWidget::item:selected {{ background: {c["sunk"]}; color: {c["ink"]}; }}
QMenu::separator {{ height: 1px; background: {c["hairline"]}; margin: 4px 8px; }}
QCheckBox {{ spacing: 8px; border: 2px solid transparent; }}
QCheckBox::indicator {{ width: 15px; height: 15px; border: 1px solid {c["outline"]}; border-radius: 2px;
    background: {c["field"]}; }}
QCheckBox::indicator:checked {{ background: {c["ink"]}; border-color: {c["ink"]}; image: url("{images}/tick.svg"); }}
QScrollArea, QScrollArea > QWidget > QWidget {{ background: transparent; border: none; }}
QScrollBar:vertical {{ background: transparent; width: 9px; margin: 0; }}
QScrollBar::handle:vertical {{ background: {c["hairline"]}; border-radius: 3px; min-height: 28px; margin: 1px 2px; }}
QScrollBar::add-line, QScrollBar::sub-line, QScrollBar::add-page, QScrollBar::sub-page {{ height: 0;
    background: transparent; }}
QToolTip {{ background: {c["panel"]}; color: {c["ink"]}; border: 1px solid {c["outline"]}; padding: 4px;
    font-size: {chip}px; }}
QTextBrowser {{ background: {c["panel"]}; border: 1px solid {c["hairline"]}; }}
QFrame#line {{ background: {c["hairline"]}; max-height: 1px; border: none; }}
"""
