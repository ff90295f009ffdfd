"""Who may come in, and as whom: accounts, sections, tablets at a bench, the board's link."""
