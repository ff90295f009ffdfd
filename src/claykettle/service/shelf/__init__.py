"""Use cases on what stands in the laboratory: the day and its room, instruments, procedures, substances."""
