"""Settings: a base and small differences for local use, tests and production."""
