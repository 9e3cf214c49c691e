"""Which dated backups are kept: the last days, one a week before them, one a month before those."""

import datetime as dt
import re
from collections.abc import Iterable
from pathlib import Path

NAME = re.compile(r"ridgeback-(\d{4}-\d{2}-\d{2})-(\d{6})\.backup")


def name_at(moment: dt.datetime) -> str:
    """The name of a backup made at a moment."""
    return f"ridgeback-{moment:%Y-%m-%d-%H%M%S}.backup"


def day_of(file: Path) -> dt.date | None:
    """The day on which a backup was made; None for any other file."""
    match = NAME.fullmatch(file.name)
    if match is None:
        return None
    try:
        return dt.date.fromisoformat(match[1])
    except ValueError:
        return None


def superseded(
    files: Iterable[Path], today: dt.date, *, days: int, weeks: int, months: int
) -> list[Path]:
    """Backups that may go. The newest never does, nor does any file of another name.

    Parameters
    ----------
    days, weeks, months : int
        All of the last days are kept, the last of each week for so many weeks, and the last of each
        month for so many months.
    """
    dated = sorted(
        ((on, one) for one in files if (on := day_of(one)) is not None),
        key=lambda pair: pair[1].name,
        reverse=True,
    )
    kept: set[Path] = {one for _, one in dated[:1]}
    seen_weeks: set[tuple[int, int]] = set()
    seen_months: set[tuple[int, int]] = set()

    for on, one in dated:
        week, month = on.isocalendar()[:2], (on.year, on.month)
        age = (today - on).days
        if age < days:
            kept.add(one)
        if week not in seen_weeks and age < 7 * weeks:
            seen_weeks.add(week)
            kept.add(one)
        if month not in seen_months and age < 31 * months:
            seen_months.add(month)
            kept.add(one)

    return [one for _, one in dated if one not in kept]
