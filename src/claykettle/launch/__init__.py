"""Sets the machine up, starts and stops the private server and the application. Only the launcher uses it."""
