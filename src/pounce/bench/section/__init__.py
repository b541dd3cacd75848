"""The sand section: the cut through the mould as a sketch."""
