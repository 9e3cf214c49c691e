"""For all tests: what is loaded at the start stays, and is not looked through for garbage again."""

import gc

COLLECT_AFTER = (20_000, 20, 50)
"""Allocations before a collection: a run makes many small documents that live for one test."""


def pytest_collection_finish() -> None:
    """Freeze what collecting the tests has loaded."""
    gc.collect()
    gc.freeze()
    gc.set_threshold(*COLLECT_AFTER)
