"""Everything that is worked out from light, away from the threads that answer requests."""
