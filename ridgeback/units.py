"""Units as they are written down beside what was typed or made in them."""

from husbandry.quantity import Units


def spelled(units: Units) -> str:
    """Such as “metric c” or “us f”."""
    return f"{units.system} {units.temperature}"


def unspelled(text: str) -> Units:
    """Units from how they were written down; metric where it cannot be read."""
    system, _, temperature = text.partition(" ")
    return Units("us" if system == "us" else "metric", "f" if temperature == "f" else "c")
