"""The library: reading every profile at the start, and finding among 2,000 generated ones against
an empty view.

    DATABASE_URL=$(bin/pg start) .venv/bin/python -m benchmarks.library

Targets: all profiles read in under a second; search and filter over 2,000 a few milliseconds more
than an empty view.
"""

import random
import subprocess
import sys
import time
from typing import TYPE_CHECKING
from unittest.mock import patch

from benchmarks.site import site
from benchmarks.timing import Timed, table, timed

if TYPE_CHECKING:
    from husbandry.species.profile import Profile

MANY = 2000
_SYLLABLES = (
    "va",
    "ni",
    "ro",
    "tes",
    "lu",
    "mi",
    "kar",
    "do",
    "phry",
    "sa",
    "go",
    "ler",
    "eu",
    "ble",
    "pha",
    "ris",
    "tor",
    "ma",
    "che",
    "lys",
)


def reading_s() -> float:
    """A new process that imports the core and reads the library, less one that only imports it [s]."""
    codes = (
        "import husbandry.species.library",
        "from husbandry.species.library import library; library()",
    )

    def once(code: str) -> float:
        began = time.perf_counter()
        subprocess.run([sys.executable, "-c", code], check=True)
        return time.perf_counter() - began

    least = [min(once(code) for _ in range(5)) for code in codes]
    return least[1] - least[0]


def generated(count: int) -> "list[Profile]":
    """Profiles of invented names: the shipped ones, their sizes and powers moved about."""
    from husbandry.species.library import library

    chance = random.Random(35)
    shipped = list(library().values())
    made = []
    for n in range(count):
        pattern = shipped[n % len(shipped)]
        genus, kind, common = (
            "".join(chance.choice(_SYLLABLES) for _ in range(3)) for _ in range(3)
        )
        names = (f"{common} of {genus}", kind)
        power = pattern.costs.power_w.model_copy(
            update={"high": pattern.costs.power_w.ends[1] + n % 50}
        )
        new = {
            "species": f"{genus.capitalize()} {kind}{n}",
            "name": f"{common} {pattern.name}",
            "other_names": names,
            "costs": pattern.costs.model_copy(update={"power_w": power}),
        }
        made.append(pattern.model_copy(update=new))
    return made


def main() -> int:
    """Measure and print."""
    read = reading_s()
    print(f"every profile is read in {read:.2f} s (target: under 1 s)\n")
    with site() as client:
        from husbandry.species.searching import Index
        from ridgeback.species_guide import views

        profiles = generated(MANY)
        began = time.perf_counter()
        many = Index.of(profiles)
        print(
            f"an index of {MANY} is made once, in {(time.perf_counter() - began) * 1000:.0f} ms\n"
        )
        asked = {
            "one common word": {"query": "gecko"},
            "one name, misspelled": {"query": "lepard gecko"},
            "nothing such": {"query": "zzqqyyx"},
            "what a household can give": {
                "length": "100 cm",
                "depth": "50 cm",
                "height": "60 cm",
                "prey": "on",
                "hottest": "28",
            },
            "both": {"query": "skink", "length": "150 cm", "power": "400"},
        }
        from husbandry.life_plan.suitability import facts_of
        from husbandry.quantity import METRIC
        from ridgeback.species_guide.forms import OfferForm
        from ridgeback.species_guide.presenting import found

        for profile in profiles:
            facts_of(profile)  # once in a process
        reference = timed("an empty view", lambda: client.get("/empty/"), 60)
        rows: list[tuple[Timed, float | None]] = []
        for name, data in asked.items():

            def finding(data: dict[str, str] = data) -> object:
                form = OfferForm(data, units=METRIC)
                form.is_valid()
                return found(many, data.get("query", ""), form.offer())

            rows.append((timed(f"finding: {name}", finding, 40), 8.0))
        views.index.cache_clear()
        with patch.object(views, "index", lambda: many):  # the page, over as many
            for name, data in asked.items():

                def opened(data: dict[str, str] = data) -> object:
                    return client.get("/species/", data, headers={"HX-Request": "true"})

                rows.append((timed(f"the page: {name}", opened, 20), None))
        good = table(reference, rows)
    return 0 if good and read < 1.0 else 1


if __name__ == "__main__":
    raise SystemExit(main())
