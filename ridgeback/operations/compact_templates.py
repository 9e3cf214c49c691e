"""Templates are indented for who reads them; the indentation is not sent."""

import re

from django.template import Origin
from django.template.loaders import filesystem

INDENTATION = re.compile(r"\s*\n\s*")


class Loader(filesystem.Loader):
    """Reads templates from the project's folders and joins the lines of HTML with one space.

    A line break and a space are the same to a browser, so nothing looks different. `<pre>` keeps
    its text, as no template writes more than one line of it.
    """

    def get_contents(self, origin: Origin) -> str:
        """Give the text of a template, without its indentation where it is HTML."""
        contents = str(super().get_contents(origin))
        if not origin.name.endswith(".html"):
            return contents
        return INDENTATION.sub(" ", contents.strip())
