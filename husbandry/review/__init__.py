"""A described enclosure: its text read into facts, its faults found and ranked, a correction drawn.

Method: docs/methods/second-look.md.
"""
