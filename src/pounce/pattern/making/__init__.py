"""Ways of making a pattern's pieces: printed on a bed, built of boards, cut from foam; what each takes and what each
costs.
"""
