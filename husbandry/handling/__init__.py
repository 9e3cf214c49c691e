"""The hand and the day's variety: taming in steps that move with how it went, and ideas that take
turns.
"""
