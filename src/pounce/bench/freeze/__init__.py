"""The Freeze board: the mould from above and cut, in nine bands from what sets first to what sets last."""
