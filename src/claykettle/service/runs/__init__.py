"""Use cases on runs: start, record, sign, open and take along, ask for suspects."""
