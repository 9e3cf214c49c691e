"""Clauses of a description: where one statement ends, and what is denied, wished or asked in it."""

import re
from collections.abc import Sequence
from dataclasses import dataclass

from husbandry.review.vocabulary import Mention, mentions

_SENTENCE = re.compile(
    r"(?<!\bapprox)(?<!\bincl)(?<!\bca)(?<!\btemp)(?<!\bmax)(?<!\bmin)(?<!\bavg)[.](?=\s|$)|[;\n!?]+"
)
_CLAUSE = re.compile(
    r",(?!\d{3}\b|\d(?=\d?\s*(?:kg|m\b)))|\s+(?:and(?!\s+(?:night|evening|pm)\b)|but|plus|then|while|though)\s+|\s[&+]\s(?!(?:vit(?:amin)?\s*)?d3\b)|:\s(?=\w+\s\w+\s\w+)|\s[-–—]\s(?=\D)|[()]"
)
_NO = re.compile(
    r"\b(?:no|without|w/o|not|never|none|lacks?|lacking|missing|isn['’]?t|aren['’]?t|don['’]?t|doesn['’]?t"
    r"|didn['’]?t|hasn['’]?t|haven['’]?t|zero|nor|neither|skip(?:ped)?|stopped|removed|instead\s+of"
    r"|free\s+of|(?<![\d.])0(?![\d.]))\b"
)
_AFTER = re.compile(
    r"^\s*(?::\s*|-\s*|=\s*|–\s*)?(?:none|no(?=\s*(?:$|[,.;]))|nope|off\b|not\s+(?:used|needed|required|necessary|there|present|yet)"
    r"|is\s+(?:missing|absent|not)|isn['’]?t|is\s?n['’]t|aren['’]?t|are\s+not|wasn['’]?t)"
)
_LIST = re.compile(
    r"\b(?:no|without|neither|don['’]?t have|doesn['’]?t have)\s+[^.;\n!?]*?\b(?:or|nor)\b"
)
_WISH = re.compile(
    r"\b(?:plan(?:s|ned|ning)?\s+(?:to|on)|going\s+to|gonna|will\s+(?:get|add|buy|be\s+adding)|want(?:s|ing)?\s+to"
    r"|thinking\s+(?:of|about)|should\s+i|do\s+i\s+(?:need|have)|does\s+(?:it|he|she)\s+need|would\s+like"
    r"|considering|next\s+(?:week|month|year)|soon|on\s+order|ordered|saving\s+for|used\s+to|previously"
    r"|recommended|told\s+me\s+to|is\s+it\s+ok|not\s+sure|unsure|no\s+idea|don['’]?t\s+know|dunno|maybe|wondering)\b"
)
BETWEEN_MOST = 26
"""A denial reaches no further than that without another word for a thing (design choice)
[characters].
"""


@dataclass(frozen=True)
class Clause:
    """A piece of a sentence, by its place in the text."""

    start: int
    end: int
    sentence: int
    """Which sentence it is of."""
    text: str
    wished: bool
    """It is planned, asked or uncertain: it says nothing of what is there."""
    denied_list: bool
    """It stands in a list that begins with “no” and ends with “or”."""


def _pieces(
    text: str, pattern: re.Pattern[str], whole: Sequence[Mention] = ()
) -> list[tuple[int, int]]:
    """Where a pattern parts a text; not within a name: “black and white tegu”."""
    found = []
    begin = 0

    for match in pattern.finditer(text):
        if any(name.start < match.start() and match.end() < name.end for name in whole):
            continue
        found.append((begin, match.start()))
        begin = match.end()

    found.append((begin, len(text)))

    return [(start, end) for start, end in found if text[start:end].strip()]


def clauses(text: str) -> list[Clause]:
    """The clauses of a text in small letters, in its order."""
    found = []

    for n, (start, end) in enumerate(_pieces(text, _SENTENCE)):
        sentence = text[start:end]
        asks = text[end : end + 1] == "?" and not re.search(r"\d", sentence)
        lists = [(m.start(), len(sentence)) for m in _LIST.finditer(sentence)]
        for begin, stop in _pieces(sentence, _CLAUSE, mentions(sentence)):
            words = sentence[begin:stop]
            wished = asks or _WISH.search(words) is not None
            listed = any(low < begin for low, high in lists) and len(words.split()) <= 6
            found.append(Clause(start + begin, start + stop, n, words, wished, listed))

    return found


def denied(clause: Clause, start: int, end: int, before: int) -> bool:
    """Whether a mention in a clause is said not to be there.

    Parameters
    ----------
    start, end : int
        Its place in the clause.
    before : int
        Where the mention before it ends: a denial before that was that one's.
    """
    if clause.denied_list:
        return True
    reach = max(before, start - BETWEEN_MOST, 0)
    lead = clause.text[reach:start]
    said = list(_NO.finditer(lead))

    if said and not re.search(r"\b(?:only|just)\b", lead[: said[-1].start()][-8:]):
        return True

    return _AFTER.match(clause.text[end:]) is not None
