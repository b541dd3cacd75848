"""``python -m pounce`` is the same as the ``pounce`` command."""

from pounce.cli.entry import run

if __name__ == "__main__":
    run()
