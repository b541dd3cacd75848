"""What the bench shows of each stop of the route: one view a stop."""
