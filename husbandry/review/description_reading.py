"""Read a description: every clause is looked through for what it names and for its numbers, and
they are put together into facts. Nothing is assumed here.
"""

import re
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from typing import Any

from husbandry.errors import EntryError
from husbandry.review.clauses import Clause, clauses, denied
from husbandry.review.description import (
    TEXT_MOST,
    Contradiction,
    Description,
    FactName,
    Understood,
)
from husbandry.review.numbers import Number, Quantity, numbers, paces, with_digits
from husbandry.review.vocabulary import Mention, filling, mentions
from husbandry.species.library import library
from husbandry.species.profile import Profile

SAME_LENGTH = str.maketrans({"’": "'", "“": '"', "”": '"', "×": "x", "–": "-", "—": "-", "º": "°"})


@dataclass
class Statement:
    """A clause with what it names and its numbers; what is taken out of it is not read twice."""

    clause: Clause
    names: list[Mention]
    numbers: list[Number]
    paces: list[Number]
    used: list[tuple[int, int]] = field(default_factory=list)

    @property
    def text(self) -> str:
        """The words of the clause."""
        return self.clause.text

    def denied(self, name: Mention) -> bool:
        """Whether it says that this is not there."""
        before = max((one.end for one in self.names if one.end <= name.start), default=0)
        return denied(self.clause, name.start, name.end, before)

    def of(self, *facts: str) -> list[Mention]:
        """What it names of these."""
        return [name for name in self.names if name.fact in facts]

    def numbers_of(self, *quantities: Quantity) -> list[Number]:
        """Its numbers of these kinds that are not taken yet."""
        return [number for number in self.numbers if number.quantity in quantities]

    def nearest(self, name: Mention | None, *quantities: Quantity) -> Number | None:
        """The number of such a kind nearest to a name, or the first; not taken yet."""
        free = self.numbers_of(*quantities)

        if not free:
            return None

        if name is None:
            return free[0]

        return min(free, key=lambda number: _distance(name, number))

    def take(self, number: Number) -> Number:
        """Take a number, so that nothing else reads it."""
        if number in self.numbers:
            self.numbers.remove(number)

        if number in self.paces:
            self.paces.remove(number)
        self.use(number.start, number.end)

        return number

    def use(self, start: int, end: int) -> None:
        """Mark a piece of the clause as understood."""
        self.used.append((start, end))

    def pace(self, name: Mention | None) -> Number | None:
        """How often: the pace nearest to a name, or the first."""
        if not self.paces:
            return None

        if name is None:
            return self.paces[0]
        return min(self.paces, key=lambda pace: _distance(name, pace))


def _distance(name: Mention, number: Number) -> int:
    return max(number.start - name.end, name.start - number.end, 0)


@dataclass
class Reading:
    """A description as it grows, with what was understood of the text."""

    statements: list[Statement]
    facts: dict[str, Any] = field(default_factory=dict)
    understood: list[Understood] = field(default_factory=list)
    contradictions: list[Contradiction] = field(default_factory=list)
    sentences: dict[int, list[Statement]] = field(default_factory=dict)
    food_sizes: dict[str, str] = field(default_factory=dict)
    """By food, how large it is."""

    def mark(self, statement: Statement, fact: FactName, *pieces: Mention | Number) -> None:
        """Note which pieces of a clause were taken for what."""
        for piece in pieces:
            start = statement.clause.start + piece.start
            statement.use(piece.start, piece.end)
            self.understood.append(
                Understood(start=start, end=statement.clause.start + piece.end, fact=fact)
            )

    def _of_sentence(self, statement: Statement) -> list[Statement]:
        """The clauses of the sentence of a clause, in their order."""
        if not self.sentences:
            for one in self.statements:
                self.sentences.setdefault(one.clause.sentence, []).append(one)
        return self.sentences[statement.clause.sentence]

    def sentence_of(self, statement: Statement, *facts: str) -> list[Mention]:
        """What the whole sentence of a clause names of these."""
        return [name for other in self._of_sentence(statement) for name in other.of(*facts)]

    def sentences_text(self, statement: Statement) -> str:
        """The text of the first clause of its sentence."""
        return self._of_sentence(statement)[0].text

    def last_of(self, statement: Statement, *facts: str) -> Mention | None:
        """What was named last of these, up to a clause in its sentence."""
        found = None

        for other in self._of_sentence(statement):
            if other.clause.start <= statement.clause.start:
                found = next(iter(other.of(*facts)[-1:]), found)

        return found

    @property
    def profile(self) -> Profile | None:
        """Of the animal that was read; None before that, and for one that the guide does not know."""
        animal = self.facts.get("animal")
        return library().get(getattr(animal, "species", None) or "")

    def contradict(self, fact: FactName, text: str) -> None:
        """Note that two things cannot both be, once each."""
        found = Contradiction(fact=fact, text=text)
        if found not in self.contradictions:
            self.contradictions.append(found)


