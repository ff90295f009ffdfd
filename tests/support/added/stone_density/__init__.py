"""The density of a stone: weighed, then put under water. A small method that the tests add."""
