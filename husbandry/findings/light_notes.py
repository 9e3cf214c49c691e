"""What is said of the light: plants in the dark, a dim basking place, no dim place, a day that is
not the species'.

Method: docs/methods/light.md.
"""

from husbandry.documents.result import Note
from husbandry.findings.planting import kind_of
from husbandry.items.furnishings import Hide
from husbandry.predict.light import (
    PLANT_LIGHT,
    basks,
    leaf_of,
    least_basking_lx,
    light_of,
    light_sources,
    plants_of,
)
from husbandry.predict.predict import Prediction
from husbandry.species.profile import Profile


def light_notes(prediction: Prediction, profile: Profile) -> list[Note]:
    """Plants in the dark, a dim basking place, no dim place, and a day that is not the species'."""
    dark = [
        Note(
            slug=f"plant {plant.id}",
            severity="care",
            values={"leaf_mol": leaf},
            text=(
                "A plant gets too little light to grow: move it nearer to a bar of white light, or"
                " take one that is not alive. Only species known to be harmless belong where an"
                " animal can bite them."
            ),
        )
        for plant in plants_of(prediction.request)
        if (leaf := leaf_of(prediction, plant))
        < (kind.light_mol if (kind := kind_of(plant)) else PLANT_LIGHT[0][0])
    ]
    if not light_sources(prediction.request):
        return dark
    seen = light_of(prediction)
    span = profile.photoperiod_h.span
    found = dark
    least_lx = least_basking_lx(profile)
    if basks(profile) and seen.basking_lx < least_lx:
        text = (
            "Dim for an animal that basks by day: brightness belongs where the warmth is. A bar of"
            " white light brings it there; ultraviolet tubes alone are dim."
        )
        values = {"lux": seen.basking_lx, "least_lx": least_lx}
        found.append(Note(slug="dim basking", severity="care", text=text, values=values))
    if (
        basks(profile)
        and seen.dim_share == 0
        and not any(isinstance(t, Hide) for t in prediction.request.items)
    ):
        text = (
            "Nowhere along the enclosure is dim, and there is no hide: leave one end without a"
            " lamp, or give it shade."
        )
        found.append(
            Note(slug="no dim place", severity="care", text=text, values={"lux": seen.cool_lx})
        )
    low = span.low or 0.0
    high = span.high or 24.0
    if seen.hours > high + 0.75 or seen.hours < low - 0.75:
        text = (
            f"The lamps are lit for {seen.hours:.1f} h a day; this species' day is {low:g} to"
            f" {high:g} h, longer in summer than in winter."
        )
        found.append(
            Note(slug="length of day", severity="care", text=text, values={"hours": seen.hours})
        )

    return found
