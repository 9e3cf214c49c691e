"""Small helps for the templates of an enclosure."""

from typing import Any

from django import template
from django.core.serializers.json import DjangoJSONEncoder
from django.utils.html import json_script
from django.utils.safestring import SafeString

from ridgeback.enclosures.forms import LayoutForm

register = template.Library()


@register.simple_tag
def doubt(layout: LayoutForm, name: str) -> str:
    """The question about a field's value, if it is unlikely."""
    return layout.doubt(name)


class _Compact(DjangoJSONEncoder):
    """Without a space after each number."""

    def __init__(self, **options: Any) -> None:
        super().__init__(**{**options, "separators": (",", ":")})


@register.filter
def compact_json(value: object, element_id: str) -> SafeString:
    """As `json_script`, a sixth shorter: a grid has hundreds of numbers."""
    return json_script(value, element_id, encoder=_Compact)
