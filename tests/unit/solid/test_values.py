"""What a feature says of itself, in both units."""

import numpy as np
import pytest

from pounce.solid.features.values import Feature, Kind


def feature(kind: Kind, **more: object) -> Feature:
    plain: dict[str, object] = {"radius_mm": 0.0, "low_mm": 0.0, "high_mm": 0.0, "area_mm2": 1.0, "misfit_mm": 0.0}
    return Feature(kind, np.arange(3), np.array([0.0, 0, 1]), np.zeros(3), **(plain | more))  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("one", "mm", "inch"),
    [
        (feature("plane", size_mm=(40.0, 25.4)), "face 40 mm by 25.4 mm", "face 1.575 in by 1 in"),
        (feature("bore", radius_mm=6.35, through=True), "bore 12.7 mm, through", "bore 0.5 in, through"),
        (
            feature("bore", radius_mm=5.0, low_mm=-4.0, high_mm=8.0),
            "bore 10 mm, 12 mm deep",
            "bore 0.394 in, 0.472 in deep",
        ),
        (feature("boss", radius_mm=12.7), "boss 25.4 mm", "boss 1 in"),
        (feature("ball", radius_mm=12.7), "ball 25.4 mm", "ball 1 in"),
        (feature("fillet", radius_mm=3.0), "inside corner of radius 3 mm", "inside corner of radius 0.118 in"),
        (feature("rounding", radius_mm=3.0), "rounded edge of radius 3 mm", "rounded edge of radius 0.118 in"),
        (feature("relief", height_mm=0.8), "marks raised 0.8 mm", "marks raised 0.0315 in"),
        (feature("relief", height_mm=-0.8), "marks sunk 0.8 mm", "marks sunk 0.0315 in"),
    ],
)
def test_words(one: Feature, mm: str, inch: str) -> None:
    assert _plain(one.words("mm")) == _plain(mm)
    assert _plain(one.words("in")) == _plain(inch)


def _plain(text: str) -> str:
    """Figures and words alone: how a unit is spaced and a nought kept is the unit room's affair."""
    return text.replace("\u202f", " ").replace("\u00a0", " ").replace(".0 ", " ")


def test_a_cone_tells_its_whole_angle() -> None:
    words = feature("cone", radius_mm=10.0, half_angle_deg=5.0).words()
    assert "10" in words and "20" in words and words.startswith("cone of")


def test_what_fits_badly_says_how_badly() -> None:
    assert "fits within" not in feature("boss", radius_mm=4.0).words()
    assert "fits within" in feature("boss", radius_mm=4.0, exact=False, misfit_mm=0.2).words()


def test_length_and_whole_turn() -> None:
    one = feature("boss", low_mm=-3.0, high_mm=9.5, turned_deg=349.0)
    assert one.length_mm == 12.5 and not one.full
    assert feature("boss").full
