"""Choosing between approaches in forms: one field a question, the usual one marked, and only what
differs from it is kept.
"""

from collections.abc import Mapping

from django import forms

from husbandry.species.approaches import QUESTIONS


def approach_field(slug: str, chosen: Mapping[str, str]) -> forms.ChoiceField:
    """A question as a list of its approaches."""
    asked = QUESTIONS[slug]
    choices = [
        (s.slug, s.name + (" (usual)" if s.slug == asked.default else ""))
        for s in asked.approaches.values()
    ]
    return forms.ChoiceField(label=asked.text, choices=choices, initial=asked.chosen(chosen).slug)


def chosen_approaches(answers: Mapping[str, str]) -> dict[str, str]:
    """The answers that differ from the usual ones: what an animal or an enclosure keeps."""
    return {
        slug: approach for slug, approach in answers.items() if approach != QUESTIONS[slug].default
    }
