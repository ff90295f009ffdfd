"""The class while it runs: the board, who is called, what is said to the benches, and what an instructor decides."""
