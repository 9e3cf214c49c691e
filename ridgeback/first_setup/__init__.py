"""The first run: from an animal to an enclosure to its heat and light, each step left and resumed
at will.
"""
