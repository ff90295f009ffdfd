"""Before the day: how large a sample, how much of everything else."""
