"""How the command line refuses what it cannot use: reasons as JSON on standard error."""

import json
import sys

from husbandry.errors import Problem


def refuse(problems: list[Problem]) -> int:
    """Say why something cannot be used, and give the exit status for it."""
    found = [{"pointer": one.pointer, "reason": one.reason} for one in problems]
    json.dump({"problems": found}, sys.stderr, ensure_ascii=False, indent=2)
    sys.stderr.write("\n")
    return 2
