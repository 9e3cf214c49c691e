"""What a change costs to buy, at the guide prices of the shopping list."""

from husbandry.build_plan.shopping import PRICES_EUR, ShoppingLine, shopping
from husbandry.documents.request import Request
from husbandry.items.union import Item


def change_price_eur(before: Request, after: Request) -> float:
    """What of an enclosure after a change is not in it now [€].

    Items of one make are counted; a larger enclosure counts whole; a lamp of the same class that
    is renewed counts as bought.
    """
    had = {line.slug: line for line in shopping(before)}
    grown = before.enclosure.inside_m != after.enclosure.inside_m
    price = 0.0
    for line in shopping(after):
        if line.slug == "stand" or (line.slug == "enclosure" and not grown):
            continue
        if line.slug == "enclosure":
            price += line.guide_eur
        else:
            price += _more_eur(line, had.get(line.slug))
    known = {item.id: item for item in before.items}
    for item in after.items:
        if item.id in known:
            price += _renewed_eur(item, known[item.id])
    return round(price, 2)


def _more_eur(line: ShoppingLine, old: ShoppingLine | None) -> float:
    """What of a line was not there before [€]."""
    if old is None:
        return line.guide_eur
    if line.each_eur != old.each_eur:
        return max(line.guide_eur - old.guide_eur, 0.0)
    more = max(line.count - old.count, 0)
    return more * line.each_eur


def _renewed_eur(item: Item, then: Item) -> float:
    """A lamp of the same class that is new, and a cut-out that was not there [€]."""
    price = 0.0
    hours = item.burned_h or 0
    if item.is_uv and item.kind == then.kind and hours < (then.burned_h or 0):
        price += PRICES_EUR[item.kind]
    if _has_cut_out(item) and not _has_cut_out(then):
        price += PRICES_EUR["cut-out"]
    return price


def _has_cut_out(item: Item) -> bool:
    held = item.held
    return held is not None and held.cut_out_c is not None
