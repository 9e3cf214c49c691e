"""Explaining a term where it stands."""

from typing import Any

from django import template

from ridgeback.help.terms import TERMS

register = template.Library()


@register.inclusion_tag("help/term.html", takes_context=True)
def term(context: dict[str, Any], slug: str, text: str = "") -> dict[str, Any]:
    """A term that a click explains: its own name, or `text` in its place.

    Each place on a page has its own key, since a term may stand on it more than once.
    """
    request = context.get("request")
    count = getattr(request, "explained_terms", 0) + 1
    if request is not None:
        request.explained_terms = count
    known = TERMS[slug]
    return {"term": known, "text": text or known.name, "key": f"{slug}-{count}"}
