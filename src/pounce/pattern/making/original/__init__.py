"""The original itself as the pattern."""
