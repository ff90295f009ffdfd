"""Tables, sessions and migrations on MariaDB; no rules of the trade."""
