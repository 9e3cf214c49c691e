"""The enclosure as a thing: its shape, what it is made of, what stands in it, and how large it must
be.
"""
