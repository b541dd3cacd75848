"""Sheet: paper for the shop. ``shop`` lays out the one-page shop sheet; ``drawing`` the section sketches and marks."""
