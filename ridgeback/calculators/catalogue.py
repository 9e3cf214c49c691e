"""Which methods make a quick sum, how their arguments are asked for, and what the answer is called."""

from dataclasses import dataclass, field

from husbandry.enclosure.geometry import LITRES_PER_US_GALLON
from husbandry.quantity import Kind, convert


@dataclass(frozen=True)
class ArgumentPrompt:
    """How one argument is asked for.

    `per` is what the method counts in, over the core's unit of the kind: 1000 for mm, 39.37 for
    inches.
    """

    label: str
    kind: Kind | None
    usual: float
    per: float = 1.0
    small: bool = False


@dataclass(frozen=True)
class Calculator:
    """A quick sum."""

    slug: str
    title: str
    method: str
    asks: dict[str, ArgumentPrompt]
    answer: str
    kind: Kind | None
    per: float = 1.0
    fixed: dict[str, float] = field(default_factory=dict)
    note: str = ""


LENGTH, TEMPERATURE, MASS = Kind.LENGTH, Kind.TEMPERATURE, Kind.MASS
INCHES = 1 / convert(1, LENGTH, "in")

CALCULATORS: dict[str, Calculator] = {
    one.slug: one
    for one in (
        Calculator(
            "humidity-elsewhere",
            "Humidity elsewhere",
            "rh_elsewhere",
            {
                "rh_pct": ArgumentPrompt("Humidity where you measured", Kind.HUMIDITY, 55),
                "temp_c": ArgumentPrompt("Temperature there", TEMPERATURE, 21),
                "temp_there_c": ArgumentPrompt("Temperature at the other place", TEMPERATURE, 32),
            },
            "Humidity at the other place",
            Kind.HUMIDITY,
            note="The same vapour in warmer air: why a hot end is dry and a cool night damp.",
        ),
        Calculator(
            "dew-point",
            "Dew point",
            "dew_point",
            {
                "rh_pct": ArgumentPrompt("Humidity", Kind.HUMIDITY, 70),
                "temp_c": ArgumentPrompt("Temperature", TEMPERATURE, 25),
            },
            "Water settles on what is colder than",
            TEMPERATURE,
        ),
        Calculator(
            "mesh-loss",
            "Loss in a mesh",
            "mesh_transmission",
            {
                "wire_mm": ArgumentPrompt("Thickness of the wire", LENGTH, 0.0005, 1000, True),
                "pitch_mm": ArgumentPrompt("From wire to wire", LENGTH, 0.003, 1000, True),
            },
            "Passes the mesh",
            Kind.SHARE,
            note="Straight down. Light that comes aslant loses more.",
        ),
        Calculator(
            "tube-distance",
            "Distance of a UVB tube",
            "tube_distance",
            {
                "uvi_ref": ArgumentPrompt("UV index on its data sheet", Kind.UVI, 2.7),
                "ref_distance_m": ArgumentPrompt("at a distance of", LENGTH, 0.30),
                "length_m": ArgumentPrompt("Length of the tube", LENGTH, 0.85),
                "target_uvi": ArgumentPrompt("UV index wanted at the back", Kind.UVI, 3.5),
            },
            "Hang it above the animal’s back at",
            LENGTH,
            note="A bare tube without mesh. Measure before the animal moves in.",
        ),
        Calculator(
            "tube-index",
            "UV index below a tube",
            "tube_uvi",
            {
                "uvi_ref": ArgumentPrompt("UV index on its data sheet", Kind.UVI, 2.7),
                "ref_distance_m": ArgumentPrompt("at a distance of", LENGTH, 0.30),
                "length_m": ArgumentPrompt("Length of the tube", LENGTH, 0.85),
                "distance_m": ArgumentPrompt("Distance to the back", LENGTH, 0.25),
            },
            "UV index at the back",
            Kind.UVI,
        ),
        Calculator(
            "tank-volume",
            "Gallons and litres of an enclosure",
            "tank_volume",
            {
                "length_in": ArgumentPrompt("Length inside", LENGTH, 0.9144, INCHES),
                "depth_in": ArgumentPrompt("Depth inside", LENGTH, 0.4572, INCHES),
                "height_in": ArgumentPrompt("Height inside", LENGTH, 0.4064, INCHES),
            },
            "It holds",
            Kind.VOLUME,
            1 / LITRES_PER_US_GALLON,
            note="Trade names of tanks are nominal: compare by footprint.",
        ),
        Calculator(
            "conditioner",
            "Water conditioner",
            "conditioner_dose",
            {
                "water_l": ArgumentPrompt("Water", Kind.VOLUME, 10),
                "dose_ml": ArgumentPrompt("Dose on its label, ml", None, 5),
                "per_l": ArgumentPrompt("for so much water", Kind.VOLUME, 40),
            },
            "Conditioner, ml",
            None,
            note=(
                "One that names chlorine and chloramine both: standing drives out chlorine only."
                " For amphibians always."
            ),
        ),
        Calculator(
            "dish",
            "What a dish loses in a day",
            "dish_loss",
            {
                "length_m": ArgumentPrompt("Length of its water", LENGTH, 0.2),
                "depth_m": ArgumentPrompt("Depth of its water, front to back", LENGTH, 0.15),
                "temp_c": ArgumentPrompt("Air there", TEMPERATURE, 25),
                "rh_pct": ArgumentPrompt("Humidity there", Kind.HUMIDITY, 50),
            },
            "Lost in a day, ml",
            None,
            note="Water is changed every day all the same.",
        ),
        Calculator(
            "tank-heater",
            "Heater of a tank",
            "tank_heater_w",
            {
                "length_m": ArgumentPrompt("Length of its water", LENGTH, 1.0),
                "depth_m": ArgumentPrompt("Depth of its water, front to back", LENGTH, 0.4),
                "water_m": ArgumentPrompt("Height of its water", LENGTH, 0.3),
                "water_c": ArgumentPrompt("The water is to have", TEMPERATURE, 25),
                "room_c": ArgumentPrompt("The room at its coldest", TEMPERATURE, 18),
            },
            "Needed",
            Kind.POWER,
            note=(
                "Half as much again; two of half the power, each with its thermostat, are safer"
                " than one. Unplug before the water is let out."
            ),
        ),
        Calculator(
            "mix",
            "Parts of a substrate mix",
            "mix_volumes",
            {
                "parts": ArgumentPrompt("Sum of all parts (1 : 1 : 0.2 is 2.2)", None, 4),
                "length_m": ArgumentPrompt("Length inside", LENGTH, 1.2),
                "depth_m": ArgumentPrompt("Depth inside", LENGTH, 0.6),
                "layer_m": ArgumentPrompt("Layer when settled", LENGTH, 0.1),
                "settling": ArgumentPrompt("It settles by", Kind.SHARE, 0.15),
            },
            "Loose, of one part",
            Kind.VOLUME,
        ),
        Calculator(
            "floor-load",
            "Load on the floor",
            "floor_load",
            {
                "mass_kg": ArgumentPrompt(
                    "Mass of enclosure, substrate and stand", MASS, 144_000, 0.001
                ),
                "length_m": ArgumentPrompt("Footprint, length", LENGTH, 1.2),
                "depth_m": ArgumentPrompt("Footprint, depth", LENGTH, 0.6),
            },
            "On the floor, kPa",
            None,
            note=(
                "What your floor carries is for a structural professional and the local code to"
                " say."
            ),
        ),
        Calculator(
            "meal",
            "Mass of a meal",
            "meal_mass",
            {
                "body_g": ArgumentPrompt("Body mass", MASS, 400),
                "low": ArgumentPrompt("Share, from", Kind.SHARE, 0.10),
                "high": ArgumentPrompt("to", Kind.SHARE, 0.15),
            },
            "A meal of",
            MASS,
        ),
        Calculator(
            "calcium",
            "Calcium supplement",
            "calcium_supplement",
            {
                "food_g": ArgumentPrompt("Mass of the insects", MASS, 5),
                "calcium_mg_100g": ArgumentPrompt("Their calcium, mg in 100 g", None, 40),
                "phosphorus_mg_100g": ArgumentPrompt("Their phosphorus, mg in 100 g", None, 250),
                "target_ratio": ArgumentPrompt("Calcium to phosphorus wanted", None, 2),
            },
            "Supplement, mg",
            None,
            fixed={
                "supplement_calcium_share": 0.40,
                "supplement_phosphorus_share": 0.0,
                "retention": 0.5,
            },
            note=(
                "Calcium carbonate, of which half stays on the insects. Too much is a fault too:"
                " ask a veterinarian about a sick animal."
            ),
        ),
        Calculator(
            "colony",
            "What a colony gives",
            "colony_harvest",
            {
                "before": ArgumentPrompt("Counted before", None, 200),
                "now": ArgumentPrompt("Counted now", None, 300),
                "taken": ArgumentPrompt("Taken between", None, 100),
                "days": ArgumentPrompt("Days between the counts", None, 28),
            },
            "A week",
            None,
            note="Half of it stays as breeders. Count again in two weeks.",
        ),
        Calculator(
            "hatch",
            "Days to hatching",
            "hatch_days",
            {
                "temp_c": ArgumentPrompt("The eggs have", TEMPERATURE, 30),
                "cool_c": ArgumentPrompt("Its species, from", TEMPERATURE, 28),
                "warm_c": ArgumentPrompt("to", TEMPERATURE, 32),
                "longest_days": ArgumentPrompt("Longest, at the cool end, days", None, 80),
                "shortest_days": ArgumentPrompt("Shortest, at the warm end, days", None, 54),
            },
            "Days to hatching",
            None,
            note="A tenth sooner or later is usual. Eggs are never turned.",
        ),
        Calculator(
            "offset",
            "Corrected reading",
            "corrected_reading",
            {
                "value": ArgumentPrompt("It shows", TEMPERATURE, 36.4),
                "offset": ArgumentPrompt(
                    "Offset (it reads high by)", Kind.TEMPERATURE_DIFFERENCE, 1.4
                ),
            },
            "In truth",
            TEMPERATURE,
        ),
        Calculator(
            "weigh-in",
            "From one weighing to the next",
            "weight_change",
            {
                "before_g": ArgumentPrompt("Mass before", MASS, 200),
                "after_g": ArgumentPrompt("Mass now", MASS, 206),
                "days": ArgumentPrompt("Days between", None, 14),
            },
            "Change, % a week",
            None,
            note="Weigh before a meal, on the same scale.",
        ),
    )
}
