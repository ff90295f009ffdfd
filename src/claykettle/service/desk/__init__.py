"""What students hand in."""
