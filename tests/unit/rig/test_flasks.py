"""The bench's own flasks in their file."""

import msgspec
import pytest

from pounce.base.errors import UserFault
from pounce.rig.choices import FLASK
from pounce.rig.flasks import SAMPLE, Flask, flask_of, flasks_file, own_flasks, write_flasks


def test_a_sample_until_there_are_own_ones() -> None:
    assert own_flasks() == SAMPLE
    mine = (Flask("shed", "Shed box", "box", 250.0, 200.0, 70.0, 70.0, 3.0),)
    write_flasks(mine)
    assert own_flasks() == mine
    assert msgspec.json.decode(flasks_file().read_bytes())[0]["id"] == "shed"


@pytest.mark.parametrize(
    ("flask", "said"),
    [
        (Flask("a", "Tiny", "box", 10.0, 200.0, 70.0, 70.0, 3.0), "cannot be"),
        (Flask("", "Nameless", "box", 200.0, 200.0, 70.0, 70.0, 3.0), "cannot be"),
        (Flask("r", "Egg", "round", 200.0, 180.0, 70.0, 70.0, 3.0), "round but has two sizes"),
        (Flask("p", "Bucket", "can", 200.0, 200.0, 0.0, 200.0, 1.0, snap=True), "no pail opens"),
    ],
)
def test_flasks_that_cannot_be_are_refused(flask: Flask, said: str) -> None:
    with pytest.raises(UserFault, match=said):
        write_flasks((flask,))


@pytest.mark.parametrize(
    ("word", "shape", "kg", "snap"),
    [
        ("shed=300x220x75x75:4", "box", 4.0, False),
        ("shed=300x220x75x75:4:snap", "box", 4.0, True),
        ("shed=260x80x80:snap", "round", 0.0, True),
    ],
)
def test_a_flask_is_said_in_a_word(word: str, shape: str, kg: float, snap: bool) -> None:
    made = flask_of(word)
    assert (made.id, made.shape, made.kg, made.snap) == ("shed", shape, kg, snap)


def test_two_of_one_id_are_refused() -> None:
    with pytest.raises(UserFault, match="one id"):
        write_flasks((SAMPLE[0], SAMPLE[0]))


def test_a_file_that_cannot_be_read_is_said() -> None:
    flasks_file().parent.mkdir(parents=True, exist_ok=True)
    flasks_file().write_text("[{")
    with pytest.raises(UserFault, match="cannot be read"):
        own_flasks()
    # and neither the command nor the window fails to start over it
    assert set(FLASK.options()) == {"", *(one.id for one in SAMPLE)}
