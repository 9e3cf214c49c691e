"""Terms of the trade that a new keeper meets on the screens, each in two plain sentences at most.

The wording is ours; the meanings are common practice, no source, unless a line names one.
"""

from dataclasses import dataclass


@dataclass(frozen=True)
class Term:
    """A term as it is written, and what it means."""

    name: str
    meaning: str


TERMS: dict[str, Term] = {
    "aestivation": Term(
        "Aestivation",
        "The rest of some animals in the hot, dry season. It is not brumation, and not an illness.",
    ),
    "approach": Term(
        "Approach",
        "One of several ways in which experienced keepers answer the same question. You choose;"
        " the numbers follow.",
    ),
    "basking-surface": Term(
        "Basking surface",
        "The place under the heat on which the animal lies. Its temperature is that of the surface,"
        " read with an infrared thermometer, not that of the air.",
    ),
    "body-condition": Term(
        "Body condition score",
        "1 emaciated, 2 thin, 3 ideal, 4 overweight, 5 obese: judged by eye and hand from the form"
        " of the body, not from the scale.",
    ),
    "brumation": Term(
        "Brumation",
        "The winter sleep of reptiles and amphibians: cool, dark, without food, for weeks. Only a"
        " healthy, well-fed animal may enter it.",
    ),
    "calibration": Term(
        "Calibration",
        "Your readings show how your enclosure differs from the calculation, and the calculation"
        " follows them.",
    ),
    "clutch": Term("Clutch", "The eggs of one laying, or the young of one birth."),
    "commissioning": Term(
        "Commissioning check",
        "Readings in the running, empty enclosure that show whether it is what was planned, before"
        " an animal moves in.",
    ),
    "cool-end": Term(
        "Cool end",
        "The end of the enclosure away from the heat. The animal goes there to cool down, so its"
        " limit matters as much as the warm one.",
    ),
    "critical-path": Term(
        "Critical path",
        "The steps that decide the day on which all is done. A day lost on one of them is a day"
        " lost for the whole; “float” is how long another step may wait.",
    ),
    "gravid": Term("Gravid", "Carrying eggs or young."),
    "gut-loading": Term(
        "Gut-loading", "Feeding the feeder insects well for a day or two, so that they pass it on."
    ),
    "humidistat": Term(
        "Humidistat",
        "A switch with a humidity probe, as a thermostat has one for warmth: it stops the fogger where"
        " the air is damp enough.",
    ),
    "humidity": Term(
        "Relative humidity",
        "How much water the air holds, in percent of what it could hold at its temperature. Warm"
        " air reads lower than cool air with the same water.",
    ),
    "interval": Term(
        "Interval",
        "Nine of ten enclosures built like this one should lie between these two numbers.",
    ),
    "life-stage": Term(
        "Life stage",
        "Hatchling, juvenile, sub-adult or adult. Each species has its own borders, by weight,"
        " length or age; needs change with it.",
    ),
    "limit": Term(
        "Safe limit",
        "Beyond it the animal can be harmed. A target range is what it needs; a limit is what it"
        " must never meet.",
    ),
    "photoperiod": Term("Photoperiod", "The hours of light in a day."),
    "probe": Term(
        "Probe",
        "The sensor of a thermostat. The thermostat holds the temperature where its probe is, and"
        " nowhere else.",
    ),
    "quarantine": Term(
        "Quarantine",
        "A new animal apart from all others, with its own tools, tended last, until its droppings"
        " were checked: 30 to 90 days.",
    ),
    "supplement": Term(
        "Supplement",
        "Calcium, vitamin D3 or multivitamin, dusted on food. Too much harms as too little does.",
    ),
    "target-range": Term("Target range", "What the animal needs here: between these two values."),
    "thermostat-failed": Term(
        "Thermostat failed on",
        "The fault in which a thermostat no longer switches off. The heater then runs at full power"
        " for as long as nobody notices.",
    ),
    "uvi": Term(
        "UV index",
        "The strength of sunburning ultraviolet, as in weather forecasts: 1 is 25 mW/m², weighted"
        " for its effect on skin (ISO/CIE 17166). Reptiles make vitamin D3 from it.",
    ),
    "warm-end": Term(
        "Warm end",
        "The end of the enclosure with the heat; here the temperature of its air, at the animal’s"
        " height.",
    ),
}
