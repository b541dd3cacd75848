"""Job: every choice the user made and nothing computed; its edits, its history, its file.

``job`` the value; ``edits`` pure functions Job -> Job with a label; ``history`` undo and redo; ``file`` the ``.pounce``
container; ``migrations`` one step a format version.
"""
