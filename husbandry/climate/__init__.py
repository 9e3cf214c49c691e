"""What an enclosure will do: beam, heat, thermostat, ventilation, ultraviolet, vapour, daylight."""
