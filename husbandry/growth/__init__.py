"""How the animal grows: what its species lets one expect, what its own weights say, and when its
next stage comes.
"""
