"""A stop of the route that only the tests have: what a new one costs."""
