"""The demo household: invented people, place, animals and readings, relative to today."""
