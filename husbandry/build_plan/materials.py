"""What a build uses up: disinfectant, foam by the can, render, coats, sealant, liner, mesh.

Yields are common practice without a source: the label on the can wins. Method:
docs/methods/build-plan.md.
"""

import math

from husbandry.build_plan.shopping import ShoppingLine
from husbandry.build_plan.steps import Choices, tasks_of
from husbandry.documents.request import Request

FOAM_M, FOAM_WASTE = 0.05, 1.25
"""Depth of a carved background, and foam over what stays of it (common practice) [m, 1]."""
CAN_L = 40.0
"""Foam out of a can of 750 ml (common practice: 35 to 45) [l]."""
RENDER_KG_M2, RENDER_BAG_KG = 8.0, 5.0
"""Three thin coats of render with fibre, 4 mm in all, and a bag of it (common practice) [kg/m², kg]."""
LACQUER_M2_L, COATS = 10.0, 2
"""A litre of waterborne lacquer covers that once, and it is coated twice (common practice) [m²/l]."""
SEAM_M_CARTRIDGE = 12.0
"""Seam out of a cartridge of 310 ml, as a fillet of 4 to 5 mm (common practice) [m]."""
LINER_UP_M = 0.08
"""A liner stands up the sides so far above the substrate (common practice) [m]."""
EACH_EUR = {
    "disinfectant": 14.0,
    "mite treatment": 12.0,
    "foam": 9.0,
    "render": 11.0,
    "lacquer": 22.0,
    "sealant": 9.0,
    "liner": 6.0,
    "drain mesh": 5.0,
    "grout": 10.0,
}
"""Guide prices, 2026 (common practice) [€ each: can, bag, litre, cartridge, m²]."""


def build_materials(request: Request, choices: Choices) -> tuple[ShoppingLine, ...]:
    """What the steps of this build use up, in whole cans, bags and cartridges."""
    steps = {task.slug for task in tasks_of(request, choices)}
    inside = request.enclosure.inside_m
    floor_m2 = inside.length * inside.depth
    back_m2 = inside.length * inside.height
    walls_m2 = back_m2 + 2 * inside.depth * inside.height
    seams_m = 2 * (inside.length + inside.depth) + 4 * inside.height
    found: list[ShoppingLine] = []

    def add(slug: str, name: str, amount: float, rule: str) -> None:
        count = max(math.ceil(amount - 1e-9), 1)
        found.append(
            ShoppingLine(slug, name, count, waits=False, each_eur=EACH_EUR[slug], rule=rule)
        )

    if "strip" in steps:
        add("disinfectant", "veterinary disinfectant, a bottle", 1, "for two rounds")
    if "mites" in steps:
        add("mite treatment", "treatment against mites", 1, "one treatment")
    if "foam" in steps:
        litres = 1000 * back_m2 * FOAM_M * FOAM_WASTE
        rule = f"{litres:.0f} l of foam, {CAN_L:g} l out of a can"
        add("foam", "expanding foam, a can", litres / CAN_L, rule)
    if "render" in steps:
        kilograms = RENDER_KG_M2 * back_m2
        rule = f"{kilograms:.0f} kg for the back, {RENDER_BAG_KG:g} kg a bag"
        add("render", "cement render with fibre, a bag", kilograms / RENDER_BAG_KG, rule)
    if "coat" in steps:
        area = (back_m2 if choices.foam else walls_m2 + floor_m2) * COATS
        rule = f"{area:.1f} m² in {COATS} coats, {LACQUER_M2_L:g} m² a litre"
        add("lacquer", "waterborne lacquer, a litre", area / LACQUER_M2_L, rule)
    if "tiles" in steps:
        add("grout", "tile adhesive and grout, a bag", floor_m2, "a bag for each m² of floor")
    if "seal" in steps:
        rule = f"{seams_m:.1f} m of seams, {SEAM_M_CARTRIDGE:g} m a cartridge"
        add("sealant", "sealant without fungicide, a cartridge", seams_m / SEAM_M_CARTRIDGE, rule)
    if "liner" in steps:
        up = request.enclosure.substrate.deepest_m + LINER_UP_M
        area = (inside.length + 2 * up) * (inside.depth + 2 * up)
        add("liner", "liner for moist substrate, a square metre", area, f"{area:.1f} m²")
    if "drain" in steps:
        add("drain mesh", "mesh over the drained layer, a square metre", floor_m2, "of the floor")
    return tuple(found)
