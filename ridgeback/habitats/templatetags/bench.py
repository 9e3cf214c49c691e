"""Small helps for the bench's templates."""

from django import template

from ridgeback.habitats.forms import BenchForm

register = template.Library()


@register.simple_tag
def doubt(bench: BenchForm, name: str) -> str:
    """The question about a field's value, if it is unlikely."""
    return bench.doubt(name)
