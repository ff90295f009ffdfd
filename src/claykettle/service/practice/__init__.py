"""Practice: the place where an account rehearses, and the simulated benches in it."""
