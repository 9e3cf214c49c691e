"""Queueing a task by its name: an app need not know the module that works at it."""

from typing import Any

from procrastinate.contrib.django import app


def defer(task: str, **arguments: Any) -> None:
    """Queue a task in the present transaction."""
    app.configure_task(task).defer(**arguments)
