"""Wood: boards, cut lists, rings of segments, turned pieces."""
