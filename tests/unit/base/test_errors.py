"""Sentences of faults, whatever they quote."""

import os

from pounce.base.errors import MOST_SAID, UserFault, tidy


def test_a_fault_says_what_and_what_to_try() -> None:
    assert str(UserFault("It is broken.", "Mend it.")) == "It is broken. Mend it."


def test_a_long_quotation_is_cut_in_the_middle_and_keeps_its_ends() -> None:
    said = UserFault(f"'{'x' * 100_000}' is no word.", "Try another.").what
    assert len(said) <= MOST_SAID
    assert said.startswith("'xxx") and said.endswith("is no word.")


def test_control_characters_and_bytes_that_are_no_text_are_written_as_escapes() -> None:
    name = os.fsdecode(b"caf\xe9\x1b[31m\n.stl")
    said = tidy(f"'{name}' cannot be read: größer als 5 µm.")
    assert said.isprintable() and said.encode()
    assert "\\x1b[31m\\n" in said and "größer als 5 µm" in said
