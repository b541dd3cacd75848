"""All of the bench's own things in one file: flasks, crucibles, furnaces, ingot moulds, weights, printers, sands."""

from pathlib import Path

import msgspec

from pounce.base.errors import UserFault
from pounce.base.files import write_whole
from pounce.pour.things import Things, checked, own_things, write_things
from pounce.rig.flasks import Flask, own_flasks, write_flasks
from pounce.rig.flasks import checked as checked_flask

SCHEMA = "pounce.bench/1"


class Bench(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """The file."""

    schema: str = SCHEMA
    flasks: tuple[Flask, ...] = ()
    things: Things = Things()


def export_bench(path: Path) -> Path:
    """Writes the bench's own things. UserFault for lists that cannot be read, or a folder that takes none."""
    made = Bench(SCHEMA, own_flasks(), own_things())
    try:
        write_whole(path, msgspec.json.format(msgspec.json.encode(made), indent=1))
    except OSError as error:
        raise UserFault(f"Your bench cannot be written ({error.strerror}).", "Choose another folder.") from error
    return path


def import_bench(path: Path) -> Bench:
    """Takes the things of a file for the bench's own; what it does not name stays. UserFault for one that is none."""
    try:
        found = msgspec.json.decode(path.read_bytes(), type=Bench)
    except (OSError, msgspec.DecodeError) as error:
        raise UserFault(f"'{path.name}' holds no bench ({error}).", "Take a file that Pounce wrote.") from None
    if found.schema != SCHEMA:
        raise UserFault(f"'{path.name}' is of another kind ({found.schema}).", "Take a file that Pounce wrote.")
    for flask in found.flasks:
        checked_flask(flask)
    own, new = own_things(), checked(found.things)
    whole = Things(
        new.crucibles or own.crucibles,
        new.furnaces or own.furnaces,
        new.ingots or own.ingots,
        new.weights_kg or own.weights_kg,
        new.printers or own.printers,
        new.sands or own.sands,
    )
    write_things(whole)
    if found.flasks:
        write_flasks(found.flasks)
    return found
