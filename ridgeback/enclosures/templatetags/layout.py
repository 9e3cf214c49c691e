"""Small helps for the layout editor's templates."""

from django import template

from ridgeback.enclosures.forms import LayoutForm

register = template.Library()


@register.simple_tag
def doubt(layout: LayoutForm, name: str) -> str:
    """The question about a field's value, if it is unlikely."""
    return layout.doubt(name)
