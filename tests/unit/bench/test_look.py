"""The look keeps its promises: states told apart by every eye, text readable in a dusty shop."""

import itertools

import numpy as np
import pytest

from pounce.bench.look.tokens import COLOUR, CONTRAST
from pounce.bench.view3d.scene import COLOURS
from pounce.parting.values import State

# Simulation matrices for full protanopia, deuteranopia, tritanopia: Machado, Oliveira, Fernandes 2009 (from memory).
SIGHTS = {
    "normal": np.eye(3),
    "protan": np.array(
        [[0.152286, 1.052583, -0.204868], [0.114503, 0.786281, 0.099216], [-0.003882, -0.048116, 1.051998]]
    ),
    "deutan": np.array(
        [[0.367322, 0.860646, -0.227968], [0.280085, 0.672501, 0.047413], [-0.011820, 0.042940, 0.968881]]
    ),
    "tritan": np.array(
        [[1.255528, -0.076749, -0.178779], [-0.078411, 0.930809, 0.147602], [0.004733, 0.691367, 0.303900]]
    ),
}


def linear(colour: tuple[float, float, float]) -> np.ndarray:
    """Linear light of an sRGB colour (IEC 61966-2-1)."""
    c = np.asarray(colour, float)
    return np.where(c <= 0.04045, c / 12.92, ((c + 0.055) / 1.055) ** 2.4)


def lab(light: np.ndarray) -> np.ndarray:
    """CIELAB of linear sRGB light, white D65."""
    xyz = np.array([[0.4124, 0.3576, 0.1805], [0.2126, 0.7152, 0.0722], [0.0193, 0.1192, 0.9505]]) @ np.clip(
        light, 0, 1
    )
    t = xyz / np.array([0.9505, 1.0, 1.089])
    f = np.where(t > (6 / 29) ** 3, np.cbrt(t), t / (3 * (6 / 29) ** 2) + 4 / 29)
    return np.array([116 * f[1] - 16, 500 * (f[0] - f[1]), 200 * (f[1] - f[2])])


def contrast(a: str, b: str) -> float:
    """Contrast ratio of two #RRGGBB colours (WCAG 2)."""
    lights = []
    for text in (a, b):
        rgb = tuple(int(text[k : k + 2], 16) / 255 for k in (1, 3, 5))
        lights.append(float(linear((rgb[0], rgb[1], rgb[2])) @ np.array([0.2126, 0.7152, 0.0722])))
    return (max(lights) + 0.05) / (min(lights) + 0.05)


@pytest.mark.parametrize("sight", SIGHTS)
def test_the_draw_states_stay_apart_in_every_sight(sight: str) -> None:
    for a, b in itertools.combinations(State, 2):
        gap = np.linalg.norm(lab(SIGHTS[sight] @ linear(COLOURS[a])) - lab(SIGHTS[sight] @ linear(COLOURS[b])))
        assert gap > 41.0, (a.name, b.name)


@pytest.mark.parametrize("palette", [COLOUR, CONTRAST], ids=["usual", "contrast"])
def test_text_and_outlines_have_contrast_enough(palette: dict[str, str]) -> None:
    for ink, ground in itertools.product(("ink", "muted", "ochreInk", "brassInk"), ("paper", "panel", "sunk")):
        assert contrast(palette[ink], palette[ground]) >= 4.5, (ink, ground)
    assert contrast("#FFFFFF", palette["ember"]) >= 4.5
    for ground in ("paper", "panel", "field"):
        assert contrast(palette["outline"], palette[ground]) >= 3.0, ground
