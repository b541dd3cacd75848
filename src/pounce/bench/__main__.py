"""``python -m pounce.bench``: the desktop itself. Spawned processes import this file too, hence the guard."""

if __name__ == "__main__":
    from pounce.bench.launch import begin

    start = begin()

    from pounce.bench.app import main

    main(start)
