"""Tokens, style sheet, typeface, marks and icon."""
