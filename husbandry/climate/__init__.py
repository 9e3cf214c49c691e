"""What a box will do: beam, heat, thermostat, ventilation, ultraviolet, vapour, daylight."""
