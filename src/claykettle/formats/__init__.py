"""Open formats in and out: the run file, its evaluation, CSV."""
