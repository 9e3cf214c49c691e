"""What stands, lies or hangs in an enclosure: one class for each kind of item.

A class declares everything that is particular to its kind: its fields with their ranges, what it
is called, what can be edited of it, and what cannot be in given surroundings. Code elsewhere asks
the item. To add a kind, write its class in one of these modules and add it to `union.Item`.
"""
