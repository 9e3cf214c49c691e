"""Schools of practice: named, coherent ways of keeping, chosen per animal and per question."""

import json
from dataclasses import dataclass
from importlib.resources import files
from types import MappingProxyType


@dataclass(frozen=True)
class School:
    """One answer to a question on which keepers differ."""

    slug: str
    name: str
    why: str


@dataclass(frozen=True)
class Question:
    """A question on which keepers differ, with its answers."""

    slug: str
    text: str
    default: str
    schools: dict[str, School]

    def chosen(self, schools: dict[str, str]) -> School:
        """The keeper's school for this question, or the default."""
        return self.schools[schools.get(self.slug, self.default)]


def _load() -> dict[str, Question]:
    data = json.loads(files("husbandry.species").joinpath("schools.json").read_text(encoding="utf-8"))
    return {
        slug: Question(slug, q["question"], q["default"], {s: School(s, v["name"], v["why"]) for s, v in q["schools"].items()})
        for slug, q in data.items()
    }


QUESTIONS = MappingProxyType(_load())
