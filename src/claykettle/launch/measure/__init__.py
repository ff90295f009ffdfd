"""`kettle bench`: how fast things are, as ratios to what they are built on, measured in one run on one machine."""
