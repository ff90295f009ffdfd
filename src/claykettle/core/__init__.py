"""Rules and computation: pure Python, without interface, database, clock or random state of its own."""
