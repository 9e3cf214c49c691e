"""Keys for forms that are written by hand in a template."""

import uuid

from django import template
from django.utils.html import format_html
from django.utils.safestring import SafeString

register = template.Library()


@register.simple_tag
def form_key() -> SafeString:
    """A hidden field with a key of its own: the form is saved once, however often it is sent."""
    return format_html('<input type="hidden" name="form_key" value="{}">', uuid.uuid4())
