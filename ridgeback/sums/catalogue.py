"""Which methods make a quick sum, how their arguments are asked for, and what the answer is called."""

from dataclasses import dataclass, field

from husbandry.box.geometry import LITRES_PER_US_GALLON
from husbandry.quantity import Kind, convert


@dataclass(frozen=True)
class Ask:
    """How one argument is asked for. `per` is what the method counts in, over the core's unit of the kind: 1000 for mm, 39.37 for inches."""

    label: str
    kind: Kind | None
    usual: float
    per: float = 1.0
    small: bool = False


@dataclass(frozen=True)
class Sum:
    """A quick sum."""

    slug: str
    title: str
    method: str
    asks: dict[str, Ask]
    answer: str
    kind: Kind | None
    per: float = 1.0
    fixed: dict[str, float] = field(default_factory=dict)
    note: str = ""


LENGTH, TEMPERATURE, MASS = Kind.LENGTH, Kind.TEMPERATURE, Kind.MASS
INCHES = 1 / convert(1, LENGTH, "in")

SUMS: dict[str, Sum] = {
    one.slug: one
    for one in (
        Sum("humidity-elsewhere", "Humidity elsewhere", "rh_elsewhere",
            {"rh_pct": Ask("Humidity where you measured", Kind.HUMIDITY, 55), "temp_c": Ask("Temperature there", TEMPERATURE, 21),
             "temp_there_c": Ask("Temperature at the other place", TEMPERATURE, 32)},
            "Humidity at the other place", Kind.HUMIDITY, note="The same vapour in warmer air: why a hot end is dry and a cool night damp."),
        Sum("dew-point", "Dew point", "dew_point",
            {"rh_pct": Ask("Humidity", Kind.HUMIDITY, 70), "temp_c": Ask("Temperature", TEMPERATURE, 25)}, "Water settles on what is colder than", TEMPERATURE),
        Sum("mesh-loss", "Loss in a mesh", "mesh_transmission",
            {"wire_mm": Ask("Thickness of the wire", LENGTH, 0.0005, 1000, True), "pitch_mm": Ask("From wire to wire", LENGTH, 0.003, 1000, True)},
            "Passes the mesh", Kind.SHARE, note="Straight down. Light that comes aslant loses more."),
        Sum("tube-distance", "Distance of a UVB tube", "tube_distance",
            {"uvi_ref": Ask("UV index on its data sheet", Kind.UVI, 2.7), "ref_distance_m": Ask("at a distance of", LENGTH, 0.30),
             "length_m": Ask("Length of the tube", LENGTH, 0.85), "target_uvi": Ask("UV index wanted at the back", Kind.UVI, 3.5)},
            "Hang it above the animal’s back at", LENGTH, note="A bare tube without mesh. Measure before the animal moves in."),
        Sum("tube-index", "UV index below a tube", "tube_uvi",
            {"uvi_ref": Ask("UV index on its data sheet", Kind.UVI, 2.7), "ref_distance_m": Ask("at a distance of", LENGTH, 0.30),
             "length_m": Ask("Length of the tube", LENGTH, 0.85), "distance_m": Ask("Distance to the back", LENGTH, 0.25)},
            "UV index at the back", Kind.UVI),
        Sum("tank-volume", "Gallons and litres of an enclosure", "tank_volume",
            {"length_in": Ask("Length inside", LENGTH, 0.9144, INCHES), "depth_in": Ask("Depth inside", LENGTH, 0.4572, INCHES),
             "height_in": Ask("Height inside", LENGTH, 0.4064, INCHES)},
            "It holds", Kind.VOLUME, 1 / LITRES_PER_US_GALLON, note="Trade names of tanks are nominal: compare by footprint."),
        Sum("conditioner", "Water conditioner", "conditioner_dose",
            {"water_l": Ask("Water", Kind.VOLUME, 10), "dose_ml": Ask("Dose on its label, ml", None, 5), "per_l": Ask("for so much water", Kind.VOLUME, 40)},
            "Conditioner, ml", None, note="One that names chlorine and chloramine both: standing drives out chlorine only. For amphibians always."),
        Sum("dish", "What a dish loses in a day", "dish_loss",
            {"length_m": Ask("Length of its water", LENGTH, 0.2), "depth_m": Ask("Depth of its water, front to back", LENGTH, 0.15),
             "temp_c": Ask("Air there", TEMPERATURE, 25), "rh_pct": Ask("Humidity there", Kind.HUMIDITY, 50)},
            "Lost in a day, ml", None, note="Water is changed every day all the same."),
        Sum("tank-heater", "Heater of a tank", "tank_heater_w",
            {"length_m": Ask("Length of its water", LENGTH, 1.0), "depth_m": Ask("Depth of its water, front to back", LENGTH, 0.4),
             "water_m": Ask("Height of its water", LENGTH, 0.3), "water_c": Ask("The water is to have", TEMPERATURE, 25),
             "room_c": Ask("The room at its coldest", TEMPERATURE, 18)},
            "Needed", Kind.POWER, note="Half as much again; two of half the power, each with its thermostat, are safer than one. Unplug before the water is let out."),
        Sum("mix", "Parts of a substrate mix", "mix_volumes",
            {"parts": Ask("Sum of all parts (1 : 1 : 0.2 is 2.2)", None, 4), "length_m": Ask("Length inside", LENGTH, 1.2), "depth_m": Ask("Depth inside", LENGTH, 0.6),
             "layer_m": Ask("Layer when settled", LENGTH, 0.1), "settling": Ask("It settles by", Kind.SHARE, 0.15)},
            "Loose, of one part", Kind.VOLUME),
        Sum("floor-load", "Load on the floor", "floor_load",
            {"mass_kg": Ask("Mass of enclosure, substrate and stand", MASS, 144_000, 0.001), "length_m": Ask("Footprint, length", LENGTH, 1.2),
             "depth_m": Ask("Footprint, depth", LENGTH, 0.6)},
            "On the floor, kPa", None, note="What your floor carries is for a structural professional and the local code to say."),
        Sum("meal", "Mass of a meal", "meal_mass",
            {"body_g": Ask("Body mass", MASS, 400), "low": Ask("Share, from", Kind.SHARE, 0.10), "high": Ask("to", Kind.SHARE, 0.15)}, "A meal of", MASS),
        Sum("calcium", "Calcium supplement", "calcium_powder",
            {"food_g": Ask("Mass of the insects", MASS, 5), "calcium_mg_100g": Ask("Their calcium, mg in 100 g", None, 40),
             "phosphorus_mg_100g": Ask("Their phosphorus, mg in 100 g", None, 250), "target_ratio": Ask("Calcium to phosphorus wanted", None, 2)},
            "Supplement, mg", None, fixed={"powder_calcium_share": 0.40, "powder_phosphorus_share": 0.0, "retention": 0.5},
            note="Calcium carbonate, of which half stays on the insects. Too much is a fault too: ask a veterinarian about a sick animal."),
        Sum("colony", "What a colony gives", "colony_harvest",
            {"before": Ask("Counted before", None, 200), "now": Ask("Counted now", None, 300), "taken": Ask("Taken between", None, 100),
             "days": Ask("Days between the counts", None, 28)},
            "A week", None, note="Half of it stays as breeders. Count again in two weeks."),
        Sum("hatch", "Days to hatching", "hatch_days",
            {"temp_c": Ask("The eggs have", TEMPERATURE, 30), "cool_c": Ask("Its species, from", TEMPERATURE, 28), "warm_c": Ask("to", TEMPERATURE, 32),
             "longest_days": Ask("Longest, at the cool end, days", None, 80), "shortest_days": Ask("Shortest, at the warm end, days", None, 54)},
            "Days to hatching", None, note="A tenth sooner or later is usual. Eggs are never turned."),
        Sum("offset", "Corrected reading", "corrected_reading",
            {"value": Ask("It shows", TEMPERATURE, 36.4), "offset": Ask("Offset (it reads high by)", Kind.TEMPERATURE_DIFFERENCE, 1.4)}, "In truth", TEMPERATURE),
        Sum("weigh-in", "From one weighing to the next", "weight_change",
            {"before_g": Ask("Mass before", MASS, 200), "after_g": Ask("Mass now", MASS, 206), "days": Ask("Days between", None, 14)},
            "Change, % a week", None, note="Weigh before a meal, on the same scale."),
    )
}  # fmt: skip
