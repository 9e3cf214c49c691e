"""How a web process begins."""

import gc

from ridgeback.operations import server


def test_what_a_process_began_with_is_never_looked_through_for_garbage() -> None:
    before = gc.get_freeze_count()
    kept: list[list[int]] = [[]]  # lives when the process begins
    try:
        server.post_worker_init(None)
        assert gc.get_freeze_count() > before
        assert not any(one is kept for one in gc.get_objects())
    finally:
        if not before:
            gc.unfreeze()
