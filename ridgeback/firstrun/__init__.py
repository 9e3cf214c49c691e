"""The first run: from an animal to a box to its heat and light, each step left and resumed at will."""
