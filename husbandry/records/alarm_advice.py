"""What to do when an alarm goes on, at once and in this order.

Common practice, no source.
"""

HOT = (
    "Switch the heat and the lamps off at the plug, and open the enclosure’s doors or vents.",
    "Move the animal to its cool end or to a box in a cooler room if it pants or does not move.",
    "A thermostat that sticks is replaced, with an independent cut-out besides.",
)
COLD = (
    "Look whether the heater and its thermostat have power, and whether the bulb is out.",
    "Close vents in part and wrap the enclosure; warm bottles in a cloth, never a flame.",
    "Do not feed a cold animal; warm it slowly.",
)
DAMP = (
    "Look at the mister and its timer; open vents.",
    "Take wet substrate out where the animal lies.",
)
DRY = (
    "Look whether the mister’s tank is empty; mist by hand.",
    "Fill the water dish and wet the moist hide.",
)
LAMP_OUT = (
    "Look whether the lamp burns. Let it cool, unplug it, and change the bulb.",
    "Look at the timer and the plug. Wiring is a licensed electrician’s.",
)
SENSOR = (
    "Look at its battery, its wire and its place: a probe that slipped reads another place.",
    "Read the place with another thermometer until it is mended.",
)
POWER = (
    "Look whether the power is on, and whether the network is.",
    "In a power cut warm by the emergency card: those with the fewest hours first.",
)
TOO_STRONG = ("Switch the lamp off and measure its distance.",)
DEFERS = "Call a veterinarian for an animal that gapes, lies limp or does not react."
