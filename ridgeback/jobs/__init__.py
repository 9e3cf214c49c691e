"""Long work in a queue that lives in PostgreSQL: shown with its progress, safe to kill and to run
again.
"""
