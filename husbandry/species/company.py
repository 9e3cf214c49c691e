"""Which animals should not share an enclosure or a pen."""

from collections.abc import Iterator, Mapping, Sequence
from typing import NamedTuple

from husbandry.species.profile import Profile


class CompanyMember(NamedTuple):
    """One of several that are to share."""

    species: str
    stage: str
    length_m: float
    sex: str


def reasons_apart(
    members: Sequence[CompanyMember], profiles: Mapping[str, Profile], *, where: str = "enclosure"
) -> list[str]:
    """Why animals should not share: alone by nature, too many, two males, too unlike in size, of two
    kinds, or the young of grown ones.

    Parameters
    ----------
    where : str
        What they share, as it is said.
    """
    if len(members) < 2:
        return []
    said: list[str] = []
    if len({member.species for member in members}) > 1:
        said.append(
            f"Two species share this {where}: each may carry what harms the other, and the larger"
            f" eats the smaller. One species to {'an' if where[0] in 'aeiou' else 'a'} {where}."
        )
    for species in dict.fromkeys(member.species for member in members):
        mine = [member for member in members if member.species == species]
        said += _of_one_species(mine, profiles[species], where)

    return said


def _of_one_species(mine: Sequence[CompanyMember], profile: Profile, where: str) -> Iterator[str]:
    """Why these of one species should not share."""
    rules = profile.company
    males, females = (sum(one.sex == sex for one in mine) for sex in ("male", "female"))
    lengths = [one.length_m for one in mine]
    grown = [one for one in mine if one.stage == profile.grown.slug]
    if len(mine) > 1 and rules.manner == "alone":
        yield f"The {profile.name} is kept alone: animals kept together maim each other."
    elif len(mine) > rules.most:
        yield (
            f"Too many together: at most {rules.most} of this species share a{'n' * (where[0] in 'aeiou')}"
            f" {where} of the right size."
        )
    elif males > rules.males_most:
        yield f"{males} males together: at most {rules.males_most} of this species."
    ratio = rules.females_per_male
    if (
        len(mine) > 1
        and ratio
        and males
        and males + females == len(mine)
        and females < ratio * males
    ):
        yield (
            f"{females} females to {males} male{'s' if males > 1 else ''}: at least {ratio:g} for each"
            " male of this species, or he gives them no rest."
        )
    if len(mine) > 1 and max(lengths) > rules.size_ratio_most * min(lengths):
        yield (
            f"The largest is {max(lengths) / min(lengths):.1f} times as long as the smallest, at most"
            f" {rules.size_ratio_most:g}: the larger takes the food, or the smaller itself."
        )
    if rules.eats_young and grown and len(grown) < len(mine):
        yield "Grown animals of this species eat or maim the young: apart at once."
