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
NOT_MISTED = (
    "Look whether the mister’s tank has water, and whether its pump and its timer have power.",
    "Mist by hand now; clear a nozzle that lime has closed.",
    "Fill the water dish: an animal that drinks drops goes thirsty first.",
)
PUMP_RUNS_ON = (
    "Unplug the pump with dry hands, outside the enclosure.",
    "Look whether water stands on the floor: take small animals out before they drown, and drain it.",
    "Look at its timer and its tank; a pump that ran dry and hot is replaced.",
)
FULL_POWER = (
    "Measure the warm end: if it is cold, the heater is out; change it when it has cooled.",
    "If it is hot, the probe has slipped out: unplug the heater, put the probe back, fix it.",
    "If it is as always, the room is colder than on other days: close vents in part.",
)
HUNTS = (
    "Look where the probe is: in the beam or on the heater it switches too fast and too far.",
    "A lamp that is switched on and off wants a dimming thermostat.",
    "A probe that hangs loose, or a thermostat that clicks on and on, is replaced.",
)
FRIDGE_COLD = (
    "Open the fridge and take the box out; let the animal come to its rest’s warmth over an hour.",
    "Set the fridge warmer and put water bottles in it: they hold it steady.",
    "An animal that was below freezing goes to a veterinarian, however it looks.",
)
FRIDGE_WARM = (
    "Look whether the fridge runs and its door is shut.",
    "In a power cut move the box to the coldest safe place of the house, with its thermometer.",
    "An animal that stirs for days is woken up fully, watered and fed; it does not rest again this"
    " winter.",
)
EGGS_HOT = (
    "Open the incubator and switch its heat off until it is back at its set point.",
    "Do not turn the eggs and do not cool them with water.",
    "Replace a thermostat that sticks; a second one before it as a cut-out costs less than a clutch.",
)
EGGS_COLD = (
    "Look whether the incubator and its thermostat have power.",
    "Wrap it in a blanket; a few cool hours only slow the eggs.",
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
