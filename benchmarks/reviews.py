"""Second look: reading a description, judging it, putting it right, and its page beside an empty view.

DATABASE_URL=$(bin/pg start) .venv/bin/python -m benchmarks.reviews
"""

import datetime as dt
import statistics
import time

from benchmarks.site import site
from benchmarks.timing import table, timed
from husbandry.review.describe import described
from husbandry.review.review import review

NOW = dt.datetime(2026, 6, 1, 12, tzinfo=dt.UTC)
PARSE_MOST_MS = 50.0
TEXTS = (
    "Bearded dragon 2 years old, 40 gallon breeder, 100 W basking bulb, basking at 95F, no UVB,"
    " sand, two hides, crickets every day",
    "Adult ball python 1600 g in a 4x2x2 ft PVC enclosure, heat panel 80 W on a thermostat, warm"
    " end 31C, cool end 25C, humidity 60%, coir, two hides, medium rat every two weeks",
    "Crested gecko in a 45x45x60 glass terrarium, 100 W bulb, never misted, humidity 35%, baby food",
    "Axolotl in a 20 gallon long tank, gravel, water 76F, bloodworms daily",
    "Two male panther chameleons in a mesh cage 60x60x120 cm, 60W bulb, T5 6% UVB, misted 3x daily",
)


def median_ms(times: int, *texts: str, correct: bool | None = None) -> tuple[float, float]:
    """Median and worst of reading texts, or of judging them where `correct` is said [ms]."""
    found = []
    for n in range(times):
        text = texts[n % len(texts)]
        said = described(text)
        began = time.perf_counter()
        if correct is None:
            described(text)
        else:
            review(said, NOW, correct=correct)
        found.append(1000 * (time.perf_counter() - began))
    return statistics.median(found), max(found)


def main() -> int:
    """Measure and print."""
    described(TEXTS[0])
    novel = " ".join(TEXTS * 9)
    parsed, worst = median_ms(200, *TEXTS)
    whole, _ = median_ms(10, novel)
    judged, slowest = median_ms(25, *TEXTS, correct=False)
    corrected, longest = median_ms(5, *TEXTS, correct=True)
    print(f"a description read: {parsed:.1f} ms in the median, {worst:.1f} at the worst")
    print(f"{len(novel):,} characters read: {whole:.0f} ms")
    print(f"judged: {judged:.0f} ms in the median, {slowest:.0f} at the worst")
    print(f"judged and corrected: {corrected:.0f} ms in the median, {longest:.0f} at the worst")
    with site() as client:
        client.post("/second-look/", {"text": TEXTS[0]})
        from ridgeback.reviews import flows
        from ridgeback.reviews.models import EnclosureReview

        own = EnclosureReview.objects.latest("pk")
        flows.judged(own, correct=True)
        address = f"/second-look/{own.pk}/"
        client.get(f"{address}correction/")
        reference = timed("empty view, signed in", lambda: client.get("/empty/"), 100)
        rows = [
            (timed("a review's page, judged before", lambda: client.get(address), 50), None),
            (timed("its correction", lambda: client.get(f"{address}correction/"), 50), None),
            (timed("the list of reviews", lambda: client.get("/second-look/"), 50), None),
        ]
        met = table(reference, rows)
    return 0 if met and parsed < PARSE_MOST_MS else 1


if __name__ == "__main__":
    raise SystemExit(main())
