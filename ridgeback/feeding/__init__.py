"""The food of one animal: its condition, its meals and what they hold, and the condition periods
that change them.
"""
