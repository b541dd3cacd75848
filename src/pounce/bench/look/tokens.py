"""Colours, sizes and type of the house: paper, chalk, pencil line and brass."""

from typing import Final

from PyQt6.QtGui import QColor, QFont

COLOUR: Final = {
    "paper": "#F5F0E6",
    "panel": "#FBF8F1",
    "sunk": "#EFE7D8",
    "field": "#FFFFFF",
    "ink": "#22303C",
    "muted": "#56646A",
    "hairline": "#D9CFBD",
    "outline": "#8F8268",
    "verdigris": "#2C7A73",
    "verdigrisInk": "#1F665F",
    "verdigrisWash": "#B9D3C9",
    "ochre": "#E2A63C",
    "ochreInk": "#7D5206",
    "damson": "#7A2E5D",
    "damsonDeep": "#3C0F2B",
    "ember": "#AE4017",
    "emberHot": "#D2682A",
    "steelFlat": "#B7C2C6",
    "steel": "#8FA3AD",
    "sand": "#D8C19A",
    "sandWash": "#F1E5CB",
    "sandDot": "#8A7143",
    "timber": "#E3D3B4",
    "brass": "#B08D4A",
    "brassInk": "#7A5C1E",
    "core": "#EBD7AC",
    "corePrint": "#DFC38B",
    "steelDeep": "#6B7E8B",
    "fillerThin": "#F1E9D7",
    "fillerThick": "#CCB389",
    "fillerMost": "#A68656",
}
# The same roles for those who need more contrast: pure ink on white, deeper fills, no washes.
CONTRAST: Final = COLOUR | {
    "paper": "#FFFFFF",
    "panel": "#FFFFFF",
    "sunk": "#FFFFFF",
    "ink": "#000000",
    "muted": "#1C2429",
    "hairline": "#6B6251",
    "outline": "#3D3728",
    "verdigris": "#0F5A53",
    "ochreInk": "#5A3A00",
    "ember": "#8A2A08",
    "brassInk": "#4E3A0F",
    "sandWash": "#FBF5E6",
    "sandDot": "#5E4B27",
}
_SIZES: Final = {
    "headline": (21, 600),
    "stopTitle": (21, 600),
    "job": (16, 600),
    "figure": (16, 700),
    "route": (15, 600),
    "lead": (17, 400),
    "body": (15, 400),
    "section": (15, 700),
    "secondary": (14, 400),
    "chip": (14, 600),
    "button": (13, 600),
    "dimension": (13, 400),
    "status": (13, 400),
}

TICKET, STATUS, ROUTE, CARD, SECTION, PITCH = 44, 24, 196, 312, 188, 50
_state = {"contrast": False, "scale": 1.0}


def set_contrast(on: bool) -> None:
    """Chooses the high-contrast variant for everything painted from now on."""
    _state["contrast"] = on


def set_scale(scale: float) -> None:
    """The system's text scale, 1.0 for the sizes of the design."""
    _state["scale"] = min(max(scale, 0.8), 3.0)


def hue(name: str) -> str:
    """The colour of a role as #RRGGBB."""
    return (CONTRAST if _state["contrast"] else COLOUR)[name]


def hues() -> dict[str, str]:
    """The colours of all roles as #RRGGBB."""
    return dict(CONTRAST if _state["contrast"] else COLOUR)


def colour(name: str, alpha: float = 1.0) -> QColor:
    """The colour of a role."""
    out = QColor(hue(name))
    out.setAlphaF(alpha)
    return out


def pixels(name: str) -> int:
    """Text size of a role in logical pixels."""
    return round(_SIZES[name][0] * float(_state["scale"]))


def font(name: str, italic: bool = False) -> QFont:
    """The typeface of a role; figures are tabular in Source Sans as it comes."""
    out = QFont("Source Sans Pro")
    out.setPixelSize(pixels(name))
    out.setWeight(QFont.Weight(_SIZES[name][1]))
    out.setItalic(italic)
    return out