Reader = Callable[[Reading], None]


def statement_of(clause: Clause) -> Statement:
    """A clause looked through: its names, and its numbers outside of them."""
    names = mentions(clause.text)
    found = list(paces(clause.text))
    blocked = [(name.start, name.end) for name in names]
    blocked += [(pace.start, pace.end) for pace in found]
    kept = [n for n in numbers(clause.text) if not _inside(n, blocked)]

    return Statement(clause, names, kept, found)


def _inside(number: Number, pieces: Iterable[tuple[int, int]]) -> bool:
    return any(start <= number.start and number.end <= end for start, end in pieces)


def prepared(text: str) -> str:
    """The text in small letters with plain signs, every character in its place.

    Raises
    ------
    EntryError
        Where it is empty or far too long.
    """
    if not text.strip():
        raise EntryError("Paste or write what was said of the enclosure.")

    if len(text) > TEXT_MOST:
        raise EntryError(
            f"That is {len(text):,} characters. Paste the paragraphs that describe one enclosure:"
            f" at most {TEXT_MOST:,}.".replace(",", " ")
        )
    small = "".join(c if len(c.lower()) != 1 else c.lower() for c in text)
    plain = re.sub(
        r"(?<=[a-z]{3}\s)x(?=\d)(?!\d+\s*(?:daily|weekly|/|a |per ))",
        " ",
        small.translate(SAME_LENGTH),
    )
    plain = re.sub(r"\?(?=\s*(?:no|none|nope|yes|yep|yeah)\b)", ":", plain)  # “stat? no”

    return with_digits(plain)


def statements_of(text: str) -> list[Statement]:
    """The clauses of a text, each looked through."""
    return [statement_of(clause) for clause in clauses(prepared(text))]


_TOKEN = re.compile(r"[a-z][a-z'-]+|\d+(?:[.,]\d+)?")


def left_over(statement: Statement, original: str) -> str:
    """The words of a clause of which something that matters was not understood; empty otherwise."""
    for token in _TOKEN.finditer(statement.text):
        if token[0].replace("'", "") in filling("clause"):
            continue
        if len(token[0]) < (3 if token[0].isalpha() else 2):
            continue
        named = ((name.start, name.end) for name in statement.names)
        pieces = (*statement.used, *named)
        if not any(start < token.end() and token.start() < end for start, end in pieces):
            return original[statement.clause.start : statement.clause.end].strip()
    return ""


def _whole_word(text: str, mark: Understood) -> Understood:
    """A number that was said as a word is marked to its end: its digits are shorter."""
    end = mark.end

    while end < len(text) and text[end - 1].isalpha() and text[end].isalpha():
        end += 1
    return mark.model_copy(update={"end": end})


def read_with(text: str, readers: Iterable[Reader]) -> Description:
    """A description of what a text says, by these readers in their order.

    Raises
    ------
    EntryError
        Where the text is empty or far too long.
    """
    reading = Reading(statements_of(text))

    for reader in readers:
        reader(reading)

    plain = [statement for statement in reading.statements if not statement.clause.wished]
    wished = [statement for statement in reading.statements if statement.clause.wished]
    missed = [left_over(statement, text) for statement in plain]
    aside = [text[one.clause.start : one.clause.end].strip() for one in wished if one.names]
    whole = {_whole_word(text, one) for one in reading.understood}
    marks = sorted(whole, key=lambda one: (one.start, one.end))

    return Description.model_validate(
        {
            **reading.facts,
            "text": text,
            "understood": marks,
            "not_understood": [words for words in dict.fromkeys(missed) if words],
            "set_aside": list(dict.fromkeys(aside)),
            "contradictions": reading.contradictions,
        }
    )
