"""A household's own values: read for planning, changed one at a time or from a file.

Each write is one transaction.
"""

from collections.abc import Iterable, Mapping, Sequence

from django.db import transaction

from husbandry.species.library import find
from husbandry.species.profile import Profile
from husbandry.species.variant import Edit, EditResult, Variant, apply, sound, take_in
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.models import Household
from ridgeback.species_guide.models import ProfileEdits


def edits_of(household: Household, species: str | None = None) -> dict[str, tuple[Edit, ...]]:
    """Of a household, by species. Reads the prefetched rows where there are some."""
    rows: Iterable[ProfileEdits] = household.profile_edits.all()
    found = {
        row.species: sound(row.species, row.edits)
        for row in rows
        if species is None or row.species == species
    }
    return {name: edits for name, edits in found.items() if edits}


def profile_of(household: Household | None, species: str) -> Profile:
    """A species as this household keeps it."""
    profile = find(species)
    return (
        profile
        if household is None
        else apply(profile, edits_of(household, species).get(species, ()))
    )


def profiles_of(own: Mapping[str, tuple[Edit, ...]], species: Iterable[str]) -> dict[str, Profile]:
    """Several species with a household's edits that were read before."""
    return {name: apply(find(name), own.get(name, ())) for name in set(species)}


def _store(household: Household, species: str, edits: Sequence[Edit]) -> None:
    rows = [edit.model_dump(mode="json") for edit in edits]
    if rows:
        ProfileEdits.objects.update_or_create(
            household=household, species=species, defaults={"edits": rows}
        )
    else:
        ProfileEdits.objects.filter(household=household, species=species).delete()
    # What is planned for its animals is to be looked at again.
    Enclosure.objects.of(household).filter(
        occupancies__animal__species=species, occupancies__until__isnull=True
    ).update(looked_on=None)


def _locked(household: Household, species: str) -> tuple[Edit, ...]:
    Household.objects.select_for_update().get(pk=household.pk)
    row = ProfileEdits.objects.filter(household=household, species=species).first()
    return sound(species, row.edits) if row else ()


@transaction.atomic
def set_value(household: Household, species: str, edit: Edit) -> None:
    """Keep one value otherwise than the species guide.

    Raises `DocumentError` where the profile would be unsound, and nothing is changed.
    """
    kept = tuple(one for one in _locked(household, species) if one.at != edit.at)
    apply(find(species), (*kept, edit))
    _store(household, species, (*kept, edit))


@transaction.atomic
def revert(household: Household, species: str, at: str) -> bool:
    """Back to the species guide's value; every value for an empty pointer.

    False when nothing was edited there.
    """
    own = _locked(household, species)
    kept = tuple(one for one in own if at and one.at != at)
    if len(kept) == len(own):
        return False
    apply(find(species), kept)
    _store(household, species, kept)
    return True


@transaction.atomic
def import_variant(
    household: Household, variant: Variant, *, replace: bool
) -> tuple[EditResult, ...]:
    """Take in a file line by line; nothing of the household's own is overwritten unless `replace`
    says so.
    """
    own = _locked(household, variant.species)
    standing, lines = take_in(find(variant.species), own, variant.edits, replace=replace)
    if standing != own:
        _store(household, variant.species, standing)
    return lines
