"""Students' sheets made by arithmetic of their own: nothing here is taken from the program."""
