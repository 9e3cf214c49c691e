"""What a change costs to buy, at the guide prices of the shopping list."""

from husbandry.build_plan.shopping import PRICES_EUR, shopping
from husbandry.documents.request import Request


def change_price_eur(before: Request, after: Request) -> float:
    """What of an enclosure after a change is not in it now [€].

    Things of one make are counted; a larger enclosure counts whole; a lamp of the same class that
    is renewed counts as bought.
    """
    had = {line.slug: line for line in shopping(before)}
    grown = before.enclosure.inside_m != after.enclosure.inside_m
    price = 0.0
    for line in shopping(after):
        old = had.get(line.slug)
        if line.slug in {"enclosure", "stand"}:
            price += line.guide_eur if grown and line.slug == "enclosure" else 0.0
        elif old is None:
            price += line.guide_eur
        elif line.each_eur != old.each_eur:
            price += max(line.guide_eur - old.guide_eur, 0.0)
        else:
            price += max(line.count - old.count, 0) * line.each_eur
    for item in after.items:
        then = next((one for one in before.items if one.id == item.id), None)
        if then is None:
            continue
        renewed = item.is_uv and (item.burned_h or 0) < (then.burned_h or 0)
        price += PRICES_EUR[item.kind] if renewed and item.kind == then.kind else 0.0
        if item.held is not None and item.held.cut_out_c is not None:
            cut_before = then.held is not None and then.held.cut_out_c is not None
            price += 0.0 if cut_before else PRICES_EUR["cut-out"]
    return round(price, 2)
